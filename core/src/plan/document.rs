//! Reading a plan: format and version first, then shape, then ranges.

use serde::de::Error as _;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use thiserror::Error;

use super::{FieldError, Plan};

/// What the `format` field of every plan says.
pub const FORMAT: &str = "dense-brick/plan";
/// The version this program writes.
///
/// 2 adds what a survey finds (job, electronics, surroundings, compartments, the charger's label) and the meters at hand; all
/// of it may be absent, so that a file of version 1 is one of version 2 in which nothing of that is known.
/// 3 adds photographs and how the device is taken apart, which may be absent too.
/// 4 adds the cells of the stock, group by group, which may be absent too.
/// 5 adds the brick (where each cell sits, and the room round the cells), where things stand in a compartment, and
/// what goes through an opening; all of it may be absent, and what has no place stands in the corner.
/// 6 adds where the pack is taken off, how its cells are joined, the holder that is printed, and aluminium strips; all
/// of it may be absent.
/// 7 adds a board's detector, transistors, port and re-set, what was read on parts when they arrived, and the voltage of each
/// group at rest; all of it may be absent.
/// 8 adds what a charger takes, how it begins and ends, the host's charge circuit, and what was read at jack and plug; all of
/// it may be absent.
/// 9 adds how the wiring is done besides the runs, and what is bought besides the parts; all of it may be absent.
/// 10 adds what a logged discharge of a cell was fitted to; it may be absent.
/// 11 adds the open-circuit curve of that cell, which may be absent too.
/// 12 adds packs that are taken as a whole, places that one thing serves together, where a thing sits, what is connected beside the device,
/// what the label of the old battery says, walls that are cut away, coils, a gauge's readings after its change and a host that feeds the
/// charger; all of it may be absent.
/// 13 adds the device's contacts with what was read there, the compartment that a part sits in, and the plug, charger and charge indicator
/// of a pack that is taken as a whole; all of it may be absent.
/// 14 lets a step of the disassembly leave open whether it can be undone.
pub const VERSION: u32 = 14;

/// Reads the version of a plan: any known one becomes today's, a newer one is refused.
pub(super) fn upgraded<'de, D: Deserializer<'de>>(deserializer: D) -> Result<u32, D::Error> {
    match u32::deserialize(deserializer)? {
        1..=VERSION => Ok(VERSION),
        0 => Err(D::Error::custom("there is no version 0")),
        newer => {
            Err(D::Error::custom(format!("version {newer} is newer than {VERSION}, the newest this program reads")))
        }
    }
}

/// Why a document is not a plan this program can take.
#[derive(Debug, Error)]
pub enum ReadError {
    /// Not JSON, or not in the shape of a plan.
    #[error("line {line}, column {column}, {field}: {reason}")]
    Shape {
        /// JSON pointer of the field, as far as it could be read.
        field: String,
        /// Line of the document.
        line: usize,
        /// Column of that line.
        column: usize,
        /// What is wrong there.
        reason: String,
    },
    /// Some other document.
    #[error("/format: “{found}” is not “{FORMAT}”")]
    Format {
        /// What was found instead.
        found: String,
    },
    /// Written by a newer program.
    #[error("/version: {found} is newer than {VERSION}, the newest this program reads")]
    Newer {
        /// The version found.
        found: u64,
    },
    /// Values out of range, or references that lead nowhere.
    #[error("{}", .0.iter().map(ToString::to_string).collect::<Vec<_>>().join("; "))]
    Fields(Vec<FieldError>),
}

/// The JSON pointer (RFC 6901) of a place that was being read; `/` for the document as a whole.
pub fn pointer_of(path: &serde_path_to_error::Path) -> String {
    use serde_path_to_error::Segment;
    let step = |segment: &Segment| match segment {
        Segment::Seq { index } => Some(format!("/{index}")),
        Segment::Map { key: name } | Segment::Enum { variant: name } => {
            Some(format!("/{}", name.replace('~', "~0").replace('/', "~1")))
        }
        Segment::Unknown => None,
    };
    let steps: String = path.iter().filter_map(step).collect();
    if steps.is_empty() { "/".to_owned() } else { steps }
}

fn shape(field: &str, e: &serde_json::Error) -> ReadError {
    // The place stands before the reason already.
    let told = e.to_string();
    let reason = told.split(" at line ").next().unwrap_or_default().to_owned();
    ReadError::Shape { field: field.to_owned(), line: e.line(), column: e.column(), reason }
}

// A plan that is read has taken over what follows from what it says once: nobody has to ask for that again.
impl<'de> Deserialize<'de> for Plan {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Plan, D::Error> {
        let mut plan = Plan::deserialize(deserializer)?;
        plan.follow();
        Ok(plan)
    }
}

impl Serialize for Plan {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        Plan::serialize(self, serializer)
    }
}

impl Plan {
    /// Reads a plan from its JSON text and checks it.
    pub fn from_json(text: &str) -> Result<Plan, ReadError> {
        let raw: serde_json::Value = serde_json::from_str(text).map_err(|e| shape("/", &e))?;
        let format = raw.get("format").and_then(|v| v.as_str()).unwrap_or("nothing");
        if format != FORMAT {
            return Err(ReadError::Format { found: format.to_owned() });
        }
        if let Some(found) = raw.get("version").and_then(serde_json::Value::as_u64)
            && found > u64::from(VERSION)
        {
            return Err(ReadError::Newer { found });
        }
        let plan = Plan::from_shape(text)?;
        plan.check().map_err(ReadError::Fields)?;
        Ok(plan)
    }

    /// Reads a plan that this program has written: its shape alone, its values are not checked.
    pub fn from_shape(text: &str) -> Result<Plan, ReadError> {
        let reader = &mut serde_json::Deserializer::from_str(text);
        serde_path_to_error::deserialize(reader).map_err(|error| shape(&pointer_of(error.path()), error.inner()))
    }

    /// The plan as the text of a `*.brick.json` file.
    pub fn to_json(&self) -> Result<String, serde_json::Error> {
        serde_json::to_string_pretty(self).map(|text| text + "\n")
    }
}
