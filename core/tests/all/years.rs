//! Packs over the years: what is read out of a log, against packs whose truth is known.

use brick_core::base::chemistry::{Chemistry, curve};
use brick_core::base::severity::Severity;
use brick_core::base::table::{moment, written_moment};
use brick_core::physics::ageing::{AgeingModel, Cycling, UsePattern, shares};
use brick_core::years::{
    ChargeEnd, ExpectedRun, Logged, Mishap, OhmBy, PackCard, PackEntry, PackState, PackStory, SpreadStory, hand_on,
    label_lines, placed, read_log, story, without_forecast, write_log,
};
use brick_core::{Plan, assess};
use proptest::prelude::*;

const DAY_S: i64 = 86_400;

fn card() -> PackCard {
    PackCard {
        name: "Lantern".to_owned(),
        chemistry: Chemistry::LiIon,
        series: 4,
        parallel: Some(2),
        designation: None,
        rated_ah: Some(5.0),
        rated_ohm: Some(0.1),
        charged_to_v: None,
        made_on: Some("2024-01-01".to_owned()),
        run: Some(ExpectedRun { least_s: 1700.0, usual_s: 1860.0, most_s: 2000.0 }),
        fuse_a: Some(15.0),
        standby_a: None,
        kept_c: Some(20.0),
        cells: vec![],
        wiring: String::new(),
        notes: String::new(),
    }
}

fn made_s() -> i64 {
    moment("2024-01-01").unwrap()
}

fn on(day: i64, happened: Logged) -> PackEntry {
    PackEntry { at: written_moment(made_s() + day * DAY_S), happened, words: String::new(), photo: None }
}

fn told(card: &PackCard, entries: &[PackEntry], day: i64) -> PackStory {
    for (i, entry) in entries.iter().enumerate() {
        assert_eq!(entry.check(card, &entries[..i]), vec![], "{entry:?}");
    }
    story(card, entries, made_s() + day * DAY_S)
}

/// What the rests of a log tell.
fn spread_of(card: &PackCard, entries: &[PackEntry], day: i64) -> SpreadStory {
    without_forecast(card, entries, made_s() + day * DAY_S).spread
}

fn capacity(ah: f64) -> Logged {
    Logged::Capacity { charge_ah: ah, rate_a: Some(1.0), to_v: Some(3.0), temp_c: Some(21.0) }
}

/// Rests of a pack whose groups sit at these charges against the first, read on a meter with a millivolt of scatter.
fn rests(
    chemistry: Chemistry,
    days: &[i64],
    soc: impl Fn(i64) -> f64,
    behind: impl Fn(usize, i64) -> f64,
    seed: u64,
) -> Vec<PackEntry> {
    let mut chance = fastrand::Rng::with_seed(seed);
    let of = |day: i64, group: usize, chance: &mut fastrand::Rng| {
        let v = curve(chemistry).ocv_v((soc(day) - behind(group, day)).clamp(0.0, 1.0));
        ((v + 0.001 * (chance.f64() * 2.0 - 1.0)) * 1000.0).round() / 1000.0
    };
    let mut rest = |day: i64| {
        let groups_v = (0..4).map(|g| of(day, g, &mut chance)).collect();
        on(day, Logged::Rest { groups_v, rested_s: Some(86_400.0) })
    };
    days.iter().map(|d| rest(*d)).collect()
}

const MONTHLY: [i64; 8] = [5, 35, 65, 95, 125, 155, 185, 215];

#[test]
fn the_group_that_leaks_is_named_with_its_rate_whatever_the_charge_it_was_read_at() {
    for seed in 0..20 {
        // 0.8 % a month in group 3; read once full, once half, once in between.
        let soc = |day: i64| [0.9, 0.55, 0.75][(day / 30 % 3) as usize];
        let leak = |group: usize, day: i64| if group == 2 { 0.008 * day as f64 / 30.4 } else { 0.0 };
        let found = spread_of(&card(), &rests(Chemistry::LiIon, &MONTHLY, soc, leak, seed), 220);
        assert_eq!(found.suspect, Some(3), "{found:?}");
        let a_month = found.a_month.unwrap()[2];
        assert!((a_month + 0.008).abs() < 0.002, "{a_month}");
        // 0.8 % of 5 Ah in 730 h.
        assert!((found.leak_a.unwrap() - 0.008 * 5.0 / 730.0).abs() < 1.5e-5, "{:?}", found.leak_a);
        assert!(found.says.contains("Group 3 discharges itself"), "{}", found.says);
    }
}

