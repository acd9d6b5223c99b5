//! How long the heavy calls of core take, in process. Prints a table for docs/performance.md; `scripts/measure` runs it.

use std::sync::Mutex;
use std::time::{Duration, Instant};

use brick_core::advise::fix::raise;
use brick_core::advise::propose::{Proposals, StockLot, Watcher, Wishes, propose};
use brick_core::advise::suggest::strips::strip_offers;
use brick_core::advise::suggest::{options, suggest};
use brick_core::assess::{FillsFrom, StartsAt, Sweep, SweepAxis, Turned, WhatIf, fills, network, runs, sweep};
use brick_core::base::chemistry::Chemistry;
use brick_core::base::progress::{Progress, Unwatched};
use brick_core::parts::listing::read_listing;
use brick_core::physics::brick::{Edit, HeatPaths, JointWire, Laid, Sharing, arrangements, draw, steps};
use brick_core::physics::grouping::{Candidate, Effort, Task, group};
use brick_core::physics::run::{
    Asks, CellModel, GivenCell, GivenWarmth, Joined, Level, PackTask, Pattern, ProfileStep, Through, Warmth, simulate,
    typical,
};
use brick_core::plan::{Obstruction, Space};
use brick_core::print::diagram::{Condition, Shown, diagram};
use brick_core::{Catalogue, Plan, assess, fixes};

/// A line of a made-up seller's page.
const LISTING: &str = "4S protection board, continuous current 15 A; balance current 60 mA, over-charge 4.25 V\n";

fn main() {
    let root = concat!(env!("CARGO_MANIFEST_DIR"), "/../demo");
    let text = |name: &str| std::fs::read_to_string(format!("{root}/{name}")).expect("the demo ships with the project");
    let catalogue = Catalogue::from_json(&text("catalogue.json")).expect("the demo catalogue is checked by the tests");
    let shears =
        Plan::from_json(&text("plans/hedge-shears.brick.json")).expect("the demo plans are checked by the tests");
    let mut largest = shears.clone();
    (largest.packs[0].series, largest.packs[0].parallel) = (Some(16), Some(10));

    println!("{:<34} {:>10} {:>10} {:>10}", "call", "median", "99th", "runs");
    measure("assess, 4S2P", 4000, || assess(&shears).is_ok());
    measure("assess, 16S10P", 4000, || assess(&largest).is_ok());
    measure("all voltage options, 4S2P", 200, || options(&shears).is_ok());
    measure("suggest a board, 4S2P", 200, || suggest(&shears, &catalogue, "board").is_ok());
    measure("more current, 4S2P", 40, || raise(&shears, &catalogue, 30.0).is_ok());
    measure("a seller's text of 400 words", 40, || !read_listing(&LISTING.repeat(40), None).proposed.is_empty());
    for finding in assess(&shears).expect("a demo plan can be assessed").findings {
        measure(&format!("fixes, {}", finding.key), 20, || fixes(&shears, &catalogue, &finding.key).is_ok());
    }
    whole_plans(&shears, catalogue.clone().with_typical());
    let boat = Plan::from_json(&text("plans/bait-boat.brick.json")).expect("the demo plans are checked by the tests");
    bricks(&shears, &boat);
    for (what, series, parallel, from, effort, runs) in [
        ("group 20S5P from 100 cells, quick", 20, 5, 100, Effort::Quick, 20),
        ("group 16S10P from 2000, quick", 16, 10, 2000, Effort::Quick, 10),
        ("group 16S10P from 2000, thorough", 16, 10, 2000, Effort::Thorough, 2),
    ] {
        let task = box_of_cells(series, parallel, from, effort);
        measure(what, runs, || group(&task, &Unwatched).is_ok());
    }
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let peak = status.lines().find(|l| l.starts_with("VmHWM")).unwrap_or("VmHWM unknown");
    println!("largest memory of this process: {}", peak.trim_start_matches("VmHWM:").trim());
}

