//! What the screens read once: ranges, chemistries, formulas, kinds of part, symptoms, sources.

use brick_core::assess::glossary::{GlossaryTerm, TERMS};
use brick_core::assess::{FigureDef, figures};
use brick_core::base::chemistry::{Facts, TABLE};
use brick_core::base::range::{self, Range};
use brick_core::base::source::{Source, SourceText};
use brick_core::diagnose::{OddQuestion, Symptom, SymptomSheet, odd_questions};
use brick_core::physics::device::jobs::{JOBS, JobSheet};
use brick_core::physics::meters::{USUAL, UsualRange};
use brick_core::plan::fields::{self, PartSheet};
use rocket::get;
use rocket::serde::json::Json;
use serde::Serialize;
use utoipa::ToSchema;

/// Everything that does not change while the program runs.
#[derive(Debug, Serialize, ToSchema)]
pub struct Reference {
    /// Ranges of inputs.
    ranges: &'static [Range],
    /// Chemistries and their voltage.
    chemistries: &'static [Facts],
    /// Figures with their formulas.
    formulas: Vec<&'static FigureDef>,
    /// Terms of the trade.
    glossary: &'static [GlossaryTerm],
    /// Kinds of job and what each asks.
    jobs: &'static [JobSheet],
    /// Kinds of part and what is typed of each.
    parts: Vec<PartSheet>,
    /// A range of an ordinary meter for each thing that is read.
    meters: &'static [UsualRange],
    /// What a maker may see that is odd.
    symptoms: Vec<SymptomSheet>,
    /// What is asked then.
    odd_questions: &'static [OddQuestion],
    /// Sources by key.
    sources: Vec<SourceText>,
}

/// Ranges, chemistries, formulas, kinds of part and sources.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Reference)))]
#[get("/reference")]
pub fn read_reference() -> Json<Reference> {
    Json(Reference {
        ranges: range::ALL,
        chemistries: &TABLE,
        formulas: figures::all(),
        glossary: TERMS,
        jobs: &JOBS,
        parts: fields::sheets(),
        meters: &USUAL,
        symptoms: Symptom::sheets(),
        odd_questions: odd_questions(),
        sources: Source::ALL.into_iter().map(|key| SourceText { key, text: key.text() }).collect(),
    })
}
