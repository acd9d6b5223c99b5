//! What happens in packs and parts, and how it is read: every computation of the job, one room a thing. Uses `base` and `plan`;
//! knows no ledger, no rule and no catalogue.

pub mod ageing;
pub mod arrival;
pub mod balancing;
pub mod bench;
pub mod brick;
pub mod cells;
pub mod charging;
pub mod converter;
pub mod device;
pub mod gauge;
pub mod grouping;
pub mod meters;
pub mod protection;
pub mod run;
pub mod voltage;
pub mod wiring;
