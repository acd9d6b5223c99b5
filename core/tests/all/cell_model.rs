//! One cell of the simulation against computed cells: the solver against an exact one, the model fitted to pulses and a slow
//! discharge and judged on faster ones, on a tool's pattern, in the cold, on its own heat, and on charges.
//!
//! Sources of the computed cells: `reference/SOURCES.md`, which also says how far each set may be trusted.

use brick_core::base::chemistry::OcvCurve;
use brick_core::base::piecewise::Piecewise;
use brick_core::physics::run::{CellModel, Free, GivenCell, GivenWarmth, Logged, Pair, Piece, error_v, fit, follow};
use serde_json::Value;

use crate::reference::{file, number, rows};

/// Columns of a table of numbers.
fn columns<const N: usize>(name: &str, wanted: [&str; N]) -> Vec<[f64; N]> {
    let text = file(name);
    let head: Vec<&str> = text.lines().find(|l| !l.starts_with('#')).unwrap().split(',').collect();
    let at = wanted.map(|w| head.iter().position(|h| *h == w).unwrap_or_else(|| panic!("{name}: no column {w}")));
    rows(name).iter().map(|row| at.map(|k| number(&row[k]))).collect()
}

/// One second steps against the exact solution of the same equations (PyBaMM's Thevenin model, IDAKLU at 1e-9): volts
/// within 1 mV, temperature within 0.05 K, at every row.
#[test]
fn the_solver_agrees_with_an_exact_one() {
    let cases: Value = serde_json::from_str(&file("thevenin/cases.json")).unwrap();
    for case in cases["cases"].as_array().unwrap() {
        let id = case["id"].as_str().unwrap();
        let n = |key: &str| case[key].as_f64().unwrap();
        let list = |key: &str| case[key].as_array().unwrap().iter().map(|v| v.as_f64().unwrap()).collect::<Vec<_>>();
        let pair = |v: &Value| (v[0].as_f64().unwrap(), v[1].as_f64().unwrap());
        let cell = GivenCell {
            capacity_ah: n("capacity_ah"),
            soc: n("soc0"),
            ocv: list("ocv_soc").into_iter().zip(list("ocv_v")).collect(),
            r0_ohm: n("r0_ohm"),
            rc: case["rc"].as_array().unwrap().iter().map(pair).collect(),
            diffusion_s: 0.0,
            thermal: GivenWarmth {
                ambient_c: n("ambient_c"),
                cell_j_per_k: n("cell_j_per_k"),
                cell_jig_w_per_k: n("cell_jig_w_per_k"),
                jig_j_per_k: n("jig_j_per_k"),
                jig_air_w_per_k: n("jig_air_w_per_k"),
            },
        };
        let step = |v: &Value| {
            let (duration_s, current_a) = pair(v);
            brick_core::physics::run::ProfileStep { duration_s, current_a }
        };
        let profile: Vec<_> = case["profile"].as_array().unwrap().iter().map(step).collect();
        let got = cell.run(&profile, 1.0).unwrap();
        let names = ["time_s", "current_a", "voltage_v", "soc", "temp_cell_c", "temp_jig_c"];
        let (mut seen, mut most_v, mut most_k) = (0, 0.0f64, 0.0f64);
        for want in columns(&format!("thevenin/{id}.csv"), names) {
            // Rows a millisecond after a change have no fellow here; those of whole seconds hold the current before it.
            let same =
                |g: &&brick_core::physics::run::GivenRow| (g.time_s - want[0]).abs() < 1e-6 && g.current_a == want[1];
            let Some(g) = got.iter().find(same) else { continue };
            seen += 1;
            most_v = most_v.max((g.voltage_v - want[2]).abs());
            most_k = most_k.max((g.cell_c - want[4]).abs()).max((g.jig_c - want[5]).abs());
            assert!((g.soc - want[3]).abs() < 1e-6, "{id} at {} s: SOC {} not {}", want[0], g.soc, want[3]);
        }
        println!("{id}: {seen} rows, {:.4} mV, {most_k:.5} K", most_v * 1000.0);
        assert!(seen > 400 && most_v < 1e-3 && most_k < 0.05, "{id}: {seen} rows, {most_v} V, {most_k} K");
    }
}

