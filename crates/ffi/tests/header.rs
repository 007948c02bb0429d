//! The header is the one that the sources make.

use std::path::Path;
use std::{env, fs};

#[test]
fn the_header_is_as_it_would_be_made() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR"));
    let config = cbindgen::Config::from_file(root.join("cbindgen.toml")).expect("a configuration");
    let mut builder = cbindgen::Builder::new().with_config(config);
    for file in ["status", "messages", "types", "game", "profiles", "hands", "players", "tools"] {
        builder = builder.with_src(root.join(format!("src/{file}.rs")));
    }
    let mut made = Vec::new();
    builder.generate().expect("a header").write(&mut made);
    let made = String::from_utf8(made).expect("a text");
    let path = root.join("include/harmonym.h");
    if env::var_os("HEADER").is_some_and(|what| what == "write") {
        fs::write(&path, &made).expect("to write the header");
    }
    let is_same = fs::read_to_string(&path).is_ok_and(|own| own == made);
    assert!(
        is_same,
        "include/harmonym.h is stale: HEADER=write cargo test -p harmonym-ffi --test header"
    );
}
