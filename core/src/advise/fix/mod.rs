//! Fixes: the smallest changes to a plan that clear a finding, each tried before it is offered.
//!
//! `moves` says which changes are worth trying for a rule; here each is applied to a copy of the plan and judged by
//! the same `assess`. A fix is offered only if the finding goes and no stop comes.

mod moves;
mod offers;
mod placing;
mod raise;
mod tries;

use crate::assess::rule;
use std::collections::HashSet;

use serde::Serialize;
use utoipa::ToSchema;

use crate::advise::suggest::{place_pointer, suggest};
use crate::assess::{Assessment, Finding, Severity, assess, assess_at_face_value};
use crate::base::phrase::Phrase;
use crate::parts::catalogue::Catalogue;
use crate::plan::{Change, Choice, FieldError, NodeKind, Plan, apply};
use offers::Offers;
use tries::Try;

pub use placing::{BoardPlace, board_places};
pub use raise::{Brought, Raise, RaiseStep, raise};

/// Most fixes offered for one finding: more is a list, not a choice.
const MOST_FIXES: usize = 3;
/// Rounds in which parts that no longer suit a changed voltage are exchanged along with it.
const MENDING_ROUNDS: usize = 6;

/// Share of the run below which a fix is none, and below which it is said. Chosen, no source.
const LEAST_OF_THE_RUN: f64 = 0.5;
const CLEARLY_SHORTER: f64 = 0.9;

/// One way to clear a finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Fix {
    /// What it does, in a few words: the button.
    pub label: String,
    /// The changes to the plan, made in order.
    pub changes: Vec<Change>,
    /// Titles of the cautions that come with it.
    pub brings: Vec<Phrase>,
}

/// The fixes of one finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FindingFixes {
    /// Key of the finding.
    pub finding: String,
    /// Its fixes, the best first; none if there is no change that clears it.
    pub fixes: Vec<Fix>,
}

/// Fixes for every finding of a plan that stands by itself and that no one accepted; a note has some where it offers something.
///
/// Refuses a plan that cannot stand.
pub fn all_fixes(plan: &Plan, catalogue: &Catalogue) -> Result<Vec<FindingFixes>, Vec<FieldError>> {
    let before = assess(plan)?;
    let offers = Offers::of(plan, catalogue);
    let open = |f: &&Finding| f.accepted.is_none() && f.follows.is_none();
    let wanted = before.findings.iter().filter(open);
    wanted.map(|f| Ok(FindingFixes { finding: f.key.clone(), fixes: of_finding(&offers, &before, f)? })).collect()
}

/// Fixes for the finding of that key, the best first; none if there is no change that clears it.
///
/// Refuses a plan that cannot stand, and a key that the plan does not bring.
pub fn fixes(plan: &Plan, catalogue: &Catalogue, key: &str) -> Result<Vec<Fix>, Vec<FieldError>> {
    let before = assess(plan)?;
    let Some(finding) = before.findings.iter().find(|f| f.key == key) else {
        return Err(vec![FieldError {
            field: "/finding".to_owned(),
            message: format!("this plan has no finding “{key}”"),
        }]);
    };
    of_finding(&Offers::of(plan, catalogue), &before, finding)
}

fn of_finding(offers: &Offers<'_>, before: &Assessment, finding: &Finding) -> Result<Vec<Fix>, Vec<FieldError>> {
    let judge = Judge { plan: offers.plan, catalogue: offers.catalogue, before, finding };
    let mut found: Vec<Fix> = vec![];
    for a_move in moves::moves_for(offers.plan, before, finding) {
        let fix = tries::of(offers, &a_move)?.into_iter().find_map(|a_try| judge.fix(a_try));
        found.extend(fix.filter(|fix| found.iter().all(|f| f.changes != fix.changes)));
    }
    // A stable sort: at equal cost the smaller change stays first.
    found.sort_by_key(|fix| fix.brings.len());
    found.truncate(MOST_FIXES);
    Ok(found)
}

/// What a try is measured against.
struct Judge<'a> {
    plan: &'a Plan,
    catalogue: &'a Catalogue,
    before: &'a Assessment,
    finding: &'a Finding,
}

