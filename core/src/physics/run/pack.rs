//! A pack under its load until something ends the run.
//!
//! Each step: voltage and resistance behind every cell, joined to those of the pack (`joined`); the current that the load
//! draws through the path; its share in every cell; one exact step of each cell; its heat. What the load draws at the
//! start of a step holds for the step. Where a limit is passed within a step, the step is taken again up to there.

use serde::Serialize;
use utoipa::ToSchema;

use super::cell::{CellModel, CellState, Pace};
use super::joined::{Joined, Sharer};
use super::limits::{Limit, RunEvent, Shown, Watch, Watched, Who};
use super::load::{Asks, Pattern};
use crate::physics::brick::{HeatPaths, Warming};
use crate::physics::device::Together;

const SECONDS_PER_HOUR: f64 = 3600.0;
/// Most moments that are kept; beyond, of every two the lower one stays.
const MOST_POINTS: usize = 200_000;
/// Heat is calculated with in steps of at least this.
const WARM_S: f64 = 10.0;

/// What lies between pack and device.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Through {
    /// Nothing but resistance.
    Straight,
    /// A converter to fixed voltage.
    Converter {
        /// What it gives.
        output_v: f64,
        /// Share of the power that comes out.
        efficiency: f64,
        /// What it draws itself.
        own_w: f64,
    },
}

/// Where the heat of the cells goes.
#[derive(Debug, Clone)]
pub struct Warmth {
    /// Its ways.
    pub paths: HeatPaths,
    /// The lump of each cell.
    pub lump_of: Vec<usize>,
    /// Temperature round it, and at the start.
    pub ambient_c: f64,
}

/// A run to simulate.
#[derive(Debug, Clone)]
pub struct PackTask {
    /// The cells, group by group from pack minus; a group may stand as one.
    pub cells: Vec<CellModel>,
    /// State of charge of each at the start.
    pub soc: Vec<f64>,
    /// How they are joined.
    pub joined: Joined,
    /// Where their heat goes.
    pub warmth: Warmth,
    /// Wires, contacts and board; strips too where they are not solved.
    pub path_ohm: f64,
    /// What lies between pack and device.
    pub through: Through,
    /// What the device draws.
    pub load: Pattern,
    /// What ends the run.
    pub limits: Vec<Limit>,
    /// Longest step.
    pub step_s: f64,
    /// The calculation ends here.
    pub most_s: f64,
    /// The calculation ends after so many steps: a load that changes very often could keep it for minutes.
    pub most_steps: u64,
}

/// One moment of a run.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct RunPoint {
    /// Since the start.
    pub t_s: f64,
    /// At the pack's terminals.
    pub pack_v: f64,
    /// At the device or its converter.
    pub feed_v: f64,
    /// Out of the pack.
    pub current_a: f64,
    /// Into the device or its converter.
    pub power_w: f64,
    /// Weakest group.
    pub weakest_v: f64,
    /// Strongest group.
    pub strongest_v: f64,
    /// Hottest cell.
    pub hottest_c: f64,
    /// Mean state of charge.
    pub soc: f64,
    /// What would reach the device if the largest level that comes now and then came now.
    pub peak_v: Option<f64>,
}

/// A least or a most, and when.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Extreme {
    /// How much.
    pub value: f64,
    /// When.
    pub at_s: f64,
    /// Which cell or group, from 0.
    pub place: usize,
}

/// A run.
#[derive(Debug, Clone, PartialEq)]
pub struct PackRun {
    /// From the start to the end.
    pub points: Vec<RunPoint>,
    /// What was come to, in the order of time; the last ended it.
    pub events: Vec<RunEvent>,
    /// How long it ran.
    pub time_s: f64,
    /// Charge out of the pack.
    pub taken_ah: f64,
    /// Energy out of the pack.
    pub pack_wh: f64,
    /// Energy into the device or its converter.
    pub feed_wh: f64,
    /// Heat of the cells.
    pub cells_wh: f64,
    /// Least voltage at the device or its converter.
    pub least_feed: Extreme,
    /// Hottest cell.
    pub hottest: Extreme,
    /// Weakest group at the end.
    pub weakest: Extreme,
    /// Cells at the end.
    pub states: Vec<CellState>,
    /// Voltage of each group at the end, under load.
    pub group_v: Vec<f64>,
    /// When the pack can no longer give a level that comes now and then; absent where it always is, or there is none.
    pub peak_borne_s: Option<f64>,
}

