//! Every wire of the line: resistance, limit, drop; and the resistance of the whole path.

use super::brick::STRIPS_OHM;
use super::cells::LINE_COLD_OHM;
use super::figures;
use super::load::{CONTINUOUS_A, OUTPUT_CONTINUOUS_A, PEAK_A, PEAK_S, USUAL_A};
use super::protection::BLEED_A;
use super::voltage::{FEED_V, LINE_NOMINAL_V};
use crate::assess::figures::local::local;
use crate::assess::ledger::{FigureDef, Input, constant, fig, fig_at, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::protection::{FUSE_DROP_V, fuse_ohm};
use crate::physics::wiring;
use crate::plan::{Connection, Part, Wire};

figures! {
    AREA = "wire.area_mm2", "Cross-section of the wire", Mm2, "π / 4 × (0.127 mm × 92^((36 − AWG) / 39))², or as stated", AstmB258;
    BALANCE_A = "wire.balance_a", "Current that warms the wire by 30 K in the open", A, "heat balance: convection and radiation", ChurchillChu;
    RULE_A = "wire.rule_a", "Usual current for that size", A, "rule of thumb for short silicone leads in the open", CommonPractice;
    LIMIT_A = "wire.limit_a", "Continuous current of the wire", A,
        "the lower of heat balance and rule of thumb; half in a bundle", CommonPractice;
    PEAK_LIMIT_A = "wire.peak_a", "Peak current limit of the wire", A, "k × cross-section / √time", Iec60364;
    PER_M_OHM = "wire.per_m_ohm", "Resistance of the wire per metre at 20 °C", Ohm,
        "AWG: resistivity / cross-section, 3 % for its strands; metric: highest of class 5", Iec60028;
    WARM_C = "wire.warm_c", "Conductor at the continuous current", C, "hottest use + 30 K × (current / current for 30 K)²", ChurchillChu;
    OHM = "wire.ohm", "Resistance of the wire, both ways", Ohm,
        "2 × resistance per metre × length × (1 + 0.393 % × (conductor − 20 °C))", Iec60028;
    DROP_USUAL_V = "wire.drop_usual_v", "Drop in the wire at the usual current", V, "current × resistance both ways", CircuitLaw;
    DROP_PEAK_V = "wire.drop_peak_v", "Drop in the wire at the peak", V, "peak current × resistance both ways", CircuitLaw;
    HEAT_W = "wire.heat_w", "Heat of the wire at the continuous current", W, "current² × resistance both ways", CircuitLaw;
    TAP_OHM = "taps.ohm", "Resistance of the longest tap wire", Ohm, "resistance per metre × length", Iec60028;
    TAP_ERROR_V = "taps.error_v", "What bleeding lifts or lowers a tap's reading by", V, "bleed current × resistance of the tap wire", CircuitLaw;
    DROP_V = "wire.drop_v", "Drop in the wires at the continuous current", V, "current × resistance of all wires both ways; before a converter, where there is one", CircuitLaw;
    DROP_SHARE = "wire.drop_share", "Drop in the wires against the nominal voltage on them", Share, "drop / nominal voltage on the line", CircuitLaw;
    OUTPUT_DROP_V = "wire.output_drop_v", "Drop in the wires after the converter", V, "continuous current into the device × resistance of the wires after the converter, both ways", CircuitLaw;
    OUTPUT_DROP_SHARE = "wire.output_drop_share", "Drop in the wires after the converter against its set-point", Share, "drop / voltage at the device", CircuitLaw;
    OUTPUT_ARRIVES_V = "output.arrives_v", "Voltage at the device, after the converter", V, "set-point − drop in the wires after it", CircuitLaw;
    CONTACTS_OHM = "path.contacts_ohm", "Resistance of board, connectors, switch and fuse", Ohm, "sum of the stated resistances; a fuse by what it loses at its rating", CircuitLaw;
    PATH_OHM = "path.ohm", "Resistance of the whole path at the coldest use", Ohm, "cells + strips + contacts + wires both ways", CircuitLaw;
    SAG_USUAL_V = "pack.sag_usual_v", "Sag at the usual current", V, "usual current × resistance of the whole path", CircuitLaw;
    SAG_PEAK_V = "pack.sag_peak_v", "Sag at the peak", V, "peak current × resistance of the whole path", CircuitLaw;
}

/// Enters the wires of the line and the sums over the way.
pub fn enter(workspace: &mut Workspace<'_>) {
    let runs: Vec<(usize, &Connection, &Wire)> = workspace
        .plan
        .connections
        .iter()
        .enumerate()
        .filter_map(|(i, run)| run.wire.part().map(|wire| (i, run, wire)))
        .collect();
    let ambient_c = workspace.plan.environment.use_max_c;
    let (mut wires, mut behind) = (vec![], vec![]);
    for (i, run, wire) in runs {
        let on_line = workspace.line.connections.iter().any(|r| r.id == run.id);
        enter_wire(workspace, i, run, wire, ambient_c);
        if on_line && let Some(ohm) = workspace.ledger.value_at(&OHM, &run.id) {
            let side = if workspace.is_behind_converter(&run.id) { &mut behind } else { &mut wires };
            side.push((fig_at(&OHM, &run.id), ohm));
        }
    }
    drops(workspace, &wires, [&CONTINUOUS_A, &LINE_NOMINAL_V, &DROP_V, &DROP_SHARE]);
    drops(workspace, &behind, [&OUTPUT_CONTINUOUS_A, &FEED_V, &OUTPUT_DROP_V, &OUTPUT_DROP_SHARE]);
    let l = &mut workspace.ledger;
    if let (Some(feed_v), Some(drop_v)) = (l.value(&FEED_V), l.value(&OUTPUT_DROP_V)) {
        l.put(&OUTPUT_ARRIVES_V, (feed_v - drop_v).max(0.0), vec![fig(&FEED_V), fig(&OUTPUT_DROP_V)]);
    }
    sums(workspace, wires);
    taps(workspace, ambient_c);
}

/// The wires from the taps: what the bleed current loses in them is read as if the cell had it.
fn taps(workspace: &mut Workspace<'_>, ambient_c: f64) {
    let Some(taps) = &workspace.plan.wiring.taps else { return };
    let (Some(size), Some(length_mm)) = (&taps.size, taps.length_mm) else { return };
    let ohm = wiring::wire_ohm(size, length_mm, ambient_c);
    let l = &mut workspace.ledger;
    let length = from_plan("/wiring/taps/length_mm", "Length one way", length_mm, Unit::Mm);
    l.put(&TAP_OHM, ohm, vec![length.about(&wiring::size_name(size), 1.0)]);
    if let Some(bleed_a) = l.value(&BLEED_A) {
        l.put(&TAP_ERROR_V, bleed_a * ohm, vec![fig(&BLEED_A), fig(&TAP_OHM)]);
    }
}

fn enter_wire(workspace: &mut Workspace<'_>, index: usize, run: &Connection, wire: &Wire, ambient_c: f64) {
    let l = &mut workspace.ledger;
    let area_mm2 = wiring::area_mm2(&wire.size);
    let (field, shown, unit) = match wire.size {
        crate::plan::WireSize::Awg { awg } => ("awg", f64::from(awg), Unit::Count),
        crate::plan::WireSize::Metric { area_mm2 } => ("area_mm2", area_mm2, Unit::Mm2),
    };
    let metric = matches!(wire.size, crate::plan::WireSize::Metric { .. });
    let size = from_plan(format!("/runs/{index}/wire/part/size/{field}"), "Wire size", shown, unit);
    let hottest = from_plan("/environment/use_max_c", "Hottest use", ambient_c, Unit::C);
    let entry = l.put_at(&AREA, &run.id, area_mm2, vec![size]);
    if metric {
        entry.source(Source::Plan);
    }
    let area = || fig_at(&AREA, &run.id);
    l.put_at(&BALANCE_A, &run.id, wiring::ampacity_open_a(&wire.size, ambient_c), vec![area(), hottest.clone()]);
    l.put_at(&RULE_A, &run.id, wiring::rule_of_thumb_a(&wire.size), vec![area()]);
    let both = vec![fig_at(&BALANCE_A, &run.id), fig_at(&RULE_A, &run.id)];
    l.put_at(&LIMIT_A, &run.id, wiring::ampacity_a(wire, ambient_c), both);
    let entry = l.put_at(&PER_M_OHM, &run.id, wiring::ohm_per_m(&wire.size), vec![area()]);
    if metric {
        entry.source(Source::Iec60228);
    }
    if let Some(peak_s) = l.value(&PEAK_S) {
        let k = constant("k of the insulation", wiring::short_time_k(wire.insulation), Unit::Ratio, Source::Iec60364);
        let rated_a = wiring::short_time_a(wire, peak_s, ambient_c);
        l.put_at(&PEAK_LIMIT_A, &run.id, rated_a, vec![k, area(), fig(&PEAK_S)]);
    }
    if let Some(length_mm) = run.length_mm {
        let length = from_plan(format!("/runs/{index}/length_mm"), "Length one way", length_mm, Unit::Mm);
        // What the load draws flows in the wires of the line only.
        let on_line = workspace.line.connections.iter().any(|r| r.id == run.id);
        let local = local(workspace, &run.id);
        let l = &mut workspace.ledger;
        let continuous_a = l.value(local.continuous).filter(|_| on_line);
        let warm_c = wiring::conductor_c(wire, continuous_a.unwrap_or(0.0), ambient_c);
        let mut warms = vec![hottest, fig_at(&BALANCE_A, &run.id)];
        warms.extend(continuous_a.map(|_| fig(local.continuous)));
        l.put_at(&WARM_C, &run.id, warm_c, warms);
        let both_ohm = 2.0 * wiring::wire_ohm(&wire.size, length_mm, warm_c);
        l.put_at(&OHM, &run.id, both_ohm, vec![fig_at(&PER_M_OHM, &run.id), length, fig_at(&WARM_C, &run.id)]);
        let usual = if workspace.is_behind_converter(&run.id) { &OUTPUT_CONTINUOUS_A } else { &USUAL_A };
        let l = &mut workspace.ledger;
        for (def, current) in [(&DROP_USUAL_V, usual), (&DROP_PEAK_V, local.peak)] {
            if let Some(current_a) = l.value(current).filter(|_| on_line) {
                let inputs = vec![fig(current), fig_at(&OHM, &run.id)];
                l.put_at(def, &run.id, current_a * both_ohm, inputs);
            }
        }
        if let Some(continuous_a) = l.value(local.continuous).filter(|_| on_line) {
            let inputs = vec![fig(local.continuous), fig_at(&OHM, &run.id)];
            l.put_at(&HEAT_W, &run.id, continuous_a.powi(2) * both_ohm, inputs);
        }
    }
}

/// What one side of a converter loses in its wires, by the current and the voltage of that side.
fn drops(
    workspace: &mut Workspace<'_>,
    wires: &[(Input, f64)],
    [current, volts, drop, share]: [&'static FigureDef; 4],
) {
    if wires.is_empty() {
        return;
    }
    let all_ohm: f64 = wires.iter().map(|(_, ohm)| ohm).sum();
    let l = &mut workspace.ledger;
    let Some(continuous_a) = l.value(current) else {
        return;
    };
    let mut inputs = vec![fig(current)];
    inputs.extend(wires.iter().map(|(input, _)| input.clone()));
    l.put(drop, continuous_a * all_ohm, inputs);
    if let Some(nominal_v) = l.value(volts) {
        l.put(share, continuous_a * all_ohm / nominal_v, vec![fig(drop), fig(volts)]);
    }
}

fn sums(workspace: &mut Workspace<'_>, wires: Vec<(Input, f64)>) {
    let mut contacts = vec![];
    let mut contacts_ohm = 0.0;
    for node in workspace.line.nodes.iter().filter(|n| !workspace.is_behind_converter(&n.id)) {
        let (ohm, path) = match node.part.part() {
            Some(Part::Module { module }) => {
                (module.protects.as_ref().and_then(|p| p.path_ohm), "module/protects/path_ohm")
            }
            Some(Part::Connector { connector }) => (connector.contact_ohm, "connector/contact_ohm"),
            Some(Part::Switch { switch }) => (switch.contact_ohm, "switch/contact_ohm"),
            Some(Part::Fuse { fuse }) => {
                contacts.push(constant(
                    "Voltage a fuse loses at its rating",
                    FUSE_DROP_V,
                    Unit::V,
                    Source::CommonPractice,
                ));
                (Some(fuse_ohm(fuse)), "fuse/rating_a")
            }
            _ => continue,
        };
        if let (Some(ohm), Some(i)) = (ohm, workspace.plan.nodes.iter().position(|n| n.id == node.id)) {
            let pointer = format!("/nodes/{i}/part/part/{path}");
            contacts.push(match node.fuse() {
                Some(fuse) => from_plan(pointer, "Rating of the fuse", fuse.rating_a, Unit::A),
                None => from_plan(pointer, "Resistance", ohm, Unit::Ohm),
            });
            contacts_ohm += ohm;
        }
    }
    let l = &mut workspace.ledger;
    let mut inputs = vec![fig(&LINE_COLD_OHM)];
    let Some(cells_ohm) = l.value(&LINE_COLD_OHM) else {
        return;
    };
    let mut path_ohm = cells_ohm;
    if let Some(strips_ohm) = l.value(&STRIPS_OHM) {
        path_ohm += strips_ohm;
        inputs.push(fig(&STRIPS_OHM));
    }
    if !contacts.is_empty() {
        l.put(&CONTACTS_OHM, contacts_ohm, contacts);
        path_ohm += contacts_ohm;
        inputs.push(fig(&CONTACTS_OHM));
    }
    for (input, ohm) in wires {
        path_ohm += ohm;
        inputs.push(input);
    }
    l.put(&PATH_OHM, path_ohm, inputs);
    for (def, current) in [(&SAG_USUAL_V, &USUAL_A), (&SAG_PEAK_V, &PEAK_A)] {
        if let Some(current_a) = l.value(current) {
            l.put(def, current_a * path_ohm, vec![fig(current), fig(&PATH_OHM)]);
        }
    }
}
