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

/// Builds a program of `tests/c` against the shared library; nothing where there is no compiler, or no such option of it.
fn build(name: &str, folder: &TempDir, options: &[&str]) -> Option<PathBuf> {
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
    let Ok(out) = compiler.output() else {
        eprintln!("left out: there is no cc");
        return None;
    };
    let said = String::from_utf8_lossy(&out.stderr);
    let is_missing = said.contains("asan") || said.contains("unsupported option");
    if !out.status.success() && !options.is_empty() && is_missing {
        eprintln!("left out: the compiler has no {options:?}");
        return None;
    }
    assert!(out.status.success(), "{said}");
    Some(made)
}

/// Runs a program with the library that it was built with, and no other that lies around.
fn run(mut program: Command) -> std::io::Result<Output> {
    program.env_remove("LD_LIBRARY_PATH").output()
}

fn expect_none_wrong(out: &Output) {
    let told = String::from_utf8_lossy(&out.stdout);
    let said = String::from_utf8_lossy(&out.stderr);
    assert!(out.status.success() && told.ends_with("0 wrong\n"), "{told}{said}");
}

#[test]
fn wrong_calls_are_told_and_break_nothing() {
    let folder = TempDir::new().expect("a folder");
    let Some(program) = build("misuse", &folder, &["-fsanitize=address,undefined"])
        .or_else(|| build("misuse", &folder, &[]))
    else {
        return;
    };
    expect_none_wrong(&run(Command::new(program)).expect("the program"));
}

#[test]
fn nothing_is_lost_and_nothing_is_read_that_was_not_written() {
    let folder = TempDir::new().expect("a folder");
    let Some(program) = build("misuse", &folder, &[]) else { return };
    let valgrind = [
        "--quiet",
        "--leak-check=full",
        "--show-leak-kinds=definite",
        "--errors-for-leak-kinds=definite",
        "--error-exitcode=9",
    ];
    let mut checked = Command::new("valgrind");
    checked.args(valgrind).arg(program);
    match run(checked) {
        Ok(out) => expect_none_wrong(&out),
        Err(_) => eprintln!("left out: there is no valgrind"),
    }
}