/// Current out of the pack that a load draws through a resistance. `None` where the pack cannot give it.
///
/// I = E / (R + r); for a power (E − I R) I = P, the smaller of both solutions; for several the same of their sum.
pub fn drawn_a(through: Through, asks: Option<Asks>, rest_v: f64, ohm: f64) -> Option<f64> {
    let for_power = |w: f64| {
        let root = rest_v * rest_v - 4.0 * ohm * w;
        (root >= 0.0 && rest_v > 0.0).then(|| 2.0 * w / (rest_v + root.sqrt()))
    };
    // (E − V) / R = I₀ + P / V + G V is a square in V; the higher of both solutions is the one that is lived at.
    let for_several = |t: &Together| {
        let (a, b) = (1.0 + t.siemens * ohm, rest_v - t.current_a * ohm);
        let root = b * b - 4.0 * a * t.power_w * ohm;
        (root >= 0.0 && b > 0.0).then(|| t.at_a((b + root.sqrt()) / (2.0 * a)))
    };
    let current_a = match (through, asks) {
        (Through::Straight, None) => Some(0.0),
        (Through::Straight, Some(Asks::Current(a))) => Some(a),
        (Through::Straight, Some(Asks::Resistance(load_ohm))) => Some(rest_v / (ohm + load_ohm)),
        (Through::Straight, Some(Asks::Power(w))) => for_power(w),
        (Through::Straight, Some(Asks::Several(t))) => for_several(&t),
        (Through::Converter { output_v, efficiency, own_w }, asks) => {
            let output_w = match asks {
                None => 0.0,
                Some(Asks::Current(a)) => a * output_v,
                Some(Asks::Power(w)) => w,
                Some(Asks::Resistance(load_ohm)) => output_v * output_v / load_ohm,
                Some(Asks::Several(t)) => t.at_a(output_v) * output_v,
            };
            for_power(output_w / efficiency + own_w)
        }
    };
    current_a.filter(|a| rest_v - a * ohm > 0.0)
}

/// The one with the lower voltage at the device.
fn lower(points: &[RunPoint]) -> RunPoint {
    let least = points.iter().copied().reduce(|a, b| if b.feed_v < a.feed_v { b } else { a });
    least.unwrap_or(points[0])
}

/// The pack while it runs.
struct Running<'t> {
    task: &'t PackTask,
    parallel: usize,
    sharer: Sharer,
    states: Vec<CellState>,
    behind_v: Vec<f64>,
    r0_ohm: Vec<f64>,
    cell_a: Vec<f64>,
    warming: Warming,
    warm_every_s: f64,
    warmed_s: f64,
    rise_k: Vec<f64>,
    /// Heat since the cells were last warmed, and of the latest step.
    heat_j: Vec<f64>,
    step_j: Vec<f64>,
    peak_told: Vec<bool>,
    /// Whether voltage and resistances are those of the states.
    looked: bool,
    run: PackRun,
}

