//! The device on a supply that gives little, before the pack: the proving of the survey, read as a step of the build.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase};
use crate::advise::prove::Proof;
use crate::base::quantity::{Unit, show};
use crate::plan::Known;

/// The device on a limited supply, pack still out: two supplies at one lead feed each other.
pub(super) fn step(making: &Making<'_>) -> BuildStep {
    let proofs = &making.proofs;
    let mut asks: Vec<BuildAsk> = proofs.iter().map(|proof| proving(making, proof)).collect();
    if proofs.is_empty() {
        asks.push(
            BuildAsk::yes("lives", "It starts, and the supply does not stay in its limit?").counts(proved("lives")),
        );
    }
    let mut how =
        vec!["Pack unplugged or fuse out. Bench supply at the device’s battery leads, red to plus.".to_owned()];
    if proofs.is_empty() {
        how.push("Nominal voltage, limit twice its no-load current. Switch on for a few seconds.".to_owned());
    }
    if making.plan.device.proving.lives == Some(true) {
        how.push(
            "It was tested before, but its leads are new: set the limit, read it switched off and see it run again. The rest stands.".to_owned(),
        );
    }
    if !proofs.is_empty() && proofs.iter().all(|proof| proof.field != "draw_a") {
        how.push("It draws more than a bench supply can give: read that later, on the pack.".to_owned());
    }
    how.push("Take the supply off again before the pack goes in.".to_owned());
    BuildStep::new(
        Phase::FirstPower,
        "power/device-limited",
        "Device on a limited supply first, pack out",
        "A supply that gives two amperes shows a fault; the pack would weld it.",
    )
    .how(how)
    .tools(&["bench supply"])
    .asks(asks)
    .if_not("Find out why before the pack is connected: wrong pole, a short, or a device that is dead.")
    .shows(["device"])
}

/// Where the plan keeps a bare figure of the proving.
fn proved(field: &str) -> Counts {
    Counts::Bare { at: format!("/device/proving/{field}") }
}

/// A step of the proving as a reading of the build; it counts where the survey keeps it.
fn proving(making: &Making<'_>, proof: &Proof) -> BuildAsk {
    let p = &making.plan.device.proving;
    // New leads change nothing of what the device draws or at which volts it stops; reversed they would show while it is still off.
    let (known, unit, error) = match proof.field {
        "lives" => {
            let alive = "It runs, no smell, nothing warm?";
            return BuildAsk::yes("lives", alive).how(std::slice::from_ref(&proof.act.text)).counts(proved("lives"));
        }
        "limit_a" | "idle_a" => (None, Unit::A, 0.0),
        "draw_a" => (value(&p.draw_a), Unit::A, 0.0),
        "stops_at_v" => (value(&p.stops_at_v), Unit::V, 0.0),
        _ => (value(&p.ran_at_v), Unit::V, making.predicted.error_v(proof.most.unwrap_or(0.0))),
    };
    let expects = match proof.most {
        Some(most) => Expects::Band { low: None, high: Some(most + error), unit, because: proof.because.to_owned() },
        None => {
            let usual = proof.usual.map(|usual| format!("{} by the survey", show(usual, unit)));
            Expects::Unknown { unit, usual: usual.unwrap_or_default() }
        }
    };
    let counts = if proof.field == "limit_a" {
        proved(proof.field)
    } else {
        Counts::Plan { at: format!("/device/proving/{}", proof.field) }
    };
    BuildAsk::read(proof.field, proof.title, ["", ""], expects)
        .how(std::slice::from_ref(&proof.act.text))
        .earlier(known, None)
        .counts(counts)
}

fn value(known: &Option<Known>) -> Option<f64> {
    known.as_ref().map(|known| known.value)
}
