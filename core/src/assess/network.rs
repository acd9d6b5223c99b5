//! What flows in every strip and cell of a laid brick, how warm that makes it, and the other ways to take the current
//! off: for the screen, the tables and the command line. The verdicts rest on the same sharing, in `figures` and `rules`.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures::cells::PACK_OHM;
use super::figures::load::{CONTINUOUS_A, PEAK_A, PEAK_S, RMS_A};
use super::figures::run::TIME_S;
use super::fill;
use super::workspace::Workspace;
use crate::physics::brick::{HeatPaths, JointWire, Laid, Sharing, Study, cuts, label, seen_mm, strip_places, study};
use crate::plan::{Change, Choice, FieldError, Plan, Strip, TakeOff};

/// Where no run time is known, a continuous level is looked at after this.
const USUAL_AFTER_S: f64 = 3600.0;

/// A cell under the continuous current.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CellLoad {
    /// Its place in the layout, from 0.
    pub cell: usize,
    /// Group and letter.
    pub label: String,
    /// Its current against an even share of its group's.
    pub even_share: f64,
    /// Its current.
    pub current_a: f64,
    /// Its temperature at the end of a run in the hottest use, at the RMS current.
    pub after_c: Option<f64>,
    /// The same without an end.
    pub steady_c: Option<f64>,
}

/// A strip from weld to weld, or a joint's wire, under the continuous current.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SegmentLoad {
    /// The face it lies on, as its place in the drawing; absent is a wire.
    pub face: Option<usize>,
    /// Its strip's number on that face.
    pub strip: Option<usize>,
    /// Its node.
    pub node: usize,
    /// What it joins.
    pub joins: String,
    /// One weld from the left of the face.
    pub x1_mm: f64,
    /// One weld from above.
    pub y1_mm: f64,
    /// The other weld from the left.
    pub x2_mm: f64,
    /// The other weld from above.
    pub y2_mm: f64,
    /// Its part of the pack's current.
    pub pack_share: f64,
    /// Its current, whichever way.
    pub current_a: f64,
    /// What it is rated for continuously; absent for a wire that is not chosen.
    pub limit_a: Option<f64>,
    /// Its current against that.
    pub used: Option<f64>,
    /// Its resistance.
    pub resistance_ohm: f64,
    /// Voltage across it.
    pub drop_v: f64,
    /// Its heat.
    pub heat_w: f64,
}

/// What a load level does to the brick.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LevelLoad {
    /// Id of the level.
    pub load: String,
    /// The maker's word for it.
    pub name: String,
    /// Current at the battery.
    pub current_a: f64,
    /// Voltage lost in strips and joints.
    pub drop_v: f64,
    /// Heat of cells, strips and joints together.
    pub heat_w: f64,
    /// After which time the temperature is given: its length, or what was asked for.
    pub after_s: f64,
    /// Hottest cell then, from the hottest use.
    pub after_c: Option<f64>,
    /// Hottest cell if it went on continuously.
    pub steady_c: Option<f64>,
    /// Which cell is the hottest.
    pub hottest: Option<String>,
}

/// A way to take the current off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TakeOffOption {
    /// Where the wires sit.
    pub take_off: TakeOff,
    /// Cells on which the wire of pack minus sits.
    pub minus: Vec<usize>,
    /// Cells on which the wire of pack plus sits.
    pub plus: Vec<usize>,
    /// Current of each cell against an even share of its group's.
    pub even_share: Vec<f64>,
    /// The largest of them.
    pub most_share: f64,
    /// Current of the pack that the strips are then rated for.
    pub limit_a: Option<f64>,
    /// Resistance of strips and joints.
    pub joints_ohm: f64,
    /// Voltage lost in them at the continuous current.
    pub drop_v: Option<f64>,
    /// Hottest strip or joint: its heat at the continuous current.
    pub hottest_strip_w: Option<f64>,
    /// What it joins.
    pub hottest_strip: Option<String>,
    /// The changes that choose it.
    pub changes: Vec<Change>,
    /// Whether the plan has it.
    pub chosen: bool,
}

