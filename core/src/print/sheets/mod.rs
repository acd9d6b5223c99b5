//! Sheets to print at 1:1: the faces of the brick, drilling templates, the labels of the pack and of warnings. A4, SVG, in millimetres.

mod faces;
mod framed;
mod holes;
mod label;
mod page;
mod warnings;

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::Assessment;
use crate::plan::Plan;

/// One page.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Sheet {
    /// Short name: letters, digits and hyphens.
    pub name: String,
    /// What it is.
    pub title: String,
    /// The page as SVG text.
    #[serde(skip)]
    pub svg: String,
}

/// Every page of a plan: those of a brick that is laid out, of the compartments that have openings, and the labels once
/// cell and counts are chosen. `day` is written on the label.
pub fn sheets(plan: &Plan, assessment: &Assessment, day: &str) -> Vec<Sheet> {
    let mut found = faces::pages(plan);
    found.extend(holes::pages(plan));
    found.extend(label::page(plan, assessment, day));
    found.extend(warnings::page(plan));
    found
}