#[test]
fn a_leak_that_began_late_is_found_and_a_sound_pack_is_not_accused() {
    let days: Vec<i64> = (0..20).map(|i| i * 35).collect();
    let mut accused = 0;
    for seed in 0..200 {
        let level = |day: i64| if day % 2 == 0 { 0.85 } else { 0.7 };
        // Groups that differ from the first day, as they do, but keep their distance.
        let apart = |group: usize, _: i64| [0.0, 0.004, -0.003, 0.006][group];
        let found = spread_of(&card(), &rests(Chemistry::LiIon, &days, level, apart, seed), 700);
        accused += usize::from(found.suspect.is_some());
        if seed < 20 {
            let late = |group: usize, day: i64| if group == 1 { (day - 500).max(0) as f64 * 0.01 / 30.4 } else { 0.0 };
            let found = spread_of(&card(), &rests(Chemistry::LiIon, &days, level, late, seed), 700);
            assert_eq!(found.suspect, Some(2), "{found:?}");
        }
    }
    assert!(accused <= 4, "{accused} of 200 sound packs accused");
}

#[test]
fn one_wrong_reading_does_not_bend_a_trend_and_a_repair_begins_it_anew() {
    let leak = |group: usize, day: i64| if group == 0 { 0.012 * day as f64 / 30.4 } else { 0.0 };
    let mut entries = rests(Chemistry::LiIon, &MONTHLY, |_| 0.85, leak, 3);
    let Logged::Rest { groups_v, .. } = &mut entries[4].happened else { panic!() };
    groups_v[2] -= 0.08;
    assert_eq!(told(&card(), &entries, 216).spread.suspect, Some(1));
    entries.push(on(218, Logged::Repair { exchanged: "group 1".to_owned(), groups: vec![1] }));
    entries.extend(rests(Chemistry::LiIon, &[220, 240, 260], |_| 0.85, |_, _| 0.0, 4));
    let after = told(&card(), &entries, 265);
    assert_eq!(after.spread.suspect, None, "{}", after.spread.says);
    assert!(after.due.iter().all(|d| d.key != "suspect"));
}

#[test]
fn a_phosphate_on_its_plateau_says_that_it_cannot_tell() {
    let phosphate = PackCard { chemistry: Chemistry::LiFePo4, ..card() };
    let leak = |group: usize, day: i64| if group == 3 { 0.02 * day as f64 / 30.4 } else { 0.0 };
    let half = spread_of(&phosphate, &rests(Chemistry::LiFePo4, &MONTHLY, |_| 0.55, leak, 1), 220);
    assert_eq!((half.suspect, half.a_month), (None, None), "{}", half.says);
    assert!(half.says.contains("plateau") && half.says.contains("full charge"), "{}", half.says);
    assert!(half.points.iter().all(|p| p.charge.is_none()));
    // Low down the curve is steep: there it can.
    let low = spread_of(&phosphate, &rests(Chemistry::LiFePo4, &MONTHLY, |_| 0.09, |g, d| leak(g, d) / 4.0, 1), 220);
    assert_eq!(low.suspect, Some(4), "{}", low.says);
}

/// The truth of a cell: a model, how far it is from it, and how it is used.
fn truth(model: AgeingModel, factor: f64, day: f64) -> f64 {
    let cycling = Cycling { every_days: 15.2, top_soc: 1.0, dod: 0.8, discharge_c: 1.0, charge_c: 0.5 };
    let used = UsePattern { rest_soc: 0.75, temp_c: 20.0, cycling: Some(cycling) };
    1.0 - factor * (1.0 - shares(model, &[(0.0, used)], &[day])[0])
}

/// A log of such a cell: two charges a month, and tests on these days with a meter's error.
fn log_of(model: AgeingModel, factor: f64, tests: &[i64], until: i64, seed: u64) -> Vec<PackEntry> {
    let mut chance = fastrand::Rng::with_seed(seed);
    let mut entries = vec![];
    for day in (0..until).step_by(15) {
        entries.push(on(
            day,
            Logged::Charge { charge_ah: Some(4.0), took_s: Some(5760.0), ended: Some(ChargeEnd::Charger), end_a: None },
        ));
        entries.push(on(
            day + 5,
            Logged::Run { took_s: Some(2880.0), charge_ah: Some(4.0), is_whole: false, temp_c: None },
        ));
    }
    for day in tests {
        let off = 1.0 + 0.01 * (chance.f64() * 2.0 - 1.0);
        entries.push(on(*day, capacity(5.0 * truth(model, factor, *day as f64) * off)));
    }
    entries
}

