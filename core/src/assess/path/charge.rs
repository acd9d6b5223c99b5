//! The charge path: from the supply to the cells, each link with the current through it and its limit.

use crate::assess::figures::local::contact_current;
use serde::Serialize;
use utoipa::ToSchema;

use super::super::figures::charging;
use super::super::figures::path::{CHARGE_LINK_A, CHARGE_USED};
use super::super::ledger::{FigureDef, at, fig, fig_at, from_plan};
use super::super::workspace::Workspace;
use crate::base::limit::above;
use crate::base::quantity::Unit;
use crate::plan::NodeKind;

/// One link of the charge path.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeLink {
    /// Node it stands for; `cells` for the cells.
    pub id: String,
    /// What it is.
    pub label: &'static str,
    /// Which one.
    pub detail: String,
    /// Current through it.
    pub current_a: Option<f64>,
    /// Its limit.
    pub limit_a: Option<f64>,
    /// The figure the limit is.
    pub figure: Option<String>,
    /// Current over limit.
    pub used: Option<f64>,
    /// Whether the current is over the limit.
    pub over: bool,
}

/// Lays out the charge path and enters its limits.
pub fn charge_links(workspace: &mut Workspace<'_>) -> Vec<ChargeLink> {
    let Some(charger) = workspace.plan.module(NodeKind::Charger) else {
        return vec![];
    };
    let charger_at = workspace.module_pointer(NodeKind::Charger);
    let mut links = vec![];
    if let Some(supply) = workspace.plan.module(NodeKind::Supply) {
        let has_a = supply.supplies.as_ref().map(|s| s.output_a);
        let pointer = format!("{}/supplies/output_a", workspace.module_pointer(NodeKind::Supply));
        links.push(link(
            workspace,
            Place {
                id: "supply",
                label: "Supply",
                detail: &supply.offer.name,
                current: &charging::SUPPLY_A,
                limit_a: has_a,
                pointer,
            },
        ));
    }
    links.push(link(
        workspace,
        Place {
            id: "charger",
            label: "Charger",
            detail: &charger.offer.name,
            current: &charging::CHARGER_A,
            limit_a: charger.charges.as_ref().and_then(|c| c.output_a),
            pointer: format!("{charger_at}/charges/output_a"),
        },
    ));
    let index_of =
        |workspace: &Workspace<'_>, id: &str| workspace.plan.nodes.iter().position(|n| n.id == id).unwrap_or_default();
    for node in workspace.charge_contacts() {
        let index = index_of(workspace, &node.id);
        if let Some(jack) = node.connector() {
            links.push(link(
                workspace,
                Place {
                    id: &node.id,
                    label: if node.kind == NodeKind::Jack { "Jack" } else { "Plug" },
                    detail: &jack.offer.name,
                    current: contact_current(workspace, node),
                    limit_a: jack.continuous_a,
                    pointer: format!("/nodes/{index}/part/part/connector/continuous_a"),
                },
            ));
        }
    }
    for node in workspace.charge_path.nodes.clone() {
        if let Some((module, board)) = node.module().and_then(|m| Some((m, m.protects.as_ref()?))) {
            let index = index_of(workspace, &node.id);
            links.push(link(
                workspace,
                Place {
                    id: &node.id,
                    label: "Board",
                    detail: &module.offer.name,
                    current: &charging::CHARGER_A,
                    limit_a: board.charge_a,
                    pointer: format!("/nodes/{index}/part/part/module/protects/charge_a"),
                },
            ));
        }
    }
    if let Some(cell) = workspace.cell() {
        links.push(link(
            workspace,
            Place {
                id: "cells",
                label: "Cells",
                detail: &cell.offer.name,
                current: &charging::CHARGER_A,
                limit_a: workspace.ledger.value(&charging::LIMIT_A),
                pointer: String::new(),
            },
        ));
    }
    links
}

struct Place<'p> {
    id: &'p str,
    label: &'static str,
    detail: &'p str,
    current: &'static FigureDef,
    limit_a: Option<f64>,
    /// Where the limit was typed; empty for the cells, whose limit is a figure already.
    pointer: String,
}

fn link(workspace: &mut Workspace<'_>, place: Place<'_>) -> ChargeLink {
    let l = &mut workspace.ledger;
    let current_a = l.value(place.current);
    let (mut figure, mut used) = (None, None);
    if let Some(limit_a) = place.limit_a {
        let input = if place.pointer.is_empty() {
            fig(&charging::LIMIT_A)
        } else {
            from_plan(place.pointer, "As stated", limit_a, Unit::A)
        };
        l.put_at(&CHARGE_LINK_A, place.id, limit_a, vec![input]);
        figure = Some(at(&CHARGE_LINK_A, place.id));
        if let Some(current_a) = current_a {
            used = Some(current_a / limit_a);
            let inputs = vec![fig(place.current), fig_at(&CHARGE_LINK_A, place.id)];
            l.put_at(&CHARGE_USED, place.id, current_a / limit_a, inputs);
        }
    }
    ChargeLink {
        id: place.id.to_owned(),
        label: place.label,
        detail: place.detail.to_owned(),
        current_a,
        limit_a: place.limit_a,
        figure,
        used,
        over: used.is_some_and(|used| above(used, 1.0)),
    }
}
