//! The tables of keyboard layouts against the data that they are made from.

use std::fs;
use std::path::Path;
use std::process::Command;

#[test]
#[ignore = "needs python3, libxkbcommon and xkb-data of the version that the tables are of"]
fn the_tables_are_what_the_data_says() {
    let here = Path::new(env!("CARGO_MANIFEST_DIR"));
    let made = fs::read_to_string(here.join("src/controls/layout/tables.rs")).expect("tables");
    let told = |option: &str| {
        let run = Command::new("python3").arg(here.join("layouts/make")).arg(option).output();
        let run = run.expect("python3");
        let said = String::from_utf8_lossy(&run.stderr);
        assert!(run.status.success(), "{option}: {said}");
        String::from_utf8(run.stdout).expect("a text")
    };
    let version = told("--version");
    let is_same = made == told("--print");
    assert!(is_same, "with xkb-data {} layouts/make makes other tables", version.trim());
}