/// The strips to cut and weld.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CutSum {
    /// How many.
    pub strips: usize,
    /// Their length together, one layer.
    pub length_mm: f64,
    /// Their mass, all layers.
    pub mass_g: f64,
    /// Welding pulses.
    pub welds: u32,
}

/// The network of a laid brick.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct NetworkReport {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// The continuous current that the currents below are for; one ampere where no load is known.
    pub current_a: f64,
    /// Every cell.
    pub cells: Vec<CellLoad>,
    /// Every strip from weld to weld, then every wire.
    pub segments: Vec<SegmentLoad>,
    /// The segment that is the first to reach its limit.
    pub weakest: Option<usize>,
    /// The hottest cell at the end of a run.
    pub hottest: Option<usize>,
    /// Every load level.
    pub levels: Vec<LevelLoad>,
    /// Every way to take the current off.
    pub take_offs: Vec<TakeOffOption>,
    /// The strips to cut and weld.
    pub cut: Option<CutSum>,
}

/// Solves the network of a plan's brick. `after_s` is the time for levels without an end; absent is the run time.
pub fn network(plan: &Plan, after_s: Option<f64>) -> Result<NetworkReport, Vec<FieldError>> {
    plan.check()?;
    let workspace = fill(plan, None)?;
    let missing = |words: &str| Ok(NetworkReport { missing: Some(words.to_owned()), ..NetworkReport::default() });
    let Some(laid) = workspace.laid.as_ref().filter(|l| l.suits()) else {
        return missing("Lay the cells out first: choose an arrangement.");
    };
    let Some(strip) = workspace.strip() else {
        if matches!(workspace.pack.strip, Choice::None) {
            return missing("This pack has no strips: what its holders or soldered wires carry is not solved.");
        }
        return missing("Choose the strip first: its metal and its size decide what flows.");
    };
    let Some(sharing) = workspace.sharing.as_deref() else {
        return missing("Type the resistance of a cell, or choose the chemistry first.");
    };
    let heat = Heat::of(&workspace, laid, strip, sharing);
    let continuous_a = workspace.ledger.value(&CONTINUOUS_A);
    let current_a = continuous_a.unwrap_or(1.0);
    let rms_a = workspace.ledger.value(&RMS_A);
    let run_s = after_s.unwrap_or_else(|| run_s(&workspace));
    let steady = heat.as_ref().zip(rms_a).and_then(|(h, a)| h.steady_c(a));
    let after = heat.as_ref().zip(rms_a).and_then(|(h, a)| h.after_c(a, run_s));
    let cells = cells(sharing, current_a, after.as_deref(), steady.as_deref());
    let hottest = after.as_deref().and_then(hottest);
    let cut: Vec<_> = cuts(laid, strip);
    Ok(NetworkReport {
        missing: None,
        current_a,
        hottest,
        cells,
        segments: segments(laid, sharing, current_a),
        weakest: sharing.weakest().map(|(k, _)| k),
        levels: levels(&workspace, sharing, heat.as_ref(), run_s),
        take_offs: take_offs(&workspace, laid, strip, continuous_a),
        cut: Some(CutSum {
            strips: cut.len(),
            length_mm: cut.iter().map(|c| c.length_mm).sum(),
            mass_g: cut.iter().map(|c| c.mass_g).sum(),
            welds: cut.iter().map(|c| c.welds).sum(),
        }),
    })
}

/// The heat of a brick at one ampere, and where it goes.
struct Heat {
    paths: HeatPaths,
    w_per_a2: Vec<f64>,
    hottest_use_c: f64,
}

impl Heat {
    fn of(workspace: &Workspace<'_>, laid: &Laid<'_>, strip: &Strip, sharing: &Sharing) -> Option<Heat> {
        let mass_g = laid.pack.cell()?.offer.mass_g;
        let hottest_use_c = workspace.plan.environment.use_max_c;
        let paths = HeatPaths::of(laid, strip, sharing, mass_g)?;
        Some(Heat { paths, w_per_a2: sharing.heat_w_per_a2(), hottest_use_c })
    }

