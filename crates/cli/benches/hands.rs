//! From a key that goes down in a terminal to the frame that shows what came of it, and to the line that tells it, while
//! ten devices report a thousand times a second each; and what `live` costs while nothing happens, to a program that
//! only waits. `cargo bench -p harmonym --bench hands`

#[cfg(target_os = "linux")]
#[path = "../tests/cli/pty.rs"]
mod pty;

#[cfg(not(target_os = "linux"))]
fn main() {
    println!("left out: the terminal of this bench is one of Linux");
}

#[cfg(target_os = "linux")]
fn main() {
    measure::all();
}

#[cfg(target_os = "linux")]
mod measure {
    use super::pty::Pty;
    use std::fmt::Write as _;
    use std::fs;
    use std::io::Write;
    use std::path::Path;
    use std::process::{Child, Command};
    use std::thread::sleep;
    use std::time::{Duration, Instant};

    const TOOL: &str = env!("CARGO_BIN_EXE_harmonym");

    /// So often a key is pressed.
    const PRESSES: usize = 200;

    /// A key that is held: its action is pending then, and nothing else ever is.
    const PROFILE: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\nscheme.pad.devices = [\"pad\"]\n\
        [map.quay]\nstart = true\n\
        [map.quay.walk]\nvalue = \"plane\"\nbind.desk = \"mouse.move | scale 0.01\"\nbind.pad = \"pad.left-stick | deadzone 0.1\"\n\
        [map.quay.light]\nvalue = \"switch\"\nbind.desk = \"key.KeyL\"\nfire = \"hold 10s\"\n";

    /// Eight pads and two mice: each reports once in a millisecond.
    fn load(seconds: u64) -> String {
        let mut text = "{\"take\":1,\"seats\":1}\n".to_owned();
        for ms in 1..seconds * 1000 {
            for device in 1..=8 {
                let angle = (ms + 40 * device) as f64 / 90.0;
                let (x, y) = (angle.cos(), angle.sin());
                let _ = writeln!(
                    text,
                    "{{\"t\":{}.{:03},\"control\":\"pad#{device}.left-stick\",\"value\":[{x:.5},{y:.5}]}}",
                    ms / 1000,
                    ms % 1000
                );
            }
            for device in 2..=3 {
                let _ = writeln!(
                    text,
                    "{{\"t\":{}.{:03},\"control\":\"mouse#{device}.move\",\"by\":[{},1]}}",
                    ms / 1000,
                    ms % 1000,
                    ms % 3
                );
            }
        }
        text
    }

    fn tell(what: &str, mut times: Vec<Duration>) {
        times.sort();
        let at = |share: f64| times[((times.len() - 1) as f64 * share).round() as usize];
        let ms = |time: Duration| time.as_secs_f64() * 1e3;
        println!(
            "{what}: {:.2} ms in the middle, {:.2} ms in the 99th percentile, {:.2} ms at most, of {}",
            ms(at(0.5)),
            ms(at(0.99)),
            ms(at(1.0)),
            times.len()
        );
    }

    /// Presses a key, and gives how long it took until what it brings was written.
    fn press(pty: &mut Pty, key: &str, part: &str) -> Duration {
        let begun = Instant::now();
        pty.keys.write_all(key.as_bytes()).expect("a key");
        pty.wait_for(part);
        begun.elapsed()
    }

    pub fn all() {
        let folder = tempfile::tempdir().expect("a folder");
        let dir = folder.path();
        fs::write(dir.join("harmonym.toml"), PROFILE).expect("a profile");
        fs::write(dir.join("load.take.jsonl"), load(60)).expect("a take");
        println!("with ten devices that report 1,000 times a second each:");
        let line = ["live", "--from", "terminal,load.take.jsonl"];
        let mut pty = Pty::run(Path::new(TOOL), &line, dir);
        pty.wait_for("quay.walk");
        sleep(Duration::from_millis(500));
        let mut times = Vec::new();
        for round in 0..PRESSES {
            times.push(press(&mut pty, "\x1b[108;1:1u", "pending"));
            // At no fixed place of a frame.
            sleep(Duration::from_micros(30_000 + (round as u64 * 7_919) % 16_000));
            pty.keys.write_all(b"\x1b[108;1:3u").expect("a key");
            sleep(Duration::from_micros(60_000));
        }
        pty.keys.write_all(b"\x1b[99;5u").expect("Ctrl-C");
        drop(pty.end());
        tell("from a key to the frame that shows it, `live`", times);

        let line = ["record", "own.take.jsonl", "--events", "--from", "terminal,load.take.jsonl"];
        let mut pty = Pty::run(Path::new(TOOL), &line, dir);
        pty.wait_for("\"kind\":\"start\"");
        sleep(Duration::from_millis(500));
        let mut times = Vec::new();
        for round in 0..PRESSES {
            let told = "\"action\":\"quay.light\",\"event\":\"wake\"";
            times.push(press(&mut pty, "\x1b[108;1:1u\x1b[108;1:3u", told));
            sleep(Duration::from_micros(30_000 + (round as u64 * 7_919) % 16_000));
        }
        pty.keys.write_all(b"\x1b[99;5u").expect("Ctrl-C");
        drop(pty.end());
        tell("from a key to the line that tells it, `record --events`", times);

        idle(dir);
    }

    /// What a process has taken of a core so far.
    fn taken(child: &Child) -> Duration {
        let stat = fs::read_to_string(format!("/proc/{}/stat", child.id())).expect("a process");
        // proc(5): user and system time are the 14th and 15th, in ticks of a hundredth of a second.
        let after = stat.rsplit_once(')').expect("its name").1;
        let numbers: Vec<u64> = after.split_whitespace().filter_map(|n| n.parse().ok()).collect();
        Duration::from_millis((numbers[10] + numbers[11]) * 10)
    }

    fn idle(dir: &Path) {
        const LONG: Duration = Duration::from_secs(20);
        let live = Pty::run(Path::new(TOOL), &["live", "--from", "terminal"], dir);
        let mut other =
            Command::new("cat").stdin(std::process::Stdio::piped()).spawn().expect("cat");
        sleep(Duration::from_secs(12));
        let (begun, before) = (taken(&live.child), taken(&other));
        sleep(LONG);
        let share = |now: Duration, before: Duration| {
            (now - before).as_secs_f64() / LONG.as_secs_f64() * 100.0
        };
        println!(
            "idle for {} s: `live` {:.2} % of a core, a program that only waits {:.2} %",
            LONG.as_secs(),
            share(taken(&live.child), begun),
            share(taken(&other), before)
        );
        let _ = other.kill();
        let _ = other.wait();
        let Pty { mut child, .. } = live;
        let _ = child.kill();
        let _ = child.wait();
    }
}