impl Judge<'_> {
    /// The try as a fix, if it clears the finding and brings no stop.
    fn fix(&self, a_try: Try) -> Option<Fix> {
        let mut changes = a_try.changes;
        let mut trial = self.trial(&changes)?;
        let mut companions = Companions::default();
        if a_try.mends {
            for _ in 0..MENDING_ROUNDS {
                let Some(stop) = self.new_stops(&trial.1).next().cloned() else {
                    break;
                };
                changes.extend(self.mend(&trial, &stop, a_try.own.as_deref(), &mut companions)?);
                trial = self.trial(&changes)?;
            }
        }
        let cleared = trial.1.findings.iter().all(|f| f.key != self.finding.key);
        if !cleared || self.new_stops(&trial.1).next().is_some() {
            return None;
        }
        if self.worsens(&trial.0, &trial.1) {
            return None;
        }
        let known: HashSet<&str> = self.before.findings.iter().map(|f| f.key.as_str()).collect();
        let brings = trial.1.findings.iter().filter(|f| f.severity == Severity::Caution);
        let mut brings: Vec<Phrase> =
            brings.filter(|f| !known.contains(f.key.as_str())).map(|f| f.title.clone()).collect();
        brings.extend(self.runs_shorter(&trial.1));
        Some(Fix { label: format!("{}{}", a_try.label, companions.words()), changes, brings })
    }

    /// Whether a trial clears the finding by giving up what it was about: a board without a balancer for one that balances
    /// weakly, a board that does not see every cell, a run of a few minutes.
    fn worsens(&self, plan: &Plan, trial: &Assessment) -> bool {
        let figure = |of: &Assessment, id: &str| of.figure(id).map(|f| f.value);
        let balances = [rule::protection::BLEED_WEAK, rule::protection::NO_BALANCING, rule::charging::BALANCING_LONG];
        let bleeds = |of: &Assessment| figure(of, "board.bleed_a").unwrap_or(0.0);
        let hobby =
            plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref()).is_some_and(|c| c.balance_a.is_some());
        let weaker = balances.contains(&self.finding.rule) && !hobby && bleeds(trial) <= bleeds(self.before);
        let blind = trial.findings.iter().any(|f| f.rule == rule::protection::OTHER_SERIES);
        let run = figure(self.before, "run.time_s").zip(figure(trial, "run.time_s"));
        // A claim that cannot be, and cells that do not fit, had a run on paper only.
        let on_paper = ["cells.", "brick."].iter().any(|stage| self.finding.rule.starts_with(stage));
        let short = run.is_some_and(|(before_s, after_s)| after_s < LEAST_OF_THE_RUN * before_s);
        weaker || blind || short && !on_paper
    }

    /// What is said of a trial that runs clearly shorter.
    fn runs_shorter(&self, trial: &Assessment) -> Option<Phrase> {
        let (before, after) = (self.before.figure("run.time_s")?, trial.figure("run.time_s")?);
        (after.value < CLEARLY_SHORTER * before.value).then(|| {
            Phrase::words("The run is then ")
                .value(after.value, before.unit)
                .text(" instead of ")
                .value(before.value, before.unit)
        })
    }

    /// Exchanges the part that a stop is about; without a fitting one its place is left open, to be chosen again.
    fn mend(
        &self,
        trial: &(Plan, Assessment),
        stop: &Finding,
        own: Option<&str>,
        companions: &mut Companions,
    ) -> Option<Vec<Change>> {
        let place = moves::place_of(&trial.0, &trial.1, stop).filter(|place| own != Some(place))?;
        let word = moves::place_word(&trial.0, &place);
        let found = suggest(&trial.0, self.catalogue, &place).ok()?;
        if let Some(part) = found.into_iter().find(|s| s.worst != Some(Severity::Stop) && !s.chosen) {
            companions.exchanged.push(word);
            return Some(part.changes);
        }
        companions.exchanged.retain(|w| *w != word);
        companions.opened.push(word);
        Some(vec![Change::put(place_pointer(&trial.0, &place)?, Choice::<()>::Undecided)])
    }

    fn trial(&self, changes: &[Change]) -> Option<(Plan, Assessment)> {
        let plan = apply(self.plan, changes).ok()?;
        let assessment = assess_at_face_value(&plan).ok()?;
        Some((plan, assessment))
    }

    /// Stops of a trial that the plan did not have.
    fn new_stops<'t>(&'t self, trial: &'t Assessment) -> impl Iterator<Item = &'t Finding> {
        trial
            .findings
            .iter()
            .filter(|f| f.severity == Severity::Stop)
            // What was a caution before is a new stop.
            .filter(|f| !self.before.findings.iter().any(|b| b.key == f.key && b.severity == Severity::Stop))
    }
}

/// Parts that had to change along with a fix, by the word for their place.
#[derive(Default)]
struct Companions {
    exchanged: Vec<String>,
    opened: Vec<String>,
}

impl Companions {
    fn words(mut self) -> String {
        self.exchanged.dedup();
        self.opened.dedup();
        let mut words = String::new();
        if !self.exchanged.is_empty() {
            words += &format!(", with another {}", self.exchanged.join(" and "));
        }
        if !self.opened.is_empty() {
            words += &format!(", then choose the {} again", self.opened.join(" and "));
        }
        words
    }
}
