//! The ledger: every figure of an assessment, with its working.

use std::borrow::Cow;

use rustc_hash::{FxHashMap, FxHashSet};
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::plan::{How, Known};

/// What a figure is, whatever its value.
#[derive(Debug, Serialize, ToSchema)]
pub struct FigureDef {
    /// Stable id, also the formula's id.
    pub id: &'static str,
    /// Its name in words.
    pub label: &'static str,
    /// Its unit.
    pub unit: Unit,
    /// The formula in words or signs.
    pub formula: &'static str,
    /// Where the formula comes from.
    pub source: Source,
}

/// A value that went into a figure.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum Input {
    /// Another figure.
    Figure {
        /// Its id.
        #[schema(value_type = String)]
        id: Cow<'static, str>,
    },
    /// Something in the plan.
    Plan {
        /// Where it stands.
        pointer: String,
        /// Its name in words.
        label: &'static str,
        /// Its value.
        value: f64,
        /// Its unit.
        unit: Unit,
        /// What it is about, where several of a kind go in: a part's name.
        about: Option<String>,
        /// How many times it goes in, where that is not once.
        times: Option<f64>,
    },
    /// A constant of the field.
    Constant {
        /// Its name in words.
        label: &'static str,
        /// Its value.
        value: f64,
        /// Its unit.
        unit: Unit,
        /// Where it comes from.
        source: Source,
    },
}

/// How a figure came about.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Working {
    /// Id of the formula: that of the figure's definition.
    pub formula: &'static str,
    /// What was put in, in the order of the formula.
    pub inputs: Vec<Input>,
    /// Where the formula or the value comes from.
    pub source: Source,
}

/// One figure.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Figure {
    /// Stable id; `@` and a subject behind it where there are several of a kind.
    #[schema(value_type = String)]
    pub id: Cow<'static, str>,
    /// Its name in words.
    pub label: &'static str,
    /// Its value in the unit of core.
    pub value: f64,
    /// Its unit.
    pub unit: Unit,
    /// Low end of its band, where it has one.
    pub low: Option<f64>,
    /// High end of its band, where it has one.
    pub high: Option<f64>,
    /// Whether an assumption went into it.
    pub assumed: bool,
    /// How it came about.
    pub working: Working,
}

impl Figure {
    /// Ends of its band; both its value where it has none.
    pub fn ends(&self) -> (f64, f64) {
        (self.low.unwrap_or(self.value), self.high.unwrap_or(self.value))
    }
}

/// Every figure found so far.
#[derive(Debug)]
pub struct Ledger {
    figures: Vec<Figure>,
    place: FxHashMap<Cow<'static, str>, usize>,
    /// Figures whose assumptions soften no verdict: the true value can only be worse, or hardly differs.
    firm: FxHashSet<Cow<'static, str>>,
}

/// Id of a figure about one subject of several.
pub fn at(def: &FigureDef, subject: &str) -> String {
    format!("{}@{subject}", def.id)
}

/// A figure as an input.
pub fn fig(def: &FigureDef) -> Input {
    Input::Figure { id: Cow::Borrowed(def.id) }
}

/// A figure about one subject as an input.
pub fn fig_at(def: &FigureDef, subject: &str) -> Input {
    Input::Figure { id: Cow::Owned(at(def, subject)) }
}

/// A value of the plan as an input.
pub fn from_plan(pointer: impl Into<String>, label: &'static str, value: f64, unit: Unit) -> Input {
    Input::Plan { pointer: pointer.into(), label, value, unit, about: None, times: None }
}

/// A constant as an input.
pub fn constant(label: &'static str, value: f64, unit: Unit, source: Source) -> Input {
    Input::Constant { label, value, unit, source }
}

impl Input {
    /// Says of which part a value of the plan is, and how many times it goes in.
    pub fn about(self, name: &str, count: f64) -> Input {
        match self {
            Input::Plan { pointer, label, value, unit, .. } => {
                let times = (count != 1.0).then_some(count);
                Input::Plan { pointer, label, value, unit, about: Some(name.to_owned()), times }
            }
            other => other,
        }
    }
}

/// Figures that a whole plan brings: room for them from the start spares growing.
const USUAL_COUNT: usize = 192;

impl Default for Ledger {
    fn default() -> Self {
        Ledger {
            figures: Vec::with_capacity(USUAL_COUNT),
            place: FxHashMap::with_capacity_and_hasher(USUAL_COUNT, Default::default()),
            firm: FxHashSet::default(),
        }
    }
}

