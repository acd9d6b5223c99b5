//! The charge in full: the ways to do it, end voltage and life, its course over time, what may feed it, what was read.

use crate::assess::figures::local::charge_situation;
use serde::Serialize;
use utoipa::ToSchema;

use super::figures::charging::{CABLE_OHM, CHARGER_A, ENDS_A, PER_CELL_V, SUPPLY_A, SUPPLY_W};
use super::figures::voltage::{CELL_FULL_V, EMPTY_V};
use super::fill;
use super::workspace::Workspace;
use crate::base::chemistry;
use crate::physics::charging::{
    self, ChargePart, ChargeWay, ChargerSetUp, EndVolts, FeedOption, FeedTask, Moment, Polarity, TAPER_C_RATE, Through,
};
use crate::physics::converter::SetUpStep;
use crate::plan::{Change, ChargesAs, FieldError, How, Known, NodeKind, Plan};

/// One point of the charge, for the whole pack.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ChargePoint {
    /// Since the start.
    pub t_s: f64,
    /// At the pack.
    pub pack_v: f64,
    /// Into the pack.
    pub current_a: f64,
    /// State of charge.
    pub soc: f64,
}

/// The course of a charge from empty.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeCourse {
    /// From the start to the end.
    pub points: Vec<ChargePoint>,
    /// What sets the current, part by part.
    pub parts: Vec<ChargePart>,
    /// When 80 % is in.
    pub most_s: Option<f64>,
    /// When it ends.
    pub full_s: f64,
}

/// One choice of end voltage.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct EndChoice {
    /// What it costs and gains.
    pub end: EndVolts,
    /// The same for the pack.
    pub pack_v: f64,
    /// Whether the charger ends there.
    pub chosen: bool,
    /// The changes that set the charger to it; none where there is no charger to set.
    pub changes: Vec<Change>,
}

/// What was read at jack, plug and behind the board.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ContactsRead {
    /// Which contact of the jack is plus.
    pub jack: Option<Polarity>,
    /// Which contact of the charger's plug is plus.
    pub plug: Option<Polarity>,
    /// What the voltage behind the board say of it.
    pub through: Option<Through>,
    /// The same in words.
    pub says: Option<&'static str>,
}

/// The charge of a plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeReport {
    /// The ways to charge this pack.
    pub ways: Vec<ChargeWay>,
    /// End voltage from full downwards.
    pub ends: Vec<EndChoice>,
    /// The course; absent until cells and charger are known.
    pub course: Option<ChargeCourse>,
    /// What may feed the charger; empty for one that plugs into the wall.
    pub feeds: Vec<FeedOption>,
    /// What was read.
    pub contacts: ContactsRead,
    /// The changes that put a place for a fuse into the charge lead; none where it has one, or no lead.
    pub fuse_the_lead: Vec<Change>,
    /// Setting a charge module up before it meets the pack; empty for a wall charger, which has nothing to set.
    pub set_up: Vec<SetUpStep>,
    /// Whether the OCV curve is a line through common figures only.
    pub assumed: bool,
}

/// Reports the charge of a plan.
pub fn charge(plan: &Plan) -> Result<ChargeReport, Vec<FieldError>> {
    plan.check()?;
    let workspace = fill(plan, None)?;
    Ok(ChargeReport {
        ways: charging::ways(&charge_situation(&workspace)),
        ends: ends(&workspace).unwrap_or_default(),
        course: course(&workspace),
        feeds: feeds(&workspace).unwrap_or_default(),
        contacts: contacts(plan),
        fuse_the_lead: fuse_the_lead(plan),
        set_up: set_up(&workspace).unwrap_or_default(),
        assumed: workspace.pack.chemistry.is_some_and(|c| chemistry::curve(c).assumed),
    })
}

/// End voltage of which no tolerance is stated may be off by so much. Common practice, no source: 1 %.
const TOLERANCE: f64 = 0.01;