/// A computed cell: its curve, its capacity between its limits, and its pulses.
struct Set {
    name: &'static str,
    pulse_a: f64,
    curve: OcvCurve,
    capacity_ah: f64,
}

impl Set {
    fn read(name: &'static str) -> Set {
        let at = format!("{}ocv/{name}.csv", if is_own(name) { "../core/data/" } else { "" });
        let curve = OcvCurve::through(columns(&at, ["soc", "ocv_v"]).into_iter().map(Into::into).collect()).unwrap();
        let summary: Value = serde_json::from_str(&file("hppc/summary.json")).unwrap();
        let pulse_a = summary[name]["pulse_current_a"].as_f64().unwrap();
        Set { name, pulse_a, curve, capacity_ah: capacity_ah(name) }
    }

    /// Pulses and half of the slow discharge's say.
    fn fitted(&self) -> (CellModel, f64) {
        let name = self.name;
        let r0: Vec<(f64, f64)> = columns(&format!("hppc/{name}.csv"), ["soc", "r_0s_mohm"])
            .into_iter()
            .map(|[soc, mohm]| (soc, mohm / 1000.0))
            .collect();
        let r0 = Piecewise::through(r0).unwrap();
        let start = CellModel {
            curve: self.curve.clone(),
            capacity_ah: self.capacity_ah,
            pairs: vec![Pair { ohm: r0.times(0.5), tau_s: 60.0 }],
            r0,
            diffusion_s: 60.0,
            doubles_every_k: Some(25.0),
            coulomb_efficiency: 1.0,
        };
        let trace = columns(&format!("hppc/{name}_trace.csv"), ["soc", "time_s", "current_a", "voltage_v"]);
        let mut pieces: Vec<Piece> = trace
            .chunk_by(|a, b| a[0] == b[0])
            // The lowest pulse of some sets runs into the knee of the curve.
            .filter(|rows| rows[0][0] > 0.15)
            .map(|rows| Piece { soc: rows[0][0], lines: rows.iter().map(|r| line([r[1], r[2], r[3]])).collect() })
            .collect();
        let slow = self.discharge("0.5C_25degC");
        let most_of_it = slow.lines.iter().take_while(|l| l.time_s < 0.98 * slow.lines.last().unwrap().time_s);
        let slow = Piece { soc: 1.0, lines: most_of_it.copied().collect() };
        let weight = 2 * pieces.len();
        pieces.extend(vec![slow; weight]);
        fit(&start, &pieces, 25.0, &[Free::PairResistance, Free::PairTime, Free::Diffusion].map(|f| (f, 0.0)))
    }

    fn discharge(&self, which: &str) -> Piece {
        let at = format!("discharge/{}_{which}.csv", self.name);
        let lines = columns(&at, ["time_s", "current_a", "voltage_v"]).into_iter().map(line).collect();
        Piece { soc: 1.0, lines }
    }

    /// Root mean square of the volts missed until either ends, and the charge against that of the computed cell.
    fn judged(&self, model: &CellModel, piece: &Piece, cell_c: f64) -> (f64, f64) {
        let last = *piece.lines.last().unwrap();
        let beyond = (1..400).map(|k| Logged { time_s: last.time_s * (1.0 + f64::from(k) / 1000.0), ..last });
        let longer = Piece { soc: piece.soc, lines: piece.lines.iter().copied().chain(beyond).collect() };
        let volts = follow(model, &longer, cell_c);
        let below = volts.iter().position(|v| *v < last.voltage_v).expect("it ends at some time");
        let (a, b) = (below - 1, below);
        let share = (volts[a] - last.voltage_v) / (volts[a] - volts[b]);
        let ends_s = longer.lines[a].time_s + share * (longer.lines[b].time_s - longer.lines[a].time_s);
        let both = |l: &&Logged| l.time_s <= ends_s.min(last.time_s);
        let until = Piece { soc: piece.soc, lines: piece.lines.iter().take_while(both).copied().collect() };
        (error_v(model, &[until], cell_c), ends_s / last.time_s - 1.0)
    }
}

