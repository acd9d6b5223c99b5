//! The ways to take the current off a brick, side by side: how evenly its cells share, what its strips are then rated for.

use super::sharing::{JointWire, Sharing};
use crate::physics::brick::laid::Laid;
use crate::plan::{Strip, TakeOff};

/// One way to take the current off.
#[derive(Debug, Clone, PartialEq)]
pub struct Study {
    /// Where the wires sit.
    pub take_off: TakeOff,
    /// How the current then shares itself.
    pub sharing: Sharing,
}

/// Every way to take the current off; a pack with one cell in a group has none to choose from, and of two cells the
/// middle one is one of the ends.
pub fn study(laid: &Laid<'_>, strip: &Strip, cell_ohm: f64, joint: JointWire) -> Vec<Study> {
    if laid.parallel < 2 {
        return vec![];
    }
    let one = |take_off| {
        let sharing = Sharing::of(laid, strip, cell_ohm, joint, Some(take_off))?;
        Some(Study { take_off, sharing })
    };
    TakeOff::ALL.into_iter().filter(|t| *t != TakeOff::Middle || laid.parallel > 2).filter_map(one).collect()
}
