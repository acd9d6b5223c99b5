//! What a practitioner would build for each kind of job, and why: some proposal is that.

use super::*;

/// What a practitioner would build: the job, what is known of it, what some proposal must be, and why.
struct Built {
    name: &'static str,
    survey: Plan,
    wishes: Wishes,
    is: fn(&Plan) -> bool,
    because: &'static str,
}

fn built() -> Vec<Built> {
    let of = |battery: [(&'static str, Value); 2], more: &[(&'static str, Value)]| {
        let mut all = battery.to_vec();
        all.extend(more.iter().cloned());
        all
    };
    let plain = Wishes::default;
    let volts = |low: f64, high: f64, draws: Value| {
        vec![("device/lowest_v", known(low)), ("device/highest_v", known(high)), ("device/loads", draws)]
    };
    vec![
        Built {
            name: "charging added to a two-series pack that stays",
            survey: survey(Job::ChargingAdded, &of(old("li_ion", 2), &[("device/loads", amps(1.5))])),
            wishes: plain(),
            is: |p| series(p) == 2 && board_a(p) > 0.0 && p.module(NodeKind::Charger).is_some(),
            because: "a two-series board on the charge side and a charger for 8.4 V",
        },
        Built {
            name: "two-series pack charged from USB",
            survey: survey(Job::Recelling, &of(old("li_ion", 2), &[("device/loads", amps(1.0))])),
            wishes: Wishes { usb: true, ..plain() },
            is: |p| {
                let charges = p.module(NodeKind::Charger).and_then(|m| m.charges.as_ref()).unwrap();
                !charges.own_supply && p.module(NodeKind::Supply).is_some()
            },
            because: "a module inside, and a supply that can feed it",
        },
        Built {
            name: "four primary cells replaced",
            survey: survey(Job::HandheldWithGauge, &of(old("alkaline", 4), &[("device/loads", amps(0.15))])),
            wishes: plain(),
            is: |p| series(p) <= 2,
            because: "one cell with a converter, or one or two direct",
        },
        Built {
            name: "lead-acid machine on tool packs",
            survey: survey(Job::MotorTool, &of(old("lead_acid", 10), &[("device/loads", with_start(10.0, 30.0))])),
            wishes: Wishes { no_welding: true, ..plain() },
            is: |p| p.packs[0].ready.part().is_some() && series(p) >= 5,
            because: "packs that exist need no welding",
        },
        Built {
            name: "three small cells replaced by a hobby pack outside",
            survey: survey(Job::ReadyPack, &of(old("li_ion", 3), &[("device/loads", amps(2.0))])),
            wishes: Wishes { reversible: true, ..plain() },
            is: |p| series(p) == 3 && p.feed.outside.is_some(),
            because: "three in series on a plug, and nothing is cut",
        },
        Built {
            name: "six-volt instrument pack of lead",
            survey: survey(Job::InstrumentWithCharger, &of(old("lead_acid", 3), &[("device/loads", amps(0.4))])),
            wishes: plain(),
            is: |p| converter(p).is_some() || series(p) == 2,
            because: "a converter makes its volts, or two phosphate cells do",
        },
        Built {
            name: "twelve-volt pump",
            survey: survey(
                Job::Pump,
                &of(old("lead_acid", 6), &[("device/loads", amps(3.0)), ("device/wanted_run_s", json!(7200.0))]),
            ),
            wishes: plain(),
            is: |p| series(p) == 4 && p.packs[0].chemistry == Some(Chemistry::LiFePo4),
            because: "four phosphate cells lie where six of lead did",
        },
        Built {
            name: "toy with two phosphate cells",
            survey: survey(Job::ToyOrModel, &of(old("li_fe_po4", 2), &[("device/loads", amps(3.0))])),
            wishes: plain(),
            is: |p| series(p) == 2,
            because: "two in series again, of either chemistry",
        },
        Built {
            name: "standby supply of twelve volts",
            survey: survey(Job::StandbySupply, &volts(11.0, 13.8, amps(1.0))),
            wishes: plain(),
            is: |p| series(p) == 3 || converter(p).is_some(),
            because: "three in series, or a converter that holds the volts",
        },
        Built {
            name: "power bank",
            survey: survey(Job::PowerBank, &volts(4.75, 5.25, amps(2.0))),
            wishes: plain(),
            is: |p| converter(p).is_some(),
            because: "a cell's volts are not five: a converter makes them",
        },
        Built {
            name: "six nickel cells, direct",
            survey: survey(Job::HandheldWithGauge, &of(old("nickel", 6), &[("device/loads", amps(0.5))])),
            wishes: plain(),
            is: |p| series(p) == 2 && converter(p).is_none(),
            because: "the one school puts two in series straight on",
        },
        Built {
            name: "six nickel cells, regulated",
            survey: survey(Job::HandheldWithGauge, &of(old("nickel", 6), &[("device/loads", amps(0.5))])),
            wishes: plain(),
            is: |p| converter(p).is_some(),
            because: "the other school makes the volts the device knows",
        },
        Built {
            name: "adjustable bench supply",
            survey: survey(Job::BenchSupply, &volts(3.0, 12.0, amps(1.0))),
            wishes: plain(),
            is: |p| converter(p).is_some(),
            because: "what is turned in use is made by a converter",
        },
        Built {
            name: "nickel drill",
            survey: survey(Job::MotorTool, &of(old("nickel", 12), &[("device/loads", with_start(12.0, 28.0))])),
            wishes: plain(),
            is: |p| series(p) == 4 && board_a(p) >= 30.0,
            because: "four in series behind a board that holds the start",
        },
        Built {
            name: "nickel vacuum",
            survey: survey(Job::MotorTool, &of(old("nickel", 6), &[("device/loads", with_start(6.0, 15.0))])),
            wishes: plain(),
            is: |p| series(p) == 2 && board_a(p) > 0.0,
            because: "two in series, guarded and balanced",
        },
        Built {
            name: "pack with electronics of its own",
            survey: survey(Job::Recelling, &of(old("li_ion", 5), &[("device/loads", amps(8.0))])),
            wishes: plain(),
            is: |p| series(p) == 5 && p.packs[0].chemistry == Some(Chemistry::LiIon) && converter(p).is_none(),
            because: "its electronics know five of their kind",
        },
    ]
}

