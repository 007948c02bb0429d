//! Bindings of every kind of value.
#![no_main]
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    if text.contains("'''") {
        return;
    }
    for kind in ["switch", "axis", "plane", "space", "turn"] {
        harmonym_fuzz::profile(&format!(
            "harmonym = 1\nfact.calm = {{}}\npreset.soft = \"curve 2\"\nmap.m.start = true\n\
             [map.m.b]\nvalue = \"axis\"\nbind.all = \"key.KeyB\"\n\
             [map.m.a]\nvalue = \"{kind}\"\nbind.all = '''{text}'''\n"
        ));
    }
});
