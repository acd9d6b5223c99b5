//! Ageing models against `reference/life`: the same models run by an open library, and sets that a band did not know.

use std::collections::HashMap;

use brick_core::base::chemistry::Chemistry;
use brick_core::physics::ageing::{AgeingModel, Cycling, Family, Member, UsePattern, family, shares};
use serde_json::Value;

struct Row {
    model: AgeingModel,
    case: String,
    day: f64,
    share: f64,
}

fn rows(text: &str) -> Vec<Row> {
    text.lines()
        .skip(1)
        .map(|line| {
            let [set, case, day, share] = line.split(',').collect::<Vec<_>>()[..] else { panic!("{line}") };
            let model = AgeingModel::ALL.into_iter().find(|m| m.key() == set).expect(set);
            Row { model, case: case.to_owned(), day: day.parse().unwrap(), share: share.parse().unwrap() }
        })
        .collect()
}

fn cases(text: &str) -> HashMap<String, UsePattern> {
    let all: Value = serde_json::from_str(text).unwrap();
    let of = |case: &Value| {
        let number = |name: &str| case[name].as_f64();
        let cycling = number("dod").map(|dod| Cycling {
            every_days: if case["every"] == "week" { 7.0 } else { 1.0 },
            top_soc: number("top_soc").unwrap(),
            dod,
            discharge_c: number("discharge_c").unwrap(),
            charge_c: number("charge_c").unwrap(),
        });
        let used = UsePattern { rest_soc: number("rest_soc").unwrap(), temp_c: number("temp_c").unwrap(), cycling };
        (case["id"].as_str().unwrap().to_owned(), used)
    };
    all["cases"].as_array().unwrap().iter().map(of).collect()
}

/// Every row with what is reckoned for it.
fn reckoned() -> Vec<(Row, UsePattern, f64)> {
    let files = [
        (include_str!("../../../reference/life/cases.json"), include_str!("../../../reference/life/life.csv")),
        (include_str!("../../../reference/life/more_cases.json"), include_str!("../../../reference/life/more.csv")),
    ];
    let mut found = vec![];
    for (asked, answered) in files {
        let cases = cases(asked);
        for row in rows(answered) {
            let used = cases[&row.case];
            let share = shares(row.model, &[(0.0, used)], &[row.day])[0];
            found.push((row, used, share));
        }
    }
    found
}

#[test]
fn every_set_keeps_what_its_published_model_keeps() {
    let all = reckoned();
    assert!(all.len() > 1500, "{}", all.len());
    for (row, used, share) in all {
        let within = if used.cycling.is_some() { 0.01 } else { 0.001 };
        assert!(
            (share - row.share).abs() <= within,
            "{:?} {} day {}: {share} {}",
            row.model,
            row.case,
            row.day,
            row.share
        );
    }
}

/// The band of a chemistry comes from its models. Each of the four of lithium-ion is left out in turn and has to lie in the band of
/// the other three; the energy cell of EVERLASTING, which ages in the cold almost as in the warm, is the farthest from its kin.
#[test]
fn a_set_that_the_band_did_not_know_lies_in_it_in_most_cases() {
    let all = reckoned();
    let mut covered = HashMap::new();
    for out in AgeingModel::LITHIUM_ION {
        let members: Vec<Member> = AgeingModel::LITHIUM_ION
            .into_iter()
            .filter(|m| *m != out)
            .map(|model| Member { model, weight: 1.0 / 3.0 })
            .collect();
        let kin = Family { members, ..family(Chemistry::LiIon).unwrap() };
        let asked = all.iter().filter(|(row, ..)| row.model == out && [365.0, 730.0, 1095.0].contains(&row.day));
        let (mut inside, mut count) = (0, 0);
        for (row, used, _) in asked {
            let said: Vec<f64> = kin.members.iter().map(|m| shares(m.model, &[(0.0, *used)], &[row.day])[0]).collect();
            let (low, high) = kin.band(&said);
            count += 1;
            inside += usize::from((low..=high).contains(&row.share));
        }
        assert!(count > 60, "{out:?}: {count}");
        covered.insert(out, f64::from(inside as u32) / f64::from(count));
    }
    let mean = covered.values().sum::<f64>() / 4.0;
    assert!(mean >= 0.8, "{covered:?}");
    for (out, least) in [(AgeingModel::Nmc111, 0.85), (AgeingModel::Nca, 0.95), (AgeingModel::NcaSilicon, 0.95)] {
        assert!(covered[&out] >= least, "{covered:?}");
    }
    assert!(covered[&AgeingModel::Nmc811] >= 0.6, "{covered:?}");
}

