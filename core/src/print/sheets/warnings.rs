//! The label of warnings: what someone will do later, and nothing but words prevents.

use super::Sheet;
use super::framed::{Paragraph, framed};
use crate::advise::misuse::misuses;
use crate::plan::Plan;

const WIDTH_MM: f64 = 95.0;
const LEAST_MM: f64 = 30.0;

/// The label; none where nothing is to be warned of, or the plan says too little.
pub fn page(plan: &Plan) -> Option<Sheet> {
    let warnings: Vec<Paragraph> =
        misuses(plan).ok()?.into_iter().filter_map(|m| m.label).map(|words| (3.2, 600, words)).collect();
    if warnings.is_empty() {
        return None;
    }
    let head: Paragraph = (4.6, 600, format!("{}: lithium inside", plan.name));
    Some(super::page::page(
        "warnings".to_owned(),
        format!("{}: label of warnings", plan.name),
        "Cut along the line; on the device, where the hand goes first.",
        framed("warnings", WIDTH_MM, LEAST_MM, [vec![head], warnings].concat()),
    ))
}
