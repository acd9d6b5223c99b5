//! A pack on its charger: CC/CV with what the supply can give, bleeders, a board that opens on the first full group, the end
//! of the charge, and its restart. From given states of the groups, so that it shows how they come together.
//!
//! Each group stands as one cell. The charger's current is that of the start of a step and holds for it.

use serde::Serialize;
use utoipa::ToSchema;

use super::cell::{CellModel, CellState, Pace};
use super::pack::Warmth;
use crate::physics::brick::Warming;
use crate::physics::charging::{MOST_OF_IT, SetBy};

const SECONDS_PER_HOUR: f64 = 3600.0;
/// Groups are level when their charges are this close. Voltage would say it on a slope only: on a plateau all groups read alike.
const LEVEL_SHARE: f64 = 0.005;
/// What the balancer of a hobby charger leaves between groups. Assumed.
const BALANCER_LEAVES_V: f64 = 0.005;

/// A charger.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Filler {
    /// Constant current.
    pub current_a: f64,
    /// End voltage at its terminals.
    pub end_v: f64,
    /// Current at which it ends; absent holds its voltage without end.
    pub ends_a: Option<f64>,
    /// Careful current, until every group has this voltage.
    pub pre: Option<(f64, f64)>,
    /// Power at its terminals that the supply leaves.
    pub supply_w: Option<f64>,
    /// Pack voltage at which it begins again.
    pub restart_v: Option<f64>,
}

/// Which groups are bled.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Bleeds {
    /// Those above this voltage, by resistors on the board.
    Above {
        /// Threshold.
        group_v: f64,
        /// Current of one at the threshold.
        bleed_a: f64,
    },
    /// Those above the lowest, by a hobby charger over the tap plug.
    ToTheLowest {
        /// Current of one.
        bleed_a: f64,
    },
}

/// A board's guard over the charge.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Opens {
    /// Opens when a group comes to this voltage.
    pub at_v: f64,
    /// Closes again when every group is below these.
    pub closes_v: f64,
}

/// A charge to simulate.
#[derive(Debug, Clone)]
pub struct FillTask {
    /// The groups, from pack minus.
    pub groups: Vec<CellModel>,
    /// State of charge of each.
    pub soc: Vec<f64>,
    /// Where their heat goes.
    pub warmth: Warmth,
    /// From the charger to the pack.
    pub path_ohm: f64,
    /// The charger.
    pub charger: Filler,
    /// The bleeders, if there are any.
    pub bleeds: Option<Bleeds>,
    /// The board, if there is one.
    pub board: Option<Opens>,
    /// Longest step.
    pub step_s: f64,
    /// The calculation ends here.
    pub most_s: f64,
}

/// One moment of a charge.
#[derive(Debug, Clone, PartialEq)]
pub struct FillMoment {
    /// Since the start.
    pub t_s: f64,
    /// At the pack.
    pub pack_v: f64,
    /// Into the pack.
    pub current_a: f64,
    /// Each group.
    pub group_v: Vec<f64>,
    /// Mean state of charge.
    pub soc: f64,
    /// Hottest group.
    pub hottest_c: f64,
    /// Groups that are bled.
    pub bled: usize,
    /// What sets the current; absent while none flows.
    pub set_by: Option<SetBy>,
}

/// What happens in a charge.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FillWhat {
    /// The charger holds its end voltage from here.
    Holds,
    /// 80 % is in.
    MostOfIt,
    /// The first group is bled.
    Bleeds,
    /// The board opens on a full group.
    BoardOpens,
    /// It closes again.
    BoardCloses,
    /// The charger ends.
    Ends,
    /// It begins again.
    Restarts,
    /// All groups are level.
    Level,
    /// The calculation ends first.
    Time,
}

/// One of them.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct FillEvent {
    /// When.
    pub at_s: f64,
    /// What.
    pub what: FillWhat,
    /// In which group, from 0.
    pub group: Option<usize>,
}

