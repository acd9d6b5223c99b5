//! The device as surveyed.

use crate::assess::figures::device::HIGHEST_V;
use crate::assess::finding::{Findings, Severity};
use crate::plan::How;
use crate::source::Source;

pub fn look(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    let d = &bench.plan.device;
    let assumed = match &d.highest_v {
        None => bench.ledger.value(&HIGHEST_V).is_some(),
        Some(known) => known.how == How::Assumed,
    };
    if assumed {
        f.tell(
            Severity::Caution,
            "device.highest-assumed",
            Source::CommonPractice,
            "Highest volts are only assumed",
            "Nothing states what the device bears; {device.highest_v} is what its old battery gave \
             fresh. Prove it on a current-limited supply before buying cells.",
        );
    }
    if d.original.cells_fit == Some(true) {
        f.tell(
            Severity::Stop,
            "device.old-cells-fit",
            Source::CommonPractice,
            "Old cells can still be put in beside the new pack",
            "Somebody will. Unequal cells in parallel drive a current that nothing limits: block the bay or cut its wire.",
        );
    }
}
