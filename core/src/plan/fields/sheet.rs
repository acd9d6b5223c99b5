//! The table of figures as a typed form reads it.

use serde::Serialize;
use serde_json::Value;
use utoipa::ToSchema;

use super::{Field, Form, PartKind, Word, blank, typed};

/// How a figure is typed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Typed {
    /// Words that must be there.
    Name,
    /// A number.
    Quantity,
    /// A number with how it is known.
    Known,
    /// Yes, no, or not stated.
    YesNo,
    /// A tick.
    Flag,
    /// One of a few words.
    Choice,
    /// Thickness of a wire.
    WireSize,
    /// Outer size of a cell.
    CellSize,
}

/// One figure of a typed form.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
pub struct FieldSheet {
    /// JSON pointer below the part.
    pub at: &'static str,
    /// What it is called.
    pub label: &'static str,
    /// How it is typed.
    pub typed: Typed,
    /// Key of its range, where it is a number.
    pub range: Option<&'static str>,
    /// Its words, where it is one of a few.
    pub words: &'static [Word],
    /// Whether a part cannot be without it.
    pub needed: bool,
    /// Where the plan says already what a part typed for it is.
    pub from_plan: Option<&'static str>,
}

impl From<&Field> for FieldSheet {
    fn from(field: &Field) -> Self {
        let (typed, words): (Typed, &'static [Word]) = match field.form {
            Form::Name => (Typed::Name, &[]),
            Form::Quantity(_) => (Typed::Quantity, &[]),
            Form::Known(_) => (Typed::Known, &[]),
            Form::YesNo => (Typed::YesNo, &[]),
            Form::Flag => (Typed::Flag, &[]),
            Form::Choice(words) => (Typed::Choice, words),
            Form::WireSize => (Typed::WireSize, &[]),
            Form::CellSize => (Typed::CellSize, &[]),
        };
        let range = field.range().map(|r| r.key);
        let Field { at, label, needed, from_plan, .. } = *field;
        FieldSheet { at, label, typed, range, words, needed, from_plan }
    }
}

/// One kind of part as a typed form knows it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PartSheet {
    /// The kind.
    pub kind: PartKind,
    /// One of them.
    pub title: &'static str,
    /// Several.
    pub many: &'static str,
    /// The word by which a document holds it.
    pub held_as: &'static str,
    /// The key of a module under which it does what makes it of this kind.
    pub does: Option<&'static str>,
    /// What is known of one before anything is typed.
    pub blank: Value,
    /// Its figures.
    pub fields: Vec<FieldSheet>,
}

/// Every kind of part, in the order of the work.
pub fn sheets() -> Vec<PartSheet> {
    let sheet = |kind: PartKind| {
        let (title, many) = (kind.names().title, kind.names().many);
        let fields = typed(kind).map(FieldSheet::from).collect();
        PartSheet { kind, title, many, held_as: kind.held_as(), does: kind.does(), blank: blank(kind), fields }
    };
    PartKind::ALL.into_iter().map(sheet).collect()
}
