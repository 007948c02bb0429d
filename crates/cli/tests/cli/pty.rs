//! A terminal without a window: programs run in it, and what they wrote and how they left it.

use rustix::pty::{OpenptFlags, grantpt, openpt, ptsname, unlockpt};
use rustix::termios::{LocalModes, Winsize, tcgetattr, tcsetwinsize};
use std::fs::File;
use std::io::{Read, Write};
use std::os::unix::process::ExitStatusExt;
use std::path::Path;
use std::process::{Child, Command};
use std::sync::mpsc::{Receiver, channel};
use std::time::{Duration, Instant};

/// So long something may take to come about.
const PATIENCE: Duration = Duration::from_secs(30);
/// What a terminal answers to who asks for its abilities: it tells of keys that are let go.
const ABILITIES: &[u8] = b"\x1b[?0u\x1b[?62;c";

pub struct Pty {
    /// Where to type.
    pub keys: File,
    slave: File,
    told: Receiver<Vec<u8>>,
    text: String,
    /// How much of it was waited for.
    seen: usize,
    pub child: Child,
}

impl Pty {
    /// Runs a program with the terminal as its own, which is 60 columns wide.
    pub fn run(program: &Path, args: &[&str], dir: &Path) -> Self {
        let master = openpt(OpenptFlags::RDWR | OpenptFlags::NOCTTY).expect("a terminal");
        grantpt(&master).expect("its other end");
        unlockpt(&master).expect("its other end");
        let size = Winsize { ws_row: 40, ws_col: 60, ws_xpixel: 0, ws_ypixel: 0 };
        tcsetwinsize(&master, size).expect("its size");
        let name = ptsname(&master, Vec::new()).expect("its name");
        let end = || {
            let file = File::options().read(true).write(true).open(name.to_str().unwrap());
            file.expect("its other end")
        };
        let slave = end();
        let child = Command::new("setsid")
            .args(["--ctty", "--"])
            .arg(program)
            .args(args)
            .current_dir(dir)
            .env("TERM", "xterm-256color")
            .env_remove("LD_LIBRARY_PATH")
            .stdin(end())
            .stdout(end())
            .stderr(end())
            .spawn()
            .expect("the program starts");
        let keys = File::from(master);
        let (tell, told) = channel();
        let mut screen = keys.try_clone().expect("the terminal");
        let mut answer = keys.try_clone().expect("the terminal");
        std::thread::spawn(move || {
            let mut piece = [0; 4096];
            while let Ok(count @ 1..) = screen.read(&mut piece) {
                if piece[..count].windows(3).any(|three| three == b"\x1b[c") {
                    let _ = answer.write_all(ABILITIES);
                }
                let _ = tell.send(piece[..count].to_vec());
            }
        });
        Self { keys, slave, told, text: String::new(), seen: 0, child }
    }

    /// Waits until this was written, after what was waited for before.
    pub fn wait_for(&mut self, part: &str) {
        let until = Instant::now() + PATIENCE;
        loop {
            let rest = self.text.get(self.seen..).unwrap_or_default();
            if let Some(at) = rest.find(part) {
                self.seen += at + part.len();
                return;
            }
            let left = until.saturating_duration_since(Instant::now());
            let piece = self.told.recv_timeout(left);
            let piece = piece.unwrap_or_else(|_| panic!("no {part:?} in {:?}", self.text));
            self.text.push_str(&String::from_utf8_lossy(&piece));
        }
    }

    /// Waits until this is on the screen.
    #[allow(dead_code, reason = "not all who use a terminal look at it")]
    pub fn wait_to_see(&mut self, part: &str) {
        let until = Instant::now() + PATIENCE;
        while !self.screen().contains(part) {
            let left = until.saturating_duration_since(Instant::now());
            let piece = self.told.recv_timeout(left);
            let piece = piece.unwrap_or_else(|_| panic!("no {part:?} on\n{}", self.screen()));
            self.text.push_str(&String::from_utf8_lossy(&piece));
        }
    }

    /// What is on the screen: of what was written, the places (ECMA-48, CUP) and the letters; the gaps between words
    /// are as wide as they are there.
    #[allow(dead_code, reason = "not all who use a terminal look at it")]
    pub fn screen(&self) -> String {
        let mut screen = vec![vec![' '; 200]; 60];
        let (mut row, mut column) = (0, 0);
        let mut letters = self.text.chars().peekable();
        while let Some(letter) = letters.next() {
            match letter {
                '\u{1b}' if letters.next_if_eq(&'[').is_some() => {
                    let mut text = String::new();
                    let end = letters.by_ref().find(|c| {
                        text.push(*c);
                        ('@'..='~').contains(c)
                    });
                    let numbers = text.trim_end_matches('H').split_once(';');
                    let place = numbers.and_then(|(r, c)| Some((r.parse().ok()?, c.parse().ok()?)));
                    match (end, place) {
                        (Some('H'), Some((r, c))) => (row, column) = (r, c),
                        (Some('J'), _) => screen.iter_mut().flatten().for_each(|cell| *cell = ' '),
                        _ => {}
                    }
                }
                '\r' => column = 1,
                '\n' => row += 1,
                letter if !letter.is_control() => {
                    if let Some(cell) =
                        screen.get_mut(row).and_then(|row: &mut Vec<char>| row.get_mut(column))
                    {
                        *cell = letter;
                    }
                    column += 1;
                }
                _ => {}
            }
        }
        let lines = screen.iter().map(|row| row.iter().collect::<String>().trim().to_owned());
        lines.collect::<Vec<_>>().join("\n")
    }

    /// Whether it gives each key as it comes, and shows none.
    pub fn is_raw(&self) -> bool {
        let modes = tcgetattr(&self.keys).expect("the terminal's modes").local_modes;
        let has = [LocalModes::ICANON, LocalModes::ECHO].map(|mode| modes.contains(mode));
        assert_eq!(has[0], has[1], "{modes:?}");
        !has[0]
    }

    /// Waits for the end: the exit code or the signal, and all that was written. The terminal has
    /// to be as it was then.
    pub fn end(mut self) -> (Option<i32>, Option<i32>, String) {
        let status = self.child.wait().expect("an end");
        assert!(!self.is_raw(), "{}", self.text);
        // All that it wrote comes before this.
        self.slave.write_all(b"\nthe end\n").expect("the terminal");
        self.wait_for("the end");
        (status.code(), status.signal(), self.text)
    }
}