/// Lets a pack run. `None` for strips that leave a cell in the air, or a pack without a way for its heat.
pub fn simulate(task: &PackTask) -> Option<PackRun> {
    let mut running = Running::new(task)?;
    let mut watch = Watch::new(&task.limits);
    let mut pace = task.cells.first()?.pace(task.step_s);
    let mut before = running.states.clone();
    let mut before_a = running.cell_a.clone();
    let (mut t_s, mut steps) = (0.0, 0);
    loop {
        let stretch = task.load.at(t_s);
        running.observe()?;
        let ohm = running.sharer.ohm + task.path_ohm;
        let Some(current_a) = drawn_a(task.through, stretch.asks, running.sharer.rest_v, ohm) else {
            running.end(t_s, Who::Collapse);
            break;
        };
        let at_start = running.shown(current_a);
        running.record(t_s, current_a, &at_start);
        if let Some(k) = watch.at_once(&at_start) {
            running.act(t_s, k);
            break;
        }
        if t_s >= task.most_s || steps >= task.most_steps {
            running.end(t_s, if t_s >= task.most_s { Who::Time } else { Who::Steps });
            break;
        }
        steps += 1;
        let until_s = stretch.until_s.min(running.warmed_s + running.warm_every_s).min(task.most_s);
        let whole_s = task.step_s.min(watch.within_s(&at_start));
        // No sliver is left of a stretch, which would only cost a pace of its own.
        let mut step_s = if until_s - t_s < whole_s * (1.0 + 1e-6) { until_s - t_s } else { whole_s };
        before.clone_from(&running.states);
        before_a.clone_from(&running.cell_a);
        let mut at_end = running.step(current_a, step_s, &mut pace)?;
        let passed = watch.first(&at_start, &at_end, step_s);
        if let Some((_, share)) = passed.filter(|(_, share)| *share < 1.0) {
            running.states.clone_from(&before);
            running.cell_a.clone_from(&before_a);
            step_s *= share;
            at_end = running.step(current_a, step_s.max(f64::MIN_POSITIVE), &mut pace)?;
        }
        running.take(t_s, step_s, [&at_start, &at_end]);
        for (k, in_s) in watch.go_on(&at_start, &at_end, step_s) {
            running.act(t_s + in_s, k);
        }
        t_s = if passed.is_none() && t_s + step_s > until_s - 1e-9 * until_s { until_s } else { t_s + step_s };
        if let Some((k, _)) = passed {
            running.record(t_s, current_a, &at_end);
            running.act(t_s, k);
            break;
        }
        if t_s >= stretch.until_s {
            running.record(t_s, current_a, &at_end);
        }
        if t_s >= running.warmed_s + running.warm_every_s {
            running.warm(t_s);
        }
    }
    Some(running.close(t_s))
}

