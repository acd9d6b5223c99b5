//! Setting the plan's converter up before it is wired in.

use crate::assess::figures::converter::{losses, output_a};
use crate::assess::{at_workspace, figures};
use crate::physics::converter::{SetUp, SetUpStep, TYPICAL_K_PER_W, set_up};
use crate::plan::{FieldError, Plan};

/// The steps for the converter of a plan; none without one, or while pack or load are not known.
///
/// Refuses a plan that cannot stand.
pub fn converter_set_up(plan: &Plan) -> Result<Vec<SetUpStep>, Vec<FieldError>> {
    plan.check()?;
    at_workspace(plan, |workspace| {
        let value = |def| workspace.ledger.value(def);
        let found = workspace.converter().and_then(|(_, c)| {
            let output_a = output_a(workspace, c.output_v)?;
            Some(SetUp {
                topology: c.topology,
                output_v: c.output_v,
                output_a,
                full_v: value(&figures::voltage::LINE_FULL_V)?,
                nominal_v: value(&figures::voltage::LINE_NOMINAL_V)?,
                lowest_v: value(&figures::voltage::CUTOFF_V)?,
                efficiency: c.efficiency,
                losses: losses(c, output_a),
                k_per_w: c.k_per_w.unwrap_or(TYPICAL_K_PER_W),
            })
        });
        found.map_or_else(Vec::new, |s| set_up(&s))
    })
}
