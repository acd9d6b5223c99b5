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

/// End volts over full that are still no stop. Common practice, no source.
const OVER_SHARE: f64 = 0.01;

pub fn check(f: &mut Findings<'_, '_>) {
    if f.workspace.plan.device.brains.charges_itself == Some(true) {
        host(f);
    }
    if f.workspace.plan.device.original.charger_fits == Some(true) {
        let then = old_charger(f.workspace);
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::OLD_CHARGER_FITS,
                subject: "",
                title: "The old charger still fits the jack",
                why: "Somebody will plug it in. {$0} Change the jack, or label it.",
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
            "The device has a charge circuit of its own",
            "Made for the old battery, it goes on charging the new pack its own way. Cut it off, or follow it: nothing else may feed its charge node.",
        ),
        Some(HostCircuit::CutOff) => {}
        Some(HostCircuit::Followed) => {
            if charging.host_isolated != Some(true) {
                f.tell(
                    Severity::Caution,
                    rule::charging::HOST_NODE_FED,
                    "The new feed reaches the device's charge node",
                    "Its charge circuit is only to be followed. Fed from behind, it takes the pack's volts for mains, charges nothing, or works against the converter: a diode or a relay between them.",
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
            "A circuit for the old chemistry charges the new pack",
            "The device's own charge circuit does not end at {pack.full_v}, nor with the current falling away. Cut it off, or follow it and give the pack a charger of its own.",
        );
        return;
    }
    if let Some(second) = f.workspace.plan.module(NodeKind::Charger).filter(|m| m.charges.is_some()) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::TWO_CHARGERS,
                subject: "",
                title: "Two chargers work on one pack",
                why: "The device's own circuit charges it, and “{$0}” does too. Both at once add their currents, and neither ends: each sees the volts the other holds up. Cut one of them off, or make it impossible to connect both.",
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
            "The device's own charge circuit over-charges the pack",
            "It goes up to {device.charge_v}, {charge.host_cell_v} a cell; full is {cell.full_v} and never above {cell.never_above_v}.",
        );
    }
}
