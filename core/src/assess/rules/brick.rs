//! The strips of the series links.

use crate::assess::figures::brick::{JOINT_SHARE, LINK_LIMIT_A, LINK_PEAK_A};
use crate::assess::figures::load::{CONTINUOUS_A, PEAK_A};
use crate::assess::findings::Findings;
use crate::assess::rule;

pub fn check(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    if let Some(severity) = f.exceeds(CONTINUOUS_A.id, LINK_LIMIT_A.id) {
        f.tell(
            severity,
            rule::brick::STRIP_OVER_CURRENT,
            "Series strips overloaded",
            if l.value(&JOINT_SHARE).is_some() {
                "As laid out, a wire that joins two pieces of one node carries {joint.share} of {load.continuous_a} and is rated for {joint.limit_a}, so the pack is limited to {strip.limit_a}. Use a thicker wire, or a layout whose strips meet."
            } else if f.workspace.sharing.is_some() {
                "As laid out, one strip carries {strip.largest_share} of {load.continuous_a}, so the pack is limited to {strip.limit_a}. Use more layers, a thicker metal, or take the current off elsewhere."
            } else {
                "Each link carries the whole {load.continuous_a}; its strips are rated for {strip.limit_a}. Add layers, width, or strips side by side."
            },
        );
    } else if let Some(severity) = f.exceeds(PEAK_A.id, LINK_PEAK_A.id) {
        f.tell(
            severity,
            rule::brick::STRIP_OVER_PEAK,
            "Series strips overheat at the peak",
            "For {load.peak_s} the strips are rated for {strip.peak_a}; the peak is {load.peak_a}.",
        );
    }
}
