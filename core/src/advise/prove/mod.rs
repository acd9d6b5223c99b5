//! Proving the device before anything is bought: a current-limited bench supply in the old pack's place.
//!
//! What to set, what to read, in order; each reading is judged as it is typed, and what was proved takes the place of
//! what was assumed. Common practice, no source.

mod converter;

pub use converter::converter_set_up;

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::{Assessment, Verdict, assess};
use crate::base::limit::{above, below};
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::physics::device::{self, Level};
use crate::plan::{Change, Draw, FieldError, How, Known, Load, Plan, Proving};

/// Current limit against the current expected: room for the start, not for a short. Common practice, no source.
const LIMIT_FACTOR: f64 = 2.0;
/// Current limit of the first connection, whatever the device draws later: enough to show life, too little to burn. Common
/// practice, no source.
const FIRST_LIMIT_A: f64 = 1.0;
/// A supply set to more than this times the current limit holds nothing that goes wrong. Common practice, no source.
const LIMIT_SLACK: f64 = 3.0;
/// What an ordinary bench supply gives. Common practice, no source.
const SUPPLY_A: f64 = 10.0;
/// Step by which the voltage is lowered, against the voltage to start from.
const DOWN_SHARE: f64 = 0.05;
/// A supply that gives this share of its limit is limiting.
const LIMITING: f64 = 0.95;
/// Drain while off that is worth a caution: a pack of 2 Ah lasts a month at it. Common practice, no source.
const IDLE_A: f64 = 0.003;
/// Difference from the surveyed current that is worth a caution.
const OTHER_DRAW: f64 = 0.3;

/// One step of the procedure.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Step {
    /// Its field in the plan's `device/proving`.
    pub field: &'static str,
    /// What it is about.
    pub title: &'static str,
    /// What to set and do.
    pub act: Phrase,
    /// What the reading says, once there is one.
    pub said: Option<Phrase>,
    /// How it stands.
    pub verdict: Verdict,
    /// Whether it may be done: the steps before it are done and none of them says stop.
    pub open: bool,
}

/// The procedure as it stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Procedure {
    /// What must be known before it can begin.
    pub missing: Option<&'static str>,
    /// The steps, in order.
    pub steps: Vec<Step>,
    /// What the readings make of the survey; empty until something is proved.
    pub changes: Vec<Change>,
}

/// What a step reads, for who does it in another order or at another time.
#[derive(Debug, Clone, PartialEq)]
pub struct Proof {
    /// Its field in the plan's `device/proving`.
    pub field: &'static str,
    /// What it is about.
    pub title: &'static str,
    /// What to set and do.
    pub act: Phrase,
    /// Beyond this, in the unit of the field, the next step is not to be done; none where any reading tells something.
    pub most: Option<f64>,
    /// Why.
    pub because: &'static str,
    /// What the survey says of it.
    pub usual: Option<f64>,
}

/// Voltage between which the device is proved, and the current limit to begin with.
struct Bounds {
    start_v: f64,
    ceiling_v: f64,
    /// Limit while it is connected for the first time, still off.
    first_limit_a: f64,
    /// Limit while it runs.
    limit_a: f64,
    /// What the survey says it draws as usual, at the voltage to start from.
    usual_a: Option<f64>,
}

/// The steps for a plan, with what its readings say so far. Refuses a plan that cannot stand.
pub fn procedure(plan: &Plan) -> Result<Procedure, Vec<FieldError>> {
    let assessment = assess(plan)?;
    let Some(bounds) = bounds(plan, &assessment) else {
        let missing = "Enter the chemistry and cells of the old battery first. They tell the starting voltage and the highest safe one.";
        return Ok(Procedure { missing: Some(missing), steps: vec![], changes: vec![] });
    };
    let p = &plan.device.proving;
    let mut steps = vec![
        limit(p, &bounds),
        idle(p, &bounds),
        lives(p, &bounds),
        draw(p, &bounds),
        down(p, &bounds),
        up(p, &bounds),
    ];
    let mut open = true;
    for step in &mut steps {
        step.open = open;
        open &= !matches!(step.verdict, Verdict::NothingYet | Verdict::Stop);
    }
    let changes = if steps.iter().any(|s| s.verdict == Verdict::Stop) { vec![] } else { proved(plan) };
    Ok(Procedure { missing: None, steps, changes })
}