fn set_up(workspace: &Workspace<'_>) -> Option<Vec<SetUpStep>> {
    let l = &workspace.ledger;
    let charger = workspace.charges().filter(|c| !c.own_supply && c.balance_a.is_none())?;
    let limits = match charger.kind {
        ChargesAs::CcCv => true,
        ChargesAs::FixedVolts => false,
        ChargesAs::Nickel | ChargesAs::LeadAcid => return None,
    };
    Some(charging::charger_set_up(&ChargerSetUp {
        end_v: charger.output_v.value,
        tolerance: charger.tolerance.unwrap_or(TOLERANCE),
        charge_a: l.value(&CHARGER_A)?,
        limits,
        supply: workspace.supplies().map(|s| s.output_v).zip(l.value(&SUPPLY_A)),
        empty_v: l.value(&EMPTY_V)?,
        ends_a: l.value(&ENDS_A)?,
    }))
}

fn fuse_the_lead(plan: &Plan) -> Vec<Change> {
    let mut fused = plan.clone();
    if !fused.fuse_the_charge_lead() {
        return vec![];
    }
    vec![Change::put("/nodes", &fused.nodes), Change::put("/runs", &fused.connections)]
}

fn ends(workspace: &Workspace<'_>) -> Option<Vec<EndChoice>> {
    let l = &workspace.ledger;
    let chemistry = workspace.pack.chemistry?;
    let series = f64::from(workspace.pack.series?);
    let full_v = l.value(&CELL_FULL_V)?;
    let curve = chemistry::curve(chemistry);
    // Without a charger the usual end of the current counts, on the typical cell of the chemistry.
    let usual_v = TAPER_C_RATE * chemistry.facts().typical_ohm_ah * charging::DIFFUSION;
    let sag_v = super::figures::charging::task(workspace).map_or(usual_v, |task| task.end_v - task.rests_v());
    let now_v = l.value(&PER_CELL_V);
    let place = workspace
        .charges()
        .filter(|c| c.kind == ChargesAs::CcCv)
        .map(|_| format!("{}/charges/output_v", workspace.module_pointer(NodeKind::Charger)));
    let choice = |end: EndVolts| {
        let pack_v = end.cell_v * series;
        // Half a step: what the charger is nearest to.
        let chosen = now_v.is_some_and(|v| (v - end.cell_v).abs() < 0.025);
        let set = || Known { how: How::Stated, ..Known::stated((pack_v * 1000.0).round() / 1000.0) };
        let changes = place.iter().filter(|_| !chosen).map(|at| Change::put(at.clone(), set())).collect();
        EndChoice { end, pack_v, chosen, changes }
    };
    Some(charging::ends(curve, chemistry, full_v, sag_v).into_iter().map(choice).collect())
}

fn course(workspace: &Workspace<'_>) -> Option<ChargeCourse> {
    let (series, parallel) = workspace.counts()?;
    let course = charging::course(&super::figures::charging::task(workspace)?)?;
    let point = |m: &Moment| ChargePoint {
        t_s: m.t_s,
        pack_v: m.cell_v * series,
        current_a: m.current_a * parallel,
        soc: m.soc,
    };
    Some(ChargeCourse {
        points: course.moments.iter().map(point).collect(),
        parts: course.parts,
        most_s: course.most_s,
        full_s: course.full_s,
    })
}

fn feeds(workspace: &Workspace<'_>) -> Option<Vec<FeedOption>> {
    let charges = workspace.charges().filter(|c| !c.own_supply)?;
    let l = &workspace.ledger;
    Some(charging::feeds(&FeedTask {
        power_w: l.value(&SUPPLY_W)?,
        least_v: charges.input_min_v,
        most_v: charges.input_max_v,
        ends_v: charges.output_v.value,
        cable_ohm: l.value(&CABLE_OHM).unwrap_or(0.0),
    }))
}

fn contacts(plan: &Plan) -> ContactsRead {
    let c = &plan.charging;
    let through = c.cells_v.as_ref().zip(c.out_v.as_ref()).map(|(cells, out)| charging::through(cells, out));
    ContactsRead {
        jack: c.jack_v.as_ref().map(charging::polarity),
        plug: c.plug_v.as_ref().map(charging::polarity),
        through,
        says: through.map(Through::says),
    }
}
