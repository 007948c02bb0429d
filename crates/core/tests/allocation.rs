//! Nothing is allocated after the first tick. In a binary of its own, for its own allocator.

use allocation_counter::measure;
use harmonym_core::base::{Time, Vector};
use harmonym_core::controls::Contact;
use harmonym_core::engine::Engine;
use harmonym_core::source::Source;
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

/// Every trigger, composite and step; many presses that leave waiting triggers behind.
fn everything() -> String {
    let rules = [
        "press",
        "release or change",
        "while",
        "hold 5s or charge 20ms or repeat 5ms",
        "hold 10ms or while or release or press or tap 30ms or taps 3 gap=40ms",
    ];
    let bindings = [
        "key.KeyA",
        "pair(key.KeyA, key.KeyB, opposed=newest)",
        "pair(key.KeyB, key.KeyA, opposed=oldest) | scale 0.5 | curve 2 | cap 0.4",
        "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD) | deadzone 0.1 by=axes | pick length",
        "any(key.KeyA, key.KeyB | toggle) | not | switch-at 0.3 | notch 0.25 | clamp 0 0.9",
        "join(key.KeyA, key.KeyB, key.KeyC) | rotate 30deg around=y | order zxy | unit | pick x",
    ];
    let mut text =
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\nmap.quay.start = true\n".to_owned();
    for (i, rule) in rules.iter().enumerate() {
        for (j, binding) in bindings.iter().enumerate() {
            text.push_str(&format!(
                "[map.quay.a{i}-{j}]\nvalue = \"axis\"\nfire = \"{rule}\"\nbind.desk = \"{binding}\"\n"
            ));
        }
    }
    text.push_str(
        "[map.quay.all]\nvalue = \"switch\"\nfire = \"sequence(a0-0, a0-1, a0-0) within=1s\"\n",
    );
    text.push_str(
        "[map.quay.waits]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nyields-to = [\"a3-0\"]\n",
    );
    text
}

#[test]
fn stepping_allocates_nothing() {
    for text in [DEMO.to_owned(), everything()] {
        let (_, plan) = harmonym_core::load(&Source::new("p", text)).expect("a sound profile");
        let mut engine = Engine::new(Arc::new(plan));
        let controls: Vec<_> = engine.plan().controls.ids().collect();
        let mut told = 0_u64;
        let mut tell = |_| told += 1;
        engine.start(None, &mut tell);
        engine.tick(Time::from_millis(1), &mut tell);
        let counted = measure(|| {
            let mut seed = 1_u64;
            for step in 2..20_000 {
                seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
                let control = controls[(seed >> 33) as usize % controls.len()];
                let part = |shift: u32| ((seed >> shift) % 21) as f64 / 10.0 - 1.0;
                let t = Time::from_nanos(step * 3_000_000);
                engine.report(
                    t,
                    Contact::first(control),
                    Vector::new(part(5), part(20)),
                    &mut tell,
                );
                if step % 5 == 0 {
                    engine.tick(t, &mut tell);
                    engine.changed().for_each(|action| {
                        std::hint::black_box(engine.read(action));
                    });
                }
            }
        });
        assert_eq!(counted.count_total, 0, "allocations while stepping");
        assert!(told > 1000, "the hands did next to nothing: {told}");
    }
}
