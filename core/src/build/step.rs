//! What a sheet is made of: steps with what they need, what they ask and what is expected.

use crate::diagnose::At;
use serde::Serialize;
use utoipa::ToSchema;

use super::charge_log::ChargeLimits;
use crate::base::quantity::Unit;
use crate::physics::brick::WeldStep;

/// A part of the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Phase {
    /// Taking the device apart.
    Apart,
    /// Parts tested on arrival.
    Arrival,
    /// Cells read before they are joined.
    Cells,
    /// The brick joined and covered.
    Brick,
    /// Board and tap leads.
    Board,
    /// Wires, connectors and parts between pack and device.
    Leads,
    /// Everything read before it is used.
    FirstPower,
    /// One whole charge under watch.
    FirstCharge,
    /// Trips, functions, a timed run, reassembly, label.
    HandOver,
}

impl Phase {
    /// Whether a stop in the plan shuts it: what comes before joins nothing.
    pub fn joins(self) -> bool {
        self > Phase::Cells
    }
}

/// What is expected of a reading or a question.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "as", rename_all = "snake_case")]
pub enum Expects {
    /// A reading between two ends; one of them may be missing.
    Band {
        /// Lower end, the meter's error counted in.
        low: Option<f64>,
        /// Upper end, the meter's error counted in.
        high: Option<f64>,
        /// Unit of both.
        unit: Unit,
        /// Where the band comes from.
        because: String,
    },
    /// A reading that is kept; what it should be is not known.
    Unknown {
        /// Its unit.
        unit: Unit,
        /// What is usual.
        usual: String,
    },
    /// Yes.
    Yes,
}

/// Where in the plan a reading is used, in the place of what was stated.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "as", rename_all = "snake_case")]
pub enum Counts {
    /// A figure of a node with how it is known.
    Figure {
        /// Id of the node.
        place: String,
        /// JSON pointer in the node.
        at: String,
    },
    /// A figure of the plan itself with how it is known.
    Plan {
        /// JSON pointer in the plan.
        at: String,
    },
    /// A bare number or a yes of the plan itself.
    Bare {
        /// JSON pointer in the plan.
        at: String,
    },
    /// The groups of the pack as they were read, all of the step together.
    Groups,
    /// The outcome of a test on arrival.
    Arrival {
        /// Id of the node.
        place: String,
        /// Id of the test.
        test: String,
        /// Name of the part.
        part: String,
    },
}

/// What the plan has from before where something is asked: it stands until that is read again.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, ToSchema)]
pub struct Earlier {
    /// What was read, in the unit of the reading.
    pub value: Option<f64>,
    /// What was answered.
    pub yes: Option<bool>,
}

/// Something that takes its time.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Wait {
    /// How long.
    pub for_s: f64,
    /// For what.
    pub what: String,
}

/// One reading or one question of a step.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BuildAsk {
    /// Stable, unique in its step.
    pub key: String,
    /// What is read, or the question.
    pub what: String,
    /// Where the red probe goes; empty for a question.
    pub red: String,
    /// Where the black probe goes; empty for a question.
    pub black: String,
    /// How it is had, in order; empty where the step says it.
    pub how: Vec<String>,
    /// What is expected.
    pub expects: Expects,
    /// Where in the plan it can be used.
    pub counts: Option<Counts>,
    /// What the plan has there from before, where that need not be read again.
    pub earlier: Earlier,
    /// Between which points of the circuit it is read, in which condition; absent where it is read elsewhere.
    pub between: Option<Between>,
}

/// Two points of the circuit, and what the device does.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Between {
    /// Where the red probe is.
    pub red: String,
    /// Where the black probe is.
    pub black: String,
    /// What the device does.
    pub condition: At,
}

impl BuildAsk {
    /// A question whose right answer is yes.
    pub fn yes(key: &str, what: impl Into<String>) -> BuildAsk {
        BuildAsk::read(key, what, ["", ""], Expects::Yes)
    }

    /// A reading with the points it is taken between.
    pub fn read(key: impl Into<String>, what: impl Into<String>, probes: [&str; 2], expects: Expects) -> BuildAsk {
        let [red, black] = probes.map(str::to_owned);
        BuildAsk {
            key: key.into(),
            what: what.into(),
            red,
            black,
            how: vec![],
            expects,
            counts: None,
            earlier: Earlier::default(),
            between: None,
        }
    }

    /// With how it is had.
    pub fn how(mut self, how: &[String]) -> BuildAsk {
        self.how = how.to_vec();
        self
    }

    /// With where in the plan it can be used.
    pub fn counts(mut self, counts: Counts) -> BuildAsk {
        self.counts = Some(counts);
        self
    }

    /// With what the plan has from before.
    pub fn earlier(mut self, value: Option<f64>, yes: Option<bool>) -> BuildAsk {
        self.earlier = Earlier { value, yes };
        self
    }

