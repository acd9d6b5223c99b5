//! What the screens ask of a plan as it stands: many questions in one call, each answered or refused by itself.

use std::sync::Arc;

use brick_core::advise::bill::{Bill, bill};
use brick_core::advise::fix::{BoardPlace, FindingFixes, Raise, board_places, raise};
use brick_core::advise::misuse::{Misuse, misuses};
use brick_core::advise::prove::{Procedure, converter_set_up, procedure};
use brick_core::advise::suggest::layouts::{LayoutOffers, offers};
use brick_core::advise::suggest::strips::{StripOffer, strip_offers};
use brick_core::advise::suggest::{Suggestion, VoltageOptions, options, suggest};
use brick_core::assess::{
    Balance, ChargeReport, Coordination, FillReport, FillsFrom, NetworkReport, PartTests, WhatIf, arrival_tests,
    balance, charge, coordination, fills, network,
};
use brick_core::base::range;
use brick_core::diagnose::{Diagnosis, Evidence, diagnose};
use brick_core::physics::converter::SetUpStep;
use brick_core::plan::FieldError;
use brick_core::print::diagram::{Diagram, Shown, diagram};
use brick_core::print::json::Written;
use brick_core::{Assessment, Catalogue, Plan, all_fixes, assess};
use rocket::futures::future::join_all;
use rocket::serde::json::Json;
use rocket::{State, post};
use serde::ser::Error as _;
use serde::{Deserialize, Serialize, Serializer};
use serde_json::value::RawValue;
use sqlx::PgPool;
use utoipa::ToSchema;

use crate::Problem;
use crate::api::brick::edit::{BrickSheet, sheet_of};
use crate::api::http::body::{Body, plan_at};
use crate::store::parts::Catalogues;
use crate::work::work;

/// Most questions of one call: more than any screen has panels.
const QUESTIONS_MAX: usize = 40;

/// One question about a plan.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(tag = "about", rename_all = "snake_case", deny_unknown_fields)]
pub enum Question {
    /// Every arrangement of the cells in their compartment, the best first.
    Arrangements,
    /// Tests of parts on arrival, with what was read and what it says.
    ArrivalTests,
    /// Figures, findings, path, stages.
    Assessment,
    /// How far the groups are apart, and what each school of balancing makes of it.
    Balance,
    /// The parts list, against what the catalogue has at hand.
    Bill,
    /// Where the board may sit, and what it guards there.
    BoardPlaces,
    /// The brick as it is laid: faces, steps, strips, fit, holes.
    Brick,
    /// The ways to charge the pack, its course, what may feed it, what was read at its contacts.
    Charge,
    /// Who acts first in overload, stall and dead short.
    Coordination,
    /// Which fault explains what was read, seen and answered, and what to read or ask next.
    Diagnosis {
        /// What is known.
        #[serde(default)]
        evidence: Evidence,
    },
    /// The wiring diagram in a condition; nothing until chemistry and series count are chosen.
    Diagram {
        /// The condition.
        #[serde(default)]
        shown: Shown,
    },
    /// The charge until its charger ends, or the board does.
    Fill {
        /// What is different from the plan.
        #[serde(default)]
        what: WhatIf,
        /// Where it begins.
        #[serde(default)]
        from: FillsFrom,
    },
    /// The smallest changes that clear each finding, each tried before it is offered.
    Fixes,
    /// Foreseeable misuse, what then happens, and what stands against it.
    Later,
    /// What flows in every strip and cell, how warm that makes it, other ways to take the current off, other strips.
    Network {
        /// After which time a continuous level is looked at; absent is the run time.
        #[serde(default)]
        after_s: Option<f64>,
    },
    /// Proving the device on a bench supply: the steps, with what the plan's readings say so far.
    Proving,
    /// What it would take to raise the continuous current, the cheapest first.
    Raise {
        /// Continuous current at the battery.
        wanted_a: f64,
    },
    /// Setting the converter up on a bench supply before it is wired in; empty while there is nothing to set up.
    SetUp,
    /// Parts of the catalogue for one place, best first, each misfit with its reason.
    Suggestions {
        /// `cell`, `strip`, or the id of a node or run.
        place: String,
    },
    /// Every pack that could feed the device, best first.
    VoltageOptions,
}

/// The answer to a question of the same name.
#[derive(Debug, Serialize, ToSchema)]
#[serde(tag = "about", content = "answer", rename_all = "snake_case")]
pub enum Answer {
    /// Arrangements.
    #[serde(serialize_with = "as_written")]
    Arrangements(LayoutOffers),
    /// Tests of parts.
    ArrivalTests(Vec<PartTests>),
    /// Figures, findings, path, stages.
    #[serde(serialize_with = "as_written")]
    Assessment(Box<Assessment>),
    /// Balance of the groups.
    #[serde(serialize_with = "as_written")]
    Balance(Balance),
    /// The parts list.
    #[serde(serialize_with = "as_written")]
    Bill(Bill),
    /// Places of the board.
    BoardPlaces(Vec<BoardPlace>),
    /// The brick.
    Brick(BrickSheet),
    /// The charge.
    #[serde(serialize_with = "as_written")]
    Charge(ChargeReport),
    /// Who acts first.
    #[serde(serialize_with = "as_written")]
    Coordination(Coordination),
    /// Causes, and what to read or ask next.
    Diagnosis(Diagnosis),
    /// The wiring diagram.
    #[serde(serialize_with = "as_written")]
    Diagram(Option<Diagram>),
    /// The charge, simulated.
    #[serde(serialize_with = "as_written")]
    Fill(FillReport),
    /// Fixes of every finding.
    #[serde(serialize_with = "as_written")]
    Fixes(Vec<FindingFixes>),
    /// Foreseeable misuse.
    Later(Vec<Misuse>),
    /// Currents and heat.
    Network(NetworkSheet),
    /// Proving.
    Proving(Procedure),
    /// More current.
    Raise(Raise),
    /// Setting up.
    SetUp(Vec<SetUpStep>),
    /// Parts for a place.
    #[serde(serialize_with = "as_written")]
    Suggestions(Vec<Suggestion>),
    /// Voltages.
    #[serde(serialize_with = "as_written")]
    VoltageOptions(VoltageOptions),
}

