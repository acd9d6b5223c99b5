//! The arrival tests of a plan's parts, with what was read and what it says.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures::load::CONTINUOUS_A;
use super::figures::voltage::FULL_V;
use super::figures::voltage::LINE_FULL_V;
use super::fill;
use super::workspace::Workspace;
use crate::physics::arrival::{self, ArrivalTest, ArrivalTests, Outcome, Task};
use crate::plan::{Arrival, Change, FieldError, How, Known, Node, Plan};

/// One test with its outcome.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TestReport {
    /// The test.
    pub test: ArrivalTest,
    /// What was read or found, if it was done on this part.
    pub done: Option<Arrival>,
    /// What that says.
    pub outcome: Outcome,
    /// The same in words.
    pub words: String,
    /// The changes by which the plan uses the reading, where that makes a difference.
    pub adopt: Vec<Change>,
}

/// The tests of the part at one node.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PartTests {
    /// The node.
    pub place: String,
    /// Name of its part.
    pub part: String,
    /// Dummy parts and instruments.
    pub needs: Vec<String>,
    /// The tests, in order.
    pub tests: Vec<TestReport>,
}

/// Arrival tests of board, cut-off board, fuse, switch, charger and supply, as far as they are chosen.
pub fn arrival_tests(plan: &Plan) -> Result<Vec<PartTests>, Vec<FieldError>> {
    plan.check()?;
    let workspace = fill(plan, None)?;
    Ok(tests_of(&workspace))
}

/// The same of a plan that is laid out already.
pub(crate) fn tests_of(workspace: &Workspace<'_>) -> Vec<PartTests> {
    workspace.plan.nodes.iter().enumerate().filter_map(|(i, node)| report(workspace, i, node)).collect()
}

fn task(workspace: &Workspace<'_>) -> Task {
    let l = &workspace.ledger;
    Task {
        series: workspace.pack.series,
        facts: workspace.facts(),
        continuous_a: l.value(&CONTINUOUS_A),
        full_v: l.value(&LINE_FULL_V),
        pack_full_v: l.value(&FULL_V),
        dummy: workspace.plan.dummy,
    }
}

fn bill<'a>(workspace: &Workspace<'_>, node: &'a Node) -> Option<(&'a str, ArrivalTests)> {
    let part = node.part.part()?;
    let name = &part.offer().name;
    Some((name, arrival::tests(part, &task(workspace))?))
}

fn done<'a>(plan: &'a Plan, node: &Node, test: &ArrivalTest, part: &str) -> Option<&'a Arrival> {
    plan.arrivals.iter().find(|a| a.place == node.id && a.test == test.id && a.part == part)
}

fn report(workspace: &Workspace<'_>, index: usize, node: &Node) -> Option<PartTests> {
    let (name, bill) = bill(workspace, node)?;
    let tests = bill.tests.into_iter().map(|test| {
        let done = done(workspace.plan, node, &test, name);
        let (outcome, words) = arrival::judge(&test, name, done);
        let adopt = done.and_then(|d| adopt(workspace.plan, index, &test, d)).into_iter().collect();
        TestReport { done: done.cloned(), outcome, words, adopt, test }
    });
    Some(PartTests { place: node.id.clone(), part: name.to_owned(), needs: bill.needs, tests: tests.collect() })
}

/// The change that puts a reading among the part's figures; none where it stands there already.
fn adopt(plan: &Plan, index: usize, test: &ArrivalTest, done: &Arrival) -> Option<Change> {
    let (adopts, reading) = (test.adopts?, done.reading.as_ref().filter(|r| r.value > 0.0)?);
    let kind = plan.nodes[index].part.part()?.kind();
    let at = format!("/nodes/{index}/part/part/{kind}{}", adopts.at);
    let value = reading.value / adopts.divide_by;
    let change = if adopts.known {
        let error = reading.error.map(|e| e / adopts.divide_by);
        Change::put(at, Known { value, error, how: How::Measured, meter: reading.meter.clone() })
    } else {
        Change::put(at, value)
    };
    let document = serde_json::to_value(plan).ok()?;
    (document.pointer(&change.at) != Some(&change.value)).then_some(change)
}

/// Tests of chosen parts that came out wrong: the node, its part, the test's title, the outcome in words.
pub(super) fn failed<'a>(workspace: &Workspace<'a>) -> Vec<(&'a Node, &'a str, &'static str, String)> {
    if workspace.plan.arrivals.is_empty() {
        return vec![];
    }
    let mut found = vec![];
    for node in &workspace.plan.nodes {
        let Some((name, bill)) = bill(workspace, node) else { continue };
        for test in &bill.tests {
            let (outcome, words) = arrival::judge(test, name, done(workspace.plan, node, test, name));
            // The row of dummy cells is the maker's, not the part's.
            if outcome == Outcome::Wrong && test.id != "row" {
                found.push((node, name, test.title, words));
            }
        }
    }
    found
}
