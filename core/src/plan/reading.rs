//! The readings a plan holds, gathered from wherever they stand.

use super::{Choice, Draw, Known, Part, Plan};
use crate::base::quantity::Unit;

/// A reading, where it stands in the plan.
#[derive(Debug)]
pub struct Reading<'a> {
    /// Stable inside the plan; for the voltage and the old battery the id of the figure it becomes.
    pub id: String,
    /// What was read, in words.
    pub name: String,
    /// Its unit.
    pub unit: Unit,
    /// The value, to be looked at or moved.
    pub known: &'a mut Known,
}

impl Plan {
    /// Every reading that an assessment rests on.
    ///
    /// Not among them: the readings of the proving, which become readings of the window; and the trip of a board,
    /// whose error is half the band its maker states.
    pub fn readings(&mut self) -> Vec<Reading<'_>> {
        let mut found: Vec<Reading<'_>> = vec![];
        let d = &mut self.device;
        let (o, electronics) = (&mut d.original, &mut d.electronics);
        for (id, name, unit, known) in [
            ("device.highest_v", "maximum voltage of the device", Unit::V, &mut d.highest_v),
            ("device.lowest_v", "minimum voltage of the device", Unit::V, &mut d.lowest_v),
            ("device.cutout_v", "cut-out of the device", Unit::V, &mut d.cutout_v),
            ("original.capacity_ah", "capacity of the original battery", Unit::Ah, &mut o.capacity_ah),
            ("original.gave_ah", "what the original battery gave", Unit::Ah, &mut o.gave_ah),
            ("original.mass_g", "mass of the original battery", Unit::G, &mut o.mass_g),
            ("original.charger_v", "voltage of the original charger", Unit::V, &mut o.charger_v),
            ("original.run_s", "run time on the original battery", Unit::S, &mut o.run_s),
            ("device.charge_v", "voltage of the device's own charge circuit", Unit::V, &mut electronics.charge_v),
            (
                "device.charge_limit_a",
                "current limit of the device's own charge circuit",
                Unit::A,
                &mut electronics.charge_limit_a,
            ),
            (
                "device.selector_low_v",
                "voltage at the selector's lower setting",
                Unit::V,
                &mut electronics.selector_low_v,
            ),
        ] {
            found.extend(known.as_mut().map(|known| Reading { id: id.to_owned(), name: name.to_owned(), unit, known }));
        }
        for (i, alarm) in electronics.alarms.iter_mut().enumerate() {
            let name = format!("level “{}” of the gauge", alarm.name);
            found.push(Reading { id: format!("device.alarm_v@{i}"), name, unit: Unit::V, known: &mut alarm.at_v });
        }
        for load in &mut d.loads {
            let (unit, known) = match &mut load.draw {
                Draw::Current { value_a } => (Unit::A, value_a),
                Draw::Power { value_w } => (Unit::W, value_w),
                Draw::Resistance { value_ohm } => (Unit::Ohm, value_ohm),
            };
            found.push(Reading { id: format!("load@{}", load.id), name: load.name.clone(), unit, known });
        }
        let feed = &mut self.feed;
        for consumer in &mut feed.beside {
            let (unit, known) = match &mut consumer.draw {
                Draw::Current { value_a } => (Unit::A, value_a),
                Draw::Power { value_w } => (Unit::W, value_w),
                Draw::Resistance { value_ohm } => (Unit::Ohm, value_ohm),
            };
            found.push(Reading { id: format!("beside@{}", consumer.id), name: consumer.name.clone(), unit, known });
        }
        let gauge = feed.gauge.as_mut();
        let [shown, read, after_shown, after_read] = gauge.map_or([const { None }; 4], |g| {
            [&mut g.shown_v, &mut g.true_v, &mut g.after_shown_v, &mut g.after_true_v].map(Option::as_mut)
        });
        let change = feed.change_over.as_mut();
        let (charging, running) =
            change.map_or((None, None), |c| (c.host_charging_v.as_mut(), c.host_on_battery_v.as_mut()));
        let second = feed.second.as_mut();
        let (first, other) = second.map_or((None, None), |s| (s.first_rest_v.as_mut(), s.rest_v.as_mut()));
        for (id, name, known) in [
            ("gauge.shown_v", "voltage the gauge shows", shown),
            ("gauge.true_v", "voltage while the gauge shows that", read),
            ("gauge.after_shown_v", "voltage the changed gauge shows", after_shown),
            ("gauge.after_true_v", "voltage while the changed gauge shows that", after_read),
            ("change.host_charging_v", "voltage while the host charges", charging),
            ("change.host_on_battery_v", "voltage while the host runs on the pack", running),
            ("switched.first_rest_v", "voltage of the first pack at rest", first),
            ("switched.rest_v", "voltage of the second pack at rest", other),
        ] {
            found.extend(known.map(|known| Reading { id: id.to_owned(), name: name.to_owned(), unit: Unit::V, known }));
        }
        for pack in &mut self.packs {
            let chosen = match &mut pack.cell {
                Choice::Chosen { part } => Some(part),
                _ => None,
            };
            if let Some(cell) = pack.group.as_deref_mut().or(chosen) {
                let name = format!("resistance of “{}”", cell.offer.name);
                let id = format!("cell.dcir_ohm@{}", pack.id);
                found.extend(cell.dcir_ohm.as_mut().map(|known| Reading { id, name, unit: Unit::Ohm, known }));
            }
        }
        for node in &mut self.nodes {
            let Choice::Chosen { part: Part::Module { module } } = &mut node.part else { continue };
            let named = |what: &str| format!("{what} of “{}”", module.offer.name);
            let set_point = module.converts.as_mut().and_then(|c| c.set_point_v.as_mut());
            let output = module.charges.as_mut().map(|c| &mut c.output_v);
            for (what, known) in [("set-point", set_point), ("end voltage", output)] {
                let id = format!("{what}@{}", node.id);
                found.extend(known.map(|known| Reading { id, name: named(what), unit: Unit::V, known }));
            }
        }
        found
    }
}
