//! The catalogue that ships: generic parts with typical figures, so that every kind of job has parts to choose from.
//!
//! Common practice, no source, as of 2026: what such parts usually state. No part is anybody's: none has a price or a day of
//! arrival, which are the maker's to find out. A maker's own part of the same id is never written over.

use super::{Catalogue, Item, ItemPart};
use crate::base::chemistry::Chemistry;
use crate::base::quantity::{Unit, show};
use crate::plan::{
    Alarms, Bms, Cell, CellOrigin, CellSize, Charger, ChargesAs, Connector, Converter, CutsOff, Fuse, FuseStyle, How,
    Insulation, Known, Module, Offer, Port, ReadyKind, ReadyPack, Resets, Strip, StripMetal, Supplies, Switch,
    Topology, Wire, WireSize,
};

/// Written beside every one of them.
const NOTE: &str = "typical figures, common practice, no source";
const PREFIX: &str = "typical-";

/// Every typical part.
pub fn typical() -> Catalogue {
    let mut items = vec![];
    for found in [
        cells(),
        packs(),
        strips(),
        boards(),
        modules(),
        chargers(),
        supplies(),
        converters(),
        cut_offs(),
        fuses(),
        wires(),
        connectors(),
        switches(),
    ] {
        items.extend(found);
    }
    Catalogue { items }
}

fn item(id: String, part: ItemPart) -> Item {
    let id = format!("{PREFIX}{id}");
    let mut item = Item { id: id.clone(), part, at_hand: None, note: NOTE.to_owned() };
    item.offer_mut().catalogue_id = Some(id);
    item
}

fn offer(name: impl Into<String>, mass_g: Option<f64>) -> Offer {
    Offer { name: name.into(), mass_g, ..Offer::default() }
}

fn typically(value: f64) -> Known {
    Known { value, how: How::Assumed, error: None, meter: None }
}

fn module(id: String, module: Module) -> Item {
    item(id, ItemPart::Module { module: Box::new(module) })
}

/// Short name of a chemistry for an id.
fn key(chemistry: Chemistry) -> &'static str {
    match chemistry {
        Chemistry::LiIon => "li-ion",
        Chemistry::LiPo => "li-po",
        Chemistry::LiHv => "li-hv",
        Chemistry::LiFePo4 => "phosphate",
        Chemistry::LiTitanate => "titanate",
        Chemistry::NaIon => "sodium",
        _ => "other",
    }
}

