//! What more current would take, on every kind of job: what is listed does it, and nothing that does already is listed.

use crate::common;

use brick_core::Catalogue;
use brick_core::advise::fix::raise;
use brick_core::assess::{Severity, assess_at_face_value};
use brick_core::base::limit::below;
use brick_core::plan::apply;
use common::jobs::plans;
use common::{catalogue, sound, with};
use proptest::prelude::*;
use serde_json::json;

#[test]
fn on_every_job_each_change_raises_its_link_and_no_other_falls() {
    let catalogue = catalogue();
    for (name, plan) in plans() {
        let before = assess_at_face_value(&plan).unwrap();
        let Some(now_a) = before.path.links.iter().filter_map(|l| l.continuous_a).reduce(f64::min) else { continue };
        let wanted_a = 1.4 * now_a;
        let raised = raise(&plan, &catalogue, wanted_a).unwrap();
        assert!(!raised.steps.is_empty(), "{name}: something bears {now_a} A only");
        for step in &raised.steps {
            assert_eq!(step.change.is_some(), !step.changes.is_empty(), "{name}: {step:?}");
            if let Some(then_a) = step.then_a {
                assert!(step.now_a.is_none_or(|a| a < then_a), "{name}: {step:?}");
                assert!(!below(then_a, wanted_a), "{name}: {step:?}");
            }
        }
        if raised.steps.iter().all(|s| s.change.is_some()) {
            let changes: Vec<_> = raised.steps.iter().flat_map(|s| s.changes.clone()).collect();
            let after = assess_at_face_value(&apply(&plan, &changes).unwrap()).unwrap();
            for link in &after.path.links {
                let then_a = link.continuous_a.unwrap_or(wanted_a);
                assert!(!below(then_a, wanted_a), "{name}: {} bears {then_a} of {wanted_a} A", link.label);
            }
        }
    }
}

#[test]
fn links_that_state_nothing_are_not_guessed_at() {
    // A plug without a rating: what it bears is unknown, and another from the catalogue is a way to know.
    let plan = with(&sound(), &[("plug/continuous_a", json!(null))]);
    let raised = raise(&plan, &catalogue(), 10.0).unwrap();
    let plug = raised.steps.iter().find(|s| s.link == "plug");
    assert!(plug.is_none_or(|s| s.now_a.is_none() && s.then_a.is_some()), "{plug:?}");
    assert!(raise(&plan, &Catalogue::default(), 10.0).unwrap().steps.iter().all(|s| s.link != "plug"));
}

#[test]
fn an_empty_catalogue_still_tells_which_links_must_change() {
    let raised = raise(&sound(), &Catalogue::default(), 60.0).unwrap();
    let told: Vec<&str> = raised.steps.iter().filter(|s| s.change.is_none()).map(|s| s.link.as_str()).collect();
    assert!(told.contains(&"fuse") && told.contains(&"plug") && told.contains(&"board"), "{told:?}");
    // More cells and more strip need no catalogue.
    assert!(raised.steps.iter().any(|s| s.link == "cells" && s.change.is_some()), "{:?}", raised.steps);
    assert!(!raised.price_complete);
}

/// What comes with it is told with how bad it is, and is new.
#[test]
fn what_comes_with_more_current_is_told() {
    let plan = sound();
    let raised = raise(&plan, &catalogue(), 30.0).unwrap();
    assert!(raised.brings.iter().all(|b| b.severity > Severity::Note));
    let before = assess_at_face_value(&plan).unwrap();
    assert!(
        raised.brings.iter().all(|b| before.findings.iter().all(|f| f.title.text != b.title.text)),
        "{:?}",
        raised.brings
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// More current never takes fewer links to change.
    #[test]
    fn more_never_takes_less(a in 5.0f64..40.0, more in 0.0f64..20.0) {
        let catalogue = catalogue();
        let links = |wanted_a: f64| -> std::collections::BTreeSet<String> {
            raise(&sound(), &catalogue, wanted_a).unwrap().steps.into_iter().map(|s| s.link).collect()
        };
        let (few, many) = (links(a), links(a + more));
        // A larger fuse asks more of what it guards, so only the fuse, board, cells and switch are compared.
        for link in few.iter().filter(|l| ["fuse", "board", "cells", "switch"].contains(&l.as_str())) {
            prop_assert!(many.contains(link), "{link} at {a} but not at {}", a + more);
        }
    }
}
