//! A plan as a task for the simulation.

use super::{Recorded, StartsAt, WhatIf, pattern};
use crate::assess::Workspace;
use crate::assess::figures::brick::STRIPS_OHM;
use crate::assess::figures::cells::{LINE_COLD_OHM, PACK_AH, PACK_OHM};
use crate::assess::figures::charging::PER_CELL_V;
use crate::assess::figures::converter::EFFICIENCY;
use crate::assess::figures::curve::{cell_curve, fitted};
use crate::assess::figures::device::{CUTOUT_V, LOWEST_V, ORIGINAL_V};
use crate::assess::figures::protection::BLEED_A;
use crate::assess::figures::run::usual_c;
use crate::assess::figures::run::{TIME_S, unstated_error};
use crate::assess::figures::voltage::{CELL_FLOOR_V, CELL_FULL_V, CONVERTER_NEEDS_V, LINE_FLOOR_V, LINE_NOMINAL_V};
use crate::assess::figures::wiring::PATH_OHM;
use crate::base::chemistry::{COLD_DOUBLES_BAND_K, COLD_DOUBLES_K, Chemistry, OcvCurve};
use crate::physics::brick::{HeatPaths, block_paths};
use crate::physics::device::{self, LONG_S, Together};
use crate::physics::run::{Asks, CellModel, Joined, Level, Limit, PackTask, Through, Warmth, Watched, Who, typical};
use crate::plan::{DeviceKind, Draw, FittedCell, Known, Load, NodeKind, Position, SecondPack};

/// No cell is used above this. Common practice, no source.
const CELL_MOST_C: f64 = 60.0;
/// What a DCIR without a stated error is trusted to. Assumed: data sheets state a typical one.
const DCIR_SHARE: f64 = 0.2;
/// What a capacity is trusted to: as tested, as rated. Assumed.
const TESTED_SHARE: f64 = 0.02;
const RATED_SHARE: f64 = 0.05;
/// What a line through common figures is trusted to, in charge. Assumed.
const LINE_SHARE: f64 = 0.1;
/// Steps that a run is gone through in, about.
const STEPS: f64 = 1500.0;
/// The calculation ends after so many times the run time in closed form, and after a month.
const TIMES_LONGER: f64 = 6.0;
const MONTH_S: f64 = 30.0 * 24.0 * 3600.0;
/// Longest step of cells that share their current through strips: a longer one would swing.
const STRIPS_STEP_S: f64 = 5.0;

/// By how much inputs may be off, all to one side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Off {
    /// Factor of the load.
    pub load: f64,
    /// Factor of the capacity.
    pub capacity: f64,
    /// Factor of the cells' resistance.
    pub resistance: f64,
    /// Surroundings.
    pub ambient_c: f64,
    /// Kelvin that double the cells' resistance.
    pub doubles_every_k: f64,
}

/// What a run is made of.
pub struct Setup<'b, 'p> {
    /// The plan on its bench.
    pub workspace: &'b Workspace<'p>,
    /// What is different.
    pub what: &'b WhatIf,
    starts: StartsAt,
    chemistry: Chemistry,
    recorded: Recorded<'b>,
    /// Capacity of each group.
    group_ah: Vec<f64>,
    /// Resistance of each group: DCIR at 25 C.
    group_ohm: Vec<f64>,
    parallel: usize,
    /// What a cell was fitted to, if it is the one that is chosen.
    fitted: Option<&'b FittedCell>,
    /// Open-circuit curve of the cells.
    curve: OcvCurve,
}

/// The cells of a task.
struct Cells {
    cells: Vec<CellModel>,
    soc: Vec<f64>,
    joined: Joined,
    warmth: Warmth,
}

/// Whether cells are told apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Detail {
    /// Cell by cell, through the strips, where they are laid out.
    Cells,
    /// Group by group.
    Groups,
}

/// How finely a run is gone through.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pace {
    /// Steps against the usual length.
    longer: f64,
    /// Most of them.
    most_steps: u64,
}