/// What the proving of a device reads, in order; empty where the voltage to start from are not known. What the device draws, and at
/// which voltage, is not among it where a bench supply gives too little for it.
pub fn proofs(plan: &Plan, assessment: &Assessment) -> Vec<Proof> {
    let Some(b) = bounds(plan, assessment) else { return vec![] };
    let nothing = Proving::default();
    let proof = |step: Step, most, because| Proof {
        field: step.field,
        title: step.title,
        act: step.act,
        most,
        because,
        usual: None,
    };
    let held = "a higher limit would not hold a wrong connection";
    let reversed = "at its limit with the device off: reversed or shorted";
    let mut proofs = vec![
        proof(limit(&nothing, &b), Some(LIMIT_SLACK * b.limit_a), held),
        proof(idle(&nothing, &b), Some(LIMITING * b.first_limit_a), reversed),
        proof(lives(&nothing, &b), None, ""),
    ];
    if b.usual_a.is_none_or(|usual_a| !above(usual_a, SUPPLY_A)) {
        proofs.extend([
            Proof { usual: b.usual_a, ..proof(draw(&nothing, &b), None, "") },
            proof(down(&nothing, &b), Some(b.start_v), "it ran at the voltage you start from"),
            proof(up(&nothing, &b), Some(b.ceiling_v), "its old battery gave no more"),
        ]);
    }
    proofs
}

/// The supply takes the old battery's place: what flows is the device's own current at that voltage, whatever pack and
/// converter are planned.
fn bounds(plan: &Plan, assessment: &Assessment) -> Option<Bounds> {
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let highest = assessment.figure("device.highest_v")?;
    // As far as it was surely run: the low end of what its old battery gave fresh.
    let ceiling_v = highest.low.unwrap_or(highest.value);
    let start_v = value("original.nominal_v").or_else(|| Some(ceiling_v / 1.15))?.min(ceiling_v);
    let at_start = |load: &Load| Level {
        current_a: device::draw_a(&load.draw, start_v),
        duration_s: load.duration_s,
        every_s: load.every_s,
    };
    let levels: Vec<Level> = plan.device.loads.iter().map(at_start).collect();
    let lasting_a = device::continuous_a(&levels);
    let limit_a = if lasting_a > 0.0 { LIMIT_FACTOR * lasting_a } else { FIRST_LIMIT_A };
    let usual_a = device::usual(&plan.device.loads).map(|load| device::draw_a(&load.draw, start_v));
    Some(Bounds { start_v, ceiling_v, first_limit_a: FIRST_LIMIT_A.min(limit_a), limit_a, usual_a })
}

fn step(field: &'static str, title: &'static str, act: Phrase, judged: Option<(Verdict, Phrase)>) -> Step {
    let (verdict, said) = judged.map_or((Verdict::NothingYet, None), |(verdict, said)| (verdict, Some(said)));
    Step { field, title, act, said, verdict, open: false }
}

fn limit(p: &Proving, b: &Bounds) -> Step {
    let act = Phrase::words("Connect nothing yet. Set the supply to ")
        .value(b.start_v, Unit::V)
        .text(" and its current limit to ")
        .value(b.first_limit_a, Unit::A)
        .text("; short its leads once and check that it holds. Type the limit you set.");
    let judged = p.limit_a.map(|limit_a| {
        if above(limit_a, LIMIT_SLACK * b.limit_a) {
            (
                Verdict::Caution,
                Phrase::words("More than three times the limit asked for: a wrong connection would not be held."),
            )
        } else {
            (Verdict::Fine, Phrase::words("It limits whatever goes wrong to that current."))
        }
    });
    step("limit_a", "Set the supply", act, judged)
}

fn idle(p: &Proving, b: &Bounds) -> Step {
    let act = Phrase::words(
        "Supply off. Connect it in place of the old pack, red to plus, and check twice. Device off, supply on: what does it draw?",
    );
    let limit_a = p.limit_a.unwrap_or(b.first_limit_a);
    let judged = p.idle_a.as_ref().map(|read| {
        if !below(read.value, LIMITING * limit_a) {
            (
                Verdict::Stop,
                Phrase::words(
                    "The supply is at its limit with the device off: reversed or shorted. Disconnect at once.",
                ),
            )
        } else if above(read.value, IDLE_A) {
            let said = Phrase::words("It draws ").value(read.value, Unit::A);
            (Verdict::Caution, said.text(" while off. Put a switch between pack and device."))
        } else {
            (Verdict::Fine, Phrase::words("A pack can supply that little for months."))
        }
    });
    step("idle_a", "Connect it, still off", act, judged)
}