#[test]
fn tests_pull_the_forecast_and_its_band_holds_the_truth() {
    let (mut inside, mut count) = (0, 0);
    for model in AgeingModel::LITHIUM_ION {
        for (seed, factor) in [(1, 0.6), (2, 1.0), (3, 1.5)] {
            let one = told(&card(), &log_of(model, factor, &[0], 30, seed), 30).forecast.unwrap();
            let many =
                told(&card(), &log_of(model, factor, &[0, 180, 360, 540, 720], 725, seed), 725).forecast.unwrap();
            let at = |f: &brick_core::years::Forecast, day: i64| {
                f.course.points.iter().find(|p| p.at_s >= made_s() + day * DAY_S).copied()
            };
            let (Some(wide), Some(narrow)) = (at(&one, 1095), at(&many, 1095)) else { continue };
            let is = truth(model, factor, 1095.0);
            if is > 0.81 && narrow.middle_share > 0.805 {
                count += 1;
                inside += usize::from((narrow.low - 0.004..=narrow.high + 0.004).contains(&is));
                assert!((narrow.middle_share - is).abs() < 0.03, "{model:?} {factor}: {narrow:?}, is {is}");
                assert!(narrow.high - narrow.low < 0.8 * (wide.high - wide.low), "{narrow:?} {wide:?}");
            }
            // The band widens, and nothing is said below 80 %.
            for f in [&one, &many] {
                assert!(
                    f.course.points.iter().all(|p| p.low >= 0.8 && p.low <= p.middle_share && p.middle_share <= p.high)
                );
            }
        }
    }
    assert!(count >= 6 && inside * 10 >= count * 8, "{inside} of {count}");
}

#[test]
fn another_use_moves_the_forecast_the_way_the_models_say() {
    // It is charged right after each run, and lies full.
    let mut entries = log_of(AgeingModel::Nca, 1.2, &[0, 200, 400], 410, 7);
    entries.retain(|e| !matches!(e.happened, Logged::Run { .. }));
    let f = told(&card(), &entries, 410).forecast.unwrap();
    let keys: Vec<&str> = f.what_if.iter().map(|w| w.key).collect();
    assert_eq!(keys, ["half_full", "cooler", "charged_lower", "shallower"]);
    for what in &f.what_if {
        assert!(what.gains_share > -0.002, "{} {}", what.key, what.gains_share);
        // Until today both are the same pack.
        for (a, b) in f.course.points.iter().zip(&what.course.points).filter(|(a, _)| a.at_s <= made_s() + 400 * DAY_S)
        {
            assert!((a.middle_share - b.middle_share).abs() < 1e-9);
        }
    }
    let gain = |key: &str| f.what_if.iter().find(|w| w.key == key).unwrap().gains_share;
    assert!(gain("cooler") > 0.005 && gain("half_full") > 0.002, "{keys:?}");
    assert!(f.rests_on.iter().any(|l| l.contains("3 capacity tests")), "{:?}", f.rests_on);
    assert!(f.rests_on.iter().any(|l| l.contains("knee")), "{:?}", f.rests_on);
}

#[test]
fn a_test_in_the_cold_is_not_held_against_one_in_the_warm() {
    let mut entries = vec![on(0, capacity(5.0)), on(200, capacity(4.9))];
    let cold = Logged::Capacity { charge_ah: 3.9, rate_a: Some(1.0), to_v: Some(3.0), temp_c: Some(2.0) };
    entries.push(on(300, cold));
    let found = told(&card(), &entries, 310);
    assert!(!found.measured.capacity[2].is_like);
    assert!(found.due.iter().all(|d| d.key != "retire"), "78 % was the cold");
    assert!(found.forecast.unwrap().rests_on.iter().any(|l| l.starts_with("1 not counted")));
}

