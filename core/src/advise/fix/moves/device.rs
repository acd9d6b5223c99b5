//! What is worth trying for findings about the device and where it is used.

use super::{At, Move, put};
use crate::assess::{rule, subject};
use crate::physics::device::printed;
use crate::plan::{How, Known, Original};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::device::OLD_CELLS_FIT => {
            vec![put("/device/original/cells_fit", false, "I block the bay or cut its wire")]
        }
        rule::device::SOFT_START_BYPASSED => {
            vec![put("/device/brains/soft_start_kept", true, "Feed it through the soft start")]
        }
        rule::device::LOWER_SETTING_NEVER_RUNS => {
            vec![put("/device/brains/selector", false, "Do not use the lower setting")]
        }
        rule::device::WET_OPEN_BOARD | rule::device::CHEMICALS_OPEN_PACK => {
            vec![put("/device/surroundings/vented", false, "I close the compartment")]
        }
        rule::device::KNOCKS_UNHELD => vec![put("/wiring/strain_relief", true, "I clamp or tie every lead")],
        rule::device::GAUGE_BLIND => vec![put("/feed/gauge_led", true, "Connect its sense wire to the pack")],
        rule::device::VENTED_IN_THE_WET => vec![put("/device/surroundings/vented", false, "Close the vents")],
        rule::device::LABEL_WORDS => as_printed(at).into_iter().collect(),
        rule::device::LAMP_DARK => lamp_put(at, "colour", "red", "Use a red lamp").into_iter().collect(),
        rule::device::METAL_WALL => insulated(at).into_iter().collect(),
        _ => vec![],
    }
}

/// The old battery as its label says, where the label says something.
fn as_printed(at: &At<'_>) -> Option<Move> {
    let own = &at.plan.device.original;
    let read = printed(&own.words);
    let known = |value: f64| Known { value, how: How::Stated, error: None, meter: None };
    let original = Original {
        chemistry: read.chemistry.or(own.chemistry),
        series: read.series().or(own.series),
        label_v: own.label_v.or(read.label_v),
        capacity_ah: own.capacity_ah.clone().or(read.capacity_ah.map(known)),
        ..own.clone()
    };
    let named = original.chemistry.map_or("", |c| c.facts().name);
    let label = match original.series {
        Some(series) => format!("Use what the label says: {named}, {series} in series"),
        None => format!("Use what the label says: {named}"),
    };
    Some(put("/device/original", serde_json::to_value(original).ok()?, label))
}

/// A field of the lamp of a finding.
fn lamp_put(at: &At<'_>, field: &str, value: &str, label: &str) -> Option<Move> {
    let (place, opening) = subject(&at.finding.key).rsplit_once('/')?;
    let i = at.plan.device.compartments.iter().position(|p| p.id == place)?;
    Some(put(format!("/device/compartments/{i}/openings/{opening}/lamp/{field}"), value, label))
}

/// The part of a finding insulated from its wall.
fn insulated(at: &At<'_>) -> Option<Move> {
    let (place, opening) = subject(&at.finding.key).rsplit_once('/')?;
    let i = at.plan.device.compartments.iter().position(|p| p.id == place)?;
    let field = format!("/device/compartments/{i}/openings/{opening}/insulated");
    Some(put(field, true, "Use an insulated part or insulating washers"))
}