#[test]
fn every_kind_of_job_gets_what_a_practitioner_would_build() {
    for built in built() {
        let found = proposed(&built.survey, &built.wishes);
        assert!((1..=6).contains(&found.proposals.len()), "{}: {}", built.name, found.proposals.len());
        let names: Vec<&str> = found.proposals.iter().map(|p| p.name.as_str()).collect();
        for p in &found.proposals {
            is_whole(&built.survey, p);
            assert!(!p.title.is_empty() && p.why.text.ends_with('.'), "{}: {p:?}", built.name);
        }
        none_is_beaten(built.name, &found.proposals);
        assert!(
            found.proposals.iter().any(|p| (built.is)(&p.plan)),
            "{}: {}, not {names:?}",
            built.name,
            built.because
        );
    }
}

/// A machine for 24 V of lead with two settings: two packs like each other, each with a guard, a switch that leaves one setting before it makes
/// the other, and both on the bill. A machine with one setting gets none of that.
#[test]
fn a_device_with_two_settings_gets_two_packs_and_their_switch() {
    let machine = |selector: bool| {
        let more = [
            ("device/loads", amps(8.0)),
            ("device/lowest_v", known(9.0)),
            ("device/highest_v", known(29.0)),
            ("device/brains", json!({"selector": selector})),
        ];
        let mut all = old("lead_acid", 12).to_vec();
        all.extend(more);
        survey(Job::MotorTool, &all)
    };
    let two = |p: &&Proposal| p.plan.feed.second.is_some();
    for wishes in [Wishes::default(), Wishes { no_welding: true, ..Wishes::default() }] {
        let survey = machine(true);
        let proposed = proposed(&survey, &wishes);
        let told: Vec<_> = proposed.proposals.iter().map(|p| &p.name).collect();
        let refused: Vec<_> = proposed.refusals.iter().map(|r| (&r.name, &r.title.text)).collect();
        let one = proposed.proposals.iter().find(two).unwrap_or_else(|| panic!("{told:?}, refused {refused:?}"));
        is_whole(&survey, one);
        let second = one.plan.feed.second.as_ref().unwrap();
        assert_eq!(second.selector().and_then(|s| s.break_before_make), Some(true));
        assert!(second.guard().is_some() || second.each_guarded == Some(true), "{second:?}");
        assert!(one.name.contains("twice, switched"), "{}", one.name);
        assert_eq!(one.plan.packs[0].ready.part().is_some(), second.ready.part().is_some());
        assert!(!wishes.no_welding || one.merits.welded == 0, "{:?}", one.merits);
        // Twice the cells, or twice the pack.
        let bill = bill(&one.plan, &Catalogue::default()).unwrap();
        let packs: f64 = bill.lines.iter().filter(|l| l.name == one.made_of).map(|l| l.count).sum();
        let pack = &one.plan.packs[0];
        let each =
            if pack.ready.part().is_some() { 1.0 } else { f64::from(pack.series.unwrap() * pack.parallel.unwrap()) };
        assert_eq!(packs, 2.0 * each, "{:?}", bill.lines);
    }
    assert!(proposed(&machine(false), &Wishes::default()).proposals.iter().all(|p| !two(&p)));
}