fn is_own(name: &str) -> bool {
    ["nmc811_chen2020", "lco_ai2020", "lfp_prada2013"].contains(&name)
}

fn line([time_s, current_a, voltage_v]: [f64; 3]) -> Logged {
    Logged { time_s, current_a, voltage_v }
}

/// Charge between the limits of a set, on its curve (`ocv_capacity_ah` of its source).
fn capacity_ah(name: &str) -> f64 {
    match name {
        "nmc811_chen2020" => 5.1532,
        "nmc811_okane2022" => 5.10995,
        "lco_ai2020" => 2.46632,
        "nca_kim2011" => 0.48313,
        "lco_marquis2019" => 0.87284,
        "nco_ecker2015" => 0.171,
        "lfp_prada2013" => 2.30345,
        other => panic!("{other}"),
    }
}

const SETS: [&str; 6] =
    ["nmc811_chen2020", "nmc811_okane2022", "lco_ai2020", "nca_kim2011", "lco_marquis2019", "nco_ecker2015"];

/// Fitted to pulses and 0.5 C only, judged at 0.2, 1 and 2 C: 60 mV and 3 % at 1 C, 90 mV and 5 % at 2 C.
#[test]
fn fitted_to_pulses_it_follows_discharges_it_has_not_seen() {
    for name in SETS {
        let set = Set::read(name);
        let (model, missed_v) = set.fitted();
        println!("{name}: fit misses {:.1} mV; lag {:.0} s", missed_v * 1000.0, model.diffusion_s);
        for (rate, most_v, most_share) in [("0.2C", 0.06, 0.03), ("1C", 0.06, 0.03), ("2C", 0.09, 0.05)] {
            let which = format!("{rate}_25degC");
            if !std::path::Path::new(&crate::reference::path(&format!("discharge/{name}_{which}.csv"))).exists() {
                continue;
            }
            let (rms_v, share) = set.judged(&model, &set.discharge(&which), 25.0);
            println!("  {rate}: {:.1} mV, charge {:+.2} %", rms_v * 1000.0, share * 100.0);
            assert!(rms_v < most_v && share.abs() < most_share, "{name} at {rate}: {rms_v} V, {share}");
        }
        assert!(set.pulse_a > 0.0);
    }
}

/// Fitted at 25 C, judged at 0 to 40 C with one law for all, doubling every 25 K: the sets themselves grow 1.8 (O'Kane 2022) to 4
/// times (Ecker 2015) down to 0 C. At 0 C the electrolyte of one set (Ai 2020) empties, which no circuit follows: left out.
#[test]
fn one_law_of_the_cold_serves_from_0_to_40_degrees() {
    for (name, temperatures, most_v) in [
        ("nmc811_okane2022", &[0.0, 10.0, 40.0][..], 0.08),
        ("lco_marquis2019", &[0.0, 10.0, 40.0], 0.04),
        ("lco_ai2020", &[10.0, 40.0], 0.06),
        ("nca_kim2011", &[0.0, 10.0, 40.0], 0.06),
        ("nco_ecker2015", &[0.0, 10.0, 40.0], 0.17),
    ] {
        let set = Set::read(name);
        let (model, _) = set.fitted();
        for &cell_c in temperatures {
            let (rms_v, share) = set.judged(&model, &set.discharge(&format!("1C_{cell_c}degC")), cell_c);
            println!("{name} at {cell_c} C: {:.1} mV, charge {:+.2} %", rms_v * 1000.0, share * 100.0);
            assert!(rms_v < most_v && share.abs() < 0.05, "{name} at {cell_c} C: {rms_v} V, {share}");
        }
    }
}