fn lives(p: &Proving, b: &Bounds) -> Step {
    let act = if above(b.limit_a, b.first_limit_a) {
        Phrase::words("Switch it on at that limit; if it only tries to start, raise the limit step by step, to ")
            .value(b.limit_a, Unit::A)
            .text(" at most. Does it work, without smell and without anything warm?")
    } else {
        Phrase::words("Switch it on. Does it work, without smell and without anything warm?")
    };
    let judged = p.lives.map(|lives| {
        if lives {
            (Verdict::Fine, Phrase::words("It works: the device is worth a pack."))
        } else {
            (
                Verdict::Stop,
                Phrase::words("It does not work at the voltage of its old battery. Find out why before you buy cells: a fault, or a pack that must identify itself."),
            )
        }
    });
    step("lives", "Switch it on", act, judged)
}

fn draw(p: &Proving, b: &Bounds) -> Step {
    let act = Phrase::words("Running as usual, at ").value(b.start_v, Unit::V).text(": what does it draw?");
    let limit_a = p.limit_a.map_or(b.limit_a, |typed_a| typed_a.max(b.limit_a));
    let judged = p.draw_a.as_ref().map(|read| {
        if !below(read.value, LIMITING * limit_a) {
            (
                Verdict::Caution,
                Phrase::words(
                    "The supply is limiting: it may need more. Raise the limit in small steps and read again.",
                ),
            )
        } else if let Some(surveyed_a) = b.usual_a.filter(|a| above((read.value - a).abs(), OTHER_DRAW * a)) {
            let said = Phrase::words("The survey says ").value(surveyed_a, Unit::A);
            (Verdict::Caution, said.text(". Was it running as usual? Are voltage and current swapped?"))
        } else {
            (Verdict::Fine, Phrase::words("Used as the usual current."))
        }
    });
    step("draw_a", "Read what it draws", act, judged)
}

fn down(p: &Proving, b: &Bounds) -> Step {
    let act = Phrase::words("Lower the voltage by ")
        .value(DOWN_SHARE * b.start_v, Unit::V)
        .text(", waiting a few seconds each time, until it stops or is too slow to use. At which voltage?");
    let judged = p.stops_at_v.as_ref().map(|read| {
        if !below(read.value, b.start_v) {
            (
                Verdict::Stop,
                Phrase::words("It ran at the voltage you started from, so this reading is impossible. Read again."),
            )
        } else {
            let said = Phrase::words("That is its real cut-out: ").value(read.value, Unit::V);
            (Verdict::Fine, said.text(" replaces the assumed value."))
        }
    });
    step("stops_at_v", "Down to the real cut-out", act, judged)
}

fn up(p: &Proving, b: &Bounds) -> Step {
    let act = Phrase::words("Raise the voltage again, slowly, to ")
        .value(b.ceiling_v, Unit::V)
        .text(" and no further: its old battery gave that. Run it for a minute; nothing may get warm. At which voltage did it run?");
    let judged = p.ran_at_v.as_ref().map(|read| {
        if above(read.value, b.ceiling_v) {
            (
                Verdict::Stop,
                Phrase::words("That is beyond what it ever ran at. If you did it all the same, write down why it is safe and enter it as the maximum voltage by hand."),
            )
        } else {
            let said = Phrase::words("Tested up to ").value(read.value, Unit::V);
            (Verdict::Fine, said.text("."))
        }
    });
    step("ran_at_v", "Up, no further than tested", act, judged)
}

/// The survey as the readings make it.
fn proved(plan: &Plan) -> Vec<Change> {
    let p = &plan.device.proving;
    if p.lives != Some(true) {
        return vec![];
    }
    let measured = |known: &Known| Known { how: How::Measured, ..known.clone() };
    let mut changes = vec![];
    if let Some(read) = &p.stops_at_v {
        changes.push(Change::put("/device/cutout_v", measured(read)));
        changes.push(Change::put("/device/lowest_v", measured(read)));
    }
    if let Some(read) = &p.ran_at_v {
        changes.push(Change::put("/device/highest_v", measured(read)));
    }
    if let Some(read) = &p.draw_a {
        let draw = Draw::Current { value_a: measured(read) };
        let mut loads = plan.device.loads.clone();
        match loads.iter_mut().find(|l| l.duration_s.is_none()) {
            Some(usual) => usual.draw = draw,
            None => loads.insert(
                0,
                Load {
                    id: "proved".to_owned(),
                    name: "usual, on the bench".to_owned(),
                    draw,
                    duration_s: None,
                    every_s: None,
                },
            ),
        }
        changes.push(Change::put("/device/loads", loads));
    }
    changes
}
