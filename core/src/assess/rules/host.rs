//! What else may charge the pack: the device's own circuit, and the old charger that still fits.

use crate::assess::figures::charging::HOST_CELL_V;
use crate::assess::figures::local::charge_situation;
use crate::assess::figures::voltage::CELL_FULL_V;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::assess::workspace::Workspace;
use crate::base::chemistry::Chemistry;
use crate::base::limit::above;
use crate::physics::charging::{self, ChargedBy};
use crate::plan::{HostCircuit, NodeKind};

/// End voltage over full that are still no stop. Common practice, no source.
const OVER_SHARE: f64 = 0.01;

pub fn check(f: &mut Findings<'_, '_>) {
    if f.workspace.plan.device.electronics.charges_itself == Some(true) {
        host(f);
    }
    if f.workspace.plan.device.original.charger_fits == Some(true) {
        let then = old_charger(f.workspace);
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::OLD_CHARGER_FITS,
                subject: "",
                title: "Old charger still fits the jack",
                why: "Someone will plug it in. {$0} Change the jack, or label it.",
                words: &[&then],
            },
        );
    }
}

/// What happens when the old charger is plugged in.
fn old_charger(workspace: &Workspace<'_>) -> String {
    let ways = charging::ways(&charge_situation(workspace));
    ways.into_iter().find(|w| w.by == ChargedBy::OldCharger).map_or_else(String::new, |w| w.why)
}

fn host(f: &mut Findings<'_, '_>) {
    let charging = &f.workspace.plan.charging;
    match charging.host {
        None => f.tell(
            Severity::Caution,
            rule::charging::HOST_CHARGES,
            "Device has its own charge circuit",
            "Made for the original battery, it charges the new pack in its own way. Disconnect it, or only follow it: nothing else may feed its charge node.",
        ),
        Some(HostCircuit::CutOff) => {}
        Some(HostCircuit::Followed) => {
            if charging.host_isolated != Some(true) {
                f.tell(
                    Severity::Caution,
                    rule::charging::HOST_NODE_FED,
                    "New supply feeds the device's charge node",
                    "The device's charge circuit is only to be followed. Fed from behind, it takes the pack's voltage for mains, charges nothing, or works against the converter. Put a diode or a relay between them.",
                );
            }
        }
        Some(HostCircuit::ChargesPack) => charges_pack(f),
    }
}

fn charges_pack(f: &mut Findings<'_, '_>) {
    let original = f.workspace.plan.device.original.chemistry;
    if matches!(original, Some(Chemistry::Nickel | Chemistry::LeadAcid | Chemistry::Alkaline)) {
        f.tell(
            Severity::Stop,
            rule::charging::HOST_REUSED,
            "Charge circuit made for the old chemistry",
            "The device's own charge circuit does not stop at {pack.full_v}, nor when the current has fallen. Disconnect it, or only follow it and give the pack its own charger.",
        );
        return;
    }
    if let Some(second) = f.workspace.plan.module(NodeKind::Charger).filter(|m| m.charges.is_some()) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::TWO_CHARGERS,
                subject: "",
                title: "Two chargers on one pack",
                why: "The device's own circuit charges the pack, and so does “{$0}”. Their currents add, and neither ends, because each sees the voltage the other holds up. Disconnect one, or make it impossible to connect both.",
                words: &[&second.offer.name],
            },
        );
    }
    let l = &f.workspace.ledger;
    if matches!((l.value(&HOST_CELL_V), l.value(&CELL_FULL_V)), (Some(v), Some(full_v)) if above(v, full_v * (1.0 + OVER_SHARE)))
    {
        f.tell(
            Severity::Stop,
            rule::charging::HOST_OVER_VOLTS,
            "Device's own charge circuit overcharges the pack",
            "It goes up to {device.charge_v}, which is {charge.host_cell_v} per cell. Full is {cell.full_v}; the limit is {cell.never_above_v}.",
        );
    }
}