/// Six sets of lithium-ion that no model here was made of: small cells, and large ones for cars, which hardly age.
#[test]
fn sets_that_are_not_used_at_all_lie_in_the_band() {
    let cases = cases(include_str!("../../../reference/life/more_cases.json"));
    let kin = family(Chemistry::LiIon).unwrap();
    let (mut inside, mut count) = (0, 0);
    for line in include_str!("../../../reference/life/others.csv").lines().skip(1) {
        let [_, case, day, share] = line.split(',').collect::<Vec<_>>()[..] else { panic!("{line}") };
        let (day, share): (f64, f64) = (day.parse().unwrap(), share.parse().unwrap());
        let said: Vec<f64> = kin.members.iter().map(|m| shares(m.model, &[(0.0, cases[case])], &[day])[0]).collect();
        let (low, high) = kin.band(&said);
        count += 1;
        inside += usize::from((low..=high).contains(&share));
    }
    assert!(count > 600 && inside * 5 >= count * 4, "{inside} of {count}");
}

#[test]
fn what_changes_on_the_way_counts_from_then_on() {
    let full = UsePattern { rest_soc: 1.0, temp_c: 30.0, cycling: None };
    let half = UsePattern { rest_soc: 0.5, ..full };
    for model in AgeingModel::ALL.into_iter().filter(|m| *m != AgeingModel::Titanate) {
        let days = [365.0, 1095.0];
        let stays = shares(model, &[(0.0, full)], &days);
        let changes = shares(model, &[(0.0, full), (365.0, half)], &days);
        let always = shares(model, &[(0.0, half)], &days);
        assert_eq!(stays[0], changes[0], "{model:?}");
        assert!(stays[1] < changes[1] && changes[1] < always[1], "{model:?}: {stays:?} {changes:?} {always:?}");
    }
}

proptest::proptest! {
    /// Whatever the use: a share is between 0 and 1, never grows again, and warmth never helps on the shelf.
    #[test]
    fn capacity_only_goes_down(
        rest_soc in 0.0f64..=1.0, temp_c in -20.0f64..60.0, top_soc in 0.3f64..=1.0, depth in 0.05f64..=1.0,
        rate in 0.05f64..4.0, every_days in 0.05f64..30.0, which in 0usize..5, // the sixth, titanate, gains a little on the shelf
    ) {
        let model = AgeingModel::ALL[which];
        let cycling = Cycling { every_days, top_soc, dod: depth * top_soc, discharge_c: rate, charge_c: rate };
        let used = UsePattern { rest_soc, temp_c, cycling: Some(cycling) };
        proptest::prop_assert!(used.check().is_empty());
        let days: Vec<f64> = (0..40).map(|i| f64::from(i) * 60.0).collect();
        let course = shares(model, &[(0.0, used)], &days);
        proptest::prop_assert!(course.iter().all(|s| (0.0..=1.0).contains(s)), "{course:?}");
        proptest::prop_assert!(course.windows(2).all(|w| w[1] <= w[0]), "{course:?}");
        let lying = UsePattern { cycling: None, ..used };
        let warmer = UsePattern { temp_c: temp_c.max(0.0) + 10.0, ..lying };
        let cooler = UsePattern { temp_c: temp_c.max(0.0), ..lying };
        let last = |u: UsePattern| shares(model, &[(0.0, u)], &[700.0])[0];
        proptest::prop_assert!(last(warmer) <= last(cooler) + 1e-9);
    }
}
