//! What is told: every sentence of every finding, in every plan of the tables, reads as one and leads to its figures.

use crate::common;

use brick_core::assess::{Severity, Verdict, assess};
use brick_core::base::phrase::Piece;
use brick_core::base::source::Source;
use common::flaws::{changes_of, flaws};
use common::{sound, with};

/// Every finding of every flaw: a title without a full stop, a reason that is a sentence, figures that exist.
#[test]
fn every_finding_reads_as_a_sentence_and_leads_to_its_figures() {
    let mut wrong = vec![];
    for flaw in flaws() {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(&flaw));
        let assessment = assess(&plan).unwrap();
        for finding in &assessment.findings {
            let (title, why) = (&finding.title.text, &finding.why.text);
            let mut say = |what: &str| wrong.push(format!("{}: {what}: {title} / {why}", finding.key));
            let subject =
                title.split(", first pack").next().and_then(|t| t.split(", second pack").next()).unwrap_or(title);
            if title.ends_with('.') || subject.split_whitespace().count() > 8 || title.is_empty() {
                say("the title is no title");
            }
            if !why.ends_with('.') || why.chars().count() < 40 || why.contains("  ") {
                say("the reason is no sentence");
            }
            if why.contains('{') || why.contains('}') || why.contains("unknown") || why.contains("NaN") {
                say("a figure is missing");
            }
            for piece in finding.title.pieces.iter().chain(&finding.why.pieces) {
                if let Piece::Quantity { value, figure: Some(id), .. } = piece
                    && assessment.figure(id).map(|f| f.value) != Some(*value)
                {
                    say(&format!("{id} is not what the ledger says"));
                }
            }
            let joined: usize = finding.why.pieces.iter().filter(|p| matches!(p, Piece::Text { .. })).count();
            if joined == 0 {
                say("there are no words");
            }
            if finding.source.text().is_empty() || finding.source == Source::Plan {
                say("a threshold cannot come from the plan");
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// The rail shows the worst open finding of each stage, and nothing worse.
#[test]
fn the_verdict_of_a_stage_is_its_worst_finding() {
    for flaw in flaws() {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(&flaw));
        let assessment = assess(&plan).unwrap();
        for stage in &assessment.stages {
            let worst = assessment.findings.iter().filter(|f| f.stage == stage.stage).map(|f| f.severity).max();
            let expected: &[Verdict] = match worst {
                Some(Severity::Stop) => &[Verdict::Stop],
                Some(Severity::Caution) => &[Verdict::Caution, Verdict::NothingYet],
                Some(Severity::Note) => &[Verdict::Note, Verdict::NothingYet],
                None => &[Verdict::Fine, Verdict::Open, Verdict::NothingYet],
            };
            assert!(expected.contains(&stage.verdict), "{}: {:?} says {:?}", flaw.name, stage.stage, stage.verdict);
            assert!(!stage.key.text.is_empty(), "{}: {:?} has no key figure", flaw.name, stage.stage);
        }
    }
}

/// Findings come stops first, and a key comes once.
#[test]
fn findings_are_in_order_and_each_key_comes_once() {
    for flaw in flaws() {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(&flaw));
        let findings = assess(&plan).unwrap().findings;
        assert!(findings.windows(2).all(|w| w[0].severity >= w[1].severity), "{}", flaw.name);
        let mut keys: Vec<&str> = findings.iter().map(|f| f.key.as_str()).collect();
        keys.sort_unstable();
        let all = keys.len();
        keys.dedup();
        assert_eq!(keys.len(), all, "{}: a key comes twice", flaw.name);
    }
}

/// A figure is told in the same words wherever it stands: label, unit and formula belong to its definition.
#[test]
fn every_figure_has_a_definition_with_a_formula_and_a_source() {
    let definitions = brick_core::assess::figures::all();
    let mut ids: Vec<&str> = definitions.iter().map(|d| d.id).collect();
    ids.sort_unstable();
    let all = ids.len();
    ids.dedup();
    assert_eq!(ids.len(), all, "an id is used twice");
    for definition in &definitions {
        assert!(!definition.formula.is_empty() && !definition.label.is_empty(), "{}", definition.id);
        assert!(
            definition.label.starts_with(char::is_uppercase) || definition.label.starts_with("of which"),
            "{}",
            definition.label
        );
    }
    for figure in assess(&sound()).unwrap().figures {
        let bare = figure.id.split('@').next().unwrap();
        let definition =
            definitions.iter().find(|d| d.id == bare).unwrap_or_else(|| panic!("{bare} has no definition"));
        assert_eq!((figure.label, figure.unit), (definition.label, definition.unit), "{bare}");
        assert_eq!(figure.working.formula, definition.id);
    }
}

/// Every term of the glossary belongs to figures that there are, and its page is the one that ships.
#[test]
fn the_glossary_names_figures_that_there_are() {
    use brick_core::assess::{figures, glossary};
    for term in glossary::TERMS {
        for id in term.figures {
            assert!(figures::all().iter().any(|f| f.id == *id), "{}: no figure {id}", term.term);
        }
        assert!(term.says.ends_with('.') && term.says.len() < 130, "{}", term.term);
    }
    assert!(glossary::TERMS.is_sorted_by_key(|t| t.term.to_lowercase()), "terms are not in alphabetical order");
    let page = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../docs/glossary.md")).unwrap();
    assert_eq!(page, glossary::page(), "print it anew: dense-brick glossary > docs/glossary.md");
}
