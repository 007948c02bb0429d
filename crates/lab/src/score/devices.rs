//! Devices of a score: which come, go and change hands, and whether they can.

use super::instruction::Act;
use super::read::{Line, Reader};
use crate::take::{What, device};
use harmonym_lang::report::{Diagnostic, FaultKind};
use harmonym_lang::source::Span;
use harmonym_runtime::base::{Device, Time};
use std::collections::BTreeMap;

impl Reader<'_> {
    /// A device: `pad#2`; the first of its class without a number.
    pub fn whole_device(&mut self, line: &mut Line<'_>) -> Option<Device> {
        let here = line.here();
        let word = line.next().map_or("", |word| word.text);
        match device(self.plan, word) {
            Ok(device) => Some(device),
            Err((kind, message, help)) => {
                self.diagnostics.fault(kind, here, message, help);
                None
            }
        }
    }

    /// `K gets DEVICE`.
    pub fn handing_over(&mut self, line: &mut Line<'_>) -> Option<What> {
        let seat = self.seat_number(line)?;
        if !line.take("gets") {
            let help = format!("write `seat {seat} gets pad#2`");
            let message = "what the seat gets is missing";
            self.diagnostics.fault(FaultKind::Missing, line.here(), message, help);
            return None;
        }
        Some(What::Give(self.whole_device(line)?, seat))
    }

    /// Tells what is plugged in that is there, and what is unplugged that is not.
    pub fn expect_devices(&mut self) {
        let mut order: Vec<usize> = (0..self.score.instructions.len()).collect();
        order.sort_by_key(|&index| self.score.instructions[index].at);
        let mut there: BTreeMap<Device, (bool, Time, Span)> = BTreeMap::new();
        for index in order {
            let (one, span) = (self.score.instructions[index], self.spans[index]);
            let (device, plugged) = match one.act {
                Act::Other(What::Plug(device, plugged)) => (device, plugged),
                Act::Other(_) => continue,
                Act::Hand(target, _) => {
                    let class = self.plan.controls()[target.contact.control].class;
                    let device = Device { class, number: target.contact.device };
                    // A device that is used is there from the start, where nothing else is said.
                    there.entry(device).or_insert((true, one.at, span));
                    continue;
                }
            };
            let before = there.insert(device, (plugged, one.at, span));
            let Some((was, _, first)) = before.filter(|(was, ..)| *was == plugged) else {
                continue;
            };
            let name = self.plan.catalogue().device_name(device);
            let (message, help, why) = match was {
                true => (
                    format!("`{name}` is there already"),
                    "unplug it before: what is used before it is plugged in is there from the start"
                        .to_owned(),
                    "it is there from here on",
                ),
                false => (
                    format!("`{name}` is not there"),
                    format!("plug it in before: `at … plug {name}`"),
                    "it went away here",
                ),
            };
            let fault = Diagnostic::fault(FaultKind::UsedTwice, span, message, help);
            self.diagnostics.push(fault.with_place(first, why));
        }
    }
}