impl Pace {
    /// A run whose course is shown.
    pub const FINE: Pace = Pace { longer: 1.0, most_steps: 2_000_000 };
    /// An end of a band: it is no closer known than that.
    pub const BAND: Pace = Pace { longer: 3.0, most_steps: 500_000 };
    /// One of many.
    pub const MAP: Pace = Pace { longer: 4.0, most_steps: 50_000 };
}

/// A level of the survey.
///
/// A motor that stalls now and then draws what its winding lets through, V / R, whatever the voltage: R is that of the current
/// surveyed on the old battery, at its nominal voltage. Every other current stays what it is when the voltage change.
pub fn level(workspace: &Workspace<'_>, load: &Load) -> Level {
    let stalls = workspace.plan.device.kind == DeviceKind::Motor
        && workspace.converter().is_none()
        && load.every_s.is_none()
        && load.duration_s.is_some_and(|s| s <= LONG_S);
    let old_v = workspace.ledger.value(&ORIGINAL_V).filter(|_| stalls);
    let asks = match (&load.draw, old_v) {
        (Draw::Current { value_a }, Some(old_v)) if value_a.value > 0.0 => Asks::Resistance(old_v / value_a.value),
        (draw, _) => asked(draw),
    };
    Level { asks: asks.beside(beside(workspace)), duration_s: load.duration_s, every_s: load.every_s }
}

/// What is connected beside the device, as the device's terminals would see it: behind a converter the battery gives its efficiency's
/// share more for a watt there than for one of its own.
fn beside(workspace: &Workspace<'_>) -> Together {
    let (at_battery, at_output) = workspace.beside();
    let (Some(_), false) = (workspace.converter(), at_battery.is_nothing()) else { return at_output.and(at_battery) };
    let l = &workspace.ledger;
    let (efficiency, volts) = (l.value(&EFFICIENCY).unwrap_or(1.0), l.value(&LINE_NOMINAL_V).unwrap_or(0.0));
    let power_w = efficiency * at_battery.at_a(volts) * volts;
    at_output.and(Together { power_w, ..Together::default() })
}

fn asked(draw: &Draw) -> Asks {
    match draw {
        Draw::Current { value_a } => Asks::Current(value_a.value),
        Draw::Power { value_w } => Asks::Power(value_w.value),
        Draw::Resistance { value_ohm } => Asks::Resistance(value_ohm.value),
    }
}

/// Voltage of every group at rest, if each was read.
pub fn all_read(workspace: &Workspace<'_>) -> Option<Vec<f64>> {
    let read = &workspace.pack.group_v;
    // The second pack's groups were not read.
    if workspace.position() != Position::One {
        return None;
    }
    (workspace.pack.series == Some(read.len() as u32)).then(|| read.iter().map(|k| k.value).collect())
}

/// Pack voltage at which the cut-off acts: the cut-off board's, else the highest that anything acts at, else the floor.
pub fn cut_off_v(workspace: &Workspace<'_>) -> f64 {
    let boards = workspace.line.nodes.iter().filter_map(|n| n.module()?.cuts_off.as_ref().map(|c| c.at_v));
    let guards = || workspace.guards.iter().filter(|g| !g.only_warns).filter_map(|g| g.pack_v);
    boards
        .reduce(f64::max)
        .or_else(|| guards().reduce(f64::max))
        .or(workspace.ledger.value(&LINE_FLOOR_V))
        .unwrap_or(0.0)
}

/// Where the plan holds the threshold of its cut-off board.
pub fn cut_off_pointer(workspace: &Workspace<'_>) -> Option<String> {
    let node = workspace.line.nodes.iter().find(|n| n.module().is_some_and(|m| m.cuts_off.is_some()))?;
    let index = workspace.plan.nodes.iter().position(|n| n.id == node.id)?;
    Some(format!("/nodes/{index}/part/part/module/cuts_off/at_v"))
}

/// Voltage a cell is charged to.
pub fn charged_to_v(workspace: &Workspace<'_>) -> Option<f64> {
    let full_v = workspace.ledger.value(&CELL_FULL_V)?;
    Some(workspace.ledger.value(&PER_CELL_V).map_or(full_v, |v| v.min(full_v)))
}