/// The phosphate set is good for curve and solver only: its own diffusion is far slower than a cell's on the bench. Slowly
/// discharged it is met all the same.
#[test]
fn phosphate_follows_its_curve_when_discharged_slowly() {
    let set = Set::read("lfp_prada2013");
    let (model, _) = set.fitted();
    let (rms_v, share) = set.judged(&model, &set.discharge("0.2C_25degC"), 25.0);
    println!("lfp_prada2013 at 0.2C: {:.1} mV, charge {:+.2} %", rms_v * 1000.0, share * 100.0);
    assert!(rms_v < 0.09 && share.abs() < 0.04, "{rms_v} V, {share}");
}

/// A tool's pattern of 20 minutes (`reference/drive`), fitted to pulses and the slow discharge only.
#[test]
fn a_tools_pattern_is_followed() {
    let set = Set::read("nmc811_chen2020");
    let (model, _) = set.fitted();
    let lines: Vec<Logged> = columns("drive/nmc811_chen2020_tool_a.csv", ["time_s", "current_a", "voltage_v"])
        .into_iter()
        .map(line)
        .collect();
    let piece = Piece { soc: 0.95, lines };
    let rms_v = error_v(&model, std::slice::from_ref(&piece), 25.0);
    let lowest = |volts: &mut dyn Iterator<Item = f64>| volts.fold(f64::INFINITY, f64::min);
    let least_v = lowest(&mut follow(&model, &piece, 25.0).into_iter());
    let told_v = lowest(&mut piece.lines.iter().map(|l| l.voltage_v));
    println!("tool pattern: {:.1} mV, least {least_v:.3} V against {told_v:.3} V", rms_v * 1000.0);
    // At 3 C the set's kinetics lose less than in proportion: the circuit sags further, to the safe side.
    assert!(rms_v < 0.045 && least_v < told_v && least_v > told_v - 0.12, "{rms_v} V, {least_v} against {told_v}");
}

/// The heat of a cell is I (OCV − V), against the sets that count the heat of mixing: with their own volts, heat and
/// temperature agree; with the model's, the losses come out up to a quarter too high at 1 C, to the safe side.
#[test]
fn a_cell_warms_by_what_its_volts_lose() {
    let set = Set::read("nmc811_chen2020");
    // In this set the temperature moves little of the losses.
    let model = CellModel { doubles_every_k: None, ..set.fitted().0 };
    let summary: Value = serde_json::from_str(&file("discharge/summary.json")).unwrap();
    for rate in ["0.2C", "0.5C", "1C"] {
        let name = format!("nmc811_chen2020_{rate}_25degC_lumped.csv");
        let n = |key: &str| summary[&name][key].as_f64().unwrap();
        let rows = columns(&format!("discharge/{name}"), ["time_s", "current_a", "temp_c", "voltage_v"]);
        let mut state = model.rested(1.0, 25.0);
        let (mut cell_c, mut told_j, mut model_j, mut most_k) = (25.0, 0.0, 0.0, 0.0f64);
        for pair in rows.windows(2) {
            let (step_s, current_a) = (pair[1][0] - pair[0][0], pair[1][1]);
            let before_v = set.curve.extended_v(state.soc);
            model_j += model.step(&mut state, current_a, &model.pace(step_s)) * step_s;
            let ocv_v = (before_v + set.curve.extended_v(state.soc)) / 2.0;
            let heat_w = current_a * (ocv_v - (pair[0][3] + pair[1][3]) / 2.0);
            // One lump, implicit midpoint.
            let (c, g) = (n("heat_capacity_j_per_k") / step_s, n("h_a_w_per_k") / 2.0);
            cell_c = 25.0 + (heat_w + (cell_c - 25.0) * (c - g)) / (c + g);
            told_j += heat_w * step_s;
            most_k = most_k.max((cell_c - pair[1][2]).abs());
        }
        let (told, model) = (told_j / n("total_heat_j"), model_j / n("total_heat_j"));
        println!("{rate}: by its volts {told:.3} of the heat, within {most_k:.2} K; by the model {model:.3}");
        assert!((told - 1.0).abs() < 0.015 && most_k < 0.8, "{rate}: {told}, {most_k} K");
        assert!((0.9..1.25).contains(&model), "{rate}: {model}");
    }
}

