//! The card of a pack: what it is, when it was made, what it could do when it was new.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::assess::Assessment;
use crate::assess::figures::run::TIME_S;
use crate::base::chemistry::{Chemistry, OcvCurve, curve};
use crate::base::range::{CELL_VOLTS, CURRENT, PACK_AH, PACK_OHM, PARALLEL, RUN_TIME, Range, SERIES, TEMPERATURE};
use crate::base::table::day;
use crate::plan::{FieldError, Plan};

/// Longest name, and longest note.
const NAME_MAX: usize = 120;
const WORDS_MAX: usize = 2000;
/// Most cells that a card names.
const CELLS_MAX: usize = 1000;
/// How warm a room is whose temperature no one stated.
const ROOM_C: f64 = 20.0;

/// A run as it was predicted for the pack when it was new.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ExpectedRun {
    /// Shortest.
    pub least_s: f64,
    /// Usual.
    pub usual_s: f64,
    /// Longest.
    pub most_s: f64,
}

/// A cell that went into a pack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PackCell {
    /// Its group, counted from 1 at pack minus.
    pub group: u32,
    /// Label written on it.
    pub label: String,
    /// Lot it came from.
    #[serde(default)]
    pub lot: Option<String>,
}

/// What a pack is. What happens to it stands in its log.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PackCard {
    /// Name by which its owner finds it.
    pub name: String,
    /// Chemistry of its cells.
    pub chemistry: Chemistry,
    /// Groups in series.
    pub series: u32,
    /// Cells in parallel; absent is not known.
    #[serde(default)]
    pub parallel: Option<u32>,
    /// Designation of its cells, where there is one.
    #[serde(default)]
    pub designation: Option<String>,
    /// Capacity when new, as stated or calculated.
    #[serde(default)]
    pub rated_ah: Option<f64>,
    /// Resistance when new, as stated or calculated.
    #[serde(default)]
    pub rated_ohm: Option<f64>,
    /// Voltage a cell is charged to; the chemistry's full voltage where nothing is said.
    #[serde(default)]
    pub charged_to_v: Option<f64>,
    /// Day it was made or came: 2026-11-25.
    #[serde(default)]
    pub made_on: Option<String>,
    /// A run as predicted for the new pack.
    #[serde(default)]
    pub run: Option<ExpectedRun>,
    /// Fuse in its main lead.
    #[serde(default)]
    pub fuse_a: Option<f64>,
    /// What its board takes at rest.
    #[serde(default)]
    pub standby_a: Option<f64>,
    /// How warm it is where it is kept; a room's 20 °C where nothing is said.
    #[serde(default)]
    pub kept_c: Option<f64>,
    /// Its cells, as far as they are known.
    #[serde(default)]
    pub cells: Vec<PackCell>,
    /// How it is wired, in words for whoever has it next.
    #[serde(default)]
    pub wiring: String,
    /// Free words.
    #[serde(default)]
    pub notes: String,
}

impl PackCard {
    /// What a plan says of the pack that is built from it, on the day it is done.
    ///
    /// `None` while its counts or its chemistry are open.
    pub fn of_plan(plan: &Plan, assessment: &Assessment, made_on: &str) -> Option<PackCard> {
        let pack = plan.main_pack()?;
        let figure = |id: &str| assessment.figure(id);
        let run = figure(TIME_S.id).map(|f| ExpectedRun {
            least_s: f.low.unwrap_or(f.value),
            usual_s: f.value,
            most_s: f.high.unwrap_or(f.value),
        });
        let cells = pack.groups.iter().enumerate().flat_map(|(i, group)| {
            let group_number = u32::try_from(i + 1).unwrap_or(u32::MAX);
            group.cells.iter().map(move |cell| PackCell {
                group: group_number,
                label: cell.label.clone(),
                lot: cell.lot.clone(),
            })
        });
        let fuse_a = plan.nodes.iter().find_map(|n| n.fuse()).map(|f| f.rating_a);
        Some(PackCard {
            name: plan.name.clone(),
            chemistry: pack.chemistry?,
            series: pack.series?,
            parallel: pack.parallel,
            designation: assessment.nameplate.designation.clone(),
            rated_ah: figure("pack.ah").map(|f| f.value),
            rated_ohm: figure("pack.ohm").map(|f| f.value),
            charged_to_v: None,
            made_on: Some(made_on.to_owned()),
            run,
            fuse_a,
            standby_a: figure("pack.standby_a").map(|f| f.value).filter(|a| *a > 0.0),
            kept_c: None,
            cells: cells.collect(),
            wiring: String::new(),
            notes: String::new(),
        })
    }