/// A round cell: what it is called, diameter and length, capacity, DCIR, continuous, pulse and charge current, mass.
type RoundCell = (&'static str, Chemistry, (f64, f64), f64, f64, (f64, f64, f64), f64);

#[rustfmt::skip]
const ROUND: [RoundCell; 20] = [
    ("small cell 10440, 0.35 Ah", Chemistry::LiIon, (10.2, 44.2), 0.35, 0.12, (0.7, 1.0, 0.35), 9.0),
    ("small cell 14500, 0.8 Ah", Chemistry::LiIon, (14.2, 50.0), 0.8, 0.06, (1.6, 2.4, 0.8), 20.0),
    ("small cell 16340, 0.7 Ah", Chemistry::LiIon, (16.5, 34.2), 0.7, 0.07, (1.4, 2.1, 0.7), 18.0),
    ("energy cell 18650, 3.4 Ah", Chemistry::LiIon, (18.5, 65.2), 3.4, 0.04, (6.5, 10.0, 1.7), 48.0),
    ("all-round cell 18650, 2.9 Ah", Chemistry::LiIon, (18.5, 65.2), 2.9, 0.03, (10.0, 15.0, 1.5), 47.0),
    ("power cell 18650, 2.5 Ah", Chemistry::LiIon, (18.4, 65.1), 2.5, 0.02, (20.0, 30.0, 2.5), 45.0),
    ("power cell 18650, 2.0 Ah", Chemistry::LiIon, (18.4, 65.1), 2.0, 0.016, (22.0, 35.0, 2.0), 44.0),
    ("energy cell 21700, 4.9 Ah", Chemistry::LiIon, (21.2, 70.3), 4.9, 0.025, (9.8, 15.0, 2.4), 69.0),
    ("power cell 21700, 4.0 Ah", Chemistry::LiIon, (21.2, 70.3), 4.0, 0.014, (30.0, 45.0, 4.0), 68.0),
    ("large cell 26650, 5.0 Ah", Chemistry::LiIon, (26.3, 65.4), 5.0, 0.025, (10.0, 15.0, 2.5), 92.0),
    ("phosphate cell 14500, 0.6 Ah", Chemistry::LiFePo4, (14.2, 50.0), 0.6, 0.07, (1.8, 3.0, 0.6), 16.0),
    ("phosphate cell 18650, 1.5 Ah", Chemistry::LiFePo4, (18.4, 65.1), 1.5, 0.035, (4.5, 7.5, 1.5), 41.0),
    ("phosphate cell 26650, 3.3 Ah", Chemistry::LiFePo4, (26.3, 65.4), 3.3, 0.018, (9.9, 16.0, 3.3), 85.0),
    ("phosphate power cell 26650, 2.5 Ah", Chemistry::LiFePo4, (26.3, 65.4), 2.5, 0.009, (40.0, 60.0, 5.0), 76.0),
    ("phosphate cell 32700, 6.0 Ah", Chemistry::LiFePo4, (32.2, 70.5), 6.0, 0.008, (18.0, 30.0, 6.0), 142.0),
    ("titanate cell 18650, 1.3 Ah", Chemistry::LiTitanate, (18.4, 65.1), 1.3, 0.014, (13.0, 20.0, 6.5), 40.0),
    ("titanate cell 26650, 3.0 Ah", Chemistry::LiTitanate, (26.3, 65.4), 3.0, 0.006, (30.0, 45.0, 15.0), 78.0),
    ("sodium cell 18650, 1.5 Ah", Chemistry::NaIon, (18.4, 65.1), 1.5, 0.03, (4.5, 7.5, 1.5), 38.0),
    ("sodium cell 26700, 3.4 Ah", Chemistry::NaIon, (26.3, 70.3), 3.4, 0.014, (10.0, 17.0, 3.4), 92.0),
    ("sodium cell 32140, 10 Ah", Chemistry::NaIon, (32.8, 139.5), 10.0, 0.006, (30.0, 50.0, 10.0), 265.0),
];

/// A pouch: name, thickness, width and length, capacity, DCIR, continuous, pulse and charge current, mass.
type Pouch = (&'static str, Chemistry, (f64, f64, f64), f64, f64, (f64, f64, f64), f64);

#[rustfmt::skip]
const POUCHES: [Pouch; 6] = [
    ("flat cell, 1.0 Ah", Chemistry::LiPo, (5.0, 34.0, 52.0), 1.0, 0.09, (1.0, 2.0, 0.5), 19.0),
    ("flat cell, 2.0 Ah", Chemistry::LiPo, (10.0, 34.0, 50.0), 2.0, 0.05, (2.0, 4.0, 1.0), 37.0),
    ("hobby pouch, 2.2 Ah, 25 C", Chemistry::LiPo, (8.0, 34.0, 102.0), 2.2, 0.007, (55.0, 80.0, 2.2), 58.0),
    ("hobby pouch, 5.0 Ah, 25 C", Chemistry::LiPo, (9.0, 46.0, 136.0), 5.0, 0.003, (125.0, 180.0, 5.0), 125.0),
    ("high-voltage pouch, 1.5 Ah", Chemistry::LiHv, (6.5, 34.0, 72.0), 1.5, 0.009, (30.0, 45.0, 1.5), 34.0),
    ("high-voltage pouch, 5.0 Ah", Chemistry::LiHv, (9.0, 46.0, 136.0), 5.0, 0.0035, (75.0, 120.0, 5.0), 120.0),
];

fn cells() -> Vec<Item> {
    let one =
        |name: &str, chemistry, size, rated_ah, ohm, (discharge_a, pulse_a, charge_a): (f64, f64, f64), mass_g| {
            let cell = Cell {
                offer: offer(name, Some(mass_g)),
                chemistry,
                size,
                origin: CellOrigin::New,
                tested: false,
                rated_ah,
                dcir_ohm: Some(typically(ohm)),
                discharge_a: Some(discharge_a),
                pulse_a: Some(pulse_a),
                pulse_s: Some(5.0),
                charge_a: Some(charge_a),
                full_v: None,
                end_v: None,
            };
            item(
                format!("cell-{}", name.to_lowercase().replace([' ', ',', '.'], "-").replace("--", "-")),
                ItemPart::Cell { cell },
            )
        };
    let round = ROUND.iter().map(|&(name, chemistry, (diameter_mm, length_mm), ah, ohm, amps, mass_g)| {
        one(name, chemistry, CellSize::Cylindrical { diameter_mm, length_mm }, ah, ohm, amps, mass_g)
    });
    let pouch = POUCHES.iter().map(|&(name, chemistry, (thickness_mm, width_mm, length_mm), ah, ohm, amps, mass_g)| {
        one(name, chemistry, CellSize::Pouch { thickness_mm, width_mm, length_mm }, ah, ohm, amps, mass_g)
    });
    round.chain(pouch).collect()
}

fn packs() -> Vec<Item> {
    let mut found = vec![];
    for series in 2..=6 {
        for capacity_ah in [1.3, 2.2, 5.0] {
            let n = f64::from(series);
            found.push(ready(
                format!("pack-hobby-{series}s-{}", (capacity_ah * 10.0) as u32),
                format!("{series}S {} hobby pack, 25 C", show(capacity_ah, Unit::Ah)),
                ReadyKind::Hobby,
                Chemistry::LiPo,
                (series, capacity_ah, Some(25.0), None),
                (n * 0.015 / capacity_ah + 0.003, n * 25.0 * capacity_ah + 25.0),
                (true, false, None),
            ));
        }
    }
    for series in [3, 5, 10] {
        for capacity_ah in [2.0, 4.0] {
            let n = f64::from(series);
            found.push(ready(
                format!("pack-tool-{series}s-{}", capacity_ah as u32),
                format!("{series}S {} tool pack", show(capacity_ah, Unit::Ah)),
                ReadyKind::Tool,
                Chemistry::LiIon,
                (series, capacity_ah, None, Some(10.0 * capacity_ah)),
                (n * 0.04 / capacity_ah + 0.01, n * capacity_ah * 23.0 + 150.0),
                (false, false, None),
            ));
        }
    }
    for (series, capacity_ah) in [(4, 6.0), (4, 12.0), (8, 6.0)] {
        let n = f64::from(series);
        found.push(ready(
            format!("pack-phosphate-{series}s-{}", capacity_ah as u32),
            format!("{series}S {} phosphate replacement battery", show(capacity_ah, Unit::Ah)),
            ReadyKind::Replacement,
            Chemistry::LiFePo4,
            (series, capacity_ah, None, Some(2.0 * capacity_ah)),
            (n * 0.05 / capacity_ah + 0.01, n * capacity_ah * 26.0 + 200.0),
            (false, true, Some(n * 2.5)),
        ));
    }
    found
}

fn ready(
    id: String,
    name: String,
    kind: ReadyKind,
    chemistry: Chemistry,
    (series, capacity_ah, c_rating, continuous_a): (u32, f64, Option<f64>, Option<f64>),
    (ohm, mass_g): (f64, f64),
    (taps, guarded, guard_v): (bool, bool, Option<f64>),
) -> Item {
    let pack = ReadyPack {
        offer: offer(name, Some(mass_g.round())),
        kind,
        chemistry,
        series,
        capacity_ah,
        counted_ah: None,
        c_rating,
        continuous_a,
        charge_a: Some(capacity_ah),
        resistance_ohm: Some(typically((ohm * 1000.0).round() / 1000.0)),
        length_mm: None,
        width_mm: None,
        height_mm: None,
        taps: Some(taps),
        guarded: Some(guarded),
        guard_v,
        plug_a: None,
        plug_bare: None,
        own_charger: None,
        shows_charge: None,
        fused: Some(guarded),
    };
    item(id, ItemPart::Pack { pack })
}

fn strips() -> Vec<Item> {
    let mut found = vec![];
    for (thickness_mm, width_mm) in [(0.1, 5.0), (0.15, 8.0), (0.2, 8.0), (0.2, 10.0), (0.3, 10.0)] {
        for layers in 1..=2 {
            let twice = if layers == 2 { ", two layers" } else { "" };
            let strip = Strip {
                offer: offer(format!("nickel strip {thickness_mm} × {width_mm} mm{twice}"), None),
                metal: StripMetal::Nickel,
                width_mm,
                thickness_mm,
                layers,
                side_by_side: 1,
                length_mm: 20.0,
            };
            found.push(item(
                format!("strip-{}x{width_mm}-{layers}", (thickness_mm * 100.0) as u32),
                ItemPart::Strip { strip },
            ));
        }
    }
    found
}

/// Chemistries of boards and chargers: overcharge and over-discharge cut-off per cell, most in series.
const GUARDED: [(Chemistry, f64, f64, u32); 5] = [
    (Chemistry::LiIon, 4.25, 3.0, 14),
    (Chemistry::LiHv, 4.4, 3.0, 13),
    (Chemistry::LiFePo4, 3.75, 2.8, 16),
    (Chemistry::LiTitanate, 2.88, 1.8, 16),
    (Chemistry::NaIon, 4.05, 2.0, 14),
];

/// Classes of boards: continuous, trip, short-circuit and charge current, resistance, bleed current, mass for one in series.
#[rustfmt::skip]
const CLASSES: [(f64, f64, f64, f64, f64, f64, f64); 4] = [
    (4.0, 8.0, 30.0, 2.0, 0.03, 0.05, 1.5),
    (12.0, 30.0, 90.0, 6.0, 0.008, 0.06, 3.0),
    (30.0, 80.0, 250.0, 15.0, 0.003, 0.1, 6.0),
    (60.0, 160.0, 500.0, 30.0, 0.0015, 0.1, 10.0),
];

fn boards() -> Vec<Item> {
    let mut found = vec![];
    for (chemistry, over_charge_v, over_discharge_v, most) in GUARDED {
        for series in 1..=most {
            for (continuous_a, trip_a, short_a, charge_a, path_ohm, bleed_a, mass_g) in CLASSES {
                let balances = if series == 1 { "protection board" } else { "balancing board" };
                let protects = Bms {
                    series: Some(series),
                    chemistry: Some(chemistry),
                    over_charge_v: Some(over_charge_v),
                    over_discharge_v: Some(over_discharge_v),
                    continuous_a: Some(continuous_a),
                    charge_a: Some(charge_a),
                    trip_a: Some(typically(trip_a)),
                    trip_delay_s: Some(0.1),
                    short_a: Some(short_a),
                    bleed_a: Some(if series == 1 { 0.0 } else { bleed_a }),
                    senses_temperature: Some(continuous_a > 10.0),
                    wants_waking: None,
                    path_ohm: Some(path_ohm),
                    port: Some(Port::Common),
                    resets: Some(Resets::LoadOff),
                    ..Bms::default()
                };
                let name =
                    format!("{balances}, {series} series {}, {}", chemistry.facts().short, show(continuous_a, Unit::A));
                found.push(module(
                    format!("board-{}-{series}s-{continuous_a}", key(chemistry)),
                    Module {
                        offer: offer(name, Some(mass_g * (1.0 + f64::from(series) / 2.0))),
                        protects: Some(protects),
                        standby_a: Some(2e-5),
                        ..Module::default()
                    },
                ));
            }
        }
    }
    found
}

fn charger(end_v: f64, amps: f64, own_supply: bool) -> Charger {
    Charger {
        tolerance: Some(0.01),
        own_supply,
        ends_a: Some(amps / 10.0),
        ..Charger::of(ChargesAs::CcCv, typically(end_v), Some(amps))
    }
}

/// Modules inside the device, fed from USB.
fn modules() -> Vec<Item> {
    let one_cell = Module {
        offer: offer("charge-and-protect module, one cell, from 5 V USB", Some(4.0)),
        protects: Some(Bms {
            series: Some(1),
            chemistry: Some(Chemistry::LiIon),
            over_charge_v: Some(4.3),
            over_discharge_v: Some(2.5),
            continuous_a: Some(3.0),
            charge_a: Some(1.0),
            trip_a: Some(typically(4.5)),
            trip_delay_s: Some(0.012),
            short_a: Some(12.0),
            bleed_a: Some(0.0),
            path_ohm: Some(0.05),
            port: Some(Port::Common),
            resets: Some(Resets::LoadOff),
            ..Bms::default()
        }),
        charges: Some(Charger {
            efficiency: Some(0.8),
            input_min_v: Some(4.5),
            input_max_v: Some(6.0),
            pre_charge_a: Some(0.1),
            back_leak_a: Some(3e-6),
            ..charger(4.2, 1.0, false)
        }),
        standby_a: Some(6e-6),
        ..Module::default()
    };
    let mut found = vec![module("module-usb-1s".to_owned(), one_cell)];
    for series in 2..=6 {
        // From 5 V a module gives about 8 W; more comes from the higher voltages of USB-C.
        let (amps, input_v) = if series == 2 { (0.9, 5.0) } else { (2.0, 20.0) };
        let name = format!("charge module, {series} series Li-ion, from USB-C, {}", show(input_v, Unit::V));
        let charges = Charger {
            efficiency: Some(0.88),
            input_min_v: Some(input_v - 0.5),
            input_max_v: Some(input_v + 1.0),
            pre_charge_a: Some(amps / 10.0),
            back_leak_a: Some(1e-5),
            ..charger(4.2 * f64::from(series), amps, false)
        };
        found.push(module(
            format!("module-usb-{series}s"),
            Module { offer: offer(name, Some(9.0)), charges: Some(charges), ..Module::default() },
        ));
    }
    found
}

fn chargers() -> Vec<Item> {
    let mut found = vec![];
    for (chemistry, _, _, most) in GUARDED {
        let full_v = chemistry.facts().full_v;
        for series in 1..=most {
            for amps in [0.25, 0.5, 1.0, 2.0, 5.0] {
                let end_v = (full_v * f64::from(series) * 100.0).round() / 100.0;
                let (kind, end, a) = (chemistry.facts().short, show(end_v, Unit::V), show(amps, Unit::A));
                found.push(module(
                    format!("charger-{}-{series}s-{}", key(chemistry), (amps * 100.0) as u32),
                    Module {
                        offer: offer(format!("wall charger, {series} series {kind}, {end}, {a}"), None),
                        charges: Some(charger(end_v, amps, true)),
                        ..Module::default()
                    },
                ));
            }
        }
    }
    for chemistry in [Chemistry::LiIon, Chemistry::LiHv, Chemistry::LiFePo4] {
        for series in 2..=6 {
            let end_v = (chemistry.facts().full_v * f64::from(series) * 100.0).round() / 100.0;
            let charges = Charger { tolerance: Some(0.005), balance_a: Some(0.3), ..charger(end_v, 3.0, true) };
            found.push(module(
                format!("hobby-charger-{}-{series}s", key(chemistry)),
                Module {
                    offer: offer(
                        format!("hobby charger with taps, set to {series} series {}", chemistry.facts().short),
                        None,
                    ),
                    charges: Some(charges),
                    ..Module::default()
                },
            ));
        }
    }
    found
}

fn supplies() -> Vec<Item> {
    [
        (5.0, 2.0, "USB supply"),
        (5.0, 3.0, "USB-C supply"),
        (9.0, 2.0, "USB-C supply"),
        (12.0, 3.0, "wall supply"),
        (20.0, 3.25, "USB-C supply"),
        (24.0, 3.0, "wall supply"),
    ]
    .map(|(output_v, output_a, kind)| {
        let name = format!("{kind}, {}, {}", show(output_v, Unit::V), show(output_a, Unit::A));
        let supplies = Some(Supplies { output_v, output_a });
        module(
            format!("supply-{output_v}v-{}", (output_a * 100.0) as u32),
            Module { offer: offer(name, None), supplies, ..Module::default() },
        )
    })
    .to_vec()
}

fn converters() -> Vec<Item> {
    let mut found = vec![];
    let kinds = [
        (Topology::Buck, "step-down", &[3.0, 8.0, 15.0][..], 0.93, 1.25, 36.0),
        (Topology::Boost, "step-up", &[2.0, 5.0, 10.0][..], 0.9, 4.0, 36.0),
        (Topology::BuckBoost, "step-up-down", &[3.0, 6.0, 10.0][..], 0.88, 1.25, 30.0),
    ];
    for (topology, kind, amps, efficiency, least_v, most_v) in kinds {
        for &output_a in amps {
            let converts = Converter {
                input_min_v: Some(if topology == Topology::Buck { 4.5 } else { 2.8 }),
                input_max_v: Some(40.0),
                // The larger side of a step-up is its input.
                input_a: Some(if topology == Topology::Buck { output_a } else { output_a * 1.5 }),
                output_a: Some(output_a),
                efficiency: Some(efficiency),
                dropout_v: (topology == Topology::Buck).then_some(1.0),
                sheds_w: Some(1.5 + output_a * 0.8),
                output_min_v: Some(least_v),
                output_max_v: Some(most_v),
                ..Converter::to(topology, 12.0)
            };
            found.push(module(
                format!("converter-{kind}-{output_a}"),
                Module {
                    offer: offer(
                        format!("{kind} converter, can be set, {}", show(output_a, Unit::A)),
                        Some(15.0 + 3.0 * output_a),
                    ),
                    converts: Some(converts),
                    standby_a: Some(0.005),
                    ..Module::default()
                },
            ));
        }
    }
    found
}

/// Cut-off boards for packs without a guard, set to a sensible end; and an alarm on the taps.
fn cut_offs() -> Vec<Item> {
    let mut found = vec![];
    for (chemistry, most) in [(Chemistry::LiIon, 14), (Chemistry::LiFePo4, 16)] {
        for series in 2..=most {
            let facts = chemistry.facts();
            let n = f64::from(series);
            let at_v = ((facts.cutoff_v + 0.1) * n * 10.0).round() / 10.0;
            let cuts_off = CutsOff { at_v, rearm_v: Some(((facts.cutoff_v + 0.5) * n * 10.0).round() / 10.0) };
            found.push(module(
                format!("cut-off-{}-{series}s", key(chemistry)),
                Module {
                    offer: offer(format!("cut-off board, set to {}", show(at_v, Unit::V)), Some(20.0)),
                    cuts_off: Some(cuts_off),
                    standby_a: Some(0.001),
                    ..Module::default()
                },
            ));
        }
    }
    found.push(module(
        "alarm-taps".to_owned(),
        Module {
            offer: offer("low-battery alarm on the balance plug, 3.3 V per cell", Some(9.0)),
            alarms: Some(Alarms { at_cell_v: 3.3 }),
            standby_a: Some(0.0008),
            ..Module::default()
        },
    ));
    found
}

fn fuses() -> Vec<Item> {
    let mut found = vec![];
    let one = |id: String, style, rating_a: f64, dc_v, breaking_a, kind: &str| {
        let volts = show(dc_v, Unit::V);
        let fuse = Fuse {
            offer: offer(format!("{kind} {}, {volts} DC", show(rating_a, Unit::A)), Some(2.0)),
            style,
            rating_a,
            dc_v: Some(dc_v),
            breaking_a: Some(breaking_a),
        };
        item(id, ItemPart::Fuse { fuse })
    };
    for rating_a in [1.0, 2.0, 3.0, 4.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0] {
        for dc_v in [32.0, 58.0] {
            found.push(one(
                format!("fuse-blade-{rating_a}-{dc_v}v"),
                FuseStyle::Blade,
                rating_a,
                dc_v,
                1000.0,
                "blade fuse",
            ));
        }
    }
    // What a high-power pack pushes into a short is more than a blade interrupts.
    for rating_a in [10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 60.0, 80.0, 100.0] {
        found.push(one(format!("fuse-bolt-{rating_a}"), FuseStyle::Other, rating_a, 58.0, 10_000.0, "bolt-down fuse"));
    }
    // Above 58 V no blade is made; a cartridge of the kind used behind solar panels is.
    for rating_a in [2.0, 3.0, 5.0, 10.0, 15.0, 20.0, 30.0] {
        let id = format!("fuse-cartridge-{rating_a}");
        found.push(one(id, FuseStyle::Other, rating_a, 80.0, 20_000.0, "cartridge fuse"));
    }
    found
}

fn wires() -> Vec<Item> {
    [26, 24, 22, 20, 18, 16, 14, 12, 10, 8]
        .map(|awg| {
            let wire = Wire {
                offer: offer(format!("silicone wire {awg} AWG"), None),
                size: WireSize::Awg { awg },
                insulation: Insulation::Silicone,
                bundled: false,
            };
            item(format!("wire-silicone-{awg}"), ItemPart::Wire { wire })
        })
        .to_vec()
}

fn connectors() -> Vec<Item> {
    let plugs = [
        ("keyed latching plug", 3.0, 0.01, 2.0),
        ("keyed latching plug", 15.0, 0.002, 4.0),
        ("keyed high-current plug", 30.0, 0.0006, 8.0),
        ("keyed high-current plug", 60.0, 0.0004, 14.0),
        ("keyed high-current plug", 90.0, 0.0003, 26.0),
    ];
    let jacks = [
        ("round jack 5.5 × 2.1 mm", 2.0, 0.03),
        ("round jack 5.5 × 2.5 mm", 5.0, 0.02),
        ("keyed panel jack, two contacts", 10.0, 0.005),
    ];
    let connector = |name: &str, amps: f64, ohm, mass_g, socket| {
        let connector = Connector {
            offer: offer(format!("{name}, {}", show(amps, Unit::A)), mass_g),
            continuous_a: Some(amps),
            dc_v: Some(60.0),
            keyed: Some(true),
            live_pins_bare: Some(false),
            wall_socket: Some(socket),
            contact_ohm: Some(ohm),
        };
        item(format!("{}-{amps}", if socket { "jack" } else { "plug" }), ItemPart::Connector { connector })
    };
    let plugs = plugs.into_iter().map(|(name, amps, ohm, mass_g)| connector(name, amps, ohm, Some(mass_g), false));
    plugs.chain(jacks.into_iter().map(|(name, amps, ohm)| connector(name, amps, ohm, None, true))).collect()
}

fn switches() -> Vec<Item> {
    let one = |id: String, name: &str, amps: f64, ohm: f64, mass_g: f64, break_before_make: Option<bool>| {
        let switch = Switch {
            offer: offer(format!("{name}, {} at 60 V DC", show(amps, Unit::A)), Some(mass_g)),
            continuous_a: Some(amps),
            dc_v: Some(60.0),
            contact_ohm: Some(ohm),
            coil_a: None,
            break_before_make,
        };
        item(id, ItemPart::Switch { switch })
    };
    let plain = [
        ("slide switch", 2.0, 0.02, 3.0),
        ("rocker switch", 10.0, 0.005, 8.0),
        ("rocker switch", 20.0, 0.003, 14.0),
        ("rotary disconnector", 60.0, 0.001, 80.0),
    ]
    .map(|(name, amps, ohm, mass_g)| one(format!("switch-{amps}"), name, amps, ohm, mass_g, None));
    // With a position between the two in which nothing is connected.
    let selectors = [(10.0, 0.005, 20.0), (20.0, 0.003, 60.0), (60.0, 0.001, 220.0), (150.0, 0.0005, 400.0)].map(
        |(amps, ohm, mass_g)| {
            one(format!("selector-{amps}"), "rotary selector, off between", amps, ohm, mass_g, Some(true))
        },
    );
    plain.into_iter().chain(selectors).collect()
}