    fn heat_w(&self, current_a: f64) -> Vec<f64> {
        self.w_per_a2.iter().map(|w| w * current_a * current_a).collect()
    }

    fn steady_c(&self, current_a: f64) -> Option<Vec<f64>> {
        let rise_k = self.paths.steady_k(&self.heat_w(current_a))?;
        Some(rise_k.into_iter().map(|k| self.hottest_use_c + k).collect())
    }

    fn after_c(&self, current_a: f64, seconds: f64) -> Option<Vec<f64>> {
        let rise_k = self.paths.after_k(&self.heat_w(current_a), seconds)?;
        Some(rise_k.into_iter().map(|k| self.hottest_use_c + k).collect())
    }
}

/// How the brick of a plan that was checked shares its current, with its continuous current. `None` without a network.
pub(crate) fn sharing_of<T>(plan: &Plan, says: impl FnOnce(&Sharing, Option<f64>) -> T) -> Option<T> {
    let workspace = fill(plan, None).ok()?;
    let continuous_a = workspace.ledger.value(&CONTINUOUS_A);
    workspace.sharing.as_deref().map(|sharing| says(sharing, continuous_a))
}

/// What strips are asked for.
pub(crate) struct StripTask<'a> {
    /// The laid brick, once it is.
    pub laid: Option<&'a Laid<'a>>,
    /// Resistance of a cell.
    pub cell_ohm: f64,
    /// The wire between pieces of a node.
    pub joint: JointWire,
    /// Continuous current.
    pub continuous_a: f64,
    /// Largest peak and its length.
    pub peak: Option<(f64, f64)>,
    /// Series and parallel counts.
    pub counts: (u32, u32),
}

/// What the strips of a plan that was checked are asked for. `None` while the current is unknown.
pub(crate) fn strip_task<T>(plan: &Plan, says: impl FnOnce(StripTask<'_>) -> T) -> Option<T> {
    let workspace = fill(plan, None).ok()?;
    let l = &workspace.ledger;
    let counts = workspace.pack.series.zip(workspace.pack.parallel)?;
    let task = StripTask {
        laid: workspace.laid.as_ref().filter(|l| l.suits()),
        cell_ohm: l.value(&PACK_OHM)? * f64::from(counts.1) / f64::from(counts.0),
        joint: workspace.joint_wire(),
        continuous_a: l.value(&CONTINUOUS_A)?,
        peak: l.value(&PEAK_A).zip(l.value(&PEAK_S)),
        counts,
    };
    Some(says(task))
}

fn hottest(temperatures_c: &[f64]) -> Option<usize> {
    (0..temperatures_c.len()).max_by(|&a, &b| temperatures_c[a].total_cmp(&temperatures_c[b]))
}

fn name(sharing: &Sharing, cell: usize) -> String {
    label(cell / sharing.parallel, cell % sharing.parallel)
}

fn cells(sharing: &Sharing, current_a: f64, after: Option<&[f64]>, steady: Option<&[f64]>) -> Vec<CellLoad> {
    let load = |(cell, share): (usize, &f64)| CellLoad {
        cell,
        label: name(sharing, cell),
        even_share: share * sharing.parallel as f64,
        current_a: share * current_a,
        after_c: after.and_then(|s| s.get(cell).copied()),
        steady_c: steady.and_then(|s| s.get(cell).copied()),
    };
    sharing.cell_share.iter().enumerate().map(load).collect()
}

fn joins(sharing: &Sharing, segment: usize) -> String {
    let ends = sharing.segments[segment].ends.map(|t| name(sharing, t.cell));
    format!("{} – {}", ends[0], ends[1])
}

fn segments(laid: &Laid<'_>, sharing: &Sharing, current_a: f64) -> Vec<SegmentLoad> {
    let places = strip_places(laid);
    let pieces = laid.pieces();
    let load = |k: usize| {
        let segment = &sharing.segments[k];
        let share = sharing.segment_share[k];
        let (own_a, limit_a) = (share.abs() * current_a, Some(sharing.segment_limit_a(k)).filter(|a| a.is_finite()));
        let place = segment.strip.and_then(|at| places.get(&at).copied());
        let end = segment.strip.map(|(piece, _)| pieces[piece].end);
        let [[x1_mm, y1_mm], [x2_mm, y2_mm]] = segment.ends.map(|t| {
            let site = crate::physics::brick::Site::from(&laid.layout.cells[t.cell]);
            end.map_or([0.0; 2], |end| seen_mm(&laid.grid, site, end))
        });
        SegmentLoad {
            face: place.map(|(face, _)| face),
            strip: place.map(|(_, strip)| strip),
            node: segment.node,
            joins: joins(sharing, k),
            x1_mm,
            y1_mm,
            x2_mm,
            y2_mm,
            pack_share: share.abs(),
            current_a: own_a,
            used: limit_a.map(|limit_a| own_a / limit_a),
            limit_a,
            resistance_ohm: segment.ohm,
            drop_v: own_a * segment.ohm,
            heat_w: own_a * own_a * segment.ohm,
        }
    };
    (0..sharing.segments.len()).map(load).collect()
}

/// How long a run lasts, as far as that is known.
fn run_s(workspace: &Workspace<'_>) -> f64 {
    workspace.ledger.value(&TIME_S).filter(|s| *s > 0.0).unwrap_or(USUAL_AFTER_S)
}

fn levels(workspace: &Workspace<'_>, sharing: &Sharing, heat: Option<&Heat>, endless_s: f64) -> Vec<LevelLoad> {
    let one = |asked: &super::workspace::Asked<'_>| {
        let current_a = asked.level.current_a;
        let after_s = asked.level.duration_s.unwrap_or(endless_s);
        let after = heat.and_then(|h| h.after_c(current_a, after_s));
        let steady = heat.and_then(|h| h.steady_c(current_a));
        let at = after.as_deref().and_then(hottest);
        let most = |c: &Vec<f64>| hottest(c).map(|k| c[k]);
        LevelLoad {
            load: asked.load.id.clone(),
            name: asked.load.name.clone(),
            current_a,
            drop_v: current_a * sharing.joints_ohm,
            heat_w: current_a * current_a * sharing.ohm,
            after_s,
            after_c: after.as_ref().and_then(most),
            steady_c: steady.as_ref().and_then(most),
            hottest: at.map(|k| name(sharing, k)),
        }
    };
    workspace.asked.iter().map(one).collect()
}