/// An instrument on 3 V: without welding its one cell goes into a holder. For a load that one cell does not carry there are several side by
/// side, a diode before each, and charged outside.
#[test]
fn without_welding_cells_go_into_holders() {
    let without = Wishes { no_welding: true, ..Wishes::default() };
    let held = |draws_a: f64, wanted_s: f64| {
        let more = [
            ("device/loads", amps(draws_a)),
            ("device/lowest_v", known(2.8)),
            ("device/highest_v", known(4.3)),
            ("device/wanted_run_s", json!(wanted_s)),
        ];
        let survey = survey(Job::PowerBank, &more);
        let proposed = proposed(&survey, &without);
        let told: Vec<_> = proposed.proposals.iter().map(|p| p.name.clone()).collect();
        let one = proposed.proposals.into_iter().find(|p| p.plan.feed.holder.is_some());
        let one = one.unwrap_or_else(|| panic!("{told:?}"));
        is_whole(&survey, &one);
        assert!(one.name.contains("in holders") && one.merits.welded == 0, "{} {:?}", one.name, one.merits);
        assert!(one.plan.packs[0].strip.part().is_none());
        let holder = one.plan.feed.holder.clone().unwrap();
        assert_eq!((holder.charged_in_place, one.plan.charging.taken_out), (Some(false), Some(true)));
        (one.plan.packs[0].parallel.unwrap(), holder)
    };
    let (slots, holder) = held(0.3, 3600.0);
    assert_eq!((slots, holder.fewest, holder.each), (1, 1, None));
    let (slots, holder) = held(6.0, 7200.0);
    assert!(slots > 1 && holder.fewest <= slots, "{slots} {holder:?}");
    assert_eq!(holder.each, Some(EachCell::IdealDiode));
}

/// The kind of job that is about cells in holders: only such are proposed, from one that is raised to 12 V as well, and what the maker said of the
/// holders stays.
#[test]
fn a_device_with_replaceable_cells_gets_nothing_else() {
    let of = |more: &[(&str, Value)]| {
        let mut all = vec![
            ("device/loads", amps(0.4)),
            ("device/lowest_v", known(11.0)),
            ("device/highest_v", known(13.0)),
            ("device/wanted_run_s", json!(7200.0)),
        ];
        all.extend(more.iter().cloned());
        survey(Job::ReplaceableCells, &all)
    };
    let any = of(&[]);
    let found = proposed(&any, &Wishes::default()).proposals;
    assert!(!found.is_empty());
    for p in &found {
        is_whole(&any, p);
        assert!(series(&p.plan) == 1 && p.plan.feed.holder.is_some() && p.merits.welded == 0, "{}", p.name);
    }
    let said = json!({"fewest": 2, "each": "fuse", "each_a": 5.0, "contact_a": 8.0});
    let kept = proposed(&of(&[("feed/holder", said)]), &Wishes::default()).proposals;
    let holder = kept[0].plan.feed.holder.clone().unwrap();
    assert!(holder.fewest >= 2 && holder.each == Some(EachCell::Fuse) && holder.contact_a == Some(8.0), "{holder:?}");
}

/// Own tested pouches go into no holder, and a pack whose plug is too small is not proposed with a plug that it does not have.
#[test]
fn what_parts_are_stays_as_it_was_said() {
    let more = [
        ("device/loads", amps(0.4)),
        ("device/lowest_v", known(2.8)),
        ("device/highest_v", known(4.3)),
        ("device/wanted_run_s", json!(3600.0)),
    ];
    let lamp = survey(Job::ReplaceableCells, &more);
    let mut pouches = stock(12);
    pouches.cell.size = CellSize::Pouch { thickness_mm: 8.0, width_mm: 34.0, length_mm: 60.0 };
    let found = propose(&lamp, &typical(), &[pouches], &Wishes::default(), &Unwatched).unwrap().proposals;
    assert!(!found.is_empty());
    for p in &found {
        let cell = p.plan.packs[0].cell.part().unwrap();
        assert!(
            matches!(cell.size, CellSize::Cylindrical { .. }) && p.plan.packs[0].groups.is_empty(),
            "{}",
            p.made_of
        );
    }

    let mut narrow = typical();
    for item in &mut narrow.items {
        if let ItemPart::Pack { pack } = &mut item.part {
            pack.plug_a = Some(1.0);
        }
    }
    let mut answers = old("li_ion", 3).to_vec();
    answers.push(("device/loads", amps(4.0)));
    let model = survey(Job::ReadyPack, &answers);
    assert!(!proposed(&model, &Wishes::default()).proposals.is_empty());
    assert!(propose(&model, &narrow, &[], &Wishes::default(), &Unwatched).unwrap().proposals.is_empty());
}