#[test]
fn a_worn_pack_is_to_be_retired_by_capacity_or_by_resistance() {
    let by_capacity = told(&card(), &[on(0, capacity(5.0)), on(700, capacity(3.95))], 710);
    let ohm = |ohm| Logged::Resistance { resistance_ohm: ohm, by: OhmBy::Load };
    let by_ohm = told(&card(), &[on(0, ohm(0.1)), on(700, ohm(0.21))], 710);
    let meter = Logged::Resistance { resistance_ohm: 0.21, by: OhmBy::Meter1Khz };
    let unlike = told(&card(), &[on(0, ohm(0.1)), on(700, meter)], 710);
    for (found, wanted) in [(&by_capacity, true), (&by_ohm, true), (&unlike, false)] {
        assert_eq!(found.due.iter().any(|d| d.key == "retire" && d.severity == Severity::Caution), wanted);
    }
    assert!(by_ohm.due.iter().any(|d| d.says.contains("2.1 times")));
}

#[test]
fn a_short_run_is_explained_by_what_else_is_known() {
    let run = |temp_c| Logged::Run { took_s: Some(1400.0), charge_ah: None, is_whole: true, temp_c };
    let because = |entries: &[PackEntry]| told(&card(), entries, 320).runs.last().unwrap().because.clone().unwrap();
    assert!(because(&[on(300, run(Some(2.0)))]).contains("cold"));
    assert!(because(&[on(300, run(None))]).contains("test the capacity"));
    let tested = [on(0, capacity(5.0)), on(250, capacity(4.95)), on(300, run(None))];
    assert!(because(&tested).contains("load"));
    let apart = Logged::Rest { groups_v: vec![3.9, 3.9, 3.82, 3.9], rested_s: None };
    assert!(because(&[on(299, apart), on(300, run(None))]).contains("Group 3"));
    let ohm = |ohm| Logged::Resistance { resistance_ohm: ohm, by: OhmBy::Load };
    assert!(because(&[on(0, ohm(0.1)), on(290, ohm(0.17)), on(300, run(None))]).contains("1.7 times"));
    // What capacity was lost is no fault of the run: 1400 s are as predicted for 80 %.
    let aged = told(&card(), &[on(0, capacity(5.0)), on(280, capacity(4.05)), on(300, run(None))], 320);
    assert_eq!(aged.runs[0].because, None, "{:?}", aged.runs);
}

#[test]
fn how_it_is_used_is_read_out_of_its_log() {
    let charge = |ah| Logged::Charge { charge_ah: ah, took_s: None, ended: Some(ChargeEnd::Charger), end_a: None };
    let entries = [
        on(0, capacity(5.0)),
        on(10, charge(Some(4.0))),
        on(40, charge(Some(3.0))),
        on(70, charge(None)),
        on(80, Logged::Storage { cell_v: 3.8 }),
    ];
    let found = told(&card(), &entries, 800).habit;
    assert_eq!((found.charges, found.uncounted), (3, 1));
    // 4 + 3, and 3.5 for the one that nobody counted.
    assert!((found.through_ah.unwrap() - 10.5).abs() < 1e-9 && (found.full_cycles.unwrap() - 2.1).abs() < 1e-9);
    assert!((found.depth_share - 0.7).abs() < 1e-9);
    // Stored for most of its life.
    let half = curve(Chemistry::LiIon).soc(3.8);
    assert!((found.rest_soc - half).abs() < 0.08, "{} {half}", found.rest_soc);
    assert!(found.is_rest_known);
    // On phosphate's plateau the volts in storage say little of how full it lies.
    let phosphate = PackCard { chemistry: Chemistry::LiFePo4, ..card() };
    let lies = |cell_v| told(&phosphate, &[on(80, Logged::Storage { cell_v })], 800).habit.is_rest_known;
    assert!(!lies(3.28) && lies(3.10));
    let empty = told(&card(), &[], 10);
    assert!(!empty.habit.is_rest_known && empty.forecast.unwrap().rests_on.iter().any(|l| l.contains("(assumed)")));
}