/// Whole plans from the survey alone: the maker's parts with the typical ones, and 120 cells of his stock.
fn whole_plans(shears: &Plan, catalogue: Catalogue) {
    let Some(cell) = shears.packs[0].cell.part() else { return };
    let free = box_of_cells(4, 2, 120, Effort::Quick).candidates;
    let stock = [StockLot { cell: cell.clone(), cells: free.into_iter().map(|c| (None, c)).collect() }];
    let wishes = Wishes { afresh: true, ..Wishes::default() };
    let search = |watcher: &dyn Watcher| propose(shears, &catalogue, &stock, &wishes, watcher).is_ok();
    measure("whole plans, 120 cells of stock", 5, || search(&Unwatched));
    let mut firsts: Vec<Duration> = (0..5)
        .filter_map(|_| {
            let seen = First { started: Instant::now(), after: Mutex::default() };
            search(&seen);
            seen.after.into_inner().ok()?
        })
        .collect();
    firsts.sort_unstable();
    println!("{:<34} {:>10.2?}", "the first of them is shown after", firsts[firsts.len() / 2]);
}

/// When the first whole plan was shown.
struct First {
    started: Instant,
    after: Mutex<Option<Duration>>,
}

impl Progress for First {
    fn step(&self, _: f64) -> bool {
        true
    }
}

impl Watcher for First {
    fn first(&self, _: Proposals) {
        *self.after.lock().expect("nobody panics while it is held") = Some(self.started.elapsed());
    }
}

/// One cell, packs under load for an hour, a charge, a map.
fn simulated(shears: &Plan, boat: &Plan, many: &Plan, laid: &Laid<'_>) {
    const HOUR: [ProfileStep; 1] = [ProfileStep { duration_s: 3600.0, current_a: 2.0 }];
    let given = GivenCell {
        capacity_ah: 2.5,
        soc: 1.0,
        ocv: (0..=100).map(|k| (f64::from(k) / 100.0, 3.0 + 0.012 * f64::from(k))).collect(),
        r0_ohm: 0.02,
        rc: vec![(0.01, 1500.0), (0.015, 4000.0)],
        diffusion_s: 0.0,
        thermal: GivenWarmth {
            ambient_c: 25.0,
            cell_j_per_k: 45.0,
            cell_jig_w_per_k: 0.5,
            jig_j_per_k: 200.0,
            jig_air_w_per_k: 0.5,
        },
    };
    let of_core =
        measure("one cell, 2 RC pairs, 1 h at 1 s", 400, || given.run(&HOUR, 1.0).is_ok_and(|rows| rows.len() == 3601));
    let plain = measure("the same by its formula alone", 400, || plain_hour(&given, 2.0).len() == 3601);
    println!("{:<34} {:>10.2}", "core over the formula alone", of_core.as_secs_f64() / plain.as_secs_f64());
    let cell = |ah: f64, ohm: f64| typical(Chemistry::LiIon).cell(Chemistry::LiIon, ah, ohm);
    let hour = |cells: Vec<CellModel>, parallel: usize| {
        let count = cells.len();
        let mut paths = HeatPaths::of_cells(count, 45.0);
        (0..count).for_each(|k| paths.join(k, None, 0.05));
        let ah = cells[0].capacity_ah * parallel as f64;
        PackTask {
            soc: vec![1.0; count],
            cells,
            joined: Joined::Ideal { parallel },
            warmth: Warmth { paths, lump_of: (0..count).collect(), ambient_c: 20.0 },
            path_ohm: 0.02,
            through: Through::Straight,
            load: Pattern::Levels(vec![Level { asks: Asks::Current(0.7 * ah), duration_s: None, every_s: None }]),
            limits: vec![],
            step_s: 1.0,
            most_s: 3600.0,
            most_steps: 100_000,
        }
    };
    let small = hour(vec![cell(2.5, 0.03); 8], 2);
    measure("4S2P, each cell, 1 h at 1 s", 200, || simulate(&small).is_some_and(|run| run.time_s == 3600.0));
    let groups = hour(vec![cell(5.0, 0.015); 4], 1);
    measure("4S2P, each group, 1 h at 1 s", 200, || simulate(&groups).is_some_and(|run| run.time_s == 3600.0));
    let strip = many.packs[0].strip.part().expect("the shears have a strip");
    let joint = JointWire { ohm_per_mm: 8.3e-6, limit_a: None };
    let sharing = Sharing::of(laid, strip, 0.03, joint, None).expect("it is joined");
    let joined = Joined::Strips { parallel: 10, contacts_ohm: 0.0, circuit: sharing.circuit() };
    let paths = HeatPaths::of(laid, strip, &sharing, None).expect("its heat has ways");
    let warmth = Warmth { paths, lump_of: (0..160).collect(), ambient_c: 20.0 };
    let network = PackTask { joined, warmth, ..hour(vec![cell(2.5, 0.03); 160], 10) };
    measure("16S10P, each cell and strip, 1 h at 1 s", 5, || {
        simulate(&network).is_some_and(|run| run.time_s == 3600.0)
    });
    measure("run of the shears with its band", 100, || {
        runs(shears, &[WhatIf::default()], StartsAt::Full, None).is_ok_and(|r| r.runs.len() == 1)
    });
    measure("charge of the boat", 40, || {
        fills(boat, &WhatIf::default(), FillsFrom::Empty).is_ok_and(|r| r.missing.is_none())
    });
    let axis = |turned, from, to| SweepAxis { turned, from, to, stops: 20 };
    let map = Sweep {
        across: axis(Turned::Load, 0.25, 3.0),
        up: Some(axis(Turned::Ambient, -10.0, 40.0)),
        what: WhatIf::default(),
    };
    measure("map of 20 x 20 runs of the shears", 5, || sweep(shears, &map, None).is_ok_and(|m| m.cells.len() == 400));
}

