//! What no voltage tells: symptoms in words, questions with their answers, and reasons that read alike.
//!
//! The cases are the trade's own (common practice, no source): what one who mends such things would say first.

use crate::common;

use brick_core::Plan;
use brick_core::diagnose::{
    Answered, At, Diagnosis, Evidence, FaultKind, Symptom, Taken, UNKNOWN, diagnose, odd_questions,
};
use common::{sound, with};
use serde_json::{Value, json};

fn seen(symptoms: &[Symptom], answers: &[(&str, &str)]) -> Evidence {
    let answered =
        |(question, answer): &(&str, &str)| Answered { question: (*question).into(), answer: (*answer).into() };
    Evidence { seen: symptoms.to_vec(), answers: answers.iter().map(answered).collect(), ..Evidence::default() }
}

fn read(red: &str, black: &str, condition: At, volts: f64) -> Taken {
    Taken { red: red.into(), black: black.into(), condition, volts }
}

fn told(plan: &Plan, evidence: &Evidence) -> Diagnosis {
    diagnose(plan, evidence).unwrap()
}

/// Probability of a cause wherever it is, or of a reason behind one.
fn of(found: &Diagnosis, kind: FaultKind) -> f64 {
    let causes = found.hypotheses.iter();
    causes
        .map(|c| {
            if c.fault == kind {
                return c.probability;
            }
            c.probability * c.reasons.iter().filter(|r| r.fault == kind).map(|r| r.probability).sum::<f64>()
        })
        .sum()
}

fn demo(name: &str) -> Plan {
    let path = format!("{}/../demo/plans/{name}.brick.json", env!("CARGO_MANIFEST_DIR"));
    Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap()
}

/// Parts and electronics that the sound plan has none of, so that every cause can be one.
fn with_everything() -> Plan {
    with(
        &demo("star-tracker-mount"),
        &[("feed/change_over", json!({"by": "relay", "gap_s": 0.02})), ("feed/gauge_led", json!(true))],
    )
}

