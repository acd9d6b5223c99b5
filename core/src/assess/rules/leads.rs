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
            "Plugs that fit the other way short a pack",
            "Packs that are set in series or parallel by plugs that also fit each other: one wrong plug is a dead short of a pack. A switch that breaks before it makes, or plugs of two kinds.",
        );
    }
    if relief == Some(false) {
        f.tell(
            Severity::Caution,
            rule::wiring::NO_STRAIN_RELIEF,
            "A pull on a lead reaches the joint",
            "Joints and tabs break where nothing holds the lead before them, and a loose live end finds something to touch. A knot, a clamp, a tie to the case.",
        );
    }
    if unisolated {
        f.tell(
            Severity::Caution,
            rule::wiring::METER_NOT_ISOLATED,
            "The panel meter is fed from what it measures",
            "Its minus is often its shunt's: fed from the same circuit it reads wrongly, or shorts the shunt. A small isolated supply, or a cell of its own.",
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
            let why = format!("It carries {{{}}} while it charges and bears {{{id}}}. Take a thicker one.", current.id);
            f.add(
                Severity::Stop,
                Says {
                    rule: rule::wiring::CHARGE_WIRE,
                    subject: &run.id,
                    title: "A wire of the charge carries more than it bears",
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
            "The order of the tap plug is not known",
            "Makers wire such plugs from either end. One pin off puts two cells where one belongs, and the board dies. Read each pin against pack minus: one cell more each time.",
        );
    }
    if fused == Some(false) && f.workspace.ledger.value(&SHORT_A).is_some() {
        f.tell(
            Severity::Note,
            rule::wiring::TAPS_UNFUSED,
            "The tap wires have no fuse of their own",
            "One that chafes through carries up to {pack.short_a}, far more than so thin a wire bears. Keep them short, sleeved and apart, or put a small fuse or a fusible resistor at each tap.",
        );
    }
}