/// Eleven charges of six computed cells: full within 10 % of the time, 80 % within 5 %.
#[test]
fn charges_end_when_they_should() {
    use brick_core::physics::brick::HeatPaths;
    use brick_core::physics::run::{FillTask, Filler, Warmth, fill};
    let summary: Value = serde_json::from_str(&file("cccv/summary.json")).unwrap();
    let mut seen = 0;
    for (name, told) in summary.as_object().unwrap() {
        let n = |key: &str| told[key].as_f64().unwrap();
        let set = match told["chem"].as_str().unwrap() {
            "nmc811_chen2020" => "nmc811_chen2020",
            "lco_ai2020" => "lco_ai2020",
            "nca_kim2011" => "nca_kim2011",
            "lco_marquis2019" => "lco_marquis2019",
            "nco_ecker2015" => "nco_ecker2015",
            _ => "lfp_prada2013",
        };
        let (model, _) = Set::read(set).fitted();
        let mut paths = HeatPaths::of_cells(1, 1e9);
        paths.join(0, None, 1.0);
        let task = FillTask {
            groups: vec![model],
            soc: vec![0.0],
            warmth: Warmth { paths, lump_of: vec![0], ambient_c: 25.0 },
            path_ohm: 0.0,
            charger: Filler {
                current_a: n("charge_current_a"),
                end_v: n("v_charge"),
                ends_a: Some(n("cutoff_a")),
                pre: None,
                supply_w: None,
                restart_v: None,
            },
            bleeds: None,
            board: None,
            step_s: 5.0,
            most_s: 1e6,
        };
        let got = fill(&task).unwrap();
        let full = got.full_s.unwrap() / n("full_s") - 1.0;
        let most = got.most_s.unwrap() / n("time_to_80pct_of_ocv_capacity_s") - 1.0;
        println!("{name}: full {:+.1} %, 80 % {:+.1} %", full * 100.0, most * 100.0);
        // The phosphate set is good for curve and solver only (`reference/SOURCES.md`).
        let most_full = if set == "lfp_prada2013" { 0.15 } else { 0.1 };
        assert!(full.abs() < most_full && most.abs() < 0.05, "{name}: {full}, {most}");
        seen += 1;
    }
    assert_eq!(seen, 11);
}

/// A discharge of a computed cell as a maker logs it, in the sign of the Battery Data Format.
fn logged(name: &str, rate: &str) -> Option<String> {
    let at = format!("discharge/{name}_{rate}_25degC.csv");
    if !std::path::Path::new(&crate::reference::path(&at)).exists() {
        return None;
    }
    let rows = columns(&at, ["time_s", "voltage_v", "current_a"]);
    let lines = rows.iter().map(|[t, v, a]| format!("{t},{v},{}\n", -a));
    Some(format!("Test Time / s,Voltage / V,Current / A\n{}", lines.collect::<String>()))
}

/// DC resistance after 10 s at half charge, as a maker measures it.
fn dcir_ohm(name: &str) -> f64 {
    let summary: Value = serde_json::from_str(&file("hppc/summary.json")).unwrap();
    summary[name]["r_mohm_at_soc_0p5"]["10s"].as_f64().unwrap() / 1000.0
}

/// What a cell is that a maker has logged: the chemistry he would choose.
fn chemistry(name: &str) -> brick_core::base::chemistry::Chemistry {
    use brick_core::base::chemistry::Chemistry;
    match name {
        "lco_ai2020" | "lco_marquis2019" => Chemistry::LiPo,
        "lfp_prada2013" => Chemistry::LiFePo4,
        _ => Chemistry::LiIon,
    }
}