/// Adds the further packs to the groups of the first: further groups in series, more of each side by side. Where nothing else
/// is stated it is as the first.
fn join(
    position: Position,
    second: &SecondPack,
    (ah, ohm, series): (f64, f64, f64),
    group_ah: &mut Vec<f64>,
    group_ohm: &mut Vec<f64>,
) {
    let (other_ah, other_ohm) = (second.capacity_ah.unwrap_or(ah), second.pack_ohm.unwrap_or(ohm));
    match position {
        Position::One | Position::Other => {}
        Position::Series => {
            let each = second.series.map_or(group_ah.len(), |s| s as usize);
            let more = each * second.count.unwrap_or(1) as usize;
            group_ah.extend(std::iter::repeat_n(other_ah, more));
            group_ohm.extend(std::iter::repeat_n(other_ohm / each as f64, more));
        }
        Position::Parallel => {
            let each_ohm = other_ohm / series / second.alike();
            group_ah.iter_mut().for_each(|own_ah| *own_ah += second.alike() * other_ah);
            group_ohm.iter_mut().for_each(|own_ohm| *own_ohm = *own_ohm * each_ohm / (*own_ohm + each_ohm));
        }
    }
}

impl<'b, 'p> Setup<'b, 'p> {
    /// What a run of the plan is made of. `None` while something is missing.
    pub fn of(
        workspace: &'b Workspace<'p>,
        what: &'b WhatIf,
        starts: StartsAt,
        recorded: Recorded<'b>,
    ) -> Option<Self> {
        let (series, parallel) = workspace.counts()?;
        let l = &workspace.ledger;
        let (pack_ah, pack_ohm) = (l.value(&PACK_AH)?, l.value(&PACK_OHM)?);
        let groups = &workspace.pack.groups;
        let told = groups.len() == series as usize && groups.iter().all(|g| g.cells.len() == parallel as usize);
        let tested: Option<Vec<f64>> =
            groups.iter().map(|g| g.cells.iter().map(|c| c.capacity_ah.filter(|ah| *ah > 0.0)).sum()).collect();
        let siemens = |c: &crate::plan::ChosenCell| c.resistance_ohm.filter(|r| *r > 0.0).map(|r| 1.0 / r);
        let read: Option<Vec<f64>> = groups
            .iter()
            .map(|g| g.cells.iter().map(siemens).sum::<Option<f64>>().map(|siemens| 1.0 / siemens))
            .collect();
        let alike = |value: f64| vec![value; series as usize];
        let fitted = fitted(workspace);
        let cell_ah = fitted.map(|f| f.capacity_ah * parallel);
        let cell_ohm = fitted.map(|f| f.dcir_ohm / parallel);
        let mut group_ah = tested.filter(|_| told).unwrap_or_else(|| alike(cell_ah.unwrap_or(pack_ah)));
        let mut group_ohm = read.filter(|_| told).unwrap_or_else(|| alike(cell_ohm.unwrap_or(pack_ohm / series)));
        if let Some(second) = &workspace.plan.feed.second {
            join(workspace.position(), second, (pack_ah, pack_ohm, series), &mut group_ah, &mut group_ohm);
        }
        let chemistry = workspace.pack.chemistry?;
        Some(Setup {
            curve: cell_curve(workspace)?,
            workspace,
            what,
            starts,
            chemistry,
            recorded,
            group_ah,
            group_ohm,
            parallel: parallel as usize,
            fitted,
        })
    }

    /// The inputs as they are believed.
    pub fn as_believed(&self) -> Off {
        let ambient_c = self.what.ambient_c.unwrap_or_else(|| usual_c(&self.workspace.plan.environment));
        Off { load: 1.0, capacity: 1.0, resistance: 1.0, ambient_c, doubles_every_k: COLD_DOUBLES_K }
    }

