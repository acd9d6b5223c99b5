//! The survey as it is searched: what five answers leave open is worked out of them where it can be, and said.

use crate::base::quantity::{Unit, show};
use crate::physics::device::Printed;
use crate::physics::device::jobs::template;
use crate::plan::{Draw, How, Known, Load, Plan};

/// Run time that is planned for where none is wanted. Chosen, no source.
const USUAL_RUN_S: f64 = 1800.0;
const SECONDS_PER_HOUR: f64 = 3600.0;

/// A survey with what follows from it.
pub struct Asked {
    /// With the cells of the old battery, what the device draws, and a run time, without which the smallest cell would do for everything.
    pub survey: Plan,
    /// The run time that is planned for.
    pub wanted_s: f64,
    /// What was worked out or taken for granted, in words.
    pub assumed: Vec<String>,
}

impl Asked {
    /// Of a survey as it was typed; afresh, without anything that was chosen since.
    pub fn of(survey: &Plan, afresh: bool) -> Asked {
        let mut survey = if afresh { surveyed(survey) } else { survey.clone() };
        let mut assumed = vec![];
        assumed.extend(count_cells(&mut survey));
        assumed.extend(draw(&mut survey));
        let device = &mut survey.device;
        let wanted_s = match (device.wanted_run_s, &device.original.run_s) {
            (Some(wanted_s), _) => wanted_s,
            (None, Some(old)) => {
                assumed.push(format!("You want the old run time again: {}.", show(old.value, Unit::S)));
                old.value
            }
            (None, None) => {
                assumed.push(format!("No run time is wanted yet: {} is assumed.", show(USUAL_RUN_S, Unit::S)));
                USUAL_RUN_S
            }
        };
        device.wanted_run_s = Some(wanted_s);
        Asked { survey, wanted_s, assumed }
    }
}

/// What was found out of the device, in a plan in which nothing is chosen.
fn surveyed(plan: &Plan) -> Plan {
    let blank = plan.device.job.map_or_else(|| Plan::blank(&plan.name), |job| template(job, &plan.name));
    Plan {
        packs: blank.packs,
        nodes: blank.nodes,
        connections: blank.connections,
        states: blank.states,
        feed: blank.feed,
        charging: blank.charging,
        wiring: blank.wiring,
        arrivals: blank.arrivals,
        accepted: blank.accepted,
        ..plan.clone()
    }
}

/// The cells of the old battery from the voltage printed on it.
fn count_cells(survey: &mut Plan) -> Option<String> {
    let original = &mut survey.device.original;
    let (None, Some(chemistry), Some(label_v)) = (original.series, original.chemistry, original.label_v) else {
        return None;
    };
    let series = Printed { chemistry: Some(chemistry), label_v: Some(label_v), capacity_ah: None }.series()?;
    original.series = Some(series);
    Some(format!("{} on a {} battery: {series} cells in series.", show(label_v, Unit::V), chemistry.facts().name))
}

/// What the device draws, from how long the old battery ran it: capacity over time, a mean that knows no start.
fn draw(survey: &mut Plan) -> Option<String> {
    if !survey.device.loads.is_empty() {
        return None;
    }
    let original = &survey.device.original;
    let (ah, run_s) =
        (original.gave_ah.as_ref().or(original.capacity_ah.as_ref())?.value, original.run_s.as_ref()?.value);
    let mean_a = ah * SECONDS_PER_HOUR / run_s;
    survey.device.loads.push(Load {
        id: "usual".to_owned(),
        name: "usual".to_owned(),
        draw: Draw::Current { value_a: Known { value: mean_a, how: How::Assumed, error: None, meter: None } },
        duration_s: None,
        every_s: None,
    });
    let (capacity, run, draws) = (show(ah, Unit::Ah), show(run_s, Unit::S), show(mean_a, Unit::A));
    Some(format!("{capacity} in {run} is a mean of {draws}. A start peak is not in it: measure it."))
}
