//! Core against values from outside: tables and computed cells in `reference/`, each with its source there.

use std::path::PathBuf;

use brick_core::base::chemistry::{Chemistry, OcvCurve, curve};
use brick_core::base::e_series::Series;
use brick_core::physics::brick;
use brick_core::physics::charging::{CourseTask, DIFFUSION, course};
use brick_core::physics::converter::hold_up_f;
use brick_core::physics::gauge::Divider;
use brick_core::physics::grouping::{JoiningCell, join};
use brick_core::physics::protection::fuse_withstands_a;
use brick_core::physics::run::discharge;
use brick_core::physics::voltage::{Side, equalising_a};
use brick_core::physics::wiring;
use brick_core::plan::{Fuse, FuseStyle, Offer, Strip, StripMetal, WireSize};
use serde_json::Value;

/// Where a file of outside values lies.
pub fn path(name: &str) -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../reference").join(name)
}

/// A file of outside values.
pub fn file(name: &str) -> String {
    let path = path(name);
    std::fs::read_to_string(&path).unwrap_or_else(|e| panic!("{}: {e}", path.display()))
}

/// Rows of a table as text cells; comment lines are left out.
pub fn rows(name: &str) -> Vec<Vec<String>> {
    let text = file(name);
    let mut reader = csv::ReaderBuilder::new().comment(Some(b'#')).from_reader(text.as_bytes());
    reader.records().map(|r| r.unwrap().iter().map(str::to_owned).collect()).collect()
}

/// A cell of a table.
pub fn number(cell: &str) -> f64 {
    cell.parse().unwrap_or_else(|e| panic!("{cell}: {e}"))
}

/// ASTM B258: diameter, cross-section and resistance of every gauge.
#[test]
fn awg_sizes_agree_with_the_table() {
    /// The table has five decimals, a half unit of the last either way.
    const ROUNDING: f64 = 0.5e-5 + 1e-12;
    let table = rows("tables/awg.csv");
    assert!(table.len() >= 40);
    for row in table {
        let awg: i32 = row[1].parse().unwrap();
        let size = WireSize::Awg { awg };
        for (got, cell) in [
            (wiring::awg_diameter_mm(awg), &row[2]),
            (wiring::area_mm2(&size), &row[3]),
            (wiring::solid_ohm_per_m(&size) * 1000.0, &row[4]),
        ] {
            assert!((got - number(cell)).abs() <= ROUNDING, "{}: {got} against {cell}", row[0]);
        }
    }
}

/// IEC 60228 class 5, highest resistance at 20 C (from memory in the table).
#[test]
fn metric_sizes_take_the_resistance_of_iec_60228_class_5() {
    for row in rows("tables/iec60228.csv").iter() {
        let got = wiring::ohm_per_m(&WireSize::Metric { area_mm2: number(&row[0]) }) * 1000.0;
        assert!((got - number(&row[3])).abs() < 1e-9, "{} mm²: {got}", row[0]);
    }
}

/// ISO 8820-3 (from memory): at each point of the curve of least opening time the fuse carries that share.
#[test]
fn a_blade_fuse_keeps_to_its_curve_of_least_time() {
    let fuse = Fuse {
        offer: Offer::default(),
        style: FuseStyle::Blade,
        rating_a: 20.0,
        dc_v: Some(32.0),
        breaking_a: Some(1000.0),
    };
    for row in rows("tables/blade_fuse_time_current.csv").iter().skip(1) {
        let rated_a = fuse_withstands_a(&fuse, number(&row[1]), 25.0);
        let share = rated_a / fuse.rating_a * 100.0;
        assert!((share - number(&row[0])).abs() < 1e-6, "{row:?}: {share} %");
    }
}

