//! The simulated pack: nothing is lost on the way, its answers move the right way, who ends it is told, groups come together.

use brick_core::Plan;
use brick_core::assess::{
    FillsFrom, StartsAt, Sweep, SweepAxis, Turned, WhatIf, assess, fills, run_in_steps, runs, sweep,
};
use brick_core::base::chemistry::Chemistry;
use brick_core::physics::brick::{Circuit, HeatPaths, Resistor, Terminal};
use brick_core::physics::run::{
    Asks, Bleeds, CellModel, FillTask, FillWhat, Filler, Joined, Level, Limit, Opens, PackRun, PackTask, Pattern,
    Through, Warmth, Watched, Who, fill, simulate, typical,
};
use serde_json::json;

use crate::common::{known, sound, with};

const USUAL: Option<f64> = None;

fn cell(ah: f64, ohm: f64) -> CellModel {
    typical(Chemistry::LiIon).cell(Chemistry::LiIon, ah, ohm)
}

fn level(asks: Asks, duration_s: Option<f64>, every_s: Option<f64>) -> Level {
    Level { asks, duration_s, every_s }
}

fn warmth(lumps: usize) -> Warmth {
    let mut paths = HeatPaths::of_cells(lumps, 45.0);
    (0..lumps).for_each(|k| paths.join(k, None, 0.05));
    Warmth { paths, lump_of: (0..lumps).collect(), ambient_c: 20.0 }
}

fn limit(who: Who, watched: Watched) -> Limit {
    Limit { who, name: None, watched, ends: true, delay_s: 0.0 }
}

/// Four groups of 5 Ah under 5 A, to 3 V of the weakest.
fn four() -> PackTask {
    PackTask {
        cells: vec![cell(5.0, 0.015); 4],
        soc: vec![1.0; 4],
        joined: Joined::Ideal { parallel: 1 },
        warmth: warmth(4),
        path_ohm: 0.02,
        through: Through::Straight,
        load: Pattern::Levels(vec![level(Asks::Current(5.0), USUAL, None)]),
        limits: vec![limit(Who::Board, Watched::GroupBelow(3.0))],
        step_s: 2.0,
        most_s: 1e6,
        most_steps: 10_000_000,
    }
}

fn run(task: &PackTask) -> PackRun {
    simulate(task).unwrap()
}

fn ended(run: &PackRun) -> (Who, Option<usize>) {
    let end = run.events.iter().rev().find(|e| e.ends).unwrap();
    (end.who, end.group)
}

/// Energy between two states of charge on the curve.
fn stored_wh(cell: &CellModel, from: f64, to: f64) -> f64 {
    (from - to) * cell.capacity_ah * cell.curve.mean_v(to, from)
}

/// Charge out of the pack is charge out of every cell, and what a cell held is what came out, what became heat, and nothing
/// else: for every kind of load, with and without a converter, in groups and through strips.
#[test]
fn charge_and_energy_are_kept() {
    let mut seed = fastrand::Rng::with_seed(3);
    for case in 0..40 {
        let mut task = four();
        task.cells = (0..4).map(|_| cell(3.0 + 3.0 * seed.f64(), 0.01 + 0.03 * seed.f64())).collect();
        let asks = match case % 3 {
            0 => Asks::Current(2.0 + 8.0 * seed.f64()),
            1 => Asks::Power(30.0 + 70.0 * seed.f64()),
            _ => Asks::Resistance(1.5 + 4.0 * seed.f64()),
        };
        let burst = level(asks.times(2.0), Some(5.0), Some(60.0));
        task.load = Pattern::Levels(vec![level(asks, USUAL, None), burst]);
        if case % 4 == 0 {
            task.through = Through::Converter { output_v: 12.0, efficiency: 0.9, own_w: 0.5 };
        }
        task.step_s = 1.0;
        let run = run(&task);
        let mut held_wh = 0.0;
        for (k, (cell, state)) in task.cells.iter().zip(&run.states).enumerate() {
            let taken_ah = (1.0 - state.soc) * cell.capacity_ah;
            assert!((taken_ah - run.taken_ah).abs() < 1e-9, "{case}, group {k}: {taken_ah} of {}", run.taken_ah);
            held_wh += stored_wh(cell, 1.0, state.soc);
        }
        let lost_wh = held_wh - run.pack_wh - run.cells_wh;
        assert!(lost_wh.abs() < 2e-3 * held_wh, "{case}: {lost_wh} of {held_wh} Wh");
        let path_wh = run.pack_wh - run.feed_wh;
        assert!(path_wh > 0.0 && path_wh < 0.1 * run.pack_wh, "{case}: {path_wh}");
    }
}