    /// Every field that cannot stand.
    pub fn check(&self) -> Vec<FieldError> {
        let mut errors = vec![];
        let mut refuse = |field: &str, message: String| errors.push(FieldError { field: field.to_owned(), message });
        let length = self.name.trim().chars().count();
        if !(1..=NAME_MAX).contains(&length) {
            refuse("/name", "Name: 1 to 120 characters".to_owned());
        }
        if !self.chemistry.facts().rechargeable_lithium {
            refuse("/chemistry", "Chemistry: one of rechargeable lithium or sodium cells".to_owned());
        }
        for (field, words) in [("/wiring", &self.wiring), ("/notes", &self.notes)] {
            if words.chars().count() > WORDS_MAX {
                refuse(field, format!("at most {WORDS_MAX} characters"));
            }
        }
        if self.made_on.as_deref().is_some_and(|d| day(d).is_none()) {
            refuse("/made_on", "Made on: a day as 2026-11-25".to_owned());
        }
        if self.cells.len() > CELLS_MAX {
            refuse("/cells", format!("at most {CELLS_MAX} cells"));
        }
        let run = self.run;
        let figures: [(&str, Option<f64>, &Range); 11] = [
            ("/series", Some(f64::from(self.series)), &SERIES),
            ("/parallel", self.parallel.map(f64::from), &PARALLEL),
            ("/rated_ah", self.rated_ah, &PACK_AH),
            ("/rated_ohm", self.rated_ohm, &PACK_OHM),
            ("/charged_to_v", self.charged_to_v, &CELL_VOLTS),
            ("/run/least_s", run.map(|r| r.least_s), &RUN_TIME),
            ("/run/usual_s", run.map(|r| r.usual_s), &RUN_TIME),
            ("/run/most_s", run.map(|r| r.most_s), &RUN_TIME),
            ("/fuse_a", self.fuse_a, &CURRENT),
            ("/standby_a", self.standby_a, &CURRENT),
            ("/kept_c", self.kept_c, &TEMPERATURE),
        ];
        for (field, value, range) in figures {
            if let Some(Err(e)) = value.map(|v| range.check(v)) {
                refuse(field, e.to_string());
            }
        }
        let most_v = self.chemistry.facts().never_above_v;
        if self.charged_to_v.is_some_and(|v| v > most_v) {
            refuse("/charged_to_v", format!("Charged to: at most {most_v} V per cell for this chemistry"));
        }
        if run.is_some_and(|r| r.least_s > r.usual_s || r.usual_s > r.most_s) {
            refuse("/run", "Run: shortest, usual and longest in that order".to_owned());
        }
        errors
    }

    /// Open-circuit curve of its cells.
    pub(super) fn curve(&self) -> &'static OcvCurve {
        curve(self.chemistry)
    }

    /// Charge of a cell that is charged as this pack is.
    pub(super) fn top_soc(&self) -> f64 {
        let full_v = self.chemistry.facts().full_v;
        match self.charged_to_v {
            Some(v) if v < full_v => self.curve().soc(v).max(0.1),
            _ => 1.0,
        }
    }

    /// How warm it is kept, and whether that was stated.
    pub(super) fn kept_c(&self) -> (f64, bool) {
        self.kept_c.map_or((ROOM_C, false), |c| (c, true))
    }

    /// Counts as 4S2P.
    pub fn counts(&self) -> String {
        match self.parallel {
            Some(parallel) => format!("{}S{parallel}P", self.series),
            None => format!("{}S", self.series),
        }
    }
}