fn own(name: &str, texts: &[&String]) -> brick_core::physics::run::OwnCell {
    use brick_core::physics::run::{ToldDischarge, own_cell};
    let told: Vec<ToldDischarge> =
        texts.iter().map(|text| ToldDischarge { text: text.as_str(), current_a: None }).collect();
    let rated_ah = capacity_ah(name);
    own_cell(chemistry(name), rated_ah, dcir_ohm(name), 25.0, &told).unwrap_or_else(|e| panic!("{name}: {e:?}"))
}

/// The cell that a plan makes of it.
fn model_of(name: &str, own: &brick_core::physics::run::OwnCell) -> CellModel {
    let usual = brick_core::physics::run::typical(chemistry(name)).cell(chemistry(name), own.capacity_ah, own.dcir_ohm);
    let curve = OcvCurve::through(own.curve.iter().map(|p| (p.soc, p.ocv_v)).collect()).unwrap();
    CellModel { diffusion_s: own.diffusion_s, curve, ..usual }
}

/// One logged discharge with the DC resistance that was measured, at 0.2, 0.5 or 1 C: capacity within 2 %, and the charge of a
/// discharge at 2 C that it has not seen within 3 %. The phosphate set's own graphite diffuses so slowly that even at 0.2 C 3 % of
/// its charge stay behind, which no single log tells from a smaller cell (`one_steady_log_cannot_tell` in `own`): there the capacity
/// is held to what IEC 61960-3 calls rated, the charge of the 0.2 C discharge, within 2 %, and to that on the curve within 3 %.
#[test]
fn a_logged_discharge_gives_its_cell() {
    for name in SETS.into_iter().chain(["lfp_prada2013"]) {
        let set = Set::read(name);
        for rate in ["0.2C", "0.5C", "1C"] {
            let Some(text) = logged(name, rate) else { continue };
            let slow_graphite = name == "lfp_prada2013";
            if slow_graphite && rate != "0.2C" {
                continue;
            }
            let own = own(name, &[&text]);
            let share = own.capacity_ah / capacity_ah(name) - 1.0;
            print!("{name} at {rate}: capacity {:+.2} %, misses {:.1} mV", share * 100.0, own.error_v * 1000.0);
            assert!(share.abs() < if slow_graphite { 0.03 } else { 0.02 }, "{name} at {rate}: {share}");
            if rate == "0.2C" {
                let rated = own.capacity_ah / own.logged_ah - 1.0;
                print!(", of the rated one {:+.2} %", rated * 100.0);
                assert!((0.0..0.02).contains(&rated), "{name}: {rated} over what 0.2 C takes out");
            }
            let model = model_of(name, &own);
            for fast in ["1C", "2C"].into_iter().filter(|fast| logged(name, fast).is_some()) {
                let (rms_v, charge) = set.judged(&model, &set.discharge(&format!("{fast}_25degC")), 25.0);
                print!("; {fast}: {:+.2} %, {:.0} mV", charge * 100.0, rms_v * 1000.0);
                assert!(charge.abs() < 0.03 && rms_v < 0.13, "{name} at {rate}, then {fast}: {charge}, {rms_v} V");
            }
            println!();
        }
    }
}

