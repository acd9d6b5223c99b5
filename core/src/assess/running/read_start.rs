//! What the voltage of the groups leave open of the charge that a run or a charge begins with.

use super::setup::all_read;
use crate::assess::Workspace;
use crate::base::chemistry;
use crate::base::quantity::{Unit, show_range};

/// So much of the charge may stay open before it is told. Assumed.
const TELLS_SHARE: f64 = 0.15;
/// Error of a meter that states none.
const METER_V: f64 = 0.005;

/// What is open of the start, in words; `None` where the voltage tells it well enough, or were not read.
pub fn start_says(workspace: &Workspace<'_>) -> Option<String> {
    all_read(workspace)?;
    let chemistry = workspace.pack.chemistry?;
    let curve = chemistry::curve(chemistry);
    let open = workspace.pack.group_v.iter().map(|read| {
        let (least, most) = curve.left_open(read.value, read.error.unwrap_or(METER_V), chemistry.hysteresis_v());
        (most - least, least, most)
    });
    let (wide, least, most) = open.max_by(|a, b| a.0.total_cmp(&b.0))?;
    (wide > TELLS_SHARE).then(|| {
        format!(
            "The voltage at rest leaves the charge open: a group may hold {}. The curve is flat there, and the voltage rests higher after a charge than after use. Charge the pack full first if the answer matters.",
            show_range(least, most, Unit::Share),
        )
    })
}
