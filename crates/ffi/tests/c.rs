//! The interface as C sees it.

#![cfg(unix)]

use std::path::{Path, PathBuf};
use std::process::{Command, Output};
use tempfile::TempDir;

fn root() -> &'static Path {
    Path::new(env!("CARGO_MANIFEST_DIR"))
}

/// The folder with the library.
fn library() -> PathBuf {
    let deps = std::env::current_exe().expect("this test");
    deps.parent().expect("a folder").to_owned()
}

/// Builds a program of `tests/c` against the shared library.
fn build(name: &str, folder: &TempDir, options: &[&str]) -> PathBuf {
    let made = folder.path().join(name);
    let library = library();
    let mut compiler = Command::new("cc");
    compiler.args(["-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", "-g"]).args(options);
    compiler.arg(root().join("tests/c").join(name).with_extension("c")).arg("-o").arg(&made);
    compiler.arg(format!("-I{}", root().join("include").display()));
    compiler
        .arg(format!("-L{}", library.display()))
        .arg(format!("-Wl,-rpath,{}", library.display()));
    compiler.args(["-lharmonym", "-lpthread", "-lm"]);
    let out = compiler.output().expect("cc");
    assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    made
}

/// Runs a program with the library that it was built with, and no other that lies around.
fn run(mut program: Command) -> Output {
    program.env_remove("LD_LIBRARY_PATH").output().expect("the program")
}

fn expect_none_wrong(out: &Output) {
    let told = String::from_utf8_lossy(&out.stdout);
    let said = String::from_utf8_lossy(&out.stderr);
    assert!(out.status.success() && told.ends_with("0 wrong\n"), "{told}{said}");
}

#[test]
#[ignore = "needs cc with its sanitizers"]
fn wrong_calls_are_told_and_break_nothing() {
    let folder = TempDir::new().expect("a folder");
    let program = build("misuse", &folder, &["-fsanitize=address,undefined"]);
    expect_none_wrong(&run(Command::new(program)));
}

#[test]
#[ignore = "needs cc and valgrind"]
fn nothing_is_lost_and_nothing_is_read_that_was_not_written() {
    let folder = TempDir::new().expect("a folder");
    let program = build("misuse", &folder, &[]);
    let valgrind = [
        "--quiet",
        "--leak-check=full",
        "--show-leak-kinds=definite",
        "--errors-for-leak-kinds=definite",
        "--error-exitcode=9",
    ];
    let mut checked = Command::new("valgrind");
    checked.args(valgrind).arg(program);
    expect_none_wrong(&run(checked));
}
