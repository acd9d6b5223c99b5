//! The path: every link of the line as a ceiling over the currents, and the weakest of them.

use serde::Serialize;
use utoipa::ToSchema;

use super::bench::Bench;
use super::figures::{brick, cells, charging, load, protection as guard, voltage, wiring as wire_figures};
use super::finding::{Finding, Severity};
use super::ledger::at;
use super::stage::Stage;
use crate::plan::{Node, NodeKind, Part, Run, Wire};
use crate::protection;
use crate::wiring;

/// A current that flows along the line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Demand {
    /// Id of the load level.
    pub load: String,
    /// The maker's word for it.
    pub name: String,
    /// Current at the battery.
    pub current_a: f64,
    /// How long it lasts; absent is without end.
    pub duration_s: Option<f64>,
    /// Whether it counts against peak limits rather than continuous ones.
    pub peak: bool,
}

/// What a link bears for one peak.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PeakLimit {
    /// Id of the load level.
    pub load: String,
    /// Current it bears for that long; absent where nothing stated limits it.
    pub limit_a: Option<f64>,
}

/// One link of the line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Link {
    /// Node or run it stands for; `cells` and `strips` for the pack's own.
    pub id: String,
    /// What it is.
    pub label: String,
    /// Which one.
    pub detail: String,
    /// The stage that decides it.
    pub stage: Stage,
    /// Continuous limit referred to the battery side; absent is unknown.
    pub continuous_a: Option<f64>,
    /// Figure that sets the continuous limit, if its working can be opened.
    pub figure: Option<String>,
    /// Limits for each peak.
    pub peaks: Vec<PeakLimit>,
    /// Largest demand over limit; absent where nothing is known.
    pub used: Option<f64>,
    /// Worst finding about the stage's part in this link.
    pub severity: Option<Severity>,
}

/// One link of the charge path.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeLink {
    /// Node it stands for; `cells` for the cells.
    pub id: String,
    /// What it is.
    pub label: String,
    /// Which one.
    pub detail: String,
    /// Current through it.
    pub current_a: Option<f64>,
    /// Its limit.
    pub limit_a: Option<f64>,
}

/// The whole path.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Path {
    /// Currents asked for.
    pub demands: Vec<Demand>,
    /// Links from the cells to the device.
    pub links: Vec<Link>,
    /// Id of the weakest link.
    pub weakest: Option<String>,
    /// Links from the supply to the cells.
    pub charge: Vec<ChargeLink>,
}

/// Lays out the path of a bench.
pub fn lay(bench: &Bench<'_>, findings: &[Finding]) -> Path {
    let demands: Vec<Demand> = bench
        .asked
        .iter()
        .map(|a| Demand {
            load: a.load.id.clone(),
            name: a.load.name.clone(),
            current_a: a.level.current_a,
            duration_s: a.level.duration_s,
            peak: !a.level.is_long(),
        })
        .collect();
    let mut links = pack_links(bench, &demands);
    let mut referred = 1.0;
    for (i, node) in bench.line.nodes.iter().enumerate() {
        links.extend(node_link(bench, node, &demands, referred));
        if node.module().is_some_and(|m| m.converts.is_some()) {
            referred = output_to_battery(bench).unwrap_or(1.0);
        }
        if let Some(run) = bench.line.runs.get(i)
            && let Some(wire) = run.wire.part()
        {
            links.push(wire_link(bench, run, wire, &demands, referred));
        }
    }
    let continuous_a = bench.ledger.value(&load::CONTINUOUS_A);
    for link in &mut links {
        link.used = used(link, &demands, continuous_a);
        link.severity = severity(link, findings);
    }
    let weakest = links
        .iter()
        .filter_map(|l| Some((l.used?, l)))
        .max_by(|a, b| a.0.total_cmp(&b.0))
        .map(|(_, link)| link.id.clone());
    Path { demands, links, weakest, charge: charge_links(bench) }
}