#[test]
fn half_the_step_hardly_changes_the_run_time() {
    for asks in [Asks::Current(5.0), Asks::Power(80.0), Asks::Resistance(2.5)] {
        let mut task = four();
        task.load = Pattern::Levels(vec![level(asks, USUAL, None), level(asks.times(2.0), Some(7.0), Some(50.0))]);
        for step_s in [1.0, 2.0, 4.0] {
            let at = |step_s: f64| run(&PackTask { step_s, ..task.clone() }).time_s;
            let change = at(step_s / 2.0) / at(step_s) - 1.0;
            assert!(change.abs() < 1e-3, "{asks:?} at {step_s} s: {change}");
        }
    }
}

#[test]
fn the_weakest_group_ends_it_and_is_named() {
    let mut task = four();
    let even = run(&task);
    assert_eq!(ended(&even).0, Who::Board);
    task.cells[2] = cell(4.5, 0.015);
    let uneven = run(&task);
    assert_eq!(ended(&uneven), (Who::Board, Some(2)));
    assert!(uneven.time_s < 0.92 * even.time_s && uneven.weakest.place == 2);
    // A group that begins lower ends it as well.
    let low = run(&PackTask { soc: vec![1.0, 0.9, 1.0, 1.0], ..four() });
    assert_eq!(ended(&low), (Who::Board, Some(1)));
}

/// Groups through strips of no resistance to speak of are groups joined without any; cells in a group share by their
/// resistances at first, and level out as they empty.
#[test]
fn cells_through_thin_strips_do_as_their_groups_do() {
    let groups = run(&PackTask { cells: vec![cell(5.0, 0.015); 3], soc: vec![1.0; 3], warmth: warmth(3), ..four() });
    let parallel = 2;
    let terminal = |cell, plus| Terminal { cell, plus };
    let mut resistors = vec![];
    for group in 0..3 {
        let (a, b) = (group * parallel, group * parallel + 1);
        for plus in [false, true] {
            resistors.push(Resistor { ends: [terminal(a, plus), terminal(b, plus)], ohm: 1e-7 });
        }
        if group < 2 {
            resistors.push(Resistor { ends: [terminal(a, true), terminal(a + parallel, false)], ohm: 1e-7 });
        }
    }
    let circuit =
        Circuit { cell_ohm: vec![0.03; 6], resistors, minus: vec![terminal(0, false)], plus: vec![terminal(4, true)] };
    let task = PackTask {
        cells: vec![cell(2.5, 0.03); 6],
        soc: vec![1.0; 6],
        joined: Joined::Strips { parallel, contacts_ohm: 0.0, circuit },
        warmth: warmth(6),
        ..four()
    };
    let cells = run(&PackTask { warmth: Warmth { ..warmth(6) }, ..task.clone() });
    // Their heat differs: a lump has twice the cells of the other here.
    assert!((cells.time_s / groups.time_s - 1.0).abs() < 0.01, "{} against {}", cells.time_s, groups.time_s);
    let uneven = PackTask { cells: (0..6).map(|k| cell(2.5, if k == 0 { 0.06 } else { 0.03 })).collect(), ..task };
    let run = run(&uneven);
    let taken = |k: usize| (1.0 - run.states[k].soc) * 2.5;
    assert!((taken(0) + taken(1) - run.taken_ah).abs() < 1e-6 && (taken(2) - taken(3)).abs() < 1e-5);
    assert!(taken(0) < taken(1) && taken(0) > 0.9 * taken(1), "{} and {}", taken(0), taken(1));
}

