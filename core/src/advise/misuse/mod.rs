//! "Later, someone will...": foreseeable misuse of the finished device, each judged with what happens, what prevents it, and the
//! words for a warning label.

mod cases;

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::{assess, at_workspace};
use crate::plan::{FieldError, Plan};

/// How a misuse stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Prevented {
    /// The design prevents it.
    ByDesign,
    /// Nothing but a label does.
    ByLabel,
    /// Nothing does, and a finding says how to mend it.
    NotYet,
    /// Something must be found out first.
    Unknown,
}

/// One foreseeable misuse.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Misuse {
    /// Short and stable.
    pub id: &'static str,
    /// What someone will do.
    pub title: &'static str,
    /// What then happens, with the figures of this plan.
    pub happens: String,
    /// How it stands.
    pub prevented: Prevented,
    /// What prevents it, or what would.
    pub by: String,
    /// Key of the finding that mends it.
    pub finding: Option<String>,
    /// Words for the label; none where the design makes them needless.
    pub label: Option<String>,
}

/// Every misuse that this plan invites, those that nothing prevents first.
///
/// Refuses a plan that cannot stand.
pub fn misuses(plan: &Plan) -> Result<Vec<Misuse>, Vec<FieldError>> {
    let assessment = assess(plan)?;
    let mut all = at_workspace(plan, |workspace| cases::all(&cases::Device { workspace, assessment: &assessment }))?;
    for misuse in &mut all {
        misuse.finding = misuse.finding.take().filter(|key| assessment.findings.iter().any(|f| &f.key == key));
    }
    all.sort_by_key(|m| match m.prevented {
        Prevented::NotYet => 0,
        Prevented::Unknown => 1,
        Prevented::ByLabel => 2,
        Prevented::ByDesign => 3,
    });
    Ok(all)
}
