//! Every figure of a part, once: where it stands, what it is called, what it may be, how a table and a seller name it.
//!
//! A part is declared with `part_fields!`, one line a figure. The plan's check, the typed form, the parts sheet, the listing
//! reader and the history read that table; none of them names a figure again. A new figure is a new line.

mod choices;
mod figure;
mod kind;
pub(super) mod settles;
mod sheet;

pub(super) use choices::{
    CELL_ORIGINS, CELL_SHAPES, CHARGER_KINDS, CHEMISTRIES, FUSE_STYLES, INSULATIONS, PORTS, READY_KINDS, RESETS,
    STRIP_METALS, TOPOLOGIES, WIRE_STANDARDS,
};
pub use figure::{Figure, Seen};
pub use kind::{PartKind, PartNames};
pub use sheet::{FieldSheet, PartSheet, Typed, sheets};

use serde::Serialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use super::{
    Alarms, Bms, Cell, CellSize, Charger, Connector, Converter, CutsOff, Fuse, Module, Offer, ReadyPack, Strip,
    Supplies, Switch, Wire, WireSize,
};
use crate::base::range::Range;

/// What a figure is, and so how it is drawn, written and checked.
#[derive(Debug, Clone, Copy)]
pub enum Form {
    /// Words that must be there.
    Name,
    /// A number.
    Quantity(&'static Range),
    /// A number with how it is known.
    Known(&'static Range),
    /// Yes, no, or not stated.
    YesNo,
    /// Yes or no; no until it is ticked.
    Flag,
    /// One of a few words.
    Choice(&'static [Word]),
    /// Thickness of a wire, in one of two standards.
    WireSize,
    /// Outer size of a cell, by its shape.
    CellSize,
}

/// One of the words of a choice.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
pub struct Word {
    /// The word of the plan's format.
    pub value: &'static str,
    /// What a person reads.
    pub title: &'static str,
    /// How a seller says it, as a pattern; empty says nothing. The later of a list is the more special: it is tried first.
    #[serde(skip)]
    pub heard: &'static str,
}

/// How a seller says a figure.
#[derive(Debug, Clone, Copy)]
pub enum Heard {
    /// A number of the figure's unit beside these words and not beside those.
    Number {
        /// Pattern of the words; empty fits any.
        words: &'static str,
        /// Pattern of words that mean another figure; empty is none.
        not: &'static str,
        /// What such a number can be.
        within: (f64, f64),
        /// How clearly it says so.
        clear: Clear,
        /// Whether it is the upper end of a range.
        upper: bool,
    },
    /// Words that say yes, or that there is one.
    Yes(&'static str),
    /// Words that say no, or that there is none.
    No(&'static str),
}

/// How clearly a seller's words mean one figure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Clear {
    /// They mean nothing else.
    Named,
    /// They mean this one where they mean no other.
    Vague,
    /// Nothing but the unit speaks for it.
    Bare,
}

/// One figure of a part.
#[derive(Debug, Clone, Copy)]
pub struct Field {
    /// JSON pointer in the part.
    pub at: &'static str,
    /// What it is called.
    pub label: &'static str,
    /// Parts that have it.
    pub kinds: &'static [PartKind],
    /// What it is.
    pub form: Form,
    /// Whether a part cannot be without it.
    pub needed: bool,
    /// Where the plan says already what a part typed for it is.
    pub from_plan: Option<&'static str>,
    /// Its column in a parts sheet.
    pub column: &'static str,
    /// What a sheet and a seller mean who do not say, where they say something beside it.
    pub otherwise: Option<&'static str>,
    /// Whether it belongs to a size, which draws and checks it.
    pub inner: bool,
    /// How weighty it is that a seller does not state it, from 1; 0 is not asked for.
    pub weight: u8,
    /// What settles it; empty where nothing but the print does.
    pub settles: &'static str,
    /// Whether the larger of two statements is the more careful.
    pub careful_is_larger: bool,
    /// How a seller says it.
    pub heard: &'static [Heard],
}

impl Field {
    const fn new(label: &'static str, form: Form) -> Field {
        Field {
            at: "",
            label,
            kinds: &[],
            form,
            needed: false,
            from_plan: None,
            column: "",
            otherwise: None,
            inner: false,
            weight: 0,
            settles: "",
            careful_is_larger: false,
            heard: &[],
        }
    }

    /// With what its declaration knows of it: where it stands, of whom, and its name.
    pub(super) const fn placed(self, at: &'static str, kinds: &'static [PartKind], name: &'static str) -> Field {
        let column = if self.column.is_empty() { name } else { self.column };
        Field { at, kinds, column, ..self }
    }

    pub(super) const fn inner(self) -> Field {
        Field { inner: true, ..self }
    }

    pub(super) const fn needed(self) -> Field {
        Field { needed: true, ..self }
    }

    pub(super) const fn as_planned(self, at: &'static str) -> Field {
        Field { from_plan: Some(at), ..self }
    }

    pub(super) const fn column(self, column: &'static str) -> Field {
        Field { column, ..self }
    }

    pub(super) const fn or(self, otherwise: &'static str) -> Field {
        Field { otherwise: Some(otherwise), ..self }
    }

    pub(super) const fn settled_by(self, settles: &'static str) -> Field {
        Field { settles, ..self }
    }

    pub(super) const fn asked(self, weight: u8, settles: &'static str) -> Field {
        Field { weight, settles, ..self }
    }

    pub(super) const fn careful_is_larger(self) -> Field {
        Field { careful_is_larger: true, ..self }
    }

    pub(super) const fn heard(self, heard: &'static [Heard]) -> Field {
        Field { heard, ..self }
    }

    /// Its range, where it is a number.
    pub fn range(&self) -> Option<&'static Range> {
        match self.form {
            Form::Quantity(range) | Form::Known(range) => Some(range),
            _ => None,
        }
    }

    /// What is meant by the text of `otherwise`.
    fn meant(&self, otherwise: &str) -> Value {
        match self.form {
            Form::YesNo | Form::Flag => json!(otherwise == "yes"),
            Form::Quantity(_) => otherwise.parse::<i64>().map_or(Value::Null, |n| json!(n)),
            _ => json!(otherwise),
        }
    }

    /// What a person reads for a value of it; `None` where it is not one of its words.
    pub fn word(&self, value: &str) -> Option<&'static str> {
        let Form::Choice(words) = self.form else { return None };
        words.iter().find(|w| w.value == value).map(|w| w.title)
    }
}

pub(super) const fn quantity(label: &'static str, range: &'static Range) -> Field {
    Field::new(label, Form::Quantity(range))
}

pub(super) const fn known(label: &'static str, range: &'static Range) -> Field {
    Field::new(label, Form::Known(range))
}

pub(super) const fn yes_no(label: &'static str) -> Field {
    Field::new(label, Form::YesNo)
}

pub(super) const fn flag(label: &'static str) -> Field {
    Field::new(label, Form::Flag).or("no")
}

pub(super) const fn choice(label: &'static str, words: &'static [Word]) -> Field {
    Field::new(label, Form::Choice(words))
}

pub(super) const fn name() -> Field {
    Field::new("Name", Form::Name).needed()
}

pub(super) const fn wire_size(label: &'static str) -> Field {
    Field::new(label, Form::WireSize).needed()
}

pub(super) const fn cell_size(label: &'static str) -> Field {
    Field::new(label, Form::CellSize).needed()
}

/// Words that mean this figure and no other.
pub(super) const fn named(words: &'static str, within: (f64, f64)) -> Heard {
    Heard::Number { words, not: "", within, clear: Clear::Named, upper: false }
}

/// Words that mean this figure unless others stand beside them.
pub(super) const fn named_but(words: &'static str, not: &'static str, within: (f64, f64)) -> Heard {
    Heard::Number { words, not, within, clear: Clear::Named, upper: false }
}

/// The upper end of a range beside those words.
pub(super) const fn upper_but(words: &'static str, not: &'static str, within: (f64, f64)) -> Heard {
    Heard::Number { words, not, within, clear: Clear::Named, upper: true }
}

/// Words that mean this figure where nothing said another.
pub(super) const fn vague(words: &'static str, not: &'static str, within: (f64, f64)) -> Heard {
    Heard::Number { words, not, within, clear: Clear::Vague, upper: false }
}

/// A number of which nothing but its unit speaks for this figure.
pub(super) const fn bare(not: &'static str, within: (f64, f64)) -> Heard {
    Heard::Number { words: "", not, within, clear: Clear::Bare, upper: false }
}

/// What sellers state in amperes and voltage.
pub(super) const AMPS: (f64, f64) = (0.001, 1000.0);
pub(super) const VOLTS: (f64, f64) = (0.1, 500.0);
/// Voltage of one cell in a seller's text.
pub(super) const CELL: (f64, f64) = (1.0, 5.0);

/// Declares a part, or what a part does: a struct whose figures carry their line of the table.
macro_rules! part_fields {
    ($(#[$meta:meta])* pub struct $Name:ident at $below:literal of $kinds:expr;
     $($(#[$field_meta:meta])* pub $field:ident: $type:ty $(= $spec:expr)?,)*) => {
        $(#[$meta])*
        pub struct $Name {
            $($(#[$field_meta])* pub $field: $type,)*
        }

        impl $Name {
            /// Its figures.
            pub const FIELDS: &'static [crate::plan::fields::Field] = &[
                $($($spec.placed(concat!($below, "/", stringify!($field)), $kinds, stringify!($field)),)?)*
            ];

            /// Shows each of its figures with its line of the table.
            pub(crate) fn each<'p>(
                &'p self,
                see: &mut dyn FnMut(&'static crate::plan::fields::Field, crate::plan::fields::Figure<'p>),
            ) {
                let figures = [$($({
                    const _: crate::plan::fields::Field = $spec;
                    crate::plan::fields::Seen::seen(&self.$field)
                },)?)*];
                Self::FIELDS.iter().zip(figures).for_each(|(field, figure)| see(field, figure));
            }
        }
    };
}
pub(super) use part_fields;

/// Every figure of every part, in the order of forms and tables.
pub fn all() -> impl Iterator<Item = &'static Field> {
    let (name, priced) = Offer::FIELDS.split_at(1);
    let parts: [&'static [Field]; 18] = [
        name,
        Cell::FIELDS,
        CellSize::FIELDS,
        ReadyPack::FIELDS,
        Strip::FIELDS,
        Bms::FIELDS,
        Charger::FIELDS,
        Converter::FIELDS,
        CutsOff::FIELDS,
        Alarms::FIELDS,
        Supplies::FIELDS,
        Module::FIELDS,
        Fuse::FIELDS,
        Connector::FIELDS,
        Switch::FIELDS,
        WireSize::FIELDS,
        Wire::FIELDS,
        priced,
    ];
    parts.into_iter().flatten()
}

/// Figures of one kind of part.
pub fn of(kind: PartKind) -> impl Iterator<Item = &'static Field> {
    all().filter(move |f| f.kinds.contains(&kind))
}

/// The figure that stands at a pointer of a plan; `None` where none of a part does.
pub fn at(pointer: &str) -> Option<&'static Field> {
    let places = [("cell", "cell"), ("strip", "strip"), ("wire", "wire"), ("ready", "pack")]
        .map(|(place, held_as)| (format!("/{place}/part"), held_as));
    let nodes = ["module", "fuse", "connector", "switch"].map(|held_as| (format!("/part/part/{held_as}"), held_as));
    let (at, held_as) = places
        .iter()
        .chain(&nodes)
        .find_map(|(place, held_as)| Some((pointer.split_once(place.as_str())?.1, *held_as)))?;
    all().find(|f| f.at == at && f.kinds.iter().any(|k| k.held_as() == held_as))
}

/// Figures of one kind of part that are typed: those of a size are typed with it.
pub fn typed(kind: PartKind) -> impl Iterator<Item = &'static Field> {
    of(kind).filter(|f| !f.inner)
}

/// A part of that kind of which nothing is known but its name, below its kind: a draft until what it needs is typed.
pub fn blank(kind: PartKind) -> Value {
    let mut body = Value::Object(Map::new());
    for field in typed(kind) {
        let value = match field.form {
            Form::Name => json!(format!("my {}", kind.names().title)),
            Form::Flag => json!(false),
            _ => Value::Null,
        };
        put(&mut body, field.at, value);
    }
    body
}

/// Puts a value at a pointer, making the objects on the way.
pub fn put(body: &mut Value, at: &str, value: Value) {
    let mut place = body;
    for key in at.split('/').skip(1) {
        if !place.is_object() {
            *place = Value::Object(Map::new());
        }
        place = &mut place[key];
    }
    *place = value;
}

/// Puts what is meant where nothing is said but something beside it is.
pub fn put_the_usual(body: &mut Value, kind: PartKind) {
    for field in of(kind) {
        let beside = field.at.rsplit_once('/').map_or("", |(parent, _)| parent);
        if let Some(otherwise) = field.otherwise
            && body.pointer(beside).is_some()
            && body.pointer(field.at).is_none()
        {
            put(body, field.at, field.meant(otherwise));
        }
    }
}