#[test]
fn each_guard_acts_at_its_own_limit() {
    let with_limits = |limits: Vec<Limit>| run(&PackTask { limits, ..four() });
    let pack =
        with_limits(vec![limit(Who::CutOff, Watched::PackBelow(13.0)), limit(Who::Floor, Watched::GroupBelow(2.5))]);
    assert_eq!(ended(&pack).0, Who::CutOff);
    assert!((pack.points.last().unwrap().pack_v - 13.0).abs() < 1e-3);
    // 5 A through 20 milliohm: the device gets 0.1 V less.
    let device = with_limits(vec![limit(Who::CutOut, Watched::FeedBelow(13.0))]);
    assert!((device.points.last().unwrap().pack_v - 13.1).abs() < 1e-3 && device.time_s < pack.time_s);
    let hot = with_limits(vec![limit(Who::Heat, Watched::HotterThan(21.0))]);
    assert_eq!(ended(&hot).0, Who::Heat);
    let trip = |delay_s: f64, lasts_s: f64| {
        let load = Pattern::Levels(vec![
            level(Asks::Current(2.0), USUAL, None),
            level(Asks::Current(40.0), Some(lasts_s), Some(60.0)),
        ]);
        let trips = Limit { delay_s, ..limit(Who::Trip, Watched::MoreThan(30.0)) };
        run(&PackTask { load, limits: vec![trips, limit(Who::Floor, Watched::GroupBelow(2.0))], ..four() })
    };
    // A stall of 0.4 s outlives a delay of 0.1 s, not one of 1 s.
    let tripped = trip(0.1, 0.4);
    assert_eq!(ended(&tripped).0, Who::Trip);
    assert!((tripped.time_s - (60.0 - 0.4 + 0.1)).abs() < 1e-6, "{}", tripped.time_s);
    assert_ne!(ended(&trip(1.0, 0.4)).0, Who::Trip);
}

/// A load that changes a hundred times a second is followed for so long and no longer, in bounded memory.
#[test]
fn a_load_that_changes_too_often_is_cut_short_and_says_so() {
    let fast = Pattern::Levels(vec![
        level(Asks::Current(0.1), USUAL, None),
        level(Asks::Current(0.2), Some(0.01), Some(0.02)),
    ]);
    let run = run(&PackTask { load: fast, most_steps: 300_000, ..four() });
    assert_eq!(ended(&run).0, Who::Steps);
    assert!(
        run.points.len() <= 200_000 && (run.time_s - 3000.0).abs() < 10.0,
        "{} in {} s",
        run.points.len(),
        run.time_s
    );
}

#[test]
fn a_pack_that_cannot_give_the_power_collapses() {
    let load = Pattern::Levels(vec![level(Asks::Power(900.0), USUAL, None)]);
    let run = run(&PackTask { load, limits: vec![], ..four() });
    assert_eq!((ended(&run).0, run.time_s), (Who::Collapse, 0.0));
}

/// A peak that comes now and then ends nothing, but is told from when on it would.
#[test]
fn a_peak_now_and_then_is_borne_until_the_pack_is_low() {
    let mut task = four();
    task.load =
        Pattern::Levels(vec![level(Asks::Current(5.0), USUAL, None), level(Asks::Current(40.0), Some(0.5), None)]);
    let run = run(&task);
    let without = simulate(&four()).unwrap();
    assert!((run.time_s - without.time_s).abs() < 1e-9, "it is not in the pattern");
    let until_s = run.peak_borne_s.unwrap();
    assert!(until_s > 0.2 * run.time_s && until_s < run.time_s, "{until_s} of {}", run.time_s);
    assert!(run.points.iter().all(|m| m.peak_v.unwrap() < m.feed_v));
}

fn varied(plan: &Plan, what: WhatIf) -> brick_core::assess::RunOutcome {
    runs(plan, &[what], StartsAt::Full, None).unwrap().runs.remove(0)
}

/// Every thing that is turned moves the answer the way it must.
#[test]
fn what_is_turned_changes_the_run_the_right_way() {
    let plan = sound();
    let now = varied(&plan, WhatIf::default());
    let turned = |turned, value| varied(&plan, WhatIf::default().with(turned, value));
    assert!(turned(Turned::Parallel, 3.0).time_s > 1.3 * now.time_s);
    assert!(turned(Turned::Cutoff, 13.5).time_s < now.time_s);
    assert!(turned(Turned::Charge, 4.1).time_s < now.time_s);
    assert!(turned(Turned::Load, 2.0).time_s < 0.55 * now.time_s);
    assert!(turned(Turned::Ambient, -10.0).time_s < now.time_s);
    assert!(turned(Turned::Ambient, 45.0).hottest_c > now.hottest_c);
    assert!(now.low_s < now.time_s && now.time_s < now.high_s);
    let low = turned(Turned::Cutoff, 13.5);
    assert_eq!(low.end.who, Who::CutOff);
    assert!(low.left_share > now.left_share && low.says.contains("13.5 V"), "{}", low.says);
}