/// Volts and temperature of a cell over an hour in steps of a second, by the exact step of each pair and the explicit one of its heat,
/// written as straight as can be: what the simulation's speed is held against.
fn plain_hour(cell: &GivenCell, current_a: f64) -> Vec<[f64; 3]> {
    let t = &cell.thermal;
    let decay: Vec<(f64, f64)> = cell.rc.iter().map(|(ohm, farad)| ((-1.0 / (ohm * farad)).exp(), *ohm)).collect();
    let (mut soc, mut cell_c, mut jig_c) = (cell.soc, t.ambient_c, t.ambient_c);
    let mut pair_v = vec![0.0; decay.len()];
    let mut rows = Vec::with_capacity(3601);
    for second in 0..=3600 {
        let place = soc * (cell.ocv.len() - 1) as f64;
        let before = (place as usize).min(cell.ocv.len() - 2);
        let (low_v, high_v) = (cell.ocv[before].1, cell.ocv[before + 1].1);
        let ocv_v = low_v + (place - before as f64) * (high_v - low_v);
        let lost_v = current_a * cell.r0_ohm + pair_v.iter().sum::<f64>();
        rows.push([f64::from(second), ocv_v - lost_v, cell_c]);
        soc -= current_a / 3600.0 / cell.capacity_ah;
        for (v, (left, ohm)) in pair_v.iter_mut().zip(&decay) {
            *v = current_a * ohm + (*v - current_a * ohm) * left;
        }
        let across_w = t.cell_jig_w_per_k * (cell_c - jig_c);
        cell_c += (current_a * lost_v - across_w) / t.cell_j_per_k;
        jig_c += (across_w - t.jig_air_w_per_k * (jig_c - t.ambient_c)) / t.jig_j_per_k;
    }
    rows
}

/// The network of a laid brick: currents, heat, the whole report, proposed strips.
fn network_of(plan: &Plan, laid: &Laid<'_>) {
    let strip = plan.packs[0].strip.part().expect("the shears have a strip");
    let joint = JointWire { ohm_per_mm: 8.3e-6, limit_a: None };
    let solve = || Sharing::of(laid, strip, 0.022, joint, None);
    measure("network of 160 cells", 400, || solve().is_some());
    let sharing = solve().expect("it is joined");
    let heat_w = sharing.heat_w_per_a2();
    let paths = || HeatPaths::of(laid, strip, &sharing, Some(45.0));
    measure("heat of 160 cells, steady", 400, || paths().and_then(|p| p.steady_k(&heat_w)).is_some());
    measure("heat of 160 cells, after a run", 400, || paths().and_then(|p| p.after_k(&heat_w, 1800.0)).is_some());
    measure("wiring diagram at its working point, 16S10P", 200, || {
        let shown = Shown { condition: Condition::Running, ..Shown::default() };
        diagram(plan, shown).is_ok_and(|d| d.is_some())
    });
    measure("network report, 16S10P", 100, || network(plan, None).is_ok());
    measure("strips proposed, 16S10P", 10, || !strip_offers(plan).is_empty());
}

