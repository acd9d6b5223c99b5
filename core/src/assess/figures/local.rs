//! Which figures a link of the plan is judged by: those of its own side of a converter, or of a charger.

use super::cells::{PACK_AH, PACK_OHM};
use super::charging::{CHARGER_A, SUPPLY_A};
use super::device::{CHARGER_V as OLD_CHARGER_V, HOST_CHARGE_V};
use super::load::{CONTINUOUS_A, OUTPUT_CONTINUOUS_A, OUTPUT_PEAK_A, PEAK_A};
use super::voltage::{EMPTY_V, FULL_V, LINE_FULL_V, OUTPUT_MOST_V};
use crate::assess::ledger::FigureDef;
use crate::assess::workspace::Workspace;
use crate::physics::charging::{ChargedBy, ModuleInput, Situation};
use crate::plan::{ChargesAs, HostCircuit, Node, NodeKind};

/// The figures that a link of the line is judged by.
#[derive(Debug, Clone, Copy)]
pub struct Local {
    /// What flows in it continuously.
    pub continuous: &'static FigureDef,
    /// The largest peak in it.
    pub peak: &'static FigureDef,
    /// The maximum voltage on it.
    pub most_v: &'static FigureDef,
}

/// What flows in a link of the line and stands on it: the battery's side of a converter, or the device's.
pub fn local(workspace: &Workspace<'_>, id: &str) -> Local {
    if workspace.is_behind_converter(id) {
        Local { continuous: &OUTPUT_CONTINUOUS_A, peak: &OUTPUT_PEAK_A, most_v: &OUTPUT_MOST_V }
    } else {
        Local { continuous: &CONTINUOUS_A, peak: &PEAK_A, most_v: &LINE_FULL_V }
    }
}

/// What flows in a contact of the charge: in the input jack what the supply gives, in the others the charger's current.
pub fn contact_current(workspace: &Workspace<'_>, node: &Node) -> &'static FigureDef {
    if workspace.is_input_jack(node) { &SUPPLY_A } else { &CHARGER_A }
}

/// What the ways to charge this pack are judged on; full once every stage has entered its figures.
pub fn charge_situation(workspace: &Workspace<'_>) -> Situation {
    let l = &workspace.ledger;
    let d = &workspace.plan.device;
    Situation {
        series: workspace.pack.series,
        facts: workspace.facts(),
        full_v: l.value(&FULL_V),
        ah: l.value(&PACK_AH),
        pack_ohm: l.value(&PACK_OHM),
        empty_v: l.value(&EMPTY_V),
        bleeds: workspace.any_board().map(|(_, board)| board.bleed_a.is_some_and(|a| a > 0.0)),
        host: d.electronics.charges_itself,
        host_becomes: workspace.plan.charging.host,
        host_v: l.value(&HOST_CHARGE_V),
        original: d.original.chemistry,
        old_charger_v: l.value(&OLD_CHARGER_V),
        jack_feeds: module_input(workspace),
        planned: charged_by(workspace),
    }
}

/// What the jack leads to, where that is the input of a module inside.
fn module_input(workspace: &Workspace<'_>) -> Option<ModuleInput> {
    let jack = workspace.plan.nodes.iter().find(|n| n.kind == NodeKind::Jack)?;
    let charges = workspace.charges().filter(|_| workspace.is_input_jack(jack))?;
    Some(ModuleInput { least_v: charges.input_min_v, most_v: charges.input_max_v })
}

/// Who is planned to charge the pack.
fn charged_by(workspace: &Workspace<'_>) -> Option<ChargedBy> {
    let Some(charges) = workspace.charges() else {
        let host = workspace.plan.charging.host == Some(HostCircuit::ChargesPack);
        return host.then_some(ChargedBy::HostCircuit);
    };
    Some(match charges.kind {
        ChargesAs::FixedVolts => ChargedBy::Converter,
        ChargesAs::Nickel | ChargesAs::LeadAcid => ChargedBy::OldCharger,
        ChargesAs::CcCv if charges.balance_a.is_some() => ChargedBy::HobbyCharger,
        ChargesAs::CcCv if charges.own_supply => ChargedBy::WallCharger,
        ChargesAs::CcCv => ChargedBy::ChargeModule,
    })
}