/// A charge.
#[derive(Debug, Clone, PartialEq)]
pub struct Filled {
    /// From the start to the end.
    pub moments: Vec<FillMoment>,
    /// What happened; repetitions of the board are told once.
    pub events: Vec<FillEvent>,
    /// When 80 % was in.
    pub most_s: Option<f64>,
    /// When the charger ended, or nothing changed any more; absent where it did not end in time.
    pub full_s: Option<f64>,
    /// Charge out of the charger.
    pub charged_ah: f64,
    /// Energy into the pack.
    pub pack_wh: f64,
    /// Energy that bleeders turned into heat.
    pub bled_wh: f64,
    /// How often the board opened.
    pub opened: u32,
    /// Hottest group.
    pub hottest_c: f64,
    /// Groups at the end.
    pub states: Vec<CellState>,
    /// Voltage of each group once it rests.
    pub rested_v: Vec<f64>,
}

impl FillTask {
    /// Current of the charger, and what sets it, with the voltage and the resistance behind the pack's terminals.
    fn charger_a(&self, behind_v: f64, ohm: f64, lowest_v: f64) -> (f64, SetBy) {
        let c = &self.charger;
        let mut least = (c.current_a, SetBy::Charger);
        if let Some((pre_a, _)) = c.pre.filter(|(_, until_v)| lowest_v < *until_v) {
            least = (pre_a.min(c.current_a), SetBy::PreCharge);
        }
        if let Some(w) = c.supply_w {
            // I (E + I R) = P at the charger's terminals.
            let a = 2.0 * w / (behind_v + (behind_v * behind_v + 4.0 * ohm * w).sqrt());
            if a < least.0 {
                least = (a, SetBy::Supply);
            }
        }
        let cells_a = (c.end_v - behind_v) / ohm;
        if cells_a < least.0 { (cells_a.max(0.0), SetBy::Cells) } else { least }
    }

    fn bleed_a(&self, group_v: f64, lowest_v: f64) -> f64 {
        match self.bleeds {
            // A resistor: its current goes with its own volts.
            Some(Bleeds::Above { group_v: above_v, bleed_a }) if group_v >= above_v => bleed_a * group_v / above_v,
            Some(Bleeds::ToTheLowest { bleed_a }) if group_v > lowest_v + BALANCER_LEAVES_V => bleed_a,
            _ => 0.0,
        }
    }
}

/// Charges a pack. `None` for a pack without a way for its heat, or without groups.
pub fn fill(task: &FillTask) -> Option<Filled> {
    let pace = task.groups.first()?.pace(task.step_s);
    let mut filling = Filling::new(task)?;
    loop {
        let now = filling.observe();
        filling.board_acts(&now);
        let now = filling.charger_acts(now);
        filling.bleeders_act(&now);
        filling.tell_progress(&now);
        if filling.settled(&now) {
            filling.filled.full_s.get_or_insert(now.t_s);
            break;
        }
        if now.t_s >= task.most_s {
            filling.tell(FillWhat::Time, None);
            break;
        }
        filling.step(&now, &pace);
    }
    Some(filling.close())
}

/// What the pack shows at one moment.
struct Now {
    t_s: f64,
    current_a: f64,
    set_by: SetBy,
    group_v: Vec<f64>,
    /// Group with the maximum voltage.
    highest: usize,
}

impl Now {
    fn pack_v(&self) -> f64 {
        self.group_v.iter().sum()
    }
}

/// A charge while it goes on.
struct Filling<'t> {
    task: &'t FillTask,
    warming: Warming,
    rise_k: Vec<f64>,
    states: Vec<CellState>,
    bleed_a: Vec<f64>,
    t_s: f64,
    open: bool,
    ended: bool,
    level: bool,
    filled: Filled,
}

