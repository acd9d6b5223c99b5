//! What must hold of the gauge's divider, the change-over and the second pack.

use super::{Checker, check_node_part, check_part};
use crate::base::range;
use crate::plan::fields::PartKind;
use crate::plan::{Choice, Draw, Plan};

/// Most consumers beside the device.
const BESIDE_MAX: usize = 12;

/// What is drawn, in its range.
pub(super) fn check_draw(c: &mut Checker, at: &str, draw: &Draw) {
    match draw {
        Draw::Current { value_a } => c.reading(&format!("{at}/value_a"), value_a, &range::CURRENT),
        Draw::Power { value_w } => c.reading(&format!("{at}/value_w"), value_w, &range::POWER),
        Draw::Resistance { value_ohm } => c.reading(&format!("{at}/value_ohm"), value_ohm, &range::LOAD_OHM),
    }
}

fn check_beside(c: &mut Checker, plan: &Plan) {
    let beside = &plan.feed.beside;
    c.at_most("/feed/beside", beside.len(), BESIDE_MAX);
    c.unique("/feed/beside", beside.iter().map(|b| b.id.as_str()));
    for (i, consumer) in beside.iter().enumerate() {
        let at = format!("/feed/beside/{i}");
        c.name(&format!("{at}/name"), &consumer.name);
        check_draw(c, &format!("{at}/draw"), &consumer.draw);
        c.number(&format!("{at}/own_v"), consumer.own_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/efficiency"), consumer.efficiency, &range::EFFICIENCY);
    }
}

pub(super) fn check_feed(c: &mut Checker, plan: &Plan) {
    check_beside(c, plan);
    if let Some(g) = &plan.feed.gauge {
        let at = "/feed/gauge";
        for (name, ohm) in [
            ("top_ohm", Some(g.top_ohm)),
            ("bottom_ohm", Some(g.bottom_ohm)),
            ("input_ohm", g.input_ohm),
            ("in_hand_ohm", g.in_hand_ohm),
        ] {
            c.number(&format!("{at}/{name}"), ohm, &range::DIVIDER_OHM);
        }
        c.known(&format!("{at}/shown_v"), &g.shown_v, &range::DEVICE_VOLTS);
        for (name, read) in
            [("true_v", &g.true_v), ("after_shown_v", &g.after_shown_v), ("after_true_v", &g.after_true_v)]
        {
            c.known(&format!("{at}/{name}"), read, &range::DEVICE_VOLTS);
        }
    }
    if let Some(h) = &plan.feed.holder {
        let at = "/feed/holder";
        c.number(&format!("{at}/fewest"), Some(f64::from(h.fewest)), &range::PARALLEL);
        let most = plan.main_pack().and_then(|pack| pack.parallel);
        c.require(most.is_none_or(|most| h.fewest <= most), &format!("{at}/fewest"), || {
            format!("it has {} holders: 1 to {} cells", most.unwrap_or(1), most.unwrap_or(1))
        });
        c.number(&format!("{at}/contact_a"), h.contact_a, &range::CURRENT);
        c.number(&format!("{at}/contact_ohm"), h.contact_ohm, &range::DCIR);
        c.number(&format!("{at}/each_a"), h.each_a, &range::CURRENT);
    }
    if let Some(o) = &plan.feed.change_over {
        let at = "/feed/change_over";
        c.number(&format!("{at}/gap_s"), o.gap_s, &range::DURATION);
        c.number(&format!("{at}/coil_a"), o.coil_a, &range::BENCH_CURRENT);
        c.number(&format!("{at}/hold_up_f"), o.hold_up_f, &range::CAPACITANCE);
        c.known(&format!("{at}/host_charging_v"), &o.host_charging_v, &range::DEVICE_VOLTS);
        c.known(&format!("{at}/host_on_battery_v"), &o.host_on_battery_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/threshold_v"), o.threshold_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/hysteresis_v"), o.hysteresis_v, &range::SMALL_VOLTS);
    }
    if let Some(s) = &plan.feed.second {
        let at = "/feed/second";
        c.number(&format!("{at}/count"), s.count.map(f64::from), &range::FURTHER_PACKS);
        c.number(&format!("{at}/series"), s.series.map(f64::from), &range::SERIES);
        c.number(&format!("{at}/capacity_ah"), s.capacity_ah, &range::BATTERY_AH);
        c.number(&format!("{at}/pack_ohm"), s.pack_ohm, &range::DCIR);
        if let Choice::Chosen { part } = &s.ready {
            check_part(c, &format!("{at}/ready/part"), part);
        }
        c.known(&format!("{at}/first_rest_v"), &s.first_rest_v, &range::DEVICE_VOLTS);
        c.known(&format!("{at}/rest_v"), &s.rest_v, &range::DEVICE_VOLTS);
        if let Choice::Chosen { part } = &s.selector {
            c.require(PartKind::Switch.may_be(part), &format!("{at}/selector"), || {
                "only a switch changes the positions of two packs".to_owned()
            });
            check_node_part(c, &format!("{at}/selector/part"), part);
        }
        if let Choice::Chosen { part } = &s.guard {
            c.require(PartKind::Board.may_be(part), &format!("{at}/guard"), || {
                "only a board or a cut-off protects a pack".to_owned()
            });
            check_node_part(c, &format!("{at}/guard/part"), part);
        }
    }
}