/// Six computed cells (reference/discharge) at 0.2 to 2 C and 25 C, each with its own curve, its resistance after 10 s (reference/hppc)
/// 1.8 times and the lag that is usual of its chemistry: charge from 4 % below to 0.5 % above the model's, energy within 6 %.
#[test]
fn usable_charge_agrees_with_a_physics_model() {
    use brick_core::physics::run::typical;
    let summary: Value = serde_json::from_str(&file("discharge/summary.json")).unwrap();
    let pulses: Value = serde_json::from_str(&file("hppc/summary.json")).unwrap();
    let mut seen = 0;
    for (set, chemistry, own_ah, cutoff_v) in [
        ("nmc811_chen2020", Chemistry::LiIon, 5.1532, 2.5),
        ("nmc811_okane2022", Chemistry::LiIon, 5.10995, 2.5),
        ("lco_ai2020", Chemistry::LiPo, 2.46632, 3.0),
        ("nca_kim2011", Chemistry::LiIon, 0.48313, 2.7),
        ("lco_marquis2019", Chemistry::LiPo, 0.87284, 3.105),
        ("nco_ecker2015", Chemistry::LiIon, 0.171, 2.5),
    ] {
        let at = ["nmc811_chen2020", "lco_ai2020"].contains(&set);
        let points = rows(&format!("{}ocv/{set}.csv", if at { "../core/data/" } else { "" }));
        let curve = OcvCurve::through(points.iter().map(|r| (number(&r[0]), number(&r[1]))).collect()).unwrap();
        let ohm = DIFFUSION * pulses[set]["r_mohm_at_soc_0p5"]["10s"].as_f64().unwrap() / 1000.0;
        for rate in ["0.2C", "0.5C", "1C", "2C"] {
            let case = &summary[format!("{set}_{rate}_25degC.csv")];
            let Some(current_a) = case["current_a"].as_f64() else { continue };
            let lag = typical(chemistry).diffusion_s / 3600.0 * current_a / own_ah;
            let d = discharge(&curve, curve.ocv_v(1.0), cutoff_v, current_a, ohm, lag);
            let share = d.usable_share * own_ah / case["capacity_ah"].as_f64().unwrap() - 1.0;
            let wh = d.usable_share * own_ah * d.mean_loaded_v / case["energy_wh"].as_f64().unwrap() - 1.0;
            println!("{set} at {rate}: charge {:+.2} %, energy {:+.2} %", share * 100.0, wh * 100.0);
            assert!((-0.04..0.005).contains(&share) && wh.abs() < 0.06, "{set} at {rate}: {share}, {wh}");
            seen += 1;
        }
    }
    assert!(seen > 15, "{seen}");
}

