//! How a build stands: its events laid on its sheet.

use std::collections::HashMap;

use serde::Serialize;
use utoipa::ToSchema;

use super::charge_line::ChargeLine;
use super::charge_log::{ended_by, stop_at_once};
use super::event::{BuildEvent, What};
use super::first_charge::{END_CELLS, END_CURRENT, END_INPUT};
use super::step::{BuildAsk, BuildSheet, BuildStep, Expects};
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show, show_range};
use crate::base::range;
use crate::plan::FieldError;

/// How a step stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Stands {
    /// Something that it needs does not hold.
    Shut,
    /// To be done.
    Open,
    /// Something is not as expected: what follows is shut.
    Wrong,
    /// Not as expected or left out, and gone on with for a reason that is written down.
    Opened,
    /// Done.
    Done,
}

impl Stands {
    /// Whether what needs it may begin.
    pub fn holds(self) -> bool {
        matches!(self, Stands::Opened | Stands::Done)
    }
}

/// What was found where something was asked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Found {
    /// Nothing yet.
    Open,
    /// As expected.
    Right,
    /// Not as expected.
    Wrong,
    /// Kept; nothing is known to compare it with.
    Noted,
}

/// What was read or answered where something is asked.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AskState {
    /// Key of what is asked.
    pub key: String,
    /// The latest reading.
    pub value: Option<f64>,
    /// The latest answer.
    pub yes: Option<bool>,
    /// Whether that is what the plan has from before, not read in this build.
    pub from_plan: bool,
    /// What that says.
    pub found: Found,
    /// In words, where it is not as expected.
    pub words: String,
    /// Readings before the latest, the oldest first: nothing that was read is lost.
    pub before: Vec<f64>,
}

/// How one step stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StepState {
    /// Its key.
    pub key: String,
    /// How it stands.
    pub stands: Stands,
    /// What is asked, in the order of the sheet.
    pub asks: Vec<AskState>,
    /// What is wrong or in the way, in words.
    pub says: Vec<String>,
    /// Why it was gone on with.
    pub reason: Option<String>,
    /// Notes, the oldest first.
    pub notes: Vec<String>,
    /// Photographs, the oldest first.
    pub photos: Vec<String>,
    /// When it was done or gone on with.
    pub at: Option<String>,
}

/// How a build stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Progress {
    /// Every step of the sheet, in its order.
    pub steps: Vec<StepState>,
    /// Steps that hold.
    pub done: usize,
    /// Key of the step that is next: the first that can be done and does not hold.
    pub next: Option<String>,
}

/// What one step has had since it was last to be done again; notes, photographs and readings are kept from before.
#[derive(Default)]
struct Had<'e> {
    read: HashMap<&'e str, f64>,
    answered: HashMap<&'e str, bool>,
    before: HashMap<&'e str, Vec<f64>>,
    done_at: Option<&'e str>,
    opened: Option<(&'e str, &'e str)>,
    notes: Vec<String>,
    photos: Vec<String>,
    logged: Vec<ChargeLine>,
}

impl<'e> Had<'e> {
    fn take(&mut self, event: &'e BuildEvent) {
        match &event.happened {
            What::Done => self.done_at = Some(&event.at),
            What::Undone => {
                for (ask, value) in self.read.drain() {
                    self.before.entry(ask).or_default().push(value);
                }
                self.answered.clear();
                self.logged.clear();
                (self.done_at, self.opened) = (None, None);
            }
            What::Read { ask, value, .. } => {
                if let Some(earlier) = self.read.insert(ask, *value) {
                    self.before.entry(ask).or_default().push(earlier);
                }
                (self.done_at, self.opened) = (None, None);
            }
            What::Answered { ask, yes } => {
                self.answered.insert(ask, *yes);
                (self.done_at, self.opened) = (None, None);
            }
            What::Logged { line } => {
                self.logged.retain(|l| l.after_s != line.after_s);
                self.logged.push(*line);
                (self.done_at, self.opened) = (None, None);
            }
            What::Note { text } => self.notes.push(text.clone()),
            What::Photo { sha256 } => self.photos.push(sha256.clone()),
            What::Opened { reason } => self.opened = Some((reason, &event.at)),
        }
    }
}

