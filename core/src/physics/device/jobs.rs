//! Kinds of job: what each asks first, and what is special about it.

use serde::Serialize;
use utoipa::ToSchema;

use super::apart;
use crate::base::chemistry::Chemistry;
use crate::plan::{CellHolder, Choice, DeviceKind, Electronics, Job, Joining, NodeKind, Outside, Plan};

/// A part of the survey sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Ask {
    /// The old battery.
    Battery,
    /// The old charger.
    Charger,
    /// Currents.
    Currents,
    /// Voltage it lives between.
    Window,
    /// A soft start.
    SoftStart,
    /// A charge circuit of its own.
    HostCharger,
    /// A gauge with alarms.
    Gauge,
    /// A selector for series and parallel.
    Selector,
    /// Pins that name the pack or its temperature.
    Pins,
    /// The compartment.
    Compartment,
    /// Where it is used.
    Surroundings,
}

/// What one kind of job is and asks.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct JobSheet {
    /// The job.
    pub job: Job,
    /// Its name.
    pub title: &'static str,
    /// What is special about it, in a sentence.
    pub special: &'static str,
    /// What it asks, in the order in which one measures.
    pub asks: &'static [Ask],
    /// What kind of device it usually is.
    #[serde(skip)]
    kind: DeviceKind,
    /// What battery it usually had.
    #[serde(skip)]
    original: Option<Chemistry>,
}

use Ask::{Battery, Charger, Compartment, Currents, Gauge, HostCharger, Pins, Selector, SoftStart, Window};

/// Every kind of job.
pub const JOBS: [JobSheet; 12] = [
    JobSheet {
        job: Job::MotorTool,
        title: "motor tool",
        special: "The stall current decides board, strips and fuse; a hand meter under-reads it.",
        asks: &[Battery, Charger, Currents, Window, SoftStart, Compartment, Ask::Surroundings],
        kind: DeviceKind::Motor,
        original: Some(Chemistry::Nickel),
    },
    JobSheet {
        job: Job::HandheldWithGauge,
        title: "handheld with a gauge",
        special: "Its gauge and alarms were made for another voltage; old cells must no longer fit beside the new pack.",
        asks: &[Battery, Charger, Currents, Window, Gauge, Compartment],
        kind: DeviceKind::Electronics,
        original: Some(Chemistry::Alkaline),
    },
    JobSheet {
        job: Job::InstrumentWithCharger,
        title: "instrument with its own charger",
        special: "It charges the new pack its own way unless it is disconnected or followed.",
        asks: &[Battery, Currents, Window, HostCharger, Gauge, Compartment],
        kind: DeviceKind::Electronics,
        original: Some(Chemistry::LeadAcid),
    },
    JobSheet {
        job: Job::Pump,
        title: "pump or fan",
        special: "Current goes with the square of the voltage: 16 % more voltage is a third more current.",
        asks: &[Battery, Charger, Currents, Window, SoftStart, Selector, Compartment, Ask::Surroundings],
        kind: DeviceKind::FanOrPump,
        original: Some(Chemistry::LeadAcid),
    },
    JobSheet {
        job: Job::StandbySupply,
        title: "standby supply",
        special: "It must take over without a gap, and its charger must limit its current.",
        asks: &[Battery, Currents, Window, HostCharger, Ask::Surroundings],
        kind: DeviceKind::Electronics,
        original: Some(Chemistry::LeadAcid),
    },
    JobSheet {
        job: Job::PowerBank,
        title: "power bank",
        special: "Bring cells to the same voltage before you connect them in parallel. mAh at the cell is not mAh at the output.",
        asks: &[Currents, Window, Compartment],
        kind: DeviceKind::Electronics,
        original: None,
    },
    JobSheet {
        job: Job::BenchSupply,
        title: "adjustable bench supply",
        special: "An open adjuster lead drives the output to its maximum; never put a fixed-voltage socket on the adjustable output.",
        asks: &[Currents, Window, Compartment],
        kind: DeviceKind::Electronics,
        original: None,
    },
    JobSheet {
        job: Job::ToyOrModel,
        title: "toy or model",
        special: "Dropped and kicked: a pouch needs a shell, and the charger changes with the chemistry.",
        asks: &[Battery, Charger, Currents, Window, Compartment, Ask::Surroundings],
        kind: DeviceKind::Motor,
        original: Some(Chemistry::LiPo),
    },
    JobSheet {
        job: Job::Recelling,
        title: "new cells for a pack with its own electronics",
        special: "The pack identifies itself and counts: keep its board powered, or it may refuse new cells permanently.",
        asks: &[Battery, Charger, Currents, Window, Pins, Compartment],
        kind: DeviceKind::Electronics,
        original: Some(Chemistry::LiIon),
    },
    JobSheet {
        job: Job::ChargingAdded,
        title: "charging added to a pack that stays",
        special: "Three wires at the pack: minus, middle, plus. Each is read before anything is powered, and the charge lead has a fuse.",
        asks: &[Battery, Charger, Window, Compartment],
        kind: DeviceKind::Electronics,
        original: Some(Chemistry::LiIon),
    },
    JobSheet {
        job: Job::ReadyPack,
        title: "ready pack on a plug",
        special: "Assume that a hobby or tool pack has no protection until you know better; do not wire the old bay beside it.",
        asks: &[Battery, Charger, Currents, Window, SoftStart],
        kind: DeviceKind::Motor,
        original: Some(Chemistry::Nickel),
    },
    JobSheet {
        job: Job::ReplaceableCells,
        title: "device with replaceable cells",
        special: "It must be safe with any number of cells fitted, with one reversed, and with an empty one beside full ones.",
        asks: &[Battery, Currents, Window, HostCharger, Gauge, Compartment],
        kind: DeviceKind::Electronics,
        original: None,
    },
];

