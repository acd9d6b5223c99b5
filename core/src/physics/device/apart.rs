//! Taking the device apart: photographs before a wire is pulled, and the last step that can be undone.
//!
//! Common practice, no source: photograph every connector, meter every wire that is to be tapped, and do every test
//! before the step from which there is no way back.

use serde::Serialize;
use utoipa::ToSchema;

use crate::plan::{ApartStep, Device};

/// How far the disassembly is.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Apart {
    /// Id of the last step before the first one that cannot be undone, or of which that is not said; absent where every step can be
    /// undone, or none.
    pub last_reversible: Option<String>,
    /// What to do before each step that is not done, by the step's id.
    pub prompts: Vec<Prompt>,
}

/// What to do before a step.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Prompt {
    /// Id of the step.
    pub step: String,
    /// What is still to do before it.
    pub says: Vec<&'static str>,
}

/// The steps most jobs begin with.
pub fn usual() -> Vec<ApartStep> {
    let step = |id: &str, what: &str, pulls_wire, reversible| ApartStep {
        id: id.to_owned(),
        what: what.to_owned(),
        pulls_wire,
        reversible: Some(reversible),
        live: None,
        done: false,
    };
    vec![
        step("battery-out", "Take the old battery out", false, true),
        step("open", "Open the housing", false, true),
        step("connector", "Pull the battery plug", true, true),
        step("cut", "Cut leads or walls", true, false),
    ]
}

/// Whether a bench supply showed that the device lives, how low it goes and how high.
pub fn is_proved(device: &Device) -> bool {
    let p = &device.proving;
    p.lives == Some(true) && p.stops_at_v.is_some() && p.ran_at_v.is_some()
}

/// Whether a photograph belongs to a step.
pub fn is_photographed(device: &Device, step: &ApartStep) -> bool {
    device.photos.iter().any(|p| p.step.as_deref() == Some(&step.id))
}

/// What is to be done before each step, and where the way back ends.
pub fn outlook(device: &Device) -> Apart {
    let first_final = device.apart.iter().position(|s| s.reversible != Some(true));
    let last_reversible = first_final.and_then(|i| i.checked_sub(1)).map(|i| device.apart[i].id.clone());
    let prompts = device
        .apart
        .iter()
        .filter(|s| !s.done)
        .map(|step| Prompt { step: step.id.clone(), says: says(device, step) })
        .filter(|p| !p.says.is_empty())
        .collect();
    Apart { last_reversible, prompts }
}

fn says(device: &Device, step: &ApartStep) -> Vec<&'static str> {
    let mut says = vec![];
    if step.pulls_wire && !is_photographed(device, step) {
        says.push("Photograph it first, so close that colours and sides can be read.");
    }
    if step.pulls_wire && step.live.is_none() {
        says.push("Meter it first: always live, live when on, or not connected?");
    }
    if step.reversible.is_none() {
        says.push("Say whether it can be undone; until then it counts as one that cannot.");
    }
    if step.reversible == Some(false) && !is_proved(device) {
        says.push("There is no way back from here: test the device on a bench supply first.");
    }
    says
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Known, Live, Photo, Plan};

    fn device(steps: Vec<ApartStep>) -> Device {
        Device { apart: steps, ..Plan::blank("Kite reel").device }
    }

    fn ids(apart: &Apart) -> Vec<&str> {
        apart.prompts.iter().map(|p| p.step.as_str()).collect()
    }

    #[test]
    fn the_last_reversible_step_stands_before_the_first_final_one() {
        assert_eq!(outlook(&device(usual())).last_reversible.as_deref(), Some("connector"));
        let mut harmless = usual();
        harmless.pop();
        assert_eq!(outlook(&device(harmless)).last_reversible, None, "every step can be undone");
        let mut at_once = usual();
        at_once[0].reversible = Some(false);
        assert_eq!(outlook(&device(at_once)).last_reversible, None, "there is none before the first");
        assert_eq!(outlook(&device(vec![])), Apart::default());
    }

    #[test]
    fn a_step_of_which_nobody_has_said_whether_it_can_be_undone_asks_and_counts_as_final() {
        let mut steps = usual();
        steps[1].reversible = None;
        let apart = outlook(&device(steps));
        assert_eq!(apart.last_reversible.as_deref(), Some("battery-out"));
        let asks = apart.prompts.iter().find(|p| p.step == "open").expect("a prompt");
        assert!(asks.says[0].contains("whether it can be undone"), "{asks:?}");
    }

    #[test]
    fn a_prompt_goes_once_it_is_heeded() {
        let mut device = device(usual());
        assert_eq!(ids(&outlook(&device)), ["connector", "cut"]);
        assert_eq!(outlook(&device).prompts[1].says.len(), 3);
        device.apart[2].live = Some(Live::WhenOn);
        device.photos.push(Photo { sha256: "0".repeat(64), shows: String::new(), step: Some("connector".to_owned()) });
        assert_eq!(ids(&outlook(&device)), ["cut"], "another step's photograph does not count for it");
        device.apart[3].pulls_wire = false;
        device.proving.lives = Some(true);
        device.proving.stops_at_v = Some(Known::measured(9.0));
        assert_eq!(ids(&outlook(&device)), ["cut"], "it has not been run at its highest volts yet");
        device.proving.ran_at_v = Some(Known::measured(16.0));
        assert!(outlook(&device).prompts.is_empty());
    }
}
