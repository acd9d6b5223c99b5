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