/// Largest demand over limit: continuous demand over the continuous limit, each peak over its own.
fn used(link: &Link, demands: &[Demand], continuous_a: Option<f64>) -> Option<f64> {
    let steady = continuous_a.zip(link.continuous_a).map(|(a, limit_a)| a / limit_a);
    let peaks = demands.iter().filter(|d| d.peak).filter_map(|d| {
        let limit_a = link.peaks.iter().find(|p| p.load == d.load)?.limit_a?;
        Some(d.current_a / limit_a)
    });
    steady.into_iter().chain(peaks).reduce(f64::max)
}

fn severity(link: &Link, findings: &[Finding]) -> Option<Severity> {
    let about = |f: &&Finding| {
        let rule = f.rule.as_str();
        f.accepted.is_none()
            && match link.id.as_str() {
                "cells" => rule == "cells.over-rating" || rule == "cells.peak-over-rating",
                "strips" => rule.starts_with("brick.strip") || rule == "protection.fuse-above-strips",
                id => {
                    f.key.ends_with(&format!("@{id}"))
                        || (id == "fuse" && rule.starts_with("protection.fuse"))
                        || (id == "board"
                            && (rule.starts_with("protection.board")
                                || rule.starts_with("protection.trip")
                                || rule.starts_with("protection.other")))
                        || (id == "converter" && rule.starts_with("voltage.converter"))
                }
            }
    };
    findings.iter().filter(about).map(|f| f.severity).max()
}

/// Factor from the device side of a converter to its battery side at the lowest loaded volts.
fn output_to_battery(bench: &Bench<'_>) -> Option<f64> {
    let (_, c) = bench.converter()?;
    let l = &bench.ledger;
    Some(c.output_v / (l.value(&load::EFFICIENCY)? * l.value(&voltage::CUTOFF_V)?))
}

fn peaks(demands: &[Demand], bears_a: impl Fn(f64) -> Option<f64>) -> Vec<PeakLimit> {
    demands
        .iter()
        .filter(|d| d.peak)
        .map(|d| PeakLimit { load: d.load.clone(), limit_a: d.duration_s.and_then(&bears_a) })
        .collect()
}

fn pack_links(bench: &Bench<'_>, demands: &[Demand]) -> Vec<Link> {
    let mut links = vec![];
    let l = &bench.ledger;
    if let (Some(cell), Some((_, parallel))) = (bench.cell(), bench.counts()) {
        let parallel_count = bench.pack.parallel.unwrap_or(1);
        links.push(Link {
            id: "cells".to_owned(),
            label: "Cells".to_owned(),
            detail: format!("{parallel_count} in parallel"),
            stage: Stage::Cells,
            continuous_a: l.value(&cells::LIMIT_A),
            figure: l.value(&cells::LIMIT_A).map(|_| cells::LIMIT_A.id.to_owned()),
            peaks: peaks(demands, |s| crate::cells::counted_peak_a(cell, s).map(|a| a * parallel)),
            used: None,
            severity: None,
        });
    }
    if let Some(strip) = bench.strip() {
        links.push(Link {
            id: "strips".to_owned(),
            label: "Strips".to_owned(),
            detail: strip.offer.name.clone(),
            stage: Stage::Brick,
            continuous_a: l.value(&brick::LINK_LIMIT_A),
            figure: Some(brick::LINK_LIMIT_A.id.to_owned()),
            peaks: peaks(demands, |s| Some(crate::brick::link_short_time_a(strip, s))),
            used: None,
            severity: None,
        });
    }
    links
}

