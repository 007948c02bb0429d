//! Devices of a take: which come, go and change hands, and whether they can.

use super::What;
use super::fault::LineFault;
use harmonym_lang::report::{FaultKind, did_you_mean, nearest};
use harmonym_runtime::base::{Class, ControlName, Device, MOST_DEVICES, Seat};
use harmonym_runtime::plan::Plan;

/// What the lines so far say of each device: by class, then by number.
pub(super) struct Devices(Box<[Option<bool>]>);

impl Devices {
    pub fn new(plan: &Plan) -> Self {
        Self(vec![None; plan.schemes_of_class().len() * MOST_DEVICES].into())
    }

    fn entry(&mut self, class: Class, number: u8) -> Option<&mut Option<bool>> {
        self.0.get_mut(class.index() * MOST_DEVICES + usize::from(number))
    }

    /// A device reports: it is there from the start, where nothing else was said.
    #[inline]
    pub fn use_of(&mut self, class: Class, number: u8) {
        if let Some(entry) = self.entry(class, number) {
            entry.get_or_insert(true);
        }
    }

    /// `plug` and `unplug`.
    pub fn plug(&mut self, plan: &Plan, name: &str, plugged: bool) -> Result<What, LineFault> {
        let device = self.find(plan, name)?;
        let was = self.entry(device.class, device.number).and_then(|one| one.replace(plugged));
        if was != Some(plugged) {
            return Ok(What::Plug(device, plugged));
        }
        let (message, help) = match plugged {
            true => {
                (format!("`{name}` is there already"), "unplug it before, or take the line out")
            }
            false => (format!("`{name}` is not there"), "plug it in before, or take the line out"),
        };
        Err(LineFault::new(message, help).about(name))
    }

    /// `give`.
    pub fn give(&mut self, plan: &Plan, name: &str, seat: Option<Seat>) -> Result<What, LineFault> {
        let device = self.find(plan, name)?;
        let Some(seat) = seat else {
            let message = format!("`{name}` is given to nobody");
            return Err(LineFault::new(message, "write `\"seat\":2` behind it").about(name));
        };
        Ok(What::Give(device, seat))
    }

    fn find(&self, plan: &Plan, name: &str) -> Result<Device, LineFault> {
        device(plan, name).map_err(|(_, message, help)| LineFault::new(message, help).about(name))
    }
}

/// What is wrong with a device's name: its kind, a message, what to write.
pub(crate) type NoDevice = (FaultKind, String, String);

/// The device called `word`.
///
/// # Errors
/// When there is no such class, the profile has nothing for it, or a class has no such device.
pub(crate) fn device(plan: &Plan, word: &str) -> Result<Device, NoDevice> {
    let (catalogue, name) = (plan.catalogue(), ControlName::new(word));
    let Some(class) = catalogue.class(name.class).filter(|_| name.rest.is_none()) else {
        let classes = catalogue.classes().map(|class| catalogue.word(class));
        let help = did_you_mean(nearest(name.class, classes), || {
            "devices are named by their class and number: `key#1`, `mouse#1`, `pad#2`".to_owned()
        });
        let message = match (word, name.rest) {
            ("", _) => "the device is missing".to_owned(),
            (_, Some(_)) => format!("`{word}` is a control, not a device"),
            (_, None) => format!("there is no device `{word}`"),
        };
        return Err((FaultKind::UnknownName, message, help));
    };
    let Ok(number) = name.device() else {
        let message = format!("`{word}` does not number a device");
        let help = format!("devices are numbered from 1 to {MOST_DEVICES}");
        return Err((FaultKind::OutOfRange, message, help));
    };
    if !plan.uses_class(class) {
        let message = format!("no scheme has the class `{}`", name.class);
        let help = "add it to the `devices` of a scheme".to_owned();
        return Err((FaultKind::WrongKind, message, help));
    }
    Ok(Device { class, number: number.unwrap_or(0) })
}
