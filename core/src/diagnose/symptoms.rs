//! What a maker sees, as evidence beside the readings.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::faults::FaultKind;

/// What a maker sees. Smell, swelling or a hiss is none of them: that is not diagnosed, the pack goes outdoors.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Symptom {
    /// Nothing happens.
    Dead,
    /// It starts and stops after seconds.
    DiesAfterSeconds,
    /// It runs far shorter than predicted.
    DiesEarly,
    /// It runs slower or weaker than before.
    Slow,
    /// Something becomes hot.
    Hot,
    /// The charger's lamp flickers.
    LampFlickers,
    /// The charger's lamp is green at once.
    GreenAtOnce,
    /// The charger's lamp never becomes green.
    NeverGreen,
    /// It charges far too slowly.
    ChargesSlowly,
    /// Nothing at the output until a charger was plugged in.
    NoOutputUntilCharged,
    /// The fuse blows at the start or later.
    FuseBlows,
    /// The display jumps.
    DisplayDances,
    /// It is flat after a week.
    FlatAfterAWeek,
}

impl Symptom {
    /// All of them.
    pub const ALL: [Symptom; 13] = [
        Symptom::Dead,
        Symptom::DiesAfterSeconds,
        Symptom::DiesEarly,
        Symptom::Slow,
        Symptom::Hot,
        Symptom::LampFlickers,
        Symptom::GreenAtOnce,
        Symptom::NeverGreen,
        Symptom::ChargesSlowly,
        Symptom::NoOutputUntilCharged,
        Symptom::FuseBlows,
        Symptom::DisplayDances,
        Symptom::FlatAfterAWeek,
    ];

    /// How much likelier it is with a cause than with one that has nothing to do with it. Common practice, no source.
    pub(super) fn ratio(self, kind: FaultKind) -> f64 {
        use FaultKind::*;
        let likely: &[FaultKind] = match self {
            Symptom::Dead => &[FuseOpen, SwitchOpen, BoardOpen, LinkOpen, PlugReversed, GroupReversed, TapOpen],
            Symptom::DiesAfterSeconds => &[JointResistive, GroupLow, CellMissing, TapOpen, TapsSwapped],
            Symptom::DiesEarly => &[GroupLow, CellMissing, GroupDead],
            Symptom::Slow => &[JointResistive, GroupDead, GroupReversed, GroupLow],
            Symptom::Hot => &[JointResistive, CellMissing, PlugReversed, ChargerReversed],
            Symptom::LampFlickers => &[ChargerLimited, JointResistive],
            Symptom::GreenAtOnce => &[BoardOpen, LinkOpen, FuseOpen, TapOpen, GroupLow],
            Symptom::NeverGreen => &[ChargerLimited, GroupLow, GroupDead],
            Symptom::ChargesSlowly => &[ChargerLimited, JointResistive],
            Symptom::NoOutputUntilCharged => &[BoardOpen],
            Symptom::FuseBlows => &[PlugReversed, ChargerReversed],
            Symptom::DisplayDances => &[JointResistive, TapOpen],
            Symptom::FlatAfterAWeek => &[GroupLow, GroupDead],
        };
        match kind {
            Healthy | MeterScale | LeadsSwapped => 0.2,
            kind if likely.contains(&kind) => 4.0,
            _ => 1.0,
        }
    }
}
