//! Faults that are seen, felt or smelled: the checklist at the bench.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A visible fault.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Fault {
    /// Thicker than it was, or a pouch that gives.
    Swollen,
    /// Wet, crusted, or of a sweet smell.
    Leaking,
    /// The vent under the plus end has opened.
    VentOpen,
    /// Rust at the rim or the crimp.
    Rust,
    /// A dent in the can or a bent edge.
    Dented,
    /// Discoloured, or the sleeve shrunk by heat.
    HeatMarks,
    /// The sleeve is torn.
    SleeveTorn,
    /// The insulating ring at the plus end is missing.
    RingMissing,
    /// Spikes or pits of old welds.
    WeldSpikes,
}

/// A fault as the checklist shows it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct FaultText {
    /// Which.
    pub fault: Fault,
    /// What to look for.
    pub look_for: &'static str,
    /// Whether the cell is scrap with it; otherwise it is mended first.
    pub scrap: bool,
    /// What to do.
    pub then: &'static str,
}

impl Fault {
    /// The checklist. Common practice, no source.
    pub const LIST: [FaultText; 9] = {
        const fn scrap(fault: Fault, look_for: &'static str) -> FaultText {
            FaultText { fault, look_for, scrap: true, then: "scrap: outdoors, in sand, terminals taped" }
        }
        const fn mend(fault: Fault, look_for: &'static str, then: &'static str) -> FaultText {
            FaultText { fault, look_for, scrap: false, then }
        }
        [
            scrap(Fault::Swollen, "Swollen, or a pouch that gives to a finger"),
            scrap(Fault::Leaking, "Wet, crusted, or of a sweet smell"),
            scrap(Fault::VentOpen, "Vent under the plus end open"),
            scrap(Fault::Rust, "Rust at rim or crimp"),
            scrap(Fault::Dented, "Dent in the can, bent edge"),
            scrap(Fault::HeatMarks, "Discoloured, or sleeve shrunk by heat"),
            mend(Fault::SleeveTorn, "Sleeve torn", "put a new sleeve on before anything else"),
            mend(
                Fault::RingMissing,
                "Insulating ring at plus missing",
                "put a new ring on: plus and can are a millimetre apart",
            ),
            mend(
                Fault::WeldSpikes,
                "Spikes or pits of old welds",
                "grind the spikes flat, gently and cool; no pit may go through",
            ),
        ]
    };

    /// What the checklist says of it.
    pub fn text(self) -> &'static FaultText {
        &Self::LIST[self as usize]
    }

    /// The fault of that key, as a file writes it.
    pub fn of(key: &str) -> Option<Fault> {
        serde_json::from_value(serde_json::Value::String(key.to_owned())).ok()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_list_is_in_the_order_of_the_enum() {
        assert!(Fault::LIST.iter().all(|t| t.fault.text().look_for == t.look_for));
        assert_eq!((Fault::of("vent_open"), Fault::of("green")), (Some(Fault::VentOpen), None));
    }
}
