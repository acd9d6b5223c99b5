//! What could be done: whole plans, parts and voltages that suit, the smallest changes that clear a finding, what must be bought, what
//! someone will do later, how the device is proved. Uses `base`, `plan`, `physics`, `parts` and `assess`, by whose verdict every
//! proposal is tried before it is made.

pub mod bill;
pub mod fix;
pub mod misuse;
pub mod propose;
pub mod prove;
pub mod suggest;