    /// With the points of the circuit it is read between.
    pub fn between(mut self, points: Option<[String; 2]>, condition: At) -> BuildAsk {
        self.between = points.map(|[red, black]| Between { red, black, condition });
        self
    }

    /// Unit of the reading; none for a question.
    pub fn unit(&self) -> Option<Unit> {
        match self.expects {
            Expects::Band { unit, .. } | Expects::Unknown { unit, .. } => Some(unit),
            Expects::Yes => None,
        }
    }
}

/// Voltages of which those of a group must lie near each other.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Together {
    /// Most that two readings of a group may differ.
    pub within_v: f64,
    /// Keys of the readings, group by group.
    pub groups: Vec<Vec<String>>,
    /// What it means where they differ more.
    pub says: String,
}

/// One step of the work.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BuildStep {
    /// Stable while its place in the plan stays.
    pub key: String,
    /// The part of the work.
    pub phase: Phase,
    /// What to do, in a few words.
    pub title: String,
    /// Why, in a line.
    pub why: String,
    /// How, in order.
    pub how: Vec<String>,
    /// What it takes.
    pub tools: Vec<String>,
    /// What can go wrong and hurt; empty where nothing can.
    pub hazard: String,
    /// What is read and asked.
    pub asks: Vec<BuildAsk>,
    /// Readings that must lie near each other.
    pub together: Option<Together>,
    /// Keys of the steps that must hold before it.
    pub needs: Vec<String>,
    /// What to do if it is not as expected.
    pub if_not: String,
    /// Ids of the blocks of the diagram that it is about.
    pub shows: Vec<String>,
    /// Faces of the brick that are bare while it is done.
    pub bare: Vec<usize>,
    /// The welding that it is, for its drawing.
    pub weld: Option<WeldStep>,
    /// What it waits for.
    pub wait: Option<Wait>,
    /// What a charge that is logged in it is judged by.
    pub logs: Option<ChargeLimits>,
    /// What its readings at the end of a charge are judged by.
    pub ends: Option<ChargeLimits>,
}

impl BuildStep {
    /// A step that asks nothing yet.
    pub fn new(phase: Phase, key: impl Into<String>, title: impl Into<String>, why: impl Into<String>) -> BuildStep {
        BuildStep {
            key: key.into(),
            phase,
            title: title.into(),
            why: why.into(),
            how: vec![],
            tools: vec![],
            hazard: String::new(),
            asks: vec![],
            together: None,
            needs: vec![],
            if_not: String::new(),
            shows: vec![],
            bare: vec![],
            weld: None,
            wait: None,
            logs: None,
            ends: None,
        }
    }

    /// With how it is done.
    pub fn how(mut self, how: impl IntoIterator<Item = impl Into<String>>) -> BuildStep {
        self.how = how.into_iter().map(Into::into).collect();
        self
    }

    /// With its tools.
    pub fn tools(mut self, tools: &[&str]) -> BuildStep {
        self.tools = tools.iter().map(|t| (*t).to_owned()).collect();
        self
    }

    /// With what can hurt.
    pub fn hazard(mut self, hazard: impl Into<String>) -> BuildStep {
        self.hazard = hazard.into();
        self
    }

    /// With what is read and asked.
    pub fn asks(mut self, asks: Vec<BuildAsk>) -> BuildStep {
        self.asks = asks;
        self
    }

    /// With what to do otherwise.
    pub fn if_not(mut self, if_not: impl Into<String>) -> BuildStep {
        self.if_not = if_not.into();
        self
    }

    /// With what it waits for.
    pub fn wait(mut self, for_s: f64, what: &str) -> BuildStep {
        self.wait = Some(Wait { for_s, what: what.to_owned() });
        self
    }

    /// With the blocks of the diagram it is about.
    pub fn shows(mut self, ids: impl IntoIterator<Item = impl Into<String>>) -> BuildStep {
        self.shows = ids.into_iter().map(Into::into).collect();
        self
    }
}

/// A part that is still to be decided.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Undecided {
    /// What it is.
    pub what: String,
    /// The first phase that waits for it: a pack without a guard is not powered, one without a charger not charged.
    pub shuts: Option<Phase>,
}

/// The steps of a plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BuildSheet {
    /// Name of the plan.
    pub plan: String,
    /// Titles of the stops that the plan has: they shut every step that joins something.
    pub stops: Vec<String>,
    /// What is still to be decided before there is more to build.
    pub undecided: Vec<Undecided>,
    /// The steps, each after everything it needs.
    pub steps: Vec<BuildStep>,
}

impl BuildSheet {
    /// A step by its key.
    pub fn step(&self, key: &str) -> Option<&BuildStep> {
        self.steps.iter().find(|s| s.key == key)
    }
}