#[test]
fn what_is_due_follows_from_what_happened() {
    let due = |entries: &[PackEntry], day: i64| told(&card(), entries, day).due;
    let has = |entries: &[PackEntry], day: i64, key: &str| {
        due(entries, day).iter().find(|d| d.key == key).map(|d| (d.on_s - made_s()) / DAY_S)
    };
    let stored = [on(0, Logged::Storage { cell_v: 3.8 })];
    assert_eq!(has(&stored, 10, "storage"), Some(90));
    assert_eq!(has(&stored, 10, "lies_full"), None);
    // 3 % a month from about half to 20 %: some ten months.
    assert!((200..420).contains(&has(&stored, 10, "recharge").unwrap()));
    let full =
        [on(0, Logged::Charge { charge_ah: Some(4.0), took_s: None, ended: Some(ChargeEnd::Charger), end_a: None })];
    assert_eq!(has(&full, 10, "lies_full"), Some(21));
    let swollen = [on(5, Logged::Event { mishap: Mishap::Swollen }), on(6, Logged::Looked { is_sound: true })];
    assert!(due(&swollen, 10).iter().any(|d| d.key == "mishap" && d.severity == Severity::Stop), "no look unswells it");
    let dropped = [on(5, Logged::Event { mishap: Mishap::Dropped })];
    assert_eq!(has(&dropped, 10, "mishap"), Some(5));
    assert_eq!(has(&[dropped[0].clone(), on(6, Logged::Looked { is_sound: true })], 10, "mishap"), None);
    let retired = [on(5, Logged::State { to: PackState::Retired })];
    assert_eq!(due(&retired, 10).iter().map(|d| d.key).collect::<Vec<_>>(), ["recycle"]);
    assert!(told(&card(), &retired, 10).forecast.is_none());
    assert!(due(&[on(5, Logged::State { to: PackState::HandedOver })], 10).is_empty());
    let all = due(&stored, 10);
    assert!(all.windows(2).all(|w| w[0].on_s <= w[1].on_s));
}

#[test]
fn what_is_struck_out_counts_no_more_and_stays_in_sight() {
    let mut entries = vec![on(0, capacity(5.0)), on(100, capacity(3.2))];
    let mut strike = on(101, Logged::Struck { number: 2 });
    let refused = strike.check(&card(), &entries);
    assert_eq!(refused[0].field, "/words", "{refused:?}");
    strike.words = "the tester had lost contact".to_owned();
    entries.push(strike.clone());
    let found = told(&card(), &entries, 110);
    assert_eq!(found.measured.capacity.len(), 1);
    assert_eq!(found.lines[0].struck.as_deref(), Some("the tester had lost contact"));
    assert_eq!(found.lines.len(), 2, "the strike is no line of its own");
    assert_eq!(strike.check(&card(), &entries)[0].field, "/happened/number", "only once");
    let of_strike = PackEntry { happened: Logged::Struck { number: 3 }, ..strike };
    assert_eq!(of_strike.check(&card(), &entries)[0].field, "/happened/number");
}

#[test]
fn entries_that_cannot_be_are_refused_by_field() {
    let bad =
        |happened: Logged| on(0, happened).check(&card(), &[]).first().map(|e| e.field.clone()).unwrap_or_default();
    assert_eq!(bad(Logged::Rest { groups_v: vec![3.8; 3], rested_s: None }), "/happened/groups_v");
    assert_eq!(bad(Logged::Rest { groups_v: vec![3.8, 3.8, 38.0, 3.8], rested_s: None }), "/happened/groups_v/2");
    assert_eq!(bad(capacity(-1.0)), "/happened/charge_ah");
    assert_eq!(bad(capacity(f64::NAN)), "/happened/charge_ah");
    assert_eq!(bad(Logged::Repair { exchanged: String::new(), groups: vec![5] }), "/happened/groups");
    assert_eq!(bad(Logged::Note), "/words");
    assert_eq!(bad(Logged::Event { mishap: Mishap::Other }), "/words");
    assert_eq!(bad(Logged::Charge { charge_ah: None, took_s: None, ended: None, end_a: None }), "/happened");
    let when = PackEntry { at: "yesterday".to_owned(), ..on(0, capacity(5.0)) };
    assert_eq!(when.check(&card(), &[])[0].field, "/at");
    let cards = [
        (PackCard { name: " ".to_owned(), ..card() }, "/name"),
        (PackCard { series: 0, ..card() }, "/series"),
        (PackCard { chemistry: Chemistry::Nickel, ..card() }, "/chemistry"),
        (PackCard { charged_to_v: Some(4.4), ..card() }, "/charged_to_v"),
        (PackCard { made_on: Some("last year".to_owned()), ..card() }, "/made_on"),
        (PackCard { run: Some(ExpectedRun { least_s: 9.0, usual_s: 5.0, most_s: 9.0 }), ..card() }, "/run"),
    ];
    for (card, field) in cards {
        assert_eq!(card.check()[0].field, field);
    }
}