/// A stalled motor is a resistance: what the survey read on the old battery is more on higher volts, and less as they sag.
#[test]
fn a_stalled_motor_draws_what_its_winding_lets_through() {
    let stall = |kind: &str| {
        let rare = json!({"id": "stall", "name": "stall", "draw": {"as": "current", "value_a": known(60.0)}, "duration_s": 0.5});
        let plan = with(&sound(), &[("device/kind", json!(kind)), ("device/loads/1", rare)]);
        varied(&plan, WhatIf::default()).points
    };
    let (motor, lamp) = (stall("motor"), stall("electronics"));
    let old_v = assess(&sound()).unwrap().figure("original.nominal_v").unwrap().value;
    for (m, l) in motor.iter().zip(&lamp).filter(|(m, _)| m.peak_v.is_some()) {
        let (m, l) = (m.peak_v.unwrap(), l.peak_v.unwrap_or(0.0));
        // Above the old volts it draws more and sags further; below them less.
        assert!((m < l) == (m > old_v), "{m} V and {l} V about {old_v} V");
    }
}

/// The closed form and the simulation reckon the same plan apart from one another; the simulation also knows diffusion and
/// warmth.
#[test]
fn the_closed_form_lies_within_a_tenth_of_the_simulation() {
    let plan = sound();
    let closed_s = assess(&plan).unwrap().figure("run.time_s").unwrap().value;
    let run = varied(&plan, WhatIf::default());
    assert!((closed_s / run.time_s - 1.0).abs() < 0.1, "{closed_s} against {}", run.time_s);
}

/// 0.8 Ah that ran 3 h predicts 8.25 h from 2.2 Ah (common practice, no source): so slow a discharge gives it nearly all.
#[test]
fn a_slow_discharge_gives_nearly_all_of_the_capacity() {
    let load = Pattern::Levels(vec![level(Asks::Current(0.8 / 3.0), USUAL, None)]);
    let cells = vec![cell(2.2, 0.035); 2];
    let run = run(&PackTask { cells, soc: vec![1.0; 2], load, step_s: 20.0, warmth: warmth(2), ..four() });
    let hours = run.time_s / 3600.0;
    assert!(hours > 0.94 * 8.25 && hours < 8.25, "{hours} h");
}

#[test]
fn a_map_holds_the_same_runs() {
    let plan = sound();
    let axis = |turned, from, to, stops| SweepAxis { turned, from, to, stops };
    let wanted = Sweep {
        across: axis(Turned::Load, 0.5, 1.5, 3),
        up: Some(axis(Turned::Parallel, 1.0, 3.0, 3)),
        what: WhatIf::default(),
    };
    let map = sweep(&plan, &wanted, None).unwrap();
    assert_eq!((map.across.len(), map.up.len(), map.cells.len()), (3, 3, 9));
    for (row, parallel) in map.up.iter().enumerate() {
        for (column, load) in map.across.iter().enumerate() {
            let one = varied(&plan, WhatIf::default().with(Turned::Load, *load).with(Turned::Parallel, *parallel));
            let cell = map.cells[row * 3 + column].unwrap();
            assert!(
                (cell.time_s / one.time_s - 1.0).abs() < 0.02,
                "{parallel}P at {load}: {} {}",
                cell.time_s,
                one.time_s
            );
        }
    }
    let refused = sweep(&plan, &Sweep { across: axis(Turned::Ambient, -90.0, 20.0, 99), ..wanted }, None).unwrap_err();
    assert_eq!(refused.iter().map(|e| e.field.as_str()).collect::<Vec<_>>(), ["/across/from", "/across/stops"]);
}

#[test]
fn a_plan_that_lacks_something_says_what() {
    let blank = runs(&Plan::blank("Kite reel"), &[WhatIf::default()], StartsAt::Full, None).unwrap();
    assert!(blank.missing.unwrap().contains("chemistry") && blank.runs.is_empty());
    let no_cell = with(&sound(), &[("packs/0/cell", json!({"state": "open"}))]);
    assert!(runs(&no_cell, &[WhatIf::default()], StartsAt::Full, None).unwrap().missing.unwrap().contains("cell"));
    assert!(run_in_steps(&no_cell, Some(1.0)).unwrap().is_err());
    let wrong = WhatIf { charge_v: Some(4.6), ambient_c: Some(200.0), ..WhatIf::default() };
    let refused = runs(&sound(), &[WhatIf::default(), wrong], StartsAt::Full, None).unwrap_err();
    let fields: Vec<&str> = refused.iter().map(|e| e.field.as_str()).collect();
    assert_eq!(fields, ["/variants/1/charge_v", "/variants/1/ambient_c"]);
    assert!(runs(&sound(), &[WhatIf::default(); 5], StartsAt::Full, None).is_err());
}