/// How a build stands after its events.
///
/// A step holds once it is done with everything asked as expected, or gone on with for a reason that was written after the
/// last reading. A reading outside its band shuts everything that needs its step.
pub fn progress(sheet: &BuildSheet, events: &[BuildEvent]) -> Progress {
    let mut had: HashMap<&str, Had<'_>> = HashMap::new();
    for event in events {
        had.entry(event.step.as_str()).or_default().take(event);
    }
    let nothing = Had::default();
    let mut steps: Vec<StepState> = vec![];
    let mut holds: HashMap<&str, bool> = HashMap::new();
    for step in &sheet.steps {
        let state = stands(sheet, step, had.get(step.key.as_str()).unwrap_or(&nothing), &holds);
        holds.insert(&step.key, state.stands.holds());
        steps.push(state);
    }
    let next = steps.iter().find(|s| matches!(s.stands, Stands::Open | Stands::Wrong)).map(|s| s.key.clone());
    Progress { done: steps.iter().filter(|s| s.stands.holds()).count(), next, steps }
}

fn stands(sheet: &BuildSheet, step: &BuildStep, had: &Had<'_>, holds: &HashMap<&str, bool>) -> StepState {
    let asks: Vec<AskState> = step.asks.iter().map(|ask| found(ask, had)).collect();
    let mut says: Vec<String> = vec![];
    if step.phase.joins() {
        says.extend(sheet.stops.iter().map(|stop| format!("The plan has a stop: {stop}.")));
    }
    let waits = sheet.undecided.iter().filter(|u| u.shuts.is_some_and(|phase| step.phase >= phase));
    says.extend(waits.map(|u| format!("Decide in the plan first: {}.", u.what)));
    let missing = step.needs.iter().filter(|key| holds.get(key.as_str()) != Some(&true));
    says.extend(missing.filter_map(|key| sheet.step(key)).map(|s| format!("First: {}.", s.title)));
    let shut = !says.is_empty();
    let mut wrong: Vec<String> = asks.iter().filter(|a| a.found == Found::Wrong).map(|a| a.words.clone()).collect();
    wrong.extend(apart(step, had));
    wrong.extend(ended(step, had));
    wrong.extend(watched(step, had));
    let reason = had.opened.map(|(reason, _)| reason.to_owned());
    let stands = match (&reason, shut) {
        // Done once, it stays so for those who look; what it needs is what is to be mended.
        (Some(_), _) => Stands::Opened,
        (None, false) if !wrong.is_empty() => Stands::Wrong,
        (None, true) if had.done_at.is_none() => Stands::Shut,
        (None, _) if had.done_at.is_some() && wrong.is_empty() => Stands::Done,
        (None, true) => Stands::Shut,
        (None, false) => Stands::Open,
    };
    if !shut || stands == Stands::Opened {
        says = wrong;
    }
    StepState {
        key: step.key.clone(),
        stands,
        asks,
        says: if stands == Stands::Done { vec![] } else { says },
        reason,
        notes: had.notes.clone(),
        photos: had.photos.clone(),
        at: had.opened.map(|(_, at)| at).or(had.done_at).map(str::to_owned),
    }
}

fn found(ask: &BuildAsk, had: &Had<'_>) -> AskState {
    let key = ask.key.as_str();
    let (read, answered) = (had.read.get(key).copied(), had.answered.get(key).copied());
    let (value, yes) = (read.or(ask.earlier.value), answered.or(ask.earlier.yes));
    let from_plan = (read, answered) == (None, None) && (value, yes) != (None, None);
    let (found, words) = match (&ask.expects, value, yes) {
        (Expects::Yes, _, Some(true)) => (Found::Right, String::new()),
        (Expects::Yes, _, Some(false)) => (Found::Wrong, format!("{} No.", ask.what)),
        (Expects::Unknown { .. }, Some(_), _) => (Found::Noted, String::new()),
        (Expects::Band { low, high, unit, .. }, Some(value), _) => {
            let under = low.is_some_and(|low| below(value, low));
            let over = high.is_some_and(|high| above(value, high));
            if under || over {
                let wanted = band_words(*low, *high, *unit);
                (Found::Wrong, format!("{}: {}, predicted {wanted}.", ask.what, show(value, *unit)))
            } else {
                (Found::Right, String::new())
            }
        }
        _ => (Found::Open, String::new()),
    };
    let before = had.before.get(key).cloned().unwrap_or_default();
    AskState { key: key.to_owned(), value, yes, from_plan, found, words, before }
}

/// A band in words.
fn band_words(low: Option<f64>, high: Option<f64>, unit: Unit) -> String {
    match (low, high) {
        (Some(low), Some(high)) => show_range(low, high, unit),
        (Some(low), None) => format!("{} or more", show(low, unit)),
        (None, Some(high)) => format!("{} or less", show(high, unit)),
        (None, None) => "not known".to_owned(),
    }
}

