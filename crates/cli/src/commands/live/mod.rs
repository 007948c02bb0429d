//! `live`, `record` and `page`: the profile under real hands.

mod keys;
mod menu;
mod page;
mod picture;
mod pieces;
mod record;
mod recorder;
mod session;
mod show;

pub use page::{config as page_config, page};
pub use record::record;
pub use show::show;