/// What a log was fitted to counts for its own cell, and for no other.
#[test]
fn a_fitted_cell_changes_the_run_of_its_own_plan() {
    let plan = sound();
    let name = plan.packs[0].cell.part().unwrap().offer.name.clone();
    let fitted = |of: &str| {
        let fit = json!({"of": of, "capacity_ah": 2.0, "dcir_ohm": 0.05, "diffusion_s": 90.0, "error_v": 0.005});
        varied(&with(&plan, &[("packs/0/fitted", fit)]), WhatIf::default()).time_s
    };
    let now_s = varied(&plan, WhatIf::default()).time_s;
    assert!(fitted(&name) < 0.85 * now_s);
    assert!((fitted("another cell") - now_s).abs() < 1e-9);
}

/// One answer on the screen: the run on the nameplate, in closed form, is the one that the Run page simulates, by what is printed of the
/// cell as by what was logged of it. It does not count that the cells warm: at 2 C it is up to 8 % shorter, and never longer.
#[test]
fn the_run_in_closed_form_is_the_simulated_one() {
    let name = sound().packs[0].cell.part().unwrap().offer.name.clone();
    let logged = json!({"of": name, "capacity_ah": 2.1, "dcir_ohm": 0.03, "diffusion_s": 60.0, "error_v": 0.005});
    for load_a in [2.0, 5.0, 9.0] {
        for fitted in [json!(null), logged.clone()] {
            let plan =
                with(&sound(), &[("device/loads/0/draw/value_a", known(load_a)), ("packs/0/fitted", fitted.clone())]);
            let closed_s = assess(&plan).unwrap().figure("run.time_s").unwrap().value;
            let run_s = varied(&plan, WhatIf::default()).time_s;
            println!("{load_a} A, logged {}: {closed_s:.0} s against {run_s:.0} s", !fitted.is_null());
            assert!((0.92..1.005).contains(&(closed_s / run_s)), "{load_a} A: {closed_s} s against {run_s} s");
        }
    }
}

/// Sliders end where a plan does: 40 cells in parallel, 400 in all.
#[test]
fn the_largest_pack_has_sliders_within_the_limits_of_a_plan() {
    for (series, parallel, most) in [(4, 39, 40.0), (4, 40, 40.0), (20, 19, 20.0), (20, 20, 20.0)] {
        let mut plan = sound();
        (plan.packs[0].series, plan.packs[0].parallel) = (Some(series), Some(parallel));
        let report = runs(&plan, &[WhatIf::default()], StartsAt::Full, None).unwrap();
        let slider = report.sliders.iter().find(|s| s.turned == Turned::Parallel).unwrap();
        assert_eq!((slider.now, slider.max), (f64::from(parallel), most), "{series}S{parallel}P");
        let beyond = WhatIf { parallel: Some(parallel + 2), ..WhatIf::default() };
        assert!(runs(&plan, &[beyond], StartsAt::Full, None).is_err(), "{series}S{parallel}P");
    }
}

/// A recorded series runs in the place of the levels.
#[test]
fn a_recorded_series_is_run_over_and_over() {
    let plan = sound();
    let readings = [(0.0, 10.0), (30.0, 2.0), (60.0, 10.0)];
    let report = runs(&plan, &[WhatIf::default()], StartsAt::Full, Some(&readings)).unwrap();
    let run = &report.runs[0];
    // 30 s at 10 A, 30 s at 2 A, 30 s at 10 A, and again.
    let mean_a = run.taken_ah * 3600.0 / run.time_s;
    assert!((mean_a - 22.0 / 3.0).abs() < 0.15, "{mean_a}");
    // So do the old battery and the map.
    let surveyed = runs(&plan, &[WhatIf::default()], StartsAt::Full, None).unwrap();
    let old_a =
        |r: &brick_core::assess::RunReport| r.original.as_ref().map(|o| o.taken_ah * 3600.0 / o.time_s).unwrap();
    assert!((old_a(&report) - 22.0 / 3.0).abs() < 1e-9 && (old_a(&surveyed) - 22.0 / 3.0).abs() > 0.1);
    let across = SweepAxis { turned: Turned::Load, from: 1.0, to: 2.0, stops: 2 };
    let map = sweep(&plan, &Sweep { across, up: None, what: WhatIf::default() }, Some(&readings)).unwrap();
    assert!((map.cells[0].unwrap().time_s / run.time_s - 1.0).abs() < 0.02);
}