type Case = (Symptom, &'static [(&'static str, &'static str)], FaultKind);

/// What is seen, what is answered, and what it then is.
const CASES: &[Case] = &[
    (Symptom::DiesAfterSeconds, &[("setting", "weak"), ("at-the-device", "stays")], FaultKind::DeviceCutOut),
    (
        Symptom::DiesAfterSeconds,
        &[("setting", "strong"), ("opened-when", "start"), ("at-the-device", "gone")],
        FaultKind::BoardOverCurrent,
    ),
    (Symptom::DiesAfterSeconds, &[("warmth", "cold"), ("at-the-device", "sags")], FaultKind::Cold),
    (Symptom::DiesAfterSeconds, &[("wire-moved", "yes"), ("at-the-device", "sags")], FaultKind::JointResistive),
    (Symptom::DiesEarly, &[("faded", "yes"), ("setting", "every"), ("warmth", "mild")], FaultKind::WornCells),
    (
        Symptom::DiesEarly,
        &[("opened-when", "end"), ("restarts", "charger"), ("at-the-device", "gone")],
        FaultKind::BoardGroupLow,
    ),
    (Symptom::DiesEarly, &[("opened-when", "warm"), ("warmth", "hot"), ("at-the-device", "gone")], FaultKind::BoardHot),
    (Symptom::Dead, &[("woken", "no"), ("opened-when", "never-on")], FaultKind::BoardAsleep),
    (Symptom::NoOutputUntilCharged, &[("woken", "no")], FaultKind::BoardAsleep),
    (Symptom::StartsHard, &[], FaultKind::SoftStartLost),
    (Symptom::FuseBlows, &[("blows-when", "later")], FaultKind::FuseTooSmall),
    (Symptom::FuseBlows, &[("blows-when", "switched-on"), ("jerk", "yes")], FaultKind::SoftStartLost),
    (Symptom::FuseBlows, &[("blows-when", "joined"), ("jerk", "no")], FaultKind::Short),
    (Symptom::LampFlickers, &[("feed-voltage", "falls")], FaultKind::SupplyLimiting),
    (Symptom::LampFlickers, &[("stronger-feed", "gone")], FaultKind::SupplyLimiting),
    (
        Symptom::ChargesSlowly,
        &[("feed-voltage", "holds"), ("stronger-feed", "same"), ("charge-ends", "on-and-on")],
        FaultKind::ChargerWeak,
    ),
    (Symptom::GreenAtOnce, &[("charger-label", "other")], FaultKind::ChargerOtherCount),
    (Symptom::NeverFull, &[("charger-label", "other"), ("charge-ends", "green-low")], FaultKind::ChargerOtherCount),
    (
        Symptom::NeverFull,
        &[
            ("charge-ends", "red-stops"),
            ("groups-when-charged", "above"),
            ("charger-label", "planned"),
            ("opened-when", "charge"),
        ],
        FaultKind::BoardGroupHigh,
    ),
    (Symptom::NeverGreen, &[("charge-ends", "on-and-on"), ("off-current", "yes")], FaultKind::StandbyDrain),
    (Symptom::GaugeStuck, &[("gauge-does", "nothing")], FaultKind::GaugeUnfed),
    (Symptom::GaugeWrong, &[("gauge-does", "shifted")], FaultKind::GaugeUnscaled),
    (Symptom::FlatAfterAWeek, &[("fell", "all"), ("off-current", "yes")], FaultKind::StandbyDrain),
    (Symptom::FlatAfterAWeek, &[("fell", "one")], FaultKind::GroupLow),
    (Symptom::Chatters, &[("what-clicks", "change-over")], FaultKind::ComparatorChatter),
    (
        Symptom::Chatters,
        &[("what-clicks", "converter"), ("converter-full", "yes"), ("restarts", "by-itself")],
        FaultKind::ConverterOutOfHeadroom,
    ),
    (Symptom::DropsOutAtChangeOver, &[("at-the-device", "gone"), ("restarts", "at-once")], FaultKind::ChangeOverGap),
    (Symptom::BoardNeverOpens, &[("minus-joined", "no")], FaultKind::WrongSideOfBoard),
    (Symptom::Hot, &[("where-hot", "joint")], FaultKind::JointResistive),
    (
        Symptom::Hot,
        &[("where-hot", "converter"), ("converter-full", "no"), ("converter-alone", "yes")],
        FaultKind::ConverterInLimit,
    ),
    (Symptom::DisplayDances, &[("meter-battery", "yes"), ("wire-moved", "no")], FaultKind::MeterScale),
    (Symptom::Slow, &[("converter-alone", "no")], FaultKind::ConverterSetWrong),
];

#[test]
fn what_is_seen_and_answered_leads_to_what_the_trade_would_say() {
    let plan = with_everything();
    let mut wrong = vec![];
    for (symptom, answers, kind) in CASES {
        let found = told(&plan, &seen(&[*symptom], answers));
        let best = of(&found, *kind);
        let others = found.hypotheses.iter().filter(|c| c.fault != *kind && c.reasons.iter().all(|r| r.fault != *kind));
        // A place of many is one cause here: the question is which kind it is.
        let most = others.map(|c| of(&found, c.fault)).fold(0.0, f64::max);
        if best < 0.3 || best < most {
            wrong.push(format!("{symptom:?} {answers:?}: {kind:?} {best:.2}, {:?} {most:.2}", found.lines[0].says));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// The plan's own warnings count: a device whose cut-out lies above the loaded pack is suspected before anything is asked.
#[test]
fn what_the_plan_was_warned_of_is_suspected_first() {
    let calm = told(&sound(), &seen(&[Symptom::DiesAfterSeconds], &[]));
    let warned = with(&sound(), &[("device/lowest_v", common::known(14.4))]);
    let warned = told(&warned, &seen(&[Symptom::DiesAfterSeconds], &[]));
    assert!(of(&warned, FaultKind::DeviceCutOut) > 1.5 * of(&calm, FaultKind::DeviceCutOut));
}

#[test]
fn causes_that_leave_every_voltage_right_come_up_only_once_something_is_seen() {
    let kinds = |found: &Diagnosis| found.hypotheses.iter().map(|c| c.fault).collect::<Vec<_>>();
    assert!(!kinds(&told(&sound(), &Evidence::default())).contains(&FaultKind::DeviceCutOut));
    assert!(kinds(&told(&sound(), &seen(&[Symptom::Slow], &[]))).contains(&FaultKind::WornCells));
    // And none that the plan has no place for.
    let plain = told(&sound(), &seen(&[Symptom::DropsOutAtChangeOver], &[]));
    assert!(!kinds(&plain).contains(&FaultKind::ChangeOverGap));
    assert!(!kinds(&plain).contains(&FaultKind::ConverterInLimit));
}

/// What each question is asked for does not matter: answers of one cause together are certain, whichever cause it is.
#[test]
fn every_question_is_answered_somehow() {
    for question in odd_questions() {
        for symptom in [Symptom::Dead, Symptom::NeverFull] {
            let before = told(&with_everything(), &seen(&[symptom], &[]));
            let mut mean: Vec<(FaultKind, Option<usize>, f64)> = vec![];
            let unknown = told(&with_everything(), &seen(&[symptom], &[(question.id, UNKNOWN)]));
            for (a, b) in before.hypotheses.iter().zip(&unknown.hypotheses) {
                assert!((a.probability - b.probability).abs() < 1e-9, "{}: “I do not know” tells nothing", question.id);
                mean.push((a.fault, a.at, a.probability));
            }
            assert_ne!(unknown.ask.map(|q| q.id), Some(question.id), "what was asked is not asked again");
            for answer in question.answers {
                let after = told(&with_everything(), &seen(&[symptom], &[(question.id, answer.id)]));
                let sum: f64 = after.hypotheses.iter().map(|c| c.probability).sum();
                assert!(sum > 0.5 && sum < 1.0 + 1e-9, "{} {}", question.id, answer.id);
                assert!(after.ask.is_none_or(|q| q.id != question.id));
            }
        }
    }
}

#[test]
fn answers_that_are_none_are_refused_by_name() {
    for (answers, field, says) in [
        (&[("colour", "red")][..], "/answers/0/question", "“colour” is none of setting, "),
        (&[("setting", "blue")][..], "/answers/0/answer", "“blue” is none of every, strong, weak, unknown"),
        (&[("setting", "weak"), ("setting", "strong")][..], "/answers/1/question", "answered before"),
    ] {
        let errors = diagnose(&sound(), &seen(&[], answers)).unwrap_err();
        assert_eq!(errors[0].field, field);
        assert!(errors[0].message.contains(says), "{}", errors[0].message);
    }
}

/// A board that is off is found by the meter, here as `board_open-1` of `reference/faults` with other cells; why is asked.
#[test]
fn a_board_that_is_off_is_read_and_its_reason_asked() {
    let readings = vec![
        read("B4", "Pm", At::Rest, 10.86),
        read("B4", "B0", At::Rest, 14.8),
        read("F", "Pm", At::On, 0.0),
        read("Pm", "B0", At::On, 14.8),
    ];
    let board = told(&sound(), &Evidence { readings: readings.clone(), ..Evidence::default() });
    assert_eq!(board.hypotheses[0].fault, FaultKind::BoardOpen, "{:?}", board.lines);
    assert!(board.hypotheses[0].probability > 0.9);
    assert_eq!(board.hypotheses[0].reasons.len(), 5);
    let asked = board.ask.expect("which of its limits it reached is open");
    assert_eq!(asked.id, "opened-when");
    for (answer, reason) in [
        ("start", FaultKind::BoardOverCurrent),
        ("end", FaultKind::BoardGroupLow),
        ("charge", FaultKind::BoardGroupHigh),
        ("warm", FaultKind::BoardHot),
        ("never-on", FaultKind::BoardAsleep),
    ] {
        let evidence = Evidence { readings: readings.clone(), ..seen(&[], &[("opened-when", answer)]) };
        let found = told(&sound(), &evidence);
        assert_eq!(found.hypotheses[0].reasons[0].fault, reason, "{answer}");
        assert!(found.hypotheses[0].reasons[0].probability > 0.6, "{answer}");
    }
}

/// The output of a converter is read: too low with nothing on it is the setting, too low only under load is not.
#[test]
fn a_converter_that_is_set_wrong_is_read_at_the_device() {
    let plan = demo("star-tracker-mount");
    let set_v = plan.module(brick_core::plan::NodeKind::Converter).and_then(|m| m.converts.as_ref()).unwrap().output_v;
    let off = Evidence { readings: vec![read("Dp", "Dm", At::On, set_v * 1.35)], ..Evidence::default() };
    let found = told(&plan, &off);
    assert_eq!(found.hypotheses[0].fault, FaultKind::ConverterSetWrong, "{:?}", found.lines);
    assert!(!found.hypotheses[0].place.blocks.is_empty(), "it is drawn where it is");
}

/// A meter whose red lead is in a socket for amperes is a short: nothing is read with it before that is looked at.
#[test]
fn nothing_is_read_while_the_lead_may_be_in_a_socket_for_amperes() {
    let zeros = vec![read("B4", "B0", At::Rest, 0.0), read("B2", "B1", At::Rest, 0.0), read("T3", "T0", At::Rest, 0.0)];
    let found = told(&sound(), &Evidence { readings: zeros, ..Evidence::default() });
    assert_eq!(found.next, None, "{:?}", found.lines);
    assert_eq!(found.ask.map(|q| q.id), Some("meter-set"));
}

/// Over 30 V nobody holds probes to bare joints while current flows, and no charger is plugged into a pack of which a group may be
/// reversed, dead or low: whatever is seen, and whatever the readings so far say.
#[test]
fn no_reading_that_is_asked_for_is_a_dangerous_one() {
    let large = with(
        &sound(),
        &[("packs/0/series", json!(10)), ("board", common::board(10)), ("charger", common::charger(42.0, 2.0))],
    );
    let low = |found: &Diagnosis| {
        [FaultKind::GroupReversed, FaultKind::GroupDead, FaultKind::GroupLow].map(|k| of(found, k)).iter().sum::<f64>()
    };
    let mut asked = 0;
    for symptom in Symptom::ALL.into_iter().step_by(3) {
        for share in [1.0, 0.93] {
            let mut evidence = seen(&[symptom], &[]);
            for _ in 0..4 {
                let found = told(&large, &evidence);
                let Some(next) = &found.next else { break };
                let bare = next.red.starts_with('B') && next.black.starts_with('B');
                assert!(!bare || next.condition == At::Rest, "{symptom:?}: {next:?}");
                assert!(next.condition != At::Charging || low(&found) < 0.06, "{symptom:?}: {next:?}, {}", low(&found));
                asked += 1;
                // What a sound pack would show, or a little less.
                let place =
                    |name: &str| name[1..].parse::<f64>().unwrap_or(if name.ends_with('m') { 0.0 } else { 10.0 });
                let volts = 3.65 * (place(&next.red) - place(&next.black)) * share;
                evidence.readings.push(read(&next.red, &next.black, next.condition, volts));
            }
        }
    }
    assert!(asked > 25, "only {asked} readings were asked for");
}

/// Whatever is named has words for what it is, its proof and its cure, and every cause can come up.
#[test]
fn every_cause_has_its_proof_and_its_cure() {
    let plan = with_everything();
    let mut met: Vec<FaultKind> = vec![];
    for symptom in Symptom::ALL {
        for cause in told(&plan, &seen(&[symptom], &[])).hypotheses {
            assert!(!cause.says.is_empty() && !cause.proof.is_empty() && !cause.cure.is_empty(), "{:?}", cause.fault);
            met.push(cause.fault);
            met.extend(cause.reasons.iter().map(|r| r.fault));
        }
    }
    met.sort_unstable();
    met.dedup();
    let unmet: Vec<&FaultKind> = CASES.iter().map(|(_, _, kind)| kind).filter(|kind| !met.contains(kind)).collect();
    assert!(unmet.is_empty(), "{unmet:?}");
}

/// Every symptom but fire has a name on the command line and words on the screen.
#[test]
fn every_symptom_is_offered_once() {
    let sheets = Symptom::sheets();
    assert_eq!(sheets.len(), Symptom::ALL.len());
    for sheet in &sheets {
        assert_eq!(sheets.iter().filter(|s| s.says == sheet.says).count(), 1);
        let name: Value = serde_json::to_value(sheet.symptom).unwrap();
        assert_eq!(serde_json::from_value::<Symptom>(name).unwrap(), sheet.symptom);
    }
}