fn take_offs(
    workspace: &Workspace<'_>,
    laid: &Laid<'_>,
    strip: &Strip,
    continuous_a: Option<f64>,
) -> Vec<TakeOffOption> {
    let Some(pack_ohm) = workspace.ledger.value(&PACK_OHM) else { return vec![] };
    let cell_ohm = pack_ohm * laid.parallel as f64 / laid.series as f64;
    let joint: JointWire = workspace.joint_wire();
    let now = workspace.pack.brick.take_off;
    let option = |s: Study| {
        let sharing = s.sharing;
        let heat_w = |k: &usize| sharing.segment_share[*k].powi(2) * sharing.segments[*k].ohm;
        let hottest = (0..sharing.segments.len()).max_by(|a, b| heat_w(a).total_cmp(&heat_w(b)));
        TakeOffOption {
            take_off: s.take_off,
            minus: sharing.minus.iter().map(|t| t.cell).collect(),
            plus: sharing.plus.iter().map(|t| t.cell).collect(),
            even_share: sharing.cell_share.iter().map(|i| i * sharing.parallel as f64).collect(),
            most_share: sharing.most_loaded().1,
            limit_a: sharing.weakest().map(|(_, a)| a),
            joints_ohm: sharing.joints_ohm,
            drop_v: continuous_a.map(|a| a * sharing.joints_ohm),
            hottest_strip_w: hottest.zip(continuous_a).map(|(k, a)| heat_w(&k) * a * a),
            hottest_strip: hottest.map(|k| joins(&sharing, k)),
            changes: vec![Change::put("/packs/0/brick/take_off", s.take_off)],
            chosen: now == Some(s.take_off),
        }
    };
    study(laid, strip, cell_ohm, joint).into_iter().map(option).collect()
}
