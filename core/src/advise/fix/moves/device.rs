//! What is worth trying for findings about the device and where it is used.

use super::{At, Move, put};
use crate::assess::rule;

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::device::OLD_CELLS_FIT => {
            vec![put("/device/original/cells_fit", false, "I block the bay or cut its wire")]
        }
        rule::device::SOFT_START_BYPASSED => {
            vec![put("/device/brains/soft_start_kept", true, "Feed it through the soft start")]
        }
        rule::device::LOWER_SETTING_NEVER_RUNS => {
            vec![put("/device/brains/selector", false, "Leave the lower setting out")]
        }
        rule::device::WET_OPEN_BOARD | rule::device::CHEMICALS_OPEN_PACK => {
            vec![put("/device/surroundings/vented", false, "I close the compartment")]
        }
        rule::device::KNOCKS_UNHELD => vec![put("/wiring/strain_relief", true, "I clamp or tie every lead")],
        rule::device::GAUGE_BLIND => vec![put("/feed/gauge_led", true, "I lead its sense wire to the pack")],
        rule::device::VENTED_IN_THE_WET => vec![put("/device/surroundings/vented", false, "I close the air holes")],
        _ => vec![],
    }
}