/// What was measured on the chosen cells counts group by group: the weakest by capacity ends the run.
#[test]
fn the_chosen_cells_decide_which_group_ends_the_run() {
    let plan = sound();
    let groups = |weak: f64| {
        let cell = |g: usize, k: usize| {
            let ah = if g == 2 { weak } else { 2.5 };
            json!({"label": format!("{g}{k}"), "capacity_ah": ah, "resistance_ohm": 0.02})
        };
        (0..4).map(|g| json!({"cells": [cell(g, 0), cell(g, 1)]})).collect::<Vec<_>>()
    };
    let run = |weak: f64| varied(&with(&plan, &[("packs/0/groups", json!(groups(weak)))]), WhatIf::default());
    let (even, weak) = (run(2.5), run(2.2));
    assert_eq!((even.end.group, weak.end.group), (None, Some(2)), "{} {}", even.says, weak.says);
    assert!(weak.time_s < 0.93 * even.time_s && weak.says.contains("group 3"), "{}", weak.says);
    assert!((weak.groups[2].capacity_ah - 4.4).abs() < 1e-9 && weak.groups[0].left_ah > weak.groups[2].left_ah + 0.4);
}

/// Without a published curve the answer says so and its band is wider: a line is good to a tenth of the charge at best.
#[test]
fn without_a_curve_the_run_says_so_and_its_band_widens() {
    let band = |plan: &Plan| {
        let report = runs(plan, &[WhatIf::default()], StartsAt::Full, None).unwrap();
        let run = &report.runs[0];
        (report.assumed, (run.high_s - run.low_s) / run.time_s)
    };
    let line = with(&sound(), &[("packs/0/chemistry", json!("li_hv")), ("cell/chemistry", json!("li_hv"))]);
    let ((known, narrow), (assumed, wide)) = (band(&sound()), band(&line));
    assert!(!known && assumed && wide > narrow + 0.1, "{narrow} and {wide}");
}

/// A charger that begins again below its restart volts does so once the pack has rested, and comes to an end all the same.
#[test]
fn a_charger_begins_again_when_the_pack_has_fallen_back() {
    let mut task = apart(None, Some(0.5));
    task.soc = vec![0.5; 4];
    task.charger.restart_v = Some(16.77);
    let done = fill(&task).unwrap();
    let first = |what| done.events.iter().find(|e| e.what == what).map(|e| e.at_s);
    assert!(first(FillWhat::Restarts).unwrap() > first(FillWhat::Ends).unwrap(), "{:?}", done.events);
    let once = fill(&FillTask { charger: Filler { restart_v: None, ..task.charger }, ..task.clone() }).unwrap();
    assert!(done.charged_ah > once.charged_ah && first(FillWhat::Time).is_none());
}

/// One group 0.75 Ah above the others.
fn apart(bleeds: Option<Bleeds>, ends_a: Option<f64>) -> FillTask {
    FillTask {
        groups: vec![cell(5.0, 0.015); 4],
        soc: vec![0.50, 0.65, 0.50, 0.50],
        warmth: warmth(4),
        path_ohm: 0.01,
        charger: Filler { current_a: 2.0, end_v: 16.8, ends_a, pre: None, supply_w: None, restart_v: None },
        bleeds,
        board: Some(Opens { at_v: 4.28, closes_v: 4.13 }),
        step_s: 10.0,
        most_s: 72.0 * 3600.0,
    }
}

#[test]
fn without_bleeders_the_first_full_group_opens_the_board() {
    let task = apart(None, Some(0.25));
    let done = fill(&task).unwrap();
    assert!(done.events.iter().any(|e| e.what == FillWhat::BoardOpens && e.group == Some(1)), "{:?}", done.events);
    assert_eq!(done.opened, 1, "a charger that ends takes it for full");
    let apart_ah = (done.states[1].soc - done.states[0].soc) * 5.0;
    assert!((apart_ah - 0.75).abs() < 1e-9, "the difference stays: {apart_ah}");
    let in_ah: f64 = done.states.iter().zip(&task.soc).map(|(s, from)| (s.soc - from) * 5.0).sum::<f64>() / 4.0;
    assert!((in_ah - done.charged_ah * 0.999).abs() < 1e-9, "{in_ah} of {}", done.charged_ah);
}