/// Groups of readings that lie too far from each other.
fn apart(step: &BuildStep, had: &Had<'_>) -> Vec<String> {
    let Some(together) = &step.together else { return vec![] };
    let far = |keys: &Vec<String>| {
        let read: Vec<f64> = keys.iter().filter_map(|k| had.read.get(k.as_str()).copied()).collect();
        let (least, most) = (read.iter().copied().reduce(f64::min)?, read.iter().copied().reduce(f64::max)?);
        above(most - least, together.within_v).then(|| {
            let (from, to) = (show(least, Unit::V), show(most, Unit::V));
            format!("{from} to {to}: {}, at most {} apart.", together.says, show(together.within_v, Unit::V))
        })
    };
    together.groups.iter().filter_map(far).collect()
}

/// Who ended the charge, where it was not the charger: told once all that tells it was read.
fn ended(step: &BuildStep, had: &Had<'_>) -> Option<String> {
    let limits = step.ends.as_ref()?;
    let read = |key: &str| had.read.get(key).copied();
    let (current_a, input_v, pack_v) = (read(END_CURRENT)?, read(END_INPUT)?, read(END_CELLS)?);
    let end = ChargeLine {
        after_s: 0.0,
        pack_v: Some(pack_v),
        current_a: Some(current_a),
        apart_v: None,
        input_v: Some(input_v),
    };
    match ended_by(&[end], limits) {
        Some(ended) if ended.is_right() => None,
        Some(ended) => Some(ended.says().to_owned()),
        None => Some(format!("{} still flows: the charge has not ended.", show(current_a, Unit::A))),
    }
}

/// What in the last line of a log means to stop at once.
fn watched(step: &BuildStep, had: &Had<'_>) -> Vec<String> {
    let last = had.logged.iter().max_by(|a, b| a.after_s.total_cmp(&b.after_s));
    step.logs.as_ref().zip(last).map(|(limits, line)| stop_at_once(line, limits)).unwrap_or_default()
}

/// Why an event cannot be taken.
#[derive(Debug, Clone, PartialEq)]
pub struct Refusal {
    /// In a few words.
    pub title: &'static str,
    /// What to do.
    pub fields: Vec<FieldError>,
}

fn refuse<T>(title: &'static str, field: &str, message: impl Into<String>) -> Result<T, Refusal> {
    Err(Refusal { title, fields: vec![FieldError { field: field.to_owned(), message: message.into() }] })
}

/// Whether an event can follow the ones before it. Refuses what the sheet does not ask, values that no bench shows, and
/// whatever lies behind a shut gate.
pub fn admit(sheet: &BuildSheet, events: &[BuildEvent], event: &BuildEvent) -> Result<(), Refusal> {
    event.check().map_err(|fields| Refusal { title: "Not saved", fields })?;
    let Some(step) = sheet.step(&event.step) else {
        return refuse("Not saved", "/step", "Step: the sheet has no such step; the plan may have changed");
    };
    match &event.happened {
        What::Note { .. } | What::Photo { .. } | What::Undone => return Ok(()),
        What::Read { ask, value, .. } => reading(step, ask, *value)?,
        What::Answered { ask, .. } => {
            if step.asks.iter().all(|a| a.key != *ask || a.expects != Expects::Yes) {
                return refuse("Not saved", "/ask", "Question: this step does not ask it");
            }
        }
        What::Logged { .. } if step.logs.is_none() => {
            return refuse("Not saved", "/step", "Log: this step has none; the charger of the plan may have changed");
        }
        What::Done | What::Opened { .. } | What::Logged { .. } => {}
    }
    let now = progress(sheet, events);
    let Some(state) = now.steps.into_iter().find(|s| s.key == step.key) else { return Ok(()) };
    if state.stands == Stands::Shut {
        return refuse("Not yet", "/step", state.says.join(" "));
    }
    if event.happened == What::Done {
        if state.stands == Stands::Wrong {
            let says = format!("{} Correct it and read it again, or write down why you go on.", state.says.join(" "));
            return refuse("Not as expected", "/step", says);
        }
        let open = step.asks.iter().zip(&state.asks).find(|(_, s)| s.found == Found::Open);
        if let Some((ask, _)) = open {
            return refuse("Not finished", "/step", format!("Still open: {}", ask.what));
        }
    }
    Ok(())
}

/// A reading that a bench can show, where one is asked for.
fn reading(step: &BuildStep, ask: &str, value: f64) -> Result<(), Refusal> {
    let Some(unit) = step.asks.iter().find(|a| a.key == ask).and_then(BuildAsk::unit) else {
        return refuse("Not saved", "/ask", "Reading: this step does not ask for it");
    };
    let range = match unit {
        Unit::A => &range::BUILD_AMPS,
        Unit::Ohm => &range::BUILD_OHMS,
        Unit::S => &range::BUILD_TIME,
        _ => &range::BUILD_VOLTS,
    };
    range.check(value).or_else(|error| refuse("Not saved", "/value", error.to_string()))
}