impl<'t> Running<'t> {
    fn new(task: &'t PackTask) -> Option<Running<'t>> {
        let count = task.cells.len();
        let ambient_c = task.warmth.ambient_c;
        let lumps = task.warmth.lump_of.iter().max()? + 1;
        let warm_every_s = task.step_s.max(WARM_S);
        let parallel = match &task.joined {
            Joined::Ideal { parallel } | Joined::Strips { parallel, .. } => *parallel,
        };
        let nothing = Extreme { value: f64::INFINITY, at_s: 0.0, place: 0 };
        Some(Running {
            task,
            parallel,
            sharer: Sharer::new(&task.joined, count)?,
            states: task.cells.iter().zip(&task.soc).map(|(cell, soc)| cell.rested(*soc, ambient_c)).collect(),
            behind_v: vec![0.0; count],
            r0_ohm: vec![0.0; count],
            cell_a: vec![0.0; count],
            warming: task.warmth.paths.every(warm_every_s)?,
            warm_every_s,
            warmed_s: 0.0,
            rise_k: vec![0.0; lumps],
            heat_j: vec![0.0; lumps],
            step_j: vec![0.0; lumps],
            peak_told: vec![false; task.limits.len()],
            looked: false,
            run: PackRun {
                points: vec![],
                events: vec![],
                time_s: 0.0,
                taken_ah: 0.0,
                pack_wh: 0.0,
                feed_wh: 0.0,
                cells_wh: 0.0,
                least_feed: nothing,
                hottest: Extreme { value: ambient_c, ..nothing },
                weakest: nothing,
                states: vec![],
                group_v: vec![],
                peak_borne_s: None,
            },
        })
    }

    /// Voltage and resistances behind the terminals as the cells stand now.
    fn observe(&mut self) -> Option<()> {
        if std::mem::replace(&mut self.looked, true) {
            return Some(());
        }
        for (k, (cell, state)) in self.task.cells.iter().zip(&self.states).enumerate() {
            self.behind_v[k] = cell.behind_v(state);
            self.r0_ohm[k] = cell.r0_ohm(state);
        }
        self.sharer.take(&self.behind_v, &self.r0_ohm, &self.cell_a)
    }

    /// Voltage of a group at its terminals: the mean of its cells, which strips part by millivolts.
    fn group_v(&self, group: usize) -> f64 {
        let cells = group * self.parallel..(group + 1) * self.parallel;
        cells.map(|k| self.behind_v[k] - self.cell_a[k] * self.r0_ohm[k]).sum::<f64>() / self.parallel as f64
    }

    fn groups(&self) -> usize {
        self.states.len() / self.parallel
    }

    /// What the pack shows while it gives a current.
    fn shown(&mut self, current_a: f64) -> Shown {
        self.sharer.divide(current_a, &mut self.cell_a);
        let pack_v = self.sharer.rest_v - current_a * self.sharer.ohm;
        let weakest_v = (0..self.groups()).map(|g| self.group_v(g)).fold(f64::INFINITY, f64::min);
        let hottest_c = self.states.iter().map(|s| s.cell_c()).fold(f64::NEG_INFINITY, f64::max);
        Shown { weakest_v, pack_v, feed_v: pack_v - current_a * self.task.path_ohm, hottest_c, current_a }
    }

    /// Lets a current flow for a step, and gathers the heat of each lump. What the pack shows at the end.
    fn step(&mut self, current_a: f64, step_s: f64, pace: &mut Pace) -> Option<Shown> {
        if step_s != pace.step_s {
            *pace = self.task.cells.first()?.pace(step_s);
        }
        self.step_j.fill(0.0);
        for (k, (cell, state)) in self.task.cells.iter().zip(&mut self.states).enumerate() {
            self.step_j[self.task.warmth.lump_of[k]] += cell.step(state, self.cell_a[k], pace) * step_s;
        }
        self.looked = false;
        self.observe()?;
        Some(self.shown(current_a))
    }

    /// Adds up what a step took.
    fn take(&mut self, t_s: f64, step_s: f64, [start, end]: [&Shown; 2]) {
        let hours = step_s / SECONDS_PER_HOUR;
        let current_a = start.current_a;
        let run = &mut self.run;
        run.taken_ah += current_a * hours;
        run.pack_wh += current_a * (start.pack_v + end.pack_v) / 2.0 * hours;
        run.feed_wh += current_a * (start.feed_v + end.feed_v) / 2.0 * hours;
        run.cells_wh += self.step_j.iter().sum::<f64>() / SECONDS_PER_HOUR;
        self.heat_j.iter_mut().zip(&self.step_j).for_each(|(sum, j)| *sum += j);
        for (at_s, shown) in [(t_s, start), (t_s + step_s, end)] {
            if shown.feed_v < self.run.least_feed.value {
                self.run.least_feed = Extreme { value: shown.feed_v, at_s, place: 0 };
            }
        }
    }

    /// Warms the cells by the heat that gathered.
    fn warm(&mut self, t_s: f64) {
        let over_s = self.warm_every_s;
        let heat_w: Vec<f64> = self.heat_j.iter().map(|j| j / over_s).collect();
        self.warming.step(&mut self.rise_k, &heat_w);
        self.heat_j.fill(0.0);
        self.warmed_s = t_s;
        let warmth = &self.task.warmth;
        for (place, (state, lump)) in self.states.iter_mut().zip(&warmth.lump_of).enumerate() {
            let cell_c = warmth.ambient_c + self.rise_k[*lump];
            self.task.cells[place].warm(state, cell_c);
            if cell_c > self.run.hottest.value {
                self.run.hottest = Extreme { value: cell_c, at_s: t_s, place };
            }
        }
        self.looked = false;
    }

    fn record(&mut self, t_s: f64, current_a: f64, shown: &Shown) {
        let strongest_v = (0..self.groups()).map(|g| self.group_v(g)).fold(f64::NEG_INFINITY, f64::max);
        let point = RunPoint {
            t_s,
            pack_v: shown.pack_v,
            feed_v: shown.feed_v,
            current_a,
            power_w: shown.feed_v * current_a,
            weakest_v: shown.weakest_v,
            strongest_v,
            hottest_c: shown.hottest_c,
            soc: self.states.iter().map(|s| s.soc).sum::<f64>() / self.states.len() as f64,
            peak_v: None,
        };
        if self.run.points.len() >= MOST_POINTS {
            self.run.points = self.run.points.chunks(2).map(lower).collect();
        }
        self.run.points.push(point);
        self.peaks(t_s);
    }

    /// What the levels that come now and then would do now. Voltage fall by R0 at once, and by what the pairs add in the time.
    fn peaks(&mut self, t_s: f64) {
        let ohm = self.sharer.ohm;
        let mut least_v: Option<f64> = None;
        for (_, asks, duration_s) in self.task.load.now_and_then() {
            let grown = ohm * (1.0 + self.pairs_per_r0(duration_s));
            let rest_v = self.sharer.rest_v;
            let current_a = drawn_a(self.task.through, Some(asks), rest_v, grown + self.task.path_ohm);
            let shown = current_a.map(|current_a| {
                let pack_v = rest_v - current_a * grown;
                let group_v = |g: usize| {
                    let cells = g * self.parallel..(g + 1) * self.parallel;
                    let siemens: f64 = cells.clone().map(|k| 1.0 / self.r0_ohm[k]).sum();
                    let behind_v = cells.map(|k| self.behind_v[k] / self.r0_ohm[k]).sum::<f64>() / siemens;
                    behind_v - current_a * grown / ohm / siemens
                };
                let weakest_v = (0..self.groups()).map(group_v).fold(f64::INFINITY, f64::min);
                let feed_v = pack_v - current_a * self.task.path_ohm;
                Shown { weakest_v, pack_v, feed_v, hottest_c: f64::NEG_INFINITY, current_a }
            });
            let Some(shown) = shown else {
                self.peak_told(t_s, Who::Collapse, None);
                continue;
            };
            least_v = Some(least_v.map_or(shown.feed_v, |v| v.min(shown.feed_v)));
            for (k, limit) in self.task.limits.iter().enumerate() {
                if limit.ends && limit.in_a_peak(&shown, duration_s) && !std::mem::replace(&mut self.peak_told[k], true)
                {
                    self.peak_told(t_s, limit.who, limit.name.clone());
                }
            }
        }
        if let Some(point) = self.run.points.last_mut() {
            point.peak_v = least_v;
        }
    }

    fn peak_told(&mut self, at_s: f64, who: Who, name: Option<String>) {
        if self.run.events.iter().any(|e| e.peak_only && e.who == who && e.name == name) {
            return;
        }
        self.run.peak_borne_s.get_or_insert(at_s);
        self.run.events.push(RunEvent { at_s, who, name, group: None, ends: false, peak_only: true });
    }

    /// What the pairs add to R0 within a time.
    fn pairs_per_r0(&self, duration_s: f64) -> f64 {
        let (Some(cell), Some(state)) = (self.task.cells.first(), self.states.first()) else { return 0.0 };
        let r0_ohm = cell.r0.at(state.soc);
        cell.pairs.iter().map(|p| p.ohm.at(state.soc) / r0_ohm * (1.0 - (-duration_s / p.tau_s).exp())).sum()
    }

    /// A limit is come to.
    fn act(&mut self, at_s: f64, limit: usize) {
        let limit = &self.task.limits[limit];
        let group = match limit.watched {
            Watched::GroupBelow(_) => self.one_group(),
            Watched::HotterThan(_) => Some(self.hottest_group()),
            _ => None,
        };
        let (who, name, ends) = (limit.who, limit.name.clone(), limit.ends);
        self.run.events.push(RunEvent { at_s, who, name, group, ends, peak_only: false });
    }

    fn end(&mut self, at_s: f64, who: Who) {
        self.run.events.push(RunEvent { at_s, who, name: None, group: None, ends: true, peak_only: false });
    }

    fn weakest_group(&self) -> usize {
        (0..self.groups()).min_by(|&a, &b| self.group_v(a).total_cmp(&self.group_v(b))).unwrap_or(0)
    }

    /// The weakest group, where it is one that stands apart.
    fn one_group(&self) -> Option<usize> {
        /// Groups closer than this are alike: no meter tells them apart.
        const ALIKE_V: f64 = 0.001;
        let most_v = (0..self.groups()).map(|g| self.group_v(g)).fold(f64::NEG_INFINITY, f64::max);
        let weakest = self.weakest_group();
        (most_v - self.group_v(weakest) > ALIKE_V).then_some(weakest)
    }

    fn hottest_group(&self) -> usize {
        let hottest =
            (0..self.states.len()).max_by(|&a, &b| self.states[a].cell_c().total_cmp(&self.states[b].cell_c()));
        hottest.unwrap_or(0) / self.parallel
    }

    fn close(mut self, t_s: f64) -> PackRun {
        let group = self.weakest_group();
        self.run.weakest = Extreme { value: self.group_v(group), at_s: t_s, place: group };
        self.run.group_v = (0..self.groups()).map(|g| self.group_v(g)).collect();
        self.run.time_s = t_s;
        self.run.states = self.states;
        self.run
    }
}