#[test]
fn a_log_goes_out_as_a_table_and_comes_in_again() {
    let mut entries = vec![
        on(0, capacity(5.0)),
        on(1, Logged::Rest { groups_v: vec![4.081, 4.079, 4.052, 4.08], rested_s: Some(86_400.0) }),
        on(
            2,
            Logged::Charge {
                charge_ah: Some(4.31),
                took_s: Some(6720.0),
                ended: Some(ChargeEnd::Charger),
                end_a: Some(0.084),
            },
        ),
        on(3, Logged::Run { took_s: Some(1560.0), charge_ah: None, is_whole: true, temp_c: Some(14.0) }),
        on(4, Logged::Resistance { resistance_ohm: 0.118, by: OhmBy::Meter1Khz }),
        on(5, Logged::Event { mishap: Mishap::Dropped }),
        on(6, Logged::Looked { is_sound: false }),
        on(7, Logged::Repair { exchanged: "fuse, 15 A".to_owned(), groups: vec![1, 3] }),
        on(8, Logged::Storage { cell_v: 3.81 }),
        on(9, Logged::State { to: PackState::Stored }),
    ];
    entries[5].words = "=on its plug, \"hard\"".to_owned();
    let text = write_log(&entries).unwrap();
    let (back, unused) = read_log(&text, &card()).unwrap();
    assert_eq!(unused, Vec::<String>::new());
    assert_eq!(back, entries);
    // What was struck out is written with its reason, and left out when it is read.
    entries.push(PackEntry { words: "typed twice".to_owned(), ..on(10, Logged::Struck { number: 1 }) });
    let text = write_log(&entries).unwrap();
    assert!(text.contains("typed twice"), "{text}");
    assert_eq!(read_log(&text, &card()).unwrap().0.len(), 9);
    let bad = "at;what;groups_v;ah\n2026-01-01;rest;4,1 4,1 4,1;\n2026-01-02;capacity;;viel\n2026-01-03;dance;;\n";
    let told: Vec<String> = read_log(bad, &card()).unwrap_err().iter().map(ToString::to_string).collect();
    assert!(
        told.len() == 3 && told[0].contains("4 of them") && told[1].contains("ah") && told[2].contains("dance"),
        "{told:?}"
    );
}

#[test]
fn a_card_of_a_plan_says_what_the_plan_says() {
    let plan = Plan::from_json(include_str!("../../../demo/plans/hedge-shears.brick.json")).unwrap();
    let found = PackCard::of_plan(&plan, &assess(&plan).unwrap(), "2026-11-25").unwrap();
    assert_eq!(found.check(), vec![]);
    assert_eq!(found.counts(), "4S2P");
    assert_eq!((found.fuse_a, found.rated_ah), (Some(25.0), Some(5.0)));
    let run = found.run.unwrap();
    assert!(run.least_s < run.usual_s && run.usual_s <= run.most_s, "{run:?}");
    let lines = label_lines(&found, 7);
    assert!(lines[1].contains("14.4 V") && lines.last().unwrap().ends_with("no. 7"), "{lines:?}");
}

#[test]
fn the_sheet_for_the_next_owner_says_how_to_charge_and_what_was_done() {
    let entries = [
        on(0, capacity(5.0)),
        on(10, Logged::Event { mishap: Mishap::Dropped }),
        on(11, Logged::State { to: PackState::Retired }),
    ];
    let parts = hand_on(&card(), &told(&card(), &entries, 20));
    let of = |title: &str| parts.iter().find(|p| p.title == title).map(|p| p.lines.join(" ")).unwrap_or_default();
    assert!(
        of("How to charge it").contains("16.8 V at its end") && of("How to charge it").contains("never unattended")
    );
    assert!(of("What was done to it").contains("Dropped") && of("What it is").contains("5 Ah as last tested"));
    assert!(of("Retired").contains("collection point") && of("Retired").contains("Tape every contact"));
    // One page of A4: some 60 lines of 95 letters.
    let height: usize = parts.iter().map(|p| 2 + p.lines.iter().map(|l| l.len().div_ceil(95)).sum::<usize>()).sum();
    assert!(height < 60, "{height}");
}