impl JobSheet {
    /// The sheet of a job.
    pub fn of(job: Job) -> &'static JobSheet {
        // Every job has a sheet; a test walks them.
        JOBS.iter().find(|sheet| sheet.job == job).unwrap_or(&JOBS[0])
    }
}

/// A blank plan for a kind of job: what that kind does not have is decided, what it asks is open.
pub fn template(job: Job, name: &str) -> Plan {
    let sheet = JobSheet::of(job);
    let mut plan = Plan::blank(name);
    plan.device.job = Some(job);
    plan.device.kind = sheet.kind;
    plan.device.original.chemistry = sheet.original;
    let asks = |ask: Ask| sheet.asks.contains(&ask);
    // A power bank or bench supply is built, not taken apart.
    plan.device.apart = if asks(Battery) { apart::usual() } else { vec![] };
    plan.device.electronics = Electronics {
        soft_start: (!asks(SoftStart)).then_some(false),
        charges_itself: (!asks(HostCharger)).then_some(false),
        selector: (!asks(Selector)).then_some(false),
        identity_pins: (!asks(Pins)).then_some(false),
        temperature_pins: (!asks(Pins)).then_some(false),
        ..Electronics::default()
    };
    match job {
        Job::ChargingAdded => only_charging(&mut plan),
        Job::ReadyPack => plan.feed.outside = Some(Outside::Plug),
        Job::ReplaceableCells => in_holders(&mut plan),
        _ => {}
    }
    // These live on a converter: it is a decision to make, not one that was made.
    if matches!(job, Job::StandbySupply | Job::PowerBank | Job::BenchSupply) {
        for node in plan.nodes.iter_mut().filter(|n| n.kind == NodeKind::Converter) {
            node.part = Choice::Undecided;
        }
    }
    plan
}

/// Nothing is welded; it must work with one cell until more are asked for.
fn in_holders(plan: &mut Plan) {
    plan.feed.holder = Some(CellHolder::with_at_least(1));
    for pack in &mut plan.packs {
        pack.strip = Choice::None;
        pack.brick.joined_by = Some(Joining::Springs);
    }
}

/// The way from the pack to the device stays as it is. The board goes to the charge side, and a fuse before it.
fn only_charging(plan: &mut Plan) {
    let as_it_is = [NodeKind::Fuse, NodeKind::Switch, NodeKind::Connector];
    for node in plan.nodes.iter_mut().filter(|n| as_it_is.contains(&n.kind)) {
        node.part = Choice::None;
    }
    for run in &mut plan.connections {
        match run.id.as_str() {
            "lead" => run.wire = Choice::None,
            "board-fuse" => run.from = "pack".to_owned(),
            "charge-lead" => run.wire = Choice::Undecided,
            _ => {}
        }
    }
    plan.fuse_the_charge_lead();
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::assess::{Severity, assess};

    const ALL: [Job; 12] = [
        Job::MotorTool,
        Job::HandheldWithGauge,
        Job::InstrumentWithCharger,
        Job::Pump,
        Job::StandbySupply,
        Job::PowerBank,
        Job::BenchSupply,
        Job::ToyOrModel,
        Job::Recelling,
        Job::ChargingAdded,
        Job::ReadyPack,
        Job::ReplaceableCells,
    ];

    #[test]
    fn every_job_has_its_own_sheet_and_a_template_that_can_stand() {
        for job in ALL {
            assert_eq!(JobSheet::of(job).job, job);
            let plan = template(job, "Kite reel");
            assert_eq!(plan.device.job, Some(job));
            let assessment = assess(&plan).unwrap_or_else(|e| panic!("{job:?}: {e:?}"));
            let stops: Vec<_> = assessment.findings.iter().filter(|f| f.severity == Severity::Stop).collect();
            assert!(stops.is_empty(), "{job:?}: {stops:?}");
        }
    }

    #[test]
    fn a_template_asks_only_what_its_kind_needs() {
        let plan = template(Job::PowerBank, "Cells for the road");
        assert_eq!(plan.device.electronics.soft_start, Some(false), "a power bank has no soft start");
        assert!(!JobSheet::of(Job::PowerBank).asks.contains(&Ask::Battery));
        let plan = template(Job::InstrumentWithCharger, "Old meter");
        assert_eq!(plan.device.electronics.charges_itself, None, "whether it does is to be found out");
    }
}
