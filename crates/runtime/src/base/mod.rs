//! The ground everything stands on: times, numbers, values, ids and names.
//!
//! Guarantees to every later stage: a [`Time`] is whole nanoseconds, a [`Vector`] that left a
//! function of this folder is finite, a [`Table`] is read only by the ids made for it.

mod bag;
mod blend;
mod control_name;
mod device;
mod id;
pub mod limits;
mod map_kind;
mod name;
mod number;
mod set;
mod time;
pub mod turn;
mod value;

pub use bag::IdBag;
pub use blend::Blend;
pub use control_name::{ControlName, NoDevice};
pub use device::{
    ALL_HALVES, Class, Contact, ControlKind, Device, MOST_DEVICES, MOST_OWN_CLASSES, MOST_SEATS,
    Seat, half,
};
#[cfg(feature = "pack")]
pub use id::is_default;
pub use id::{
    ActionId, AlternativeId, BindingId, ControlId, ControlUseId, Id, IdRange, ListSlice, MapId,
    MemoryId, MotionId, OpId, ParamId, PhysicalInputId, PlusId, SchemeId, Table, VariableId,
};
pub use limits::AT_REST;
pub use map_kind::MapKind;
pub use name::{MAX_NAME, corrected_name, is_name};
pub use number::{Decimal, shortest};
pub use set::IdSet;
pub use time::{Rate, Time};
pub use value::{Component, Kind, Vector};
