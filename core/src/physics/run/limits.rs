//! What ends a run, or is told of it.

use serde::Serialize;
use utoipa::ToSchema;

/// Who acts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Who {
    /// The protection board: a group is empty.
    Board,
    /// The protection board: too much current for too long.
    Trip,
    /// The cut-off board.
    CutOff,
    /// The device's own cut-out.
    CutOut,
    /// No one: the device gets less than it works at.
    Device,
    /// The converter gets less than it needs.
    Converter,
    /// No one: a group has come to the floor of its cells, and the maker must stop.
    Floor,
    /// No one, or a board that feels it: a cell is too hot.
    Heat,
    /// The pack cannot give what is asked for at any voltage.
    Collapse,
    /// An alarm; someone must act.
    Alarm,
    /// No one: it still runs when the calculation ends.
    Time,
    /// No one: the load changes so often that it was not followed to the end.
    Steps,
}

/// What is watched.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Watched {
    /// The weakest group, under load.
    GroupBelow(f64),
    /// The pack at its terminals, under load.
    PackBelow(f64),
    /// What reaches the device or its converter.
    FeedBelow(f64),
    /// The hottest cell.
    HotterThan(f64),
    /// The pack's current.
    MoreThan(f64),
}

/// A limit.
#[derive(Debug, Clone, PartialEq)]
pub struct Limit {
    /// Who acts.
    pub who: Who,
    /// The part's name, where a part acts.
    pub name: Option<String>,
    /// What is watched.
    pub watched: Watched,
    /// Whether the run ends with it; else it is only told.
    pub ends: bool,
    /// How long it must last.
    pub delay_s: f64,
}

/// What a pack shows at one moment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shown {
    /// Weakest group.
    pub weakest_v: f64,
    /// The pack.
    pub pack_v: f64,
    /// At the device or its converter.
    pub feed_v: f64,
    /// Hottest cell.
    pub hottest_c: f64,
    /// Out of the pack.
    pub current_a: f64,
}

impl Limit {
    /// How far a moment is from the limit, in voltage, kelvin or amperes; below nothing is beyond it.
    pub fn room(&self, shown: &Shown) -> f64 {
        match self.watched {
            Watched::GroupBelow(v) => shown.weakest_v - v,
            Watched::PackBelow(v) => shown.pack_v - v,
            Watched::FeedBelow(v) => shown.feed_v - v,
            Watched::HotterThan(c) => c - shown.hottest_c,
            Watched::MoreThan(a) => a - shown.current_a,
        }
    }

    /// Whether a short level would come to it: a delay for the current outlasts it, one for voltage does not help.
    pub fn in_a_peak(&self, shown: &Shown, duration_s: f64) -> bool {
        let outlasted = matches!(self.watched, Watched::MoreThan(_)) && duration_s < self.delay_s;
        self.room(shown) < 0.0 && !outlasted && !matches!(self.watched, Watched::HotterThan(_))
    }
}

/// The limits while time goes on.
#[derive(Debug, Clone)]
pub struct Watch<'t> {
    limits: &'t [Limit],
    over_s: Vec<f64>,
    told: Vec<bool>,
}

impl<'t> Watch<'t> {
    /// None of them come to yet.
    pub fn new(limits: &'t [Limit]) -> Watch<'t> {
        Watch { limits, over_s: vec![0.0; limits.len()], told: vec![false; limits.len()] }
    }

    fn open(&self) -> impl Iterator<Item = (usize, &'t Limit)> {
        self.limits.iter().enumerate().filter(|(k, _)| !self.told[*k])
    }

    /// A limit without delay that is passed at once.
    pub fn at_once(&self, shown: &Shown) -> Option<usize> {
        self.open().find(|(_, l)| l.ends && l.delay_s == 0.0 && l.room(shown) < 0.0).map(|(k, _)| k)
    }

    /// How long a step may be until the delay of a limit that is passed now is over.
    pub fn within_s(&self, shown: &Shown) -> f64 {
        let left = |(k, l): (usize, &Limit)| (l.room(shown) < 0.0).then_some(l.delay_s - self.over_s[k]);
        self.open().filter_map(left).filter(|s| *s > 0.0).fold(f64::INFINITY, f64::min)
    }

    /// The first limit that ends the run within a step, and after which share of the step.
    pub fn first(&self, start: &Shown, end: &Shown, step_s: f64) -> Option<(usize, f64)> {
        let share = |(k, l): (usize, &Limit)| {
            let (from, to) = (l.room(start), l.room(end));
            if l.delay_s == 0.0 {
                return (to < 0.0).then(|| (k, if from > 0.0 { from / (from - to) } else { 0.0 }));
            }
            (from < 0.0 && self.over_s[k] + step_s >= l.delay_s * (1.0 - 1e-9)).then_some((k, 1.0))
        };
        self.open().filter(|(_, l)| l.ends).filter_map(share).min_by(|a, b| a.1.total_cmp(&b.1))
    }

    /// Goes on by a step. Gives what is only told, and when within the step.
    pub fn go_on(&mut self, start: &Shown, end: &Shown, step_s: f64) -> Vec<(usize, f64)> {
        let mut told = vec![];
        for (k, limit) in self.limits.iter().enumerate() {
            let (from, to) = (limit.room(start), limit.room(end));
            let beyond_s = match (from < 0.0, to < 0.0) {
                (false, true) => step_s * (1.0 - from / (from - to)),
                (true, true) => self.over_s[k] + step_s,
                (_, false) => 0.0,
            };
            self.over_s[k] = beyond_s;
            if !limit.ends && !self.told[k] && to < 0.0 && beyond_s >= limit.delay_s {
                self.told[k] = true;
                told.push((k, (step_s - beyond_s + limit.delay_s).max(0.0)));
            }
        }
        told
    }
}

/// A limit that was come to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunEvent {
    /// When.
    pub at_s: f64,
    /// Who acts.
    pub who: Who,
    /// The part's name.
    pub name: Option<String>,
    /// In which group, from 0, where that can be said.
    pub group: Option<usize>,
    /// Whether the run ends with it.
    pub ends: bool,
    /// Whether only a peak that comes now and then would have done it.
    pub peak_only: bool,
}
