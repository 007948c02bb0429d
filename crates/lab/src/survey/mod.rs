//! Many runs counted, and what scores and their profile say of each other.

mod coverage;
mod range;
mod rates;
mod shard;
mod tally;

pub use coverage::{Coverage, Untried};
pub use range::{Range, RangeValue};
pub use rates::{AcrossRates, ByRate, RateRow};
pub use shard::Shard;
pub use tally::{
    FollowsRate, Outcome, Swept, Tally, bends_sum, follows_rate, outcome, swept, tallied,
};
