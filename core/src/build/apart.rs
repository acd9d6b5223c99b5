//! Taking the device apart: photographed, metered, and tested before the step from which there is no way back.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Phase};
use crate::physics::device::apart::{is_proved, usual};

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let device = &making.plan.device;
    let planned = if device.apart.is_empty() { usual() } else { device.apart.clone() };
    let first_final = planned.iter().position(|s| s.reversible != Some(true));
    let step = |(i, of): (usize, &crate::plan::ApartStep)| {
        let mut asks = vec![];
        if of.pulls_wire {
            asks.push(BuildAsk::yes("photographed", "Photographed so close that colours and sides can be read?"));
            asks.push(BuildAsk::yes("metered", "Metered: always live, live when on, or not connected? Written down?"));
        }
        let is_final = first_final == Some(i);
        if is_final && !is_proved(device) {
            asks.push(BuildAsk::yes(
                "proved",
                "Tested on a bench supply: it runs, and you know its minimum and maximum voltage?",
            ));
        }
        let why = if is_final && of.reversible.is_none() {
            "The plan does not say whether this can be undone. Take it as if it cannot."
        } else if is_final {
            "From here the device cannot be put back as it was."
        } else if of.pulls_wire {
            "What was where is forgotten within an hour; a swapped lead shows itself by smoke."
        } else {
            "What comes off in order goes back in order."
        };
        let mut made = BuildStep::new(Phase::Apart, format!("apart/{}", of.id), of.what.clone(), why).asks(asks);
        if of.pulls_wire {
            made = made
                .tools(&["camera", "meter"])
                .hazard("A live lead that touches metal shorts the old battery: cover each end at once.")
                .if_not("Do not pull it. Find out where the wire goes first.");
        }
        made
    };
    planned.iter().enumerate().map(step).chain(cut_away(making)).collect()
}

/// What was planned to be cut out of a compartment.
fn cut_away<'a>(making: &'a Making<'_>) -> impl Iterator<Item = BuildStep> + 'a {
    let places = making.plan.device.compartments.iter();
    places.flat_map(|place| place.obstructions.iter().enumerate().filter(|(_, o)| o.cut).map(move |o| (place, o))).map(
        |(place, (i, o))| {
            let why = "The layout needs its room. From here the device cannot be put back as it was.";
            let what = format!("Cut “{}” out of “{}” and clear the chips", o.name, place.name);
            BuildStep::new(Phase::Apart, format!("apart/cut/{}/{i}", place.id), what, why)
                .asks(vec![BuildAsk::yes("smooth", "No burr and no chip left where a cell or a wire will lie?")])
                .tools(&["cutter", "file", "vacuum cleaner"])
                .hazard("Cut with every battery out: metal chips between two cells short them.")
                .if_not("File and clean until a finger finds no edge.")
        },
    )
}