fn node_link(bench: &Bench<'_>, node: &Node, demands: &[Demand], referred: f64) -> Option<Link> {
    let l = &bench.ledger;
    let part = node.part.part()?;
    let (label, detail, stage, continuous_a, figure) = match part {
        Part::Module { module } => {
            if let Some(board) = &module.protects {
                let figure = board.continuous_a.map(|_| guard::BOARD_A.id.to_owned());
                ("Board", &module.offer.name, Stage::Protection, board.continuous_a, figure)
            } else if let Some(c) = &module.converts {
                ("Converter", &module.offer.name, Stage::Voltage, c.input_a, None)
            } else {
                ("Cut-off", &module.offer.name, Stage::Protection, None, None)
            }
        }
        Part::Fuse { fuse } => {
            let carries_a = Some(protection::fuse_carries_a(fuse));
            ("Fuse", &fuse.offer.name, Stage::Protection, carries_a, Some(guard::FUSE_CARRIES_A.id.to_owned()))
        }
        Part::Connector { connector } => ("Plug", &connector.offer.name, Stage::Wiring, connector.continuous_a, None),
        Part::Switch { switch } => ("Switch", &switch.offer.name, Stage::Wiring, switch.continuous_a, None),
    };
    let figure = figure.filter(|id: &String| l.get(id).is_some());
    let continuous_a = continuous_a.map(|a| a * referred);
    let peaks = match part {
        Part::Module { module } => match &module.protects {
            Some(board) => peaks(demands, |s| {
                protection::board_bears_a(board, s).map(|a| board.continuous_a.map_or(a, |c| c.max(a)) * referred)
            }),
            None => peaks(demands, |_| continuous_a),
        },
        Part::Fuse { fuse } => peaks(demands, |s| Some(protection::fuse_bears_a(fuse, s) * referred)),
        Part::Connector { .. } | Part::Switch { .. } => peaks(demands, |_| continuous_a),
    };
    Some(Link {
        id: node.id.clone(),
        label: label.to_owned(),
        detail: detail.clone(),
        stage,
        continuous_a,
        figure,
        peaks,
        used: None,
        severity: None,
    })
}

fn wire_link(bench: &Bench<'_>, run: &Run, wire: &Wire, demands: &[Demand], referred: f64) -> Link {
    let ambient_c = bench.plan.environment.use_max_c;
    let id = at(&wire_figures::LIMIT_A, &run.id);
    Link {
        id: run.id.clone(),
        label: "Wire".to_owned(),
        detail: wiring::size_name(&wire.size),
        stage: Stage::Wiring,
        continuous_a: bench.ledger.get(&id).map(|f| f.value * referred),
        figure: Some(id),
        peaks: peaks(demands, |s| Some(wiring::short_time_a(wire, s, ambient_c) * referred)),
        used: None,
        severity: None,
    }
}

fn charge_links(bench: &Bench<'_>) -> Vec<ChargeLink> {
    let l = &bench.ledger;
    let Some(charger) = bench.plan.module(NodeKind::Charger) else {
        return vec![];
    };
    let charge_a = l.value(&charging::CHARGER_A);
    let link = |id: &str, label: &str, detail: &str, current_a, limit_a| ChargeLink {
        id: id.to_owned(),
        label: label.to_owned(),
        detail: detail.to_owned(),
        current_a,
        limit_a,
    };
    let mut links = vec![];
    if let Some(supply) = bench.plan.module(NodeKind::Supply) {
        let (needed_a, has_a) = (l.value(&charging::SUPPLY_A), l.value(&charging::SUPPLY_HAS_A));
        links.push(link("supply", "Supply", &supply.offer.name, needed_a, has_a));
    }
    links.push(link("charger", "Charger", &charger.offer.name, charge_a, charge_a));
    for node in &bench.charge_way.nodes {
        if let Some(jack) = node.connector() {
            links.push(link(&node.id, "Jack", &jack.offer.name, charge_a, jack.continuous_a));
        }
    }
    if let Some((module, board)) = bench.charge_board() {
        links.push(link("board", "Board", &module.offer.name, charge_a, board.charge_a));
    }
    if let Some(cell) = bench.cell() {
        links.push(link("cells", "Cells", &cell.offer.name, charge_a, l.value(&charging::LIMIT_A)));
    }
    links
}