    /// The inputs at the end of their bands that makes the run short, and at the one that makes it long.
    pub fn ends_of_bands(&self) -> [Off; 2] {
        let env = &self.workspace.plan.environment;
        let load = self.load_error();
        let line = if self.curve.assumed { LINE_SHARE } else { 0.0 };
        let tested = self.workspace.pack.groups.iter().flat_map(|g| &g.cells).any(|c| c.capacity_ah.is_some());
        let known = tested || self.fitted.is_some();
        let capacity = line + if known { TESTED_SHARE } else { RATED_SHARE };
        let dcir = self.workspace.cell().and_then(|c| c.dcir_ohm.as_ref()).and_then(relative).unwrap_or(DCIR_SHARE);
        let at = |c: f64| self.what.ambient_c.unwrap_or(c);
        // Below 25 °C a steep law makes the most of the resistance, above it a flat one.
        let (steep_k, flat_k) = COLD_DOUBLES_BAND_K;
        let law = |c: f64, most: bool| if (c < 25.0) == most { steep_k } else { flat_k };
        let (cold_c, warm_c) = (at(env.use_min_c), at(env.use_max_c.max(env.use_min_c)));
        [
            Off {
                load: 1.0 + load,
                capacity: 1.0 - capacity,
                resistance: 1.0 + dcir,
                ambient_c: cold_c,
                doubles_every_k: law(cold_c, true),
            },
            Off {
                load: 1.0 - load,
                capacity: 1.0 + capacity,
                resistance: 1.0 - dcir,
                ambient_c: warm_c,
                doubles_every_k: law(warm_c, false),
            },
        ]
    }

    /// Largest error of the readings that the load rests on; those without a stated one count for what they usually do.
    fn load_error(&self) -> f64 {
        let stated = self.workspace.asked.iter().filter_map(|a| relative(device::reading(&a.load.draw)));
        stated.fold(unstated_error(self.workspace), f64::max)
    }

    /// Charge of a group.
    pub fn group_ah(&self, group: usize) -> f64 {
        self.group_ah[group]
    }

    /// A cell of so much charge and resistance, its inputs as far off as told.
    fn cell(&self, capacity_ah: f64, dcir_ohm: f64, off: Off) -> CellModel {
        let usual = typical(self.chemistry).cell(self.chemistry, capacity_ah * off.capacity, dcir_ohm * off.resistance);
        let diffusion_s = self.fitted.map_or(usual.diffusion_s, |f| f.diffusion_s);
        let doubles_every_k = usual.doubles_every_k.map(|_| off.doubles_every_k);
        CellModel { diffusion_s, doubles_every_k, curve: self.curve.clone(), ..usual }
    }

    /// Each group as one cell.
    pub fn groups(&self, off: Off) -> Vec<CellModel> {
        let one = |(ah, ohm): (&f64, &f64)| self.cell(*ah, *ohm, off);
        self.group_ah.iter().zip(&self.group_ohm).map(one).collect()
    }

    /// State of charge of each group at the start.
    pub fn starts_at(&self) -> Vec<f64> {
        let ocv = &self.curve;
        let charged_v = self.what.charge_v.or_else(|| charged_to_v(self.workspace));
        let full = charged_v.map_or(1.0, |v| ocv.soc(v));
        let even = || vec![full; self.group_ah.len()];
        let Some(read_v) = all_read(self.workspace) else { return even() };
        let soc: Vec<f64> = read_v.iter().map(|v| ocv.soc(*v)).collect();
        match self.starts {
            StartsAt::AsRead => soc,
            // Without bleeders the groups stay as far apart as they were read: the first that is full ends the charge.
            StartsAt::Full
                if self.workspace.ledger.value(&BLEED_A).is_none_or(|a| a <= 0.0) && !self.hobby_charger() =>
            {
                let lacks_ah: Vec<f64> = soc.iter().zip(&self.group_ah).map(|(s, ah)| (full - s) * ah).collect();
                let least_ah = lacks_ah.iter().copied().fold(f64::INFINITY, f64::min);
                lacks_ah.iter().zip(&self.group_ah).map(|(lacks, ah)| full - (lacks - least_ah) / ah).collect()
            }
            StartsAt::Full => even(),
        }
    }

