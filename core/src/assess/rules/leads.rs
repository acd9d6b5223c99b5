//! How the wiring is done: wires of the charge, tap wires, strain relief, a panel meter, plugs that can be swapped.

use crate::assess::figures::brick::SHORT_A;
use crate::assess::figures::charging::{CHARGER_A, SUPPLY_A};
use crate::assess::figures::wiring::LIMIT_A;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::ledger::{FigureDef, at};
use crate::assess::rule;
use crate::base::limit::above;
use crate::plan::{NodeKind, StateName};

pub fn check(f: &mut Findings<'_, '_>) {
    charge_wires(f);
    taps(f);
    let wiring = &f.workspace.plan.wiring;
    let (swap, relief) = (wiring.plugs_swap, wiring.strain_relief);
    let unisolated = wiring.panel_meter == Some(true) && wiring.meter_isolated == Some(false);
    if swap == Some(true) {
        f.tell(
            Severity::Stop,
            rule::wiring::PLUGS_SWAP,
            "Plugs that also fit wrongly short a pack",
            "The packs are set in series or parallel by plugs that also fit each other: one wrong plug is a dead short. Use a switch that breaks before it makes, or plugs of two kinds.",
        );
    }
    if relief == Some(false) {
        f.tell(
            Severity::Caution,
            rule::wiring::NO_STRAIN_RELIEF,
            "No strain relief on the leads",
            "Joints and tabs break where nothing holds the lead before them, and a loose live end touches something. Use a knot, a clamp, or a tie to the case.",
        );
    }
    if unisolated {
        f.tell(
            Severity::Caution,
            rule::wiring::METER_NOT_ISOLATED,
            "Panel meter fed from the measured circuit",
            "Its minus is often the minus of its shunt. Fed from the same circuit it reads wrongly or shorts the shunt. Use a small isolated supply, or a separate cell.",
        );
    }
}

/// Wires from the supply to the charger and on to the pack, against what flows in them.
fn charge_wires(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let fed = workspace.plan.path(NodeKind::Supply, NodeKind::Charger, StateName::Charging);
    let runs = workspace
        .charge_path
        .connections
        .iter()
        .map(|r| (*r, &CHARGER_A))
        .chain(fed.connections.iter().map(|r| (*r, &SUPPLY_A)));
    for (run, current) in runs {
        let current: &FigureDef = current;
        let id = at(&LIMIT_A, &run.id);
        let (Some(current_a), Some(limit)) = (workspace.ledger.value(current), workspace.ledger.get(&id)) else {
            continue;
        };
        if above(current_a, limit.value) {
            let why = format!(
                "This wire carries {{{}}} during the charge and is rated for {{{id}}}. Use a thicker one.",
                current.id
            );
            f.add(
                Severity::Stop,
                Says {
                    rule: rule::wiring::CHARGE_WIRE,
                    subject: &run.id,
                    title: "Charge wire too thin",
                    why: &why,
                    words: &[],
                },
            );
        }
    }
}

fn taps(f: &mut Findings<'_, '_>) {
    let Some(taps) = &f.workspace.plan.wiring.taps else { return };
    let (order_read, fused) = (taps.order_read, taps.fused);
    if order_read == Some(false) {
        f.tell(
            Severity::Caution,
            rule::wiring::TAP_ORDER,
            "Pin order of the tap plug not known",
            "Makers wire such plugs from either end. One pin off puts two cells where one belongs and destroys the board. Read each pin against pack minus: one cell more each time.",
        );
    }
    if fused == Some(false) && f.workspace.ledger.value(&SHORT_A).is_some() {
        f.tell(
            Severity::Note,
            rule::wiring::TAPS_UNFUSED,
            "Tap wires have no fuses",
            "A tap wire that chafes through carries up to {pack.short_a}, far more than such a thin wire is rated for. Keep them short, sleeved and apart, or put a small fuse or a fusible resistor at each tap.",
        );
    }
}
