//! Sentences whose figures stay figures: a screen can show them in its own way and open their working.

use std::fmt::Write;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::quantity::{Unit, show};

/// A piece of a sentence.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Piece {
    /// Plain words.
    Text {
        /// The words.
        text: String,
    },
    /// A value with its unit.
    Quantity {
        /// In the unit of core.
        value: f64,
        /// Its unit.
        unit: Unit,
        /// Id of the figure it is, if its working can be opened.
        figure: Option<String>,
    },
}

/// A sentence as pieces, and as plain text for those who need no more.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Phrase {
    /// The pieces in order.
    pub pieces: Vec<Piece>,
    /// The same as plain text.
    pub text: String,
}

impl Phrase {
    /// Plain words.
    pub fn words(text: impl Into<String>) -> Self {
        Phrase::default().text(text)
    }

    /// Adds words.
    pub fn text(mut self, text: impl Into<String>) -> Self {
        let text = text.into();
        self.text.push_str(&text);
        self.pieces.push(Piece::Text { text });
        self
    }

    /// The same with figures that lead nowhere.
    pub fn unlinked(mut self) -> Self {
        for piece in &mut self.pieces {
            if let Piece::Quantity { figure, .. } = piece {
                *figure = None;
            }
        }
        self
    }

    /// Adds a value.
    pub fn value(self, value: f64, unit: Unit) -> Self {
        self.figure(value, unit, None)
    }

    /// Adds a value that is a figure.
    pub fn figure(mut self, value: f64, unit: Unit, figure: Option<String>) -> Self {
        // Writing to a String cannot fail.
        let _ = write!(self.text, "{}", show(value, unit));
        self.pieces.push(Piece::Quantity { value, unit, figure });
        self
    }

    /// Ids of the figures it names.
    pub fn figures(&self) -> impl Iterator<Item = &str> {
        self.pieces.iter().filter_map(|p| match p {
            Piece::Quantity { figure, .. } => figure.as_deref(),
            Piece::Text { .. } => None,
        })
    }
}