/// Eleven charges of six cells from empty, computed with the DFN model (reference/cccv), each with its own OCV curve and its
/// resistance after 10 s (reference/hppc) times the factor for slow diffusion.
///
/// Reached: to 80 % within 1 %, to full from 8 % early to right. One resistance makes the end too short where diffusion is
/// slowest (a nickel-cobalt cell at 1 C).
#[test]
fn a_charge_takes_as_long_as_in_a_physics_model() {
    let cases: Value = serde_json::from_str(&file("cccv/summary.json")).unwrap();
    let pulses: Value = serde_json::from_str(&file("hppc/summary.json")).unwrap();
    let mut wrong = vec![];
    let cases = cases.as_object().unwrap();
    assert_eq!(cases.len(), 11);
    for (name, case) in cases {
        let of = |key: &str| case[key].as_f64().unwrap();
        let set = case["chem"].as_str().unwrap();
        let curve = match set {
            "nmc811_chen2020" => curve(Chemistry::LiIon).clone(),
            "lco_ai2020" => curve(Chemistry::LiPo).clone(),
            "lfp_prada2013" => curve(Chemistry::LiFePo4).clone(),
            other => {
                let points = rows(&format!("ocv/{other}.csv")).iter().map(|r| (number(&r[0]), number(&r[1]))).collect();
                OcvCurve::through(points).unwrap_or_else(|| panic!("{other}: no curve"))
            }
        };
        let done = course(&CourseTask {
            curve: &curve,
            capacity_ah: of("ocv_capacity_ah"),
            cell_ohm: pulses[set]["r_mohm_at_soc_0p5"]["10s"].as_f64().unwrap() / 1000.0,
            diffusion: DIFFUSION,
            cell_a: of("charge_current_a"),
            end_v: of("v_charge"),
            ends_a: of("cutoff_a"),
            pre: None,
            supply_w: None,
        })
        .unwrap();
        let most = done.most_s.unwrap() / of("time_to_80pct_of_ocv_capacity_s");
        let full = done.full_s / of("full_s");
        if !(0.99..=1.01).contains(&most) || !(0.92..=1.01).contains(&full) {
            wrong.push(format!("{name}: to 80 % {most:.3}, to full {full:.3} of the model's time"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Series and parallel arithmetic: equal cells joined at opposite ends share a load as one resistance of a third would.
#[test]
fn three_equal_cells_in_parallel_have_a_third_of_the_resistance() {
    let results: Value = serde_json::from_str(&file("circuits/results.json")).unwrap();
    let case = results["cases"].as_array().unwrap().iter().find(|c| c["id"] == "ladder_3_equal_diagonal").unwrap();
    let input = &case["inputs"];
    let (emf_v, cell_ohm) = (input["emf_v"][0].as_f64().unwrap(), input["r_cell_ohm"][0].as_f64().unwrap());
    let load_ohm = input["r_load_ohm"].as_f64().unwrap();
    // The strips, 1 milliohm each, are what the plain sum leaves out: under 1 %.
    let plain_a = emf_v / (load_ohm + cell_ohm / 3.0);
    let solved_a = case["outputs"]["load_current_a"].as_f64().unwrap();
    assert!((plain_a / solved_a - 1.0).abs() < 0.01, "{plain_a} A against {solved_a} A");
}

/// Usable share and mean volts against the published curve walked in steps of a ten-thousandth, with code of its own.
#[test]
fn usable_charge_agrees_with_a_curve_integrated_step_by_step() {
    for (name, chemistry, full_v, cutoff_v) in [
        ("nmc811_chen2020", Chemistry::LiIon, 4.2, 3.0),
        ("lco_ai2020", Chemistry::LiPo, 4.2, 3.3),
        ("lfp_prada2013", Chemistry::LiFePo4, 3.65, 2.8),
    ] {
        let path = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join(format!("data/ocv/{name}.csv"));
        let text = std::fs::read_to_string(path).unwrap();
        let points: Vec<(f64, f64)> = text
            .lines()
            .filter_map(|line| line.split_once(','))
            .filter_map(|(soc, volts)| Some((soc.parse().ok()?, volts.parse().ok()?)))
            .collect();
        // The program's own curve goes down to the floor of its chemistry.
        assert!(curve(chemistry).ocv_v(1.0) == points[points.len() - 1].1, "{name}");
        let own = OcvCurve::through(points.clone()).unwrap();
        let ocv_v = |soc: f64| {
            let above = points.iter().filter(|p| p.0 >= soc).min_by(|a, b| a.0.total_cmp(&b.0)).unwrap();
            let below = points.iter().filter(|p| p.0 <= soc).max_by(|a, b| a.0.total_cmp(&b.0)).unwrap();
            if above.0 > below.0 {
                below.1 + (above.1 - below.1) * (soc - below.0) / (above.0 - below.0)
            } else {
                above.1
            }
        };
        for (cell_a, cell_ohm) in [(0.0, 0.03), (2.5, 0.03), (10.0, 0.02)] {
            let (mut share, mut sum_v) = (0.0, 0.0);
            for i in 0..10_000 {
                let soc = 1.0 - (f64::from(i) + 0.5) / 10_000.0;
                let loaded_v = ocv_v(soc) - cell_a * cell_ohm;
                if ocv_v(soc) <= full_v && loaded_v > cutoff_v {
                    share += 1e-4;
                    sum_v += loaded_v;
                }
            }
            let d = discharge(&own, full_v, cutoff_v, cell_a, cell_ohm, 0.0);
            assert!((d.usable_share - share).abs() < 5e-4, "{name} {cell_a} A: {} against {share}", d.usable_share);
            let mean_v = sum_v / (share / 1e-4);
            assert!(
                (d.mean_loaded_v - mean_v).abs() < 0.005,
                "{name} {cell_a} A: {} against {mean_v}",
                d.mean_loaded_v
            );
        }
    }
}

fn circuit(id: &str) -> Value {
    let results: Value = serde_json::from_str(&file("circuits/results.json")).unwrap();
    results["cases"].as_array().unwrap().iter().find(|c| c["id"] == id).unwrap_or_else(|| panic!("no {id}")).clone()
}

/// A divider before a sense input, solved by ngspice. Its source has 50 to 100 milliohm, which the formula leaves out:
/// under 1e-5 of the volts.
#[test]
fn dividers_agree_with_a_circuit_solver() {
    for id in ["divider_42v_100k_10k_ideal", "divider_42v_100k_10k_100k", "divider_16v8_33k_10k_1M"] {
        let case = circuit(id);
        let input = |name: &str| case["inputs"][name].as_f64();
        let divider = Divider {
            top_ohm: input("r_top_ohm").unwrap(),
            bottom_ohm: input("r_bottom_ohm").unwrap(),
            input_ohm: input("r_load_ohm").unwrap_or(f64::INFINITY),
        };
        let output = |name: &str| case["outputs"][name].as_f64().unwrap();
        let source_v = input("source_v").unwrap();
        assert!((divider.ratio() * source_v / output("v_out") - 1.0).abs() < 1e-5, "{id}");
        assert!((divider.drain_a(source_v) / output("source_current_a") - 1.0).abs() < 1e-5, "{id}");
        let lost_v = output("unloaded_ideal_v") - output("v_out");
        assert!((divider.loading_share() - lost_v / output("unloaded_ideal_v")).abs() < 1e-5, "{id}");
    }
}

/// Two cells and two packs of 10 in series, joined in parallel: the first current, solved by ngspice.
#[test]
fn the_first_current_between_unequal_packs_agrees_with_a_circuit_solver() {
    for id in ["equalise_2_cells_4p1_3p7", "equalise_2_packs_10s_41_39"] {
        let case = circuit(id);
        let of = |name: &str, i: usize| case["inputs"][name][i].as_f64().unwrap();
        let side = |i: usize| Side { rest_v: of("v0_v", i), ohm: of("r_ohm", i), ah: 1.0 };
        let peak_a = case["outputs"]["peak_current_a"].as_f64().unwrap();
        assert!((equalising_a(&side(0), &side(1)) / peak_a - 1.0).abs() < 1e-9, "{id}");
        let cell = |i: usize| JoiningCell {
            label: format!("C{i}"),
            rested_v: of("v0_v", i),
            resistance_ohm: of("r_ohm", i),
            charge_a: 1.0,
        };
        let joined = join(&[cell(0), cell(1)], Chemistry::LiIon).unwrap();
        assert!((joined.largest_a / peak_a - 1.0).abs() < 1e-9, "{id}");
    }
}

/// The capacitor of C = I t / dV against a resistor's exponential, solved by ngspice: counting on the first current all
/// along asks for x / (1 − e^−x) of it, x time constants, and never for less.
#[test]
fn a_hold_up_capacitor_agrees_with_an_exponential_to_the_second_order() {
    let case = circuit("rc_42v_100_2200u");
    let (volts, ohm, farad) = (42.0, 100.0, case["inputs"]["c_f"].as_f64().unwrap());
    let sample = &case["outputs"]["samples"][1];
    let (time_s, left_v) = (sample["t_s"].as_f64().unwrap(), volts - sample["v"].as_f64().unwrap());
    // Charging is discharging upside down.
    let plain_f = hold_up_f(volts / ohm, time_s, volts - left_v);
    let x = time_s / (ohm * farad);
    assert!((plain_f / farad / (x / (1.0 - (-x).exp())) - 1.0).abs() < 1e-5, "{}", plain_f / farad);
}

/// IEC 60063, both rows as kept in reference/tables.
#[test]
fn preferred_values_are_those_of_the_table() {
    let table: Value = serde_json::from_str(&file("tables/eseries.json")).unwrap();
    for (row, series) in [("E24", Series::E24), ("E96", Series::E96)] {
        let values = table["series"][row].as_array().unwrap();
        assert_eq!(values.len().to_string(), row[1..], "{row}");
        for value in values.iter().map(|v| v.as_f64().unwrap()) {
            assert_eq!(series.nearest(value), value, "{row}");
            assert_eq!(series.nearest(value * 1.001), value, "{row}");
        }
    }
}

/// Copper at 20 C and its rise with temperature: IEC 60028. The metals of strips: their rows of the handbook.
#[test]
fn resistivities_agree_with_the_table_of_materials() {
    let table = rows("tables/materials.csv");
    let row = |name: &str| table.iter().find(|r| r[0].starts_with(name)).unwrap_or_else(|| panic!("{name}"));
    let copper = row("copper, annealed");
    let one_mm2 = WireSize::Metric { area_mm2: 1.01 };
    assert!((wiring::solid_ohm_per_m(&one_mm2) * 1.01e-6 / number(&copper[1]) - 1.0).abs() < 1e-9);
    assert!((wiring::copper_factor(120.0) - 1.0 - 100.0 * number(&copper[2])).abs() < 1e-9);
    for (metal, name) in [
        (StripMetal::Nickel, "nickel, pure"),
        (StripMetal::NickelPlatedSteel, "nickel-plated steel strip"),
        (StripMetal::Copper, "copper, annealed"),
        (StripMetal::Aluminium, "aluminium, electrical grade"),
    ] {
        let strip = Strip {
            offer: Offer::default(),
            metal,
            width_mm: 1.0,
            thickness_mm: 1.0,
            layers: 1,
            side_by_side: 1,
            length_mm: 1000.0,
        };
        let of_metal = row(name);
        assert!((brick::link_ohm(&strip) * 1e-6 / number(&of_metal[1]) - 1.0).abs() < 1e-9, "{name}");
        assert!((brick::link_mass_g(&strip) / (number(&of_metal[3]) * 1e-3) - 1.0).abs() < 1e-9, "{name}");
        // A short pulse warms a square millimetre by 30 K: I² t = A² c d dT / rho.
        let heat = number(&of_metal[4]) * number(&of_metal[3]) * brick::STRIP_RISE_K / number(&of_metal[1]);
        let borne_a = 1e-6 * (heat / 0.05).sqrt();
        assert!((brick::link_short_time_a(&strip, 0.05) / borne_a - 1.0).abs() < 1e-9, "{name}");
    }
}

/// IEC 62368-1 ES1 (from memory): 60 V DC. 14 series of 4.20 V and 16 of 3.65 V are the most that stay below it.
#[test]
fn fourteen_cobalt_and_sixteen_phosphate_cells_are_the_most_below_the_touch_limit() {
    for (chemistry, most) in [("li_ion", 14), ("li_fe_po4", 16)] {
        let stops = |series: u32| {
            let plan = brick_core::Plan::blank("Kite reel");
            let changes = [
                brick_core::plan::Change::put("/packs/0/chemistry", chemistry),
                brick_core::plan::Change::put("/packs/0/series", series),
            ];
            let findings = brick_core::assess(&brick_core::plan::apply(&plan, &changes).unwrap()).unwrap().findings;
            findings.iter().any(|f| f.rule == "voltage.over-touch-limit")
        };
        assert!(!stops(most), "{most} of {chemistry}");
        assert!(stops(most + 1), "{} of {chemistry}", most + 1);
    }
}

/// ASTM B258: the nearest gauge to the cross-section of every gauge of the table is that gauge.
#[test]
fn every_gauge_of_the_table_is_found_back_from_its_cross_section() {
    let mut seen = 0;
    for row in rows("tables/awg.csv") {
        let (awg, area_mm2) = (number(&row[1]) as i32, number(&row[3]));
        let both = brick_core::physics::wiring::both_sizes(&WireSize::Metric { area_mm2 });
        let found = brick_core::physics::wiring::size_name(&WireSize::Awg { awg });
        assert_eq!((both.awg, both.is_awg), (found, false), "{area_mm2} mm2");
        seen += 1;
    }
    assert!(seen >= 40, "{seen} gauges");
}

/// The page of sources lists every source that was not at hand, in the words in which the working shows it.
#[test]
fn every_source_from_memory_is_listed_with_what_would_settle_it() {
    use brick_core::base::source::Source;
    let page = std::fs::read_to_string(path("../docs/sources.md")).unwrap();
    let rows: Vec<&str> = page.lines().filter(|line| line.starts_with("| ")).collect();
    let remembered: Vec<Source> = Source::ALL.into_iter().filter(|s| s.text().contains("from memory")).collect();
    assert!(remembered.len() > 10);
    for source in remembered {
        let row = rows.iter().find(|row| row.contains(source.text()));
        let row = row.unwrap_or_else(|| panic!("docs/sources.md lacks “{}”", source.text()));
        assert_eq!(row.matches('|').count(), 4, "{row}");
    }
}
