//! A temporary folder, the program run in it, and what came of it.

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

/// A folder that is gone after the test.
pub struct Folder {
    dir: tempfile::TempDir,
}

/// What a run gave.
#[derive(Debug)]
pub struct Outcome {
    pub code: i32,
    pub stdout: String,
    pub stderr: String,
}

impl Folder {
    pub fn new() -> Self {
        Self { dir: tempfile::tempdir().expect("a temporary folder") }
    }

    /// A folder with the demo's files in it.
    pub fn with_demo() -> Self {
        let folder = Self::new();
        folder.run(&["demo", "--keep", "."]).expect_done();
        folder
    }

    pub fn path(&self, name: &str) -> PathBuf {
        self.dir.path().join(name)
    }

    /// Writes a file, and the folders it lies in.
    pub fn write(&self, name: &str, content: impl AsRef<[u8]>) -> &Self {
        let path = self.path(name);
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, content).unwrap();
        self
    }

    pub fn read(&self, name: &str) -> String {
        fs::read_to_string(self.path(name)).unwrap()
    }

    /// Runs `harmonym` with these arguments in the folder.
    pub fn run(&self, args: &[&str]) -> Outcome {
        run(Command::new(env!("CARGO_BIN_EXE_harmonym")).args(args), self.dir.path())
    }

    /// Runs a line of a shell in `dir` of the folder, with `harmonym` on the path.
    pub fn shell(&self, dir: &Path, line: &str) -> Outcome {
        let tool = Path::new(env!("CARGO_BIN_EXE_harmonym")).parent().unwrap();
        let path = format!("{}:{}", tool.display(), std::env::var("PATH").unwrap_or_default());
        run(Command::new("sh").args(["-c", line]).env("PATH", path), &self.dir.path().join(dir))
    }
}

fn run(command: &mut Command, dir: &Path) -> Outcome {
    let output = command
        .current_dir(dir)
        .env_remove("NO_COLOR")
        .env_remove("COLUMNS")
        .env_remove("PAGER")
        .env_remove("CLICOLOR_FORCE")
        .stdin(Stdio::null())
        .output()
        .expect("the program starts");
    let text = |bytes: Vec<u8>| String::from_utf8(bytes).expect("output is UTF-8");
    Outcome {
        code: output.status.code().expect("an exit code"),
        stdout: text(output.stdout),
        stderr: text(output.stderr),
    }
}

impl Outcome {
    /// Exit code 0; gives what was printed.
    pub fn expect_done(self) -> String {
        assert_eq!(self.code, 0, "{}\n{}", self.stdout, self.stderr);
        self.stdout
    }

    /// Exit code 2, with each of `parts` in what was told, and no panic.
    pub fn expect_refused(self, parts: &[&str]) {
        assert_eq!(self.code, 2, "{}\n{}", self.stdout, self.stderr);
        assert!(!self.stderr.contains("panicked"), "{}", self.stderr);
        assert!(self.stderr.contains("help: "), "no help: {}", self.stderr);
        for part in parts {
            assert!(self.stderr.contains(part), "no `{part}` in:\n{}", self.stderr);
        }
    }
}

impl Outcome {
    /// Exit code 2 with how the command is used.
    pub fn expect_refused_usage(self) {
        assert_eq!(self.code, 2, "{}\n{}", self.stdout, self.stderr);
        assert!(self.stderr.contains("Usage:"), "{}", self.stderr);
    }
}