    fn hobby_charger(&self) -> bool {
        self.workspace.charges().is_some_and(|c| c.balance_a.is_some())
    }

    /// Whether cell by cell can be told.
    pub fn detail(&self) -> Detail {
        let laid = self.workspace.laid.as_ref().is_some_and(|l| l.suits());
        if laid
            && self.workspace.position() == Position::One
            && self.workspace.sharing.is_some()
            && self.workspace.strip().is_some()
        {
            Detail::Cells
        } else {
            Detail::Groups
        }
    }

    /// The heat of groups that stand as one cell each: one lump for all of them.
    pub fn block(&self, ambient_c: f64) -> Option<Warmth> {
        let cell = self.workspace.cell()?;
        let count = self.group_ah.len() * self.parallel;
        let paths = block_paths(&cell.size, cell.offer.mass_g, count);
        Some(Warmth { paths, lump_of: vec![0; self.group_ah.len()], ambient_c })
    }

    /// The run as a task.
    pub fn task(&self, off: Off, detail: Detail, pace: &Pace) -> Option<PackTask> {
        let workspace = self.workspace;
        let l = &workspace.ledger;
        let way_ohm =
            l.value(&PATH_OHM).zip(l.value(&LINE_COLD_OHM)).map_or(0.0, |(way, cells)| (way - cells).max(0.0));
        let expected_s = l.value(&TIME_S).filter(|s| *s > 0.0).unwrap_or(3600.0);
        let usual_s = (expected_s / STEPS * pace.longer).clamp(0.5, 60.0);
        let (cells, path_ohm, step_s) = match detail {
            Detail::Cells => {
                let strips_ohm = l.value(&STRIPS_OHM).unwrap_or(0.0);
                (self.told_apart(off)?, (way_ohm - strips_ohm).max(0.0), usual_s.min(STRIPS_STEP_S))
            }
            Detail::Groups => (self.in_groups(off)?, way_ohm, usual_s),
        };
        let factor = self.what.load_factor.unwrap_or(1.0) * off.load;
        Some(PackTask {
            cells: cells.cells,
            soc: cells.soc,
            joined: cells.joined,
            warmth: cells.warmth,
            path_ohm,
            through: self.through(),
            load: pattern(workspace, self.recorded)?.times(factor),
            limits: self.limits(),
            step_s,
            most_steps: pace.most_steps,
            most_s: (expected_s * TIMES_LONGER / factor).clamp(3600.0, MONTH_S),
        })
    }

    /// Each group as one cell, joined without resistance.
    fn in_groups(&self, off: Off) -> Option<Cells> {
        Some(Cells {
            cells: self.groups(off),
            soc: self.starts_at(),
            joined: Joined::Ideal { parallel: 1 },
            warmth: self.block(off.ambient_c)?,
        })
    }

    /// Every cell, joined by its strips.
    fn told_apart(&self, off: Off) -> Option<Cells> {
        let workspace = self.workspace;
        let (laid, sharing, strip) = (workspace.laid.as_ref()?, workspace.sharing.as_deref()?, workspace.strip()?);
        let count = sharing.cell_ohm.len();
        let starts_at = self.starts_at();
        let chosen: Vec<_> = workspace.pack.groups.iter().flat_map(|g| &g.cells).collect();
        let own_ah = |k: usize| chosen.get(k).and_then(|c| c.capacity_ah).filter(|ah| *ah > 0.0);
        let alone = |k: usize| {
            let ah = own_ah(k).unwrap_or(self.group_ah[k / self.parallel] / self.parallel as f64);
            // As read on each, or as fitted to one; else as stated.
            let read = chosen.get(k).and_then(|c| c.resistance_ohm).is_some();
            let fitted_ohm = self.fitted.map(|f| f.dcir_ohm).filter(|_| !read);
            let ohm = fitted_ohm.unwrap_or(sharing.cell_ohm[k] - sharing.contacts_ohm);
            self.cell(ah, ohm, off)
        };
        let joined =
            Joined::Strips { parallel: self.parallel, contacts_ohm: sharing.contacts_ohm, circuit: sharing.circuit() };
        let paths = HeatPaths::of(laid, strip, sharing, workspace.cell()?.offer.mass_g)?;
        Some(Cells {
            cells: (0..count).map(alone).collect(),
            soc: (0..count).map(|k| starts_at[k / self.parallel]).collect(),
            joined,
            warmth: Warmth { paths, lump_of: (0..count).collect(), ambient_c: off.ambient_c },
        })
    }