/// A card and a log of ten years, entries typed in any order, are read without a panic and in the order of their days.
#[test]
fn entries_count_in_the_order_in_which_they_happened() {
    let entries = [on(300, capacity(4.8)), on(0, capacity(5.0)), on(100, capacity(4.9))];
    let found = told(&card(), &entries, 310);
    let shares: Vec<f64> = found.measured.capacity.iter().map(|p| p.first_share).collect();
    assert!(shares.iter().zip([1.0, 0.98, 0.96]).all(|(a, b)| (a - b).abs() < 1e-9), "{shares:?}");
    assert_eq!(placed(&entries).iter().map(|p| p.number).collect::<Vec<_>>(), [2, 3, 1]);
}

/// What a log may hold, in any order and at any time.
fn anything() -> impl Strategy<Value = Logged> {
    let some = |range: std::ops::Range<f64>| proptest::option::of(range);
    prop_oneof![
        (proptest::collection::vec(0.0f64..5.0, 4), some(0.0..1e6))
            .prop_map(|(groups_v, rested_s)| Logged::Rest { groups_v, rested_s }),
        (some(0.01..20.0), some(1.0..1e5)).prop_map(|(charge_ah, took_s)| Logged::Charge {
            charge_ah,
            took_s,
            ended: Some(ChargeEnd::Charger),
            end_a: None,
        }),
        (1.0f64..1e5, some(0.01..20.0), proptest::bool::ANY, some(-40.0..90.0)).prop_map(
            |(took_s, charge_ah, is_whole, temp_c)| Logged::Run { took_s: Some(took_s), charge_ah, is_whole, temp_c }
        ),
        (0.01f64..20.0, some(0.0..5.0), some(-40.0..90.0)).prop_map(|(charge_ah, to_v, temp_c)| Logged::Capacity {
            charge_ah,
            rate_a: None,
            to_v,
            temp_c
        }),
        (0.001f64..50.0).prop_map(|resistance_ohm| Logged::Resistance { resistance_ohm, by: OhmBy::Load }),
        (0.0f64..5.0).prop_map(|cell_v| Logged::Storage { cell_v }),
        Just(Logged::Event { mishap: Mishap::Hot }),
        Just(Logged::Looked { is_sound: true }),
        Just(Logged::Repair { exchanged: "fuse".to_owned(), groups: vec![2] }),
        Just(Logged::State { to: PackState::Stored }),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    /// Whatever was typed, in whatever order, about a pack of whatever chemistry: a story comes of it, all its figures are finite,
    /// and what is due is in order.
    #[test]
    fn any_log_makes_a_story(
        entries in proptest::collection::vec((0i64..3000, anything()), 0..30),
        chemistry in proptest::sample::select(vec![
            Chemistry::LiIon, Chemistry::LiPo, Chemistry::LiHv, Chemistry::LiFePo4, Chemistry::LiTitanate, Chemistry::NaIon,
        ]),
        rated_ah in proptest::option::of(0.1f64..100.0),
        is_dated in proptest::bool::ANY,
    ) {
        let made_on = is_dated.then(|| "2024-01-01".to_owned());
        let card = PackCard { chemistry, rated_ah, made_on, standby_a: Some(0.001), ..card() };
        let entries: Vec<PackEntry> = entries.into_iter().map(|(day, happened)| on(day, happened)).collect();
        let found = story(&card, &entries, made_s() + 2500 * DAY_S);
        // JSON knows neither infinity nor NaN: serde writes null, and a figure that must be there would be missing.
        let written = serde_json::to_value(&found).unwrap();
        for at in ["/habit/depth_share", "/habit/rest_soc", "/habit/run_c", "/habit/charge_c", "/habit/charges_a_month"] {
            prop_assert!(written.pointer(at).unwrap().is_f64(), "{at}: {written}");
        }
        let f = found.forecast.iter().flat_map(|f| std::iter::once(&f.course).chain(f.what_if.iter().map(|w| &w.course)));
        for p in f.flat_map(|c| &c.points) {
            prop_assert!(0.8 <= p.low && p.low <= p.middle_share && p.middle_share <= p.high && p.high < 2.0, "{p:?}");
        }
        prop_assert!(found.due.windows(2).all(|w| w[0].on_s <= w[1].on_s));
        prop_assert_eq!(found.lines.len(), entries.len());
        prop_assert!(hand_on(&card, &found).iter().all(|p| !p.lines.is_empty()));
        let table = write_log(&entries).unwrap();
        if !entries.is_empty() {
            prop_assert_eq!(read_log(&table, &card).unwrap().0.len(), entries.len());
        }
    }
}