impl Ledger {
    /// Enters a figure. Values that are not finite are left out: they say nothing.
    pub fn put(&mut self, def: &'static FigureDef, value: f64, inputs: Vec<Input>) -> Entry<'_> {
        self.enter(def, Cow::Borrowed(def.id), value, inputs)
    }

    /// Enters a figure about one subject of several.
    pub fn put_at(&mut self, def: &'static FigureDef, subject: &str, value: f64, inputs: Vec<Input>) -> Entry<'_> {
        self.enter(def, Cow::Owned(at(def, subject)), value, inputs)
    }

    fn enter(&mut self, def: &'static FigureDef, id: Cow<'static, str>, value: f64, inputs: Vec<Input>) -> Entry<'_> {
        if !value.is_finite() {
            return Entry { figure: None };
        }
        let assumed = inputs.iter().any(|i| match i {
            Input::Figure { id } => self.get(id).is_some_and(|f| f.assumed),
            Input::Constant { source, .. } => *source == Source::Assumed,
            Input::Plan { .. } => false,
        });
        let figure = Figure {
            id: id.clone(),
            label: def.label,
            value,
            unit: def.unit,
            low: None,
            high: None,
            assumed,
            working: Working { formula: def.id, inputs, source: def.source },
        };
        let index = *self.place.entry(id).or_insert(self.figures.len());
        if index == self.figures.len() {
            self.figures.push(figure);
        } else {
            self.figures[index] = figure;
        }
        Entry { figure: self.figures.get_mut(index) }
    }

    /// A known input of the plan, as a figure.
    pub fn put_known(&mut self, def: &'static FigureDef, known: &Option<Known>, pointer: &str) {
        if let Some(known) = known {
            let inputs = vec![from_plan(format!("{pointer}/value"), def.label, known.value, def.unit)];
            let entry = self.put(def, known.value, inputs).source(Source::Plan);
            let entry = if known.how == How::Assumed { entry.assumed() } else { entry };
            if known.error.is_some() {
                let (low, high) = known.band();
                entry.band(low, high);
            }
        }
    }

    /// Says that what was assumed for a figure softens no verdict: the true value is this or worse, or hardly differs.
    pub fn mark_firm(&mut self, id: String) {
        self.firm.insert(Cow::Owned(id));
    }

    /// Whether a figure stands as it was typed or read, at most passed on: two such figures are compared exactly.
    pub fn is_typed(&self, id: &str) -> bool {
        self.get(id).is_some_and(|f| {
            f.working.inputs.iter().any(|input| match input {
                Input::Plan { value, times, .. } => *value == f.value && times.is_none(),
                Input::Figure { id: from } => {
                    from != id && self.get(from).is_some_and(|g| g.value == f.value) && self.is_typed(from)
                }
                Input::Constant { .. } => false,
            })
        })
    }

    /// What was taken for granted on the way to a figure, in words: the first assumption that is not the kind one.
    pub fn assumption(&self, id: &str) -> Option<&'static str> {
        let f = self.get(id).filter(|f| f.assumed)?;
        if self.firm.contains(id) {
            return None;
        }
        let (mut own, mut leads_on) = (true, false);
        for input in &f.working.inputs {
            match input {
                Input::Constant { label, source: Source::Assumed, .. } => return Some(label),
                Input::Figure { id: from } if self.get(from).is_some_and(|g| g.assumed) => {
                    (own, leads_on) = (false, true);
                    if let Some(found) = self.assumption(from) {
                        return Some(found);
                    }
                }
                _ => {}
            }
        }
        (own && !leads_on).then_some(f.label)
    }

    /// A figure by its id.
    pub fn get(&self, id: &str) -> Option<&Figure> {
        self.place.get(id).map(|&i| &self.figures[i])
    }

    /// Value of a figure.
    pub fn value(&self, def: &FigureDef) -> Option<f64> {
        self.get(def.id).map(|f| f.value)
    }

    /// Value of a figure about one subject.
    pub fn value_at(&self, def: &FigureDef, subject: &str) -> Option<f64> {
        self.get(&at(def, subject)).map(|f| f.value)
    }

    /// Fills a template: `{figure.id}` becomes that figure, `{$0}` the first of `words`.
    ///
    /// A figure that is not there is written as "unknown": a sentence never breaks an assessment.
    pub fn say(&self, template: &str, words: &[&str]) -> Phrase {
        let mut phrase = Phrase::default();
        let mut rest = template;
        while let Some((before, after)) = rest.split_once('{') {
            let Some((name, tail)) = after.split_once('}') else {
                break;
            };
            if !before.is_empty() {
                phrase = phrase.text(before);
            }
            phrase = match name.strip_prefix('$') {
                Some(index) => {
                    phrase.text(index.parse().ok().and_then(|i: usize| words.get(i).copied()).unwrap_or("?"))
                }
                None => match self.get(name) {
                    Some(f) => phrase.figure(f.value, f.unit, Some(f.id.to_string())),
                    None => phrase.text("unknown"),
                },
            };
            rest = tail;
        }
        if rest.is_empty() { phrase } else { phrase.text(rest) }
    }

    /// Every figure so far, to be looked at.
    pub fn figures(&self) -> &[Figure] {
        &self.figures
    }

    /// Widens the figure at that place to a band from `low` to `high`.
    pub fn widen(&mut self, place: usize, low: f64, high: f64) {
        Entry { figure: self.figures.get_mut(place) }.band(low, high);
    }

    /// Every figure, in the order of the work.
    pub fn into_figures(self) -> Vec<Figure> {
        self.figures
    }
}

/// A figure just entered, to be qualified.
pub struct Entry<'a> {
    figure: Option<&'a mut Figure>,
}

impl Entry<'_> {
    /// Gives it a band.
    pub fn band(mut self, low: f64, high: f64) -> Self {
        if let Some(f) = &mut self.figure {
            (f.low, f.high) = (Some(low.min(high)), Some(high.max(low)));
        }
        self
    }

    /// Marks it as resting on an assumption.
    pub fn assumed(mut self) -> Self {
        if let Some(f) = &mut self.figure {
            f.assumed = true;
        }
        self
    }

    /// Names another source than that of the formula.
    pub fn source(mut self, source: Source) -> Self {
        if let Some(f) = &mut self.figure {
            f.working.source = source;
        }
        self
    }
}
