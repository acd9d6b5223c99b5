//! Whatever the plan: every fix that is offered clears its finding, brings no stop, and leaves a plan that can stand.

use crate::common;

use std::collections::BTreeSet;

use brick_core::assess::{Severity, assess};
use brick_core::fixes;
use brick_core::plan::{Plan, apply};
use common::{catalogue, known, sound, with};
use proptest::prelude::*;
use serde_json::json;

fn stops(plan: &Plan) -> BTreeSet<String> {
    let findings = assess(plan).unwrap().findings;
    findings.into_iter().filter(|f| f.severity == Severity::Stop).map(|f| f.key).collect()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn every_fix_offered_for_any_plan_keeps_its_word(
        load_a in 1.0..40.0f64, peak_a in 5.0..80.0f64, highest_v in 10.0..24.0f64, fuse_a in 2.0..40.0f64,
        awg in 10..24i32, width_mm in 3.0..12.0f64, charge_v in 15.0..18.0f64
    ) {
        let catalogue = catalogue();
        let plan = with(&sound(), &[
            ("device/loads/0/draw/value_a", known(load_a)),
            ("device/loads/1/draw/value_a", known(peak_a)),
            ("device/highest_v", known(highest_v)),
            ("fuse/rating_a", json!(fuse_a)),
            ("lead/wire/part/size/awg", json!(awg)),
            ("strip/width_mm", json!(width_mm)),
            ("charger/charges/output_v", known(charge_v)),
        ]);
        let before = stops(&plan);
        let all: BTreeSet<String> = assess(&plan).unwrap().findings.into_iter().map(|f| f.key).collect();
        for finding in assess(&plan).unwrap().findings.iter().filter(|f| f.severity > Severity::Note) {
            for fix in fixes(&plan, &catalogue, &finding.key).unwrap() {
                let fixed = apply(&plan, &fix.changes).map_err(|e| TestCaseError::fail(e.to_string()))?;
                let after = assess(&fixed).map_err(|e| TestCaseError::fail(format!("{}: {e:?}", fix.label)))?;
                prop_assert!(after.findings.iter().all(|f| f.key != finding.key), "“{}” does not clear {}", fix.label, finding.key);
                let new: Vec<_> = stops(&fixed).difference(&before).cloned().collect();
                prop_assert!(new.is_empty(), "“{}” brings {new:?}", fix.label);
                let told: BTreeSet<&str> = fix.brings.iter().map(|p| p.text.as_str()).collect();
                let new = |key: &str| !all.contains(key);
                for caution in after.findings.iter().filter(|f| f.severity == Severity::Caution && new(&f.key)) {
                    prop_assert!(told.contains(caution.title.text.as_str()), "“{}” hides {}", fix.label, caution.key);
                }
            }
        }
    }

    /// Taking the first fix again and again ends: each clears one and brings none.
    #[test]
    fn taking_fixes_one_after_another_comes_to_an_end(load_a in 1.0..30.0f64, fuse_a in 2.0..40.0f64, width_mm in 3.0..12.0f64) {
        let catalogue = catalogue();
        let mut plan = with(&sound(), &[
            ("device/loads/0/draw/value_a", known(load_a)),
            ("fuse/rating_a", json!(fuse_a)),
            ("strip/width_mm", json!(width_mm)),
        ]);
        let begun = stops(&plan).len();
        let mut steps = 0;
        loop {
            let next = stops(&plan).into_iter().find_map(|key| fixes(&plan, &catalogue, &key).unwrap().into_iter().next());
            let Some(fix) = next else { break };
            let left = stops(&plan).len();
            plan = apply(&plan, &fix.changes).unwrap();
            prop_assert!(stops(&plan).len() < left, "“{}” leaves as many", fix.label);
            steps += 1;
        }
        prop_assert!(steps <= begun);
    }
}