impl<'t> Filling<'t> {
    fn new(task: &'t FillTask) -> Option<Filling<'t>> {
        let ambient_c = task.warmth.ambient_c;
        let states: Vec<CellState> =
            task.groups.iter().zip(&task.soc).map(|(group, soc)| group.rested(*soc, ambient_c)).collect();
        let mut filling = Filling {
            task,
            warming: task.warmth.paths.every(task.step_s)?,
            rise_k: vec![0.0; task.warmth.lump_of.iter().max()? + 1],
            bleed_a: vec![0.0; states.len()],
            states,
            t_s: 0.0,
            open: false,
            ended: false,
            level: false,
            filled: Filled {
                moments: vec![],
                events: vec![],
                most_s: None,
                full_s: None,
                charged_ah: 0.0,
                pack_wh: 0.0,
                bled_wh: 0.0,
                opened: 0,
                hottest_c: ambient_c,
                states: vec![],
                rested_v: vec![],
            },
        };
        filling.level = filling.is_level();
        Some(filling)
    }

    /// Current and voltage as the groups stand, with the board and the charger as they were.
    fn observe(&self) -> Now {
        let behind: Vec<(f64, f64)> =
            self.task.groups.iter().zip(&self.states).map(|(g, s)| (g.behind_v(s), g.r0_ohm(s))).collect();
        // A bleeder's current takes its own drop in the resistance of its group.
        let rest_v: f64 = behind.iter().zip(&self.bleed_a).map(|((v, r), b)| v - b * r).sum();
        let ohm = behind.iter().map(|(_, r)| r).sum::<f64>() + self.task.path_ohm;
        let lowest_v = behind.iter().map(|(v, _)| *v).fold(f64::INFINITY, f64::min);
        let (may_a, set_by) = self.task.charger_a(rest_v, ohm, lowest_v);
        let current_a = if self.open || self.ended { 0.0 } else { may_a };
        let group_v: Vec<f64> = behind.iter().zip(&self.bleed_a).map(|((v, r), b)| v + (current_a - b) * r).collect();
        let highest = (0..group_v.len()).max_by(|&a, &b| group_v[a].total_cmp(&group_v[b])).unwrap_or(0);
        Now { t_s: self.t_s, current_a, set_by, group_v, highest }
    }

    fn tell(&mut self, what: FillWhat, group: Option<usize>) {
        self.filled.events.push(FillEvent { at_s: self.t_s, what, group });
    }

    /// What comes again and again is told the first time.
    fn tell_once(&mut self, what: FillWhat, group: Option<usize>) {
        if self.filled.events.iter().all(|e| e.what != what) {
            self.tell(what, group);
        }
    }

    fn end(&mut self, group: Option<usize>) {
        self.ended = true;
        self.filled.full_s.get_or_insert(self.t_s);
        self.tell_once(FillWhat::Ends, group);
    }

    fn board_acts(&mut self, now: &Now) {
        let Some(board) = self.task.board else { return };
        let highest_v = now.group_v[now.highest];
        if !self.open && highest_v >= board.at_v {
            self.open = true;
            self.filled.opened += 1;
            self.tell_once(FillWhat::BoardOpens, Some(now.highest));
            // A charger that ends by its current takes the open board for a full pack.
            if self.task.charger.ends_a.is_some() && !self.ended {
                self.end(Some(now.highest));
            }
        } else if self.open && highest_v < board.closes_v {
            self.open = false;
            self.tell_once(FillWhat::BoardCloses, Some(now.highest));
        }
    }

    fn charger_acts(&mut self, now: Now) -> Now {
        let holds = now.set_by == SetBy::Cells;
        if self.ended && !self.open && self.task.charger.restart_v.is_some_and(|v| now.pack_v() < v) {
            self.ended = false;
            self.tell_once(FillWhat::Restarts, None);
        } else if holds && !self.ended && !self.open {
            self.tell_once(FillWhat::Holds, None);
            if self.task.charger.ends_a.is_some_and(|a| now.current_a <= a) {
                self.end(None);
            }
        }
        // What changed now changes the current.
        self.observe()
    }

    fn bleeders_act(&mut self, now: &Now) {
        let lowest_v = now.group_v.iter().copied().fold(f64::INFINITY, f64::min);
        // A hobby charger balances only while it charges.
        let balances = !self.ended || matches!(self.task.bleeds, Some(Bleeds::Above { .. }));
        for (bleed_a, group_v) in self.bleed_a.iter_mut().zip(&now.group_v) {
            *bleed_a = if balances { self.task.bleed_a(*group_v, lowest_v) } else { 0.0 };
        }
        if self.bled() > 0 {
            self.tell_once(FillWhat::Bleeds, Some(now.highest));
        }
    }

    fn bled(&self) -> usize {
        self.bleed_a.iter().filter(|a| **a > 0.0).count()
    }

    fn is_level(&self) -> bool {
        let soc = || self.states.iter().map(|s| s.soc);
        soc().fold(f64::NEG_INFINITY, f64::max) - soc().fold(f64::INFINITY, f64::min) <= LEVEL_SHARE
    }

    fn rested_v(&self) -> Vec<f64> {
        self.task.groups.iter().zip(&self.states).map(|(g, s)| g.curve.extended_v(s.soc)).collect()
    }

    fn tell_progress(&mut self, now: &Now) {
        let soc = self.states.iter().map(|s| s.soc).sum::<f64>() / self.states.len() as f64;
        if self.filled.most_s.is_none() && soc >= MOST_OF_IT {
            self.filled.most_s = Some(now.t_s);
            self.tell(FillWhat::MostOfIt, None);
        }
        let level = self.is_level();
        if level && !self.level {
            self.tell_once(FillWhat::Level, None);
        }
        self.level = level;
        let hottest_c = self.states.iter().map(|s| s.cell_c()).fold(f64::NEG_INFINITY, f64::max);
        self.filled.hottest_c = self.filled.hottest_c.max(hottest_c);
        self.filled.moments.push(FillMoment {
            t_s: now.t_s,
            pack_v: now.pack_v(),
            current_a: now.current_a,
            group_v: now.group_v.clone(),
            soc,
            hottest_c,
            bled: self.bled(),
            set_by: (now.current_a > 0.0).then_some(now.set_by),
        });
    }

    /// Nothing flows any more, and nothing waits for voltage to fall so that it may act again.
    fn settled(&self, now: &Now) -> bool {
        // Bleeders and a charger that holds its volts can balance one another without end.
        let still_a = 1e-3 * self.task.charger.current_a;
        let at_rest = self.bleed_a.iter().all(|bleed_a| (now.current_a - bleed_a).abs() < still_a);
        let waits = (self.open && !self.ended) || (self.ended && self.task.charger.restart_v.is_some());
        let still = || self.states.iter().all(|s| s.pair_v.iter().all(|v| v.abs() < 1e-4));
        at_rest && (!waits || still())
    }

    fn step(&mut self, now: &Now, pace: &Pace) {
        let hours = self.task.step_s / SECONDS_PER_HOUR;
        let lumps = &self.task.warmth.lump_of;
        let mut heat_w = vec![0.0; self.rise_k.len()];
        for (k, (group, state)) in self.task.groups.iter().zip(&mut self.states).enumerate() {
            heat_w[lumps[k]] += group.step(state, self.bleed_a[k] - now.current_a, pace);
            self.filled.bled_wh += self.bleed_a[k] * now.group_v[k] * hours;
        }
        self.warming.step(&mut self.rise_k, &heat_w);
        for ((group, state), lump) in self.task.groups.iter().zip(&mut self.states).zip(lumps) {
            group.warm(state, self.task.warmth.ambient_c + self.rise_k[*lump]);
        }
        self.filled.charged_ah += now.current_a * hours;
        self.filled.pack_wh += now.current_a * now.pack_v() * hours;
        self.t_s += self.task.step_s;
    }

    fn close(mut self) -> Filled {
        self.filled.rested_v = self.rested_v();
        self.filled.states = self.states;
        self.filled
    }
}