#[test]
fn with_bleeders_and_a_holding_supply_the_groups_come_together() {
    let bleeds = Some(Bleeds::Above { group_v: 4.2, bleed_a: 0.06 });
    // One that closes only below the bleeders' threshold stays open once they have stopped.
    let stuck = fill(&apart(bleeds, None)).unwrap();
    assert!(stuck.opened == 1 && stuck.events.iter().all(|e| e.what != FillWhat::Level), "{:?}", stuck.events);
    let done = fill(&FillTask { board: Some(Opens { at_v: 4.28, closes_v: 4.2 }), ..apart(bleeds, None) }).unwrap();
    let at = |what| done.events.iter().find(|e| e.what == what).map(|e| e.at_s);
    let level_s = at(FillWhat::Level).unwrap();
    assert!(level_s > at(FillWhat::BoardOpens).unwrap_or(0.0) && done.opened >= 1, "{:?}", done.events);
    let spread = done.rested_v.iter().fold(0.0f64, |m, v| m.max((v - done.rested_v[0]).abs()));
    assert!(spread < 0.02, "{:?}", done.rested_v);
    // 0.75 Ah at 60 mA take 12.5 h of bleeding.
    assert!(
        level_s > 0.9 * 0.75 / 0.06 * 3600.0 && done.bled_wh > 0.9 * 0.75 * 4.1,
        "{level_s} s, {} Wh",
        done.bled_wh
    );
}

#[test]
fn a_weak_supply_makes_it_longer_and_a_careful_start_comes_first() {
    let level = |supply_w, pre| {
        let mut task = apart(None, Some(0.25));
        task.soc = vec![0.02; 4];
        task.charger = Filler { supply_w, pre, ..task.charger };
        fill(&task).unwrap()
    };
    let plain = level(None, None);
    let weak = level(Some(20.0), None);
    let careful = level(None, Some((0.2, 3.2)));
    assert!(weak.full_s > plain.full_s && careful.full_s > plain.full_s);
    assert!((careful.moments[0].current_a - 0.2).abs() < 1e-12);
    assert!(weak.moments.iter().all(|m| m.current_a * (m.pack_v + m.current_a * 0.01) <= 20.0 * 1.01));
    assert!(plain.events.iter().any(|e| e.what == FillWhat::Holds) && plain.opened == 0);
}

/// A charge of the plan from its readings: the highest group is named.
#[test]
fn a_plan_is_charged_from_the_volts_that_were_read() {
    let plan = with(&sound(), &[("packs/0/group_v", json!([known(3.70), known(3.78), known(3.70), known(3.70)]))]);
    let even = fills(&sound(), &WhatIf::default(), FillsFrom::Empty).unwrap();
    let read = fills(&plan, &WhatIf::default(), FillsFrom::AsRead).unwrap();
    assert!(even.missing.is_none() && even.apart_after_v < 1e-9 && even.full_s > read.full_s);
    assert!((read.apart_before_v - 0.08).abs() < 1e-9);
    assert!(read.groups[1].from_soc > read.groups[0].from_soc);
    let blank = fills(&Plan::blank("Kite reel"), &WhatIf::default(), FillsFrom::Empty).unwrap();
    assert!(blank.missing.is_some());
    // Where the curve is steep, volts tell where it begins; on a plateau they do not, and that is said.
    assert_eq!((read.start_says, even.start_says), (None, None));
    let flat = |v: f64| {
        let read = json!([known(v), known(v), known(v), known(v)]);
        let plan = with(&sound(), &[("packs/0/chemistry", json!("li_fe_po4")), ("packs/0/group_v", read)]);
        let told = fills(&plan, &WhatIf::default(), FillsFrom::AsRead).unwrap().start_says;
        assert_eq!(
            runs(&plan, &[WhatIf::default()], StartsAt::AsRead, None).unwrap().start_says,
            told,
            "the run says the same"
        );
        told
    };
    assert!(flat(3.28).is_some_and(|says| says.contains("leaves the charge open")));
    assert_eq!(flat(3.10), None, "below the plateau");
}