/// A second, faster discharge says resistance and lag besides: capacity within 0.7 %, 2 C within 1.2 %; phosphate as well.
#[test]
fn two_logged_discharges_give_it_better() {
    for name in SETS.into_iter().chain(["lfp_prada2013"]) {
        let set = Set::read(name);
        for [slow, fast] in [["0.2C", "1C"], ["0.2C", "0.5C"], ["0.5C", "1C"]] {
            let (Some(slow_text), Some(fast_text)) = (logged(name, slow), logged(name, fast)) else { continue };
            let own = own(name, &[&slow_text, &fast_text]);
            let share = own.capacity_ah / capacity_ah(name) - 1.0;
            print!(
                "{name} at {slow} and {fast}: capacity {:+.2} %, misses {:.1} mV",
                share * 100.0,
                own.error_v * 1000.0
            );
            assert!(share.abs() < 0.007, "{name}: {share}");
            if logged(name, "2C").is_some() {
                let (rms_v, charge) = set.judged(&model_of(name, &own), &set.discharge("2C_25degC"), 25.0);
                print!("; 2C: {:+.2} %, {:.0} mV", charge * 100.0, rms_v * 1000.0);
                assert!(charge.abs() < 0.012, "{name}: {charge}");
            }
            println!();
        }
    }
}

/// A cell of which only a data sheet is known, by itself on a steady load: the band of its run, with the usual curve of its chemistry,
/// holds the run of nine in ten computed cells, from 0 to 40 °C and from 0.2 to 2 C.
#[test]
fn the_band_of_a_run_holds_the_cells_that_were_computed() {
    use crate::common::{known, with};
    use brick_core::assess::{StartsAt, WhatIf, runs};
    use serde_json::json;
    let (mut seen, mut missed) = (0, vec![]);
    for name in SETS {
        let (full_v, floor_v) = match name {
            "lco_marquis2019" => (4.1, 3.105),
            "lco_ai2020" => (4.2, 3.0),
            "nca_kim2011" => (4.2, 2.7),
            _ => (4.2, 2.5),
        };
        let rates = ["0.2C_25degC", "0.5C_25degC", "1C_25degC", "2C_25degC", "1C_0degC", "1C_10degC", "1C_40degC"];
        for which in rates {
            let at = format!("discharge/{name}_{which}.csv");
            if !std::path::Path::new(&crate::reference::path(&at)).exists() {
                continue;
            }
            let rows = columns(&at, ["time_s", "current_a"]);
            let ([real_s, current_a], ambient_c) =
                (rows[rows.len() - 1], number(which.split('_').nth(1).unwrap().trim_end_matches("degC")));
            let cell = json!({"offer": crate::common::offer("a cell"), "chemistry": chemistry(name), "origin": "new", "tested": true,
                "rated_ah": capacity_ah(name), "size": {"shape": "cylindrical", "diameter_mm": 18.4, "length_mm": 65.2},
                "dcir_ohm": known(dcir_ohm(name)), "discharge_a": 4.0 * capacity_ah(name), "full_v": full_v, "end_v": floor_v});
            let load = json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": {"value": current_a, "how": "measured", "error": 1e-6}}}]);
            let plan = with(
                &brick_core::Plan::blank("One cell"),
                &[
                    ("packs/0/chemistry", json!(chemistry(name))),
                    ("packs/0/series", json!(1)),
                    ("packs/0/parallel", json!(1)),
                    ("packs/0/cell", json!({"state": "chosen", "part": cell})),
                    ("device/loads", load),
                    ("device/cutout_v", known(floor_v)),
                    ("environment/use_min_c", json!(ambient_c)),
                    ("environment/use_max_c", json!(ambient_c)),
                ],
            );
            let report = runs(&plan, &[WhatIf::default()], StartsAt::Full, None).unwrap();
            let run = report.runs.first().unwrap_or_else(|| panic!("{name}: {:?}", report.missing));
            let share = |s: f64| (s / real_s - 1.0) * 100.0;
            let told = format!(
                "{name} {which}: {:+.1} % in {:+.1} to {:+.1} %",
                share(run.time_s),
                share(run.low_s),
                share(run.high_s)
            );
            println!("{told}");
            seen += 1;
            if !(run.low_s..=run.high_s).contains(&real_s) {
                missed.push(told);
            }
        }
    }
    assert!(seen > 30 && 10 * missed.len() <= seen, "{} of {seen}: {missed:#?}", missed.len());
}