    fn through(&self) -> Through {
        match self.workspace.converter() {
            Some((_, c)) => Through::Converter {
                output_v: c.output_v,
                efficiency: self.workspace.ledger.value(&EFFICIENCY).unwrap_or(1.0),
                own_w: c.own_w.unwrap_or(0.0),
            },
            None => Through::Straight,
        }
    }

    /// What ends the run.
    fn limits(&self) -> Vec<Limit> {
        let workspace = self.workspace;
        let l = &workspace.ledger;
        let limit = |who, name: Option<&str>, watched| Limit {
            who,
            name: name.map(str::to_owned),
            watched,
            ends: true,
            delay_s: 0.0,
        };
        let mut limits = vec![];
        let modules = || workspace.line.nodes.iter().filter_map(|n| n.module());
        for module in modules() {
            let name = Some(module.offer.name.as_str());
            if let Some(board) = &module.protects {
                limits.extend(board.over_discharge_v.map(|v| limit(Who::Board, name, Watched::GroupBelow(v))));
                let trips = board.trip_a.as_ref().map(|trip| Limit {
                    delay_s: board.trip_delay_s.unwrap_or(0.0),
                    ..limit(Who::Trip, name, Watched::MoreThan(trip.value))
                });
                limits.extend(trips);
            }
        }
        let cut_off =
            modules().filter_map(|m| Some((m, m.cuts_off.as_ref()?))).max_by(|a, b| a.1.at_v.total_cmp(&b.1.at_v));
        match (self.what.cutoff_v, cut_off) {
            (Some(at_v), part) => {
                let name = part.map(|(m, _)| m.offer.name.as_str());
                limits.push(limit(Who::CutOff, name, Watched::PackBelow(at_v)));
            }
            (None, Some((m, cuts))) => {
                limits.push(limit(Who::CutOff, Some(&m.offer.name), Watched::PackBelow(cuts.at_v)));
            }
            (None, None) => {}
        }
        if let Some((module, _)) = workspace.converter() {
            let needs = l.value(&CONVERTER_NEEDS_V);
            limits.extend(needs.map(|v| limit(Who::Converter, Some(&module.offer.name), Watched::FeedBelow(v))));
        } else {
            limits.extend(l.value(&CUTOUT_V).map(|v| limit(Who::CutOut, None, Watched::FeedBelow(v))));
            // A dip shorter than a peak dims a lamp and resets electronics, but does not end the use.
            let needs = l.value(&LOWEST_V);
            limits.extend(needs.map(|v| Limit { delay_s: LONG_S, ..limit(Who::Device, None, Watched::FeedBelow(v)) }));
        }
        limits.extend(l.value(&CELL_FLOOR_V).map(|v| limit(Who::Floor, None, Watched::GroupBelow(v))));
        limits.push(limit(Who::Heat, None, Watched::HotterThan(CELL_MOST_C)));
        let alarm = workspace.plan.module(NodeKind::Alarm).and_then(|m| Some((m, m.alarms.as_ref()?)));
        limits.extend(alarm.map(|(m, a)| Limit {
            ends: false,
            ..limit(Who::Alarm, Some(&m.offer.name), Watched::GroupBelow(a.at_cell_v))
        }));
        limits
    }
}

/// Error of a reading against its value.
fn relative(known: &Known) -> Option<f64> {
    known.error.filter(|_| known.value > 0.0).map(|e| (e / known.value).min(0.9))
}
