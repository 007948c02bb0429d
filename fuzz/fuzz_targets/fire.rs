//! Fire rules.
#![no_main]
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    if text.contains("'''") {
        return;
    }
    for bind in ["", "bind.all = \"key.KeyE\"\n"] {
        harmonym_fuzz::profile(&format!(
            "harmonym = 1\nfact.calm = {{}}\nmap.m.start = true\n\
             [map.m.b]\nvalue = \"switch\"\nbind.all = \"key.KeyA\"\n\
             [map.m.a]\nvalue = \"switch\"\n{bind}fire = '''{text}'''\n"
        ));
    }
});
