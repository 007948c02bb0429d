//! The tables of keyboard layouts against the data that they are made from, where it is installed.

use std::fs;
use std::path::Path;
use std::process::Command;

#[test]
fn the_tables_are_what_the_data_says() {
    let here = Path::new(env!("CARGO_MANIFEST_DIR"));
    let made = fs::read_to_string(here.join("src/controls/layout/tables.rs")).expect("tables");
    let told = |option: &str| {
        let run = Command::new("python3").arg(here.join("layouts/make")).arg(option).output();
        let done = run.ok().filter(|run| run.status.success())?;
        String::from_utf8(done.stdout).ok()
    };
    // Of another version of the data the tables may be others.
    let Some(version) = told("--version").filter(|version| made.contains(version.trim())) else {
        println!("left out: the data of this version is not installed");
        return;
    };
    let Some(again) = told("--print") else {
        println!("left out: libxkbcommon is not installed");
        return;
    };
    assert!(made == again, "run layouts/make again, with xkb-data {version}");
}