/// Laying out: arrangements in a roomy box and round posts, and what an edit by hand asks for.
fn bricks(shears: &Plan, boat: &Plan) {
    let in_box = |series: u32, parallel: u32, posts: u32| {
        let mut plan = shears.clone();
        (plan.packs[0].series, plan.packs[0].parallel) = (Some(series), Some(parallel));
        let place = &mut plan.device.compartments[0];
        place.space = Space::Box { length_mm: 420.0, width_mm: 400.0, depth_mm: 160.0 };
        let post = |k: u32| Obstruction {
            name: format!("post {k}"),
            length_mm: 8.0,
            width_mm: 8.0,
            depth_mm: 160.0,
            x_mm: 70.0 * f64::from(k),
            y_mm: 45.0 * f64::from(k),
            z_mm: 0.0,
            cut: false,
        };
        place.obstructions = (0..posts).map(post).collect();
        plan
    };
    let laid_out = |plan: &Plan| {
        let mut plan = plan.clone();
        let task = brick_core::physics::brick::Task::of(&plan).expect("cell, counts and place are there");
        plan.packs[0].brick.layout = Some(arrangements(&task).remove(0).layout);
        plan
    };
    for (what, plan) in [
        ("arrangements, 16S10P in a box", in_box(16, 10, 0)),
        ("arrangements, 16S10P round 5 posts", in_box(16, 10, 5)),
        ("arrangements, 4S2P in its foot", shears.clone()),
    ] {
        let task = brick_core::physics::brick::Task::of(&plan).expect("cell, counts and place are there");
        measure(what, 20, || !arrangements(&task).is_empty());
    }
    let (many, most) = (laid_out(&in_box(16, 10, 0)), laid_out(&in_box(20, 20, 0)));
    measure("assess, 16S10P laid out", 400, || assess(&many).is_ok());
    let laid = Laid::of(&many).expect("it is laid out");
    network_of(&many, &laid);
    simulated(shears, boat, &many, &laid);
    measure("search, 16S10P, quick", 5, || laid.searched(40_000, 1, &Unwatched).is_some());
    let laid = Laid::of(&most).expect("it is laid out");
    let there = laid.layout.cells[399];
    let edit = Edit::Move { cell: 0, column: there.column, row: there.row, layer: there.layer };
    measure("edit of 400 cells, checked", 100, || laid.edit(&edit).is_ok());
    measure("drawing of 400 cells with steps", 100, || !steps(&laid, &draw(&laid)).is_empty());
    measure("patterns of 400 cells", 20, || !laid.patterns().is_empty());
    measure("assess, 20S20P laid out", 100, || assess(&most).is_ok());
}

/// A box of measured cells, invented: capacity, resistance and self-discharge of each.
fn box_of_cells(series: usize, parallel: usize, from: usize, effort: Effort) -> Task {
    let cell = |i: usize| Candidate {
        label: format!("C{i}"),
        capacity_ah: Some(1.9 + (i * 7919 % 601) as f64 / 1000.0),
        resistance_ohm: Some(0.045 + (i * 104_729 % 31) as f64 / 1000.0),
        rested_v: Some(3.70),
        drop_v: Some((i * 31 % 11) as f64 / 10_000.0),
        ..Candidate::default()
    };
    Task { effort, ..Task::usual((0..from).map(cell).collect(), series, parallel) }
}

/// Measures a call, unless the program was asked for others: `speed arrangements`.
fn measure(what: &str, runs: usize, call: impl Fn() -> bool) -> Duration {
    if std::env::args().nth(1).is_some_and(|word| !what.contains(&word)) {
        return Duration::ZERO;
    }
    for _ in 0..runs.div_ceil(10) {
        assert!(std::hint::black_box(call()));
    }
    let mut times: Vec<Duration> = (0..runs)
        .map(|_| {
            let started = Instant::now();
            std::hint::black_box(call());
            started.elapsed()
        })
        .collect();
    times.sort_unstable();
    let at = |share: f64| times[((runs - 1) as f64 * share) as usize];
    println!("{what:<34} {:>10.2?} {:>10.2?} {runs:>10}", at(0.5), at(0.99));
    at(0.5)
}