/// What flows in a brick, and strips that would carry it.
#[derive(Debug, Serialize, ToSchema)]
pub struct NetworkSheet {
    /// Currents, heat, and the ways to take the current off.
    #[serde(serialize_with = "as_written")]
    network: NetworkReport,
    /// For each metal the lightest strip that would do.
    strips: Vec<StripOffer>,
}

/// A plan and what is asked of it.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Questions {
    /// The plan.
    #[schema(value_type = Plan)]
    plan: Box<RawValue>,
    /// Number of the edit that it stands at, to tell the answers of one edit from those of the next.
    #[serde(default)]
    edit: u32,
    /// The questions, 1 to 40.
    questions: Vec<Question>,
}

/// The answers, in the order of the questions.
#[derive(Debug, Serialize, ToSchema)]
pub struct Answers {
    /// Number of the edit that was asked about.
    edit: u32,
    /// One for each question.
    replies: Vec<Reply>,
}

/// An answer, or why there is none.
#[derive(Debug, Serialize, ToSchema)]
pub struct Reply {
    /// The answer.
    answer: Option<Answer>,
    /// Why there is none.
    problem: Option<Problem>,
}

/// Answers every question about a plan as it stands. A plan that cannot stand is refused whole.
#[utoipa::path(context_path = "/api", request_body = Questions,
    responses((status = 200, body = Answers), (status = 422, body = Problem)))]
#[post("/answers", data = "<asked>")]
pub async fn answer_questions(
    asked: Result<Body<Questions>, Problem>,
    catalogues: &State<Catalogues>,
    pool: &State<PgPool>,
) -> Result<Json<Answers>, Problem> {
    let Questions { plan, edit, questions } = asked?.0;
    if !(1..=QUESTIONS_MAX).contains(&questions.len()) {
        let message = format!("1 to {QUESTIONS_MAX} questions; these are {}", questions.len());
        return Err(Problem::fields(vec![FieldError { field: "/questions".to_owned(), message }]));
    }
    let plan = plan_at("/plan", &plan)?;
    let (plan, catalogue) = (Arc::new(plan), catalogues.now(pool).await?);
    let replies = questions.into_iter().map(|question| {
        let (plan, catalogue) = (plan.clone(), catalogue.clone());
        async {
            match work(move || answer(&plan, &catalogue, question)).await {
                Ok(answer) => Reply { answer: Some(answer), problem: None },
                Err(problem) => Reply { answer: None, problem: Some(problem) },
            }
        }
    });
    Ok(Json(Answers { edit, replies: join_all(replies).await }))
}

fn as_written<T: Written, S: Serializer>(report: &T, serializer: S) -> Result<S::Ok, S::Error> {
    report.written().map_err(S::Error::custom)?.serialize(serializer)
}

fn answer(plan: &Plan, catalogue: &Catalogue, question: Question) -> Result<Answer, Vec<FieldError>> {
    Ok(match question {
        Question::Arrangements => {
            let nothing = |missing: &str| LayoutOffers { missing: Some(missing.to_owned()), ..LayoutOffers::default() };
            Answer::Arrangements(offers(plan).unwrap_or_else(nothing))
        }
        Question::ArrivalTests => Answer::ArrivalTests(arrival_tests(plan)?),
        Question::Assessment => Answer::Assessment(Box::new(assess(plan)?)),
        Question::Balance => Answer::Balance(balance(plan)?),
        Question::Bill => Answer::Bill(bill(plan, catalogue)?),
        Question::BoardPlaces => Answer::BoardPlaces(board_places(plan)?),
        Question::Brick => Answer::Brick(sheet_of(plan)),
        Question::Charge => Answer::Charge(charge(plan)?),
        Question::Coordination => Answer::Coordination(coordination(plan)?),
        Question::Diagnosis { evidence } => Answer::Diagnosis(diagnose(plan, &evidence)?),
        Question::Diagram { shown } => Answer::Diagram(diagram(plan, shown)?),
        Question::Fill { what, from } => Answer::Fill(fills(plan, &what, from)?),
        Question::Fixes => Answer::Fixes(all_fixes(plan, catalogue)?),
        Question::Later => Answer::Later(misuses(plan)?),
        Question::Network { after_s } => {
            if let Some(error) = after_s.and_then(|s| range::RUN_TIME.check(s).err()) {
                return Err(vec![FieldError { field: "/after_s".to_owned(), message: error.to_string() }]);
            }
            Answer::Network(NetworkSheet { network: network(plan, after_s)?, strips: strip_offers(plan) })
        }
        Question::Proving => Answer::Proving(procedure(plan)?),
        Question::Raise { wanted_a } => Answer::Raise(raise(plan, catalogue, wanted_a)?),
        Question::SetUp => Answer::SetUp(converter_set_up(plan)?),
        Question::Suggestions { place } => Answer::Suggestions(suggest(plan, catalogue, &place)?),
        Question::VoltageOptions => Answer::VoltageOptions(options(plan)?),
    })
}
