//! What a maker sees, as evidence beside the readings.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::FaultKind;
use super::kind::FaultKind::*;

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
    /// It starts with a jerk.
    StartsHard,
    /// Something becomes hot.
    Hot,
    /// The charger's lamp flickers.
    LampFlickers,
    /// The charger's lamp is green at once.
    GreenAtOnce,
    /// The charger's lamp never becomes green.
    NeverGreen,
    /// It is never charged full.
    NeverFull,
    /// It charges far too slowly.
    ChargesSlowly,
    /// Nothing at the output until a charger was plugged in.
    NoOutputUntilCharged,
    /// The fuse blows at the start or later.
    FuseBlows,
    /// Something clicks or pulses.
    Chatters,
    /// It drops out as one feed takes over from another.
    DropsOutAtChangeOver,
    /// The gauge stays where it is.
    GaugeStuck,
    /// The gauge or an alarm shows something else than there is.
    GaugeWrong,
    /// The display jumps.
    DisplayDances,
    /// It is flat after a week.
    FlatAfterAWeek,
    /// The board does not open when it should.
    BoardNeverOpens,
}

/// What kind of trouble a symptom is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Trouble {
    /// When it is used.
    Running,
    /// When it is charged.
    Charging,
    /// In what is shown, or while it stands.
    Showing,
}

/// A symptom as it is offered.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct SymptomSheet {
    /// The symptom.
    pub symptom: Symptom,
    /// In a maker's words.
    pub says: &'static str,
    /// What kind of trouble it is.
    pub trouble: Trouble,
}

/// How much likelier what is seen is with a cause that often shows like that, with one that may, and with one that hardly can,
/// against one that has nothing to do with it. Common practice, no source.
const OFTEN: f64 = 8.0;
const MAY: f64 = 2.5;
const HARDLY: f64 = 0.1;
/// A sound thing, read by a sound meter, seldom shows anything odd.
const SOUND: f64 = 0.02;

impl Symptom {
    /// All of them, in the order they are offered.
    pub const ALL: [Symptom; 20] = [
        Symptom::Dead,
        Symptom::DiesAfterSeconds,
        Symptom::DiesEarly,
        Symptom::Slow,
        Symptom::StartsHard,
        Symptom::Hot,
        Symptom::FuseBlows,
        Symptom::Chatters,
        Symptom::DropsOutAtChangeOver,
        Symptom::LampFlickers,
        Symptom::GreenAtOnce,
        Symptom::NeverGreen,
        Symptom::NeverFull,
        Symptom::ChargesSlowly,
        Symptom::NoOutputUntilCharged,
        Symptom::BoardNeverOpens,
        Symptom::GaugeStuck,
        Symptom::GaugeWrong,
        Symptom::DisplayDances,
        Symptom::FlatAfterAWeek,
    ];

    /// What is seen, in a maker's words.
    pub fn says(self) -> &'static str {
        match self {
            Symptom::Dead => "Nothing happens",
            Symptom::DiesAfterSeconds => "It stops after seconds",
            Symptom::DiesEarly => "It runs far too short",
            Symptom::Slow => "It is slow or weak",
            Symptom::StartsHard => "It starts with a jerk",
            Symptom::Hot => "Something gets hot",
            Symptom::LampFlickers => "The charger’s lamp flickers",
            Symptom::GreenAtOnce => "The charger’s lamp is green at once",
            Symptom::NeverGreen => "The charger’s lamp never turns green",
            Symptom::NeverFull => "It is never charged full",
            Symptom::ChargesSlowly => "It charges far too slowly",
            Symptom::NoOutputUntilCharged => "No output until the charger was plugged in",
            Symptom::FuseBlows => "The fuse blows",
            Symptom::Chatters => "Something clicks or pulses",
            Symptom::DropsOutAtChangeOver => "It drops out when a feed takes over",
            Symptom::GaugeStuck => "The gauge is stuck",
            Symptom::GaugeWrong => "The gauge or an alarm is wrong",
            Symptom::DisplayDances => "The meter or display jumps about",
            Symptom::FlatAfterAWeek => "It is flat after a week",
            Symptom::BoardNeverOpens => "The board does not open when it should",
        }
    }

    /// Every symptom as it is offered.
    pub fn sheets() -> Vec<SymptomSheet> {
        Symptom::ALL.map(|symptom| SymptomSheet { symptom, says: symptom.says(), trouble: symptom.trouble() }).to_vec()
    }

    fn trouble(self) -> Trouble {
        match self {
            Symptom::LampFlickers
            | Symptom::GreenAtOnce
            | Symptom::NeverGreen
            | Symptom::NeverFull
            | Symptom::ChargesSlowly => Trouble::Charging,
            Symptom::GaugeStuck
            | Symptom::GaugeWrong
            | Symptom::DisplayDances
            | Symptom::FlatAfterAWeek
            | Symptom::BoardNeverOpens
            | Symptom::NoOutputUntilCharged => Trouble::Showing,
            _ => Trouble::Running,
        }
    }

    /// Causes that often show like that, and others that may. Common practice, no source.
    fn causes(self) -> (&'static [FaultKind], &'static [FaultKind]) {
        match self {
            Symptom::Dead => (
                &[FuseOpen, SwitchOpen, BoardAsleep, BoardGroupLow, LinkOpen],
                &[
                    BoardOverCurrent,
                    BoardHot,
                    PlugReversed,
                    GroupReversed,
                    GroupDead,
                    TapOpen,
                    TapsSwapped,
                    DeviceCutOut,
                    ConverterSetWrong,
                    ConverterOutOfHeadroom,
                    WrongSideOfBoard,
                ],
            ),
            Symptom::DiesAfterSeconds => (
                &[DeviceCutOut, BoardOverCurrent, BoardGroupLow, JointResistive, GroupLow],
                &[
                    CellMissing,
                    TapOpen,
                    TapsSwapped,
                    WornCells,
                    Cold,
                    ConverterInLimit,
                    ConverterOutOfHeadroom,
                    GroupDead,
                    LinkOpen,
                    FuseTooSmall,
                    BoardHot,
                ],
            ),
            Symptom::DiesEarly => (
                &[GroupLow, WornCells, DeviceCutOut, Cold, CellMissing],
                &[BoardGroupLow, JointResistive, StandbyDrain, GroupDead, BoardHot, ChargerOtherCount, TapOpen],
            ),
            Symptom::Slow => (
                &[JointResistive, GroupDead, ConverterSetWrong],
                &[WornCells, Cold, GroupReversed, GroupLow, CellMissing, ConverterInLimit, ConverterOutOfHeadroom],
            ),
            Symptom::StartsHard => (&[SoftStartLost], &[ConverterSetWrong]),
            Symptom::Hot => (
                &[JointResistive, ConverterInLimit, Short],
                &[CellMissing, WornCells, ConverterOutOfHeadroom, PlugReversed, ChargerReversed, WrongSideOfBoard],
            ),
            Symptom::LampFlickers => (&[SupplyLimiting], &[ChargerWeak, JointResistive, BoardGroupHigh, TapOpen]),
            Symptom::GreenAtOnce => (
                &[ChargerOtherCount, BoardGroupHigh, LinkOpen],
                &[
                    BoardHot,
                    FuseOpen,
                    TapOpen,
                    TapsSwapped,
                    JointResistive,
                    GroupLow,
                    WornCells,
                    BoardAsleep,
                    SwitchOpen,
                ],
            ),
            Symptom::NeverGreen => (
                &[ChargerWeak, GroupLow, StandbyDrain],
                &[SupplyLimiting, GroupDead, ChargerOtherCount, CellMissing, BoardGroupHigh],
            ),
            Symptom::NeverFull => (
                &[ChargerOtherCount, BoardGroupHigh, GroupLow],
                &[ChargerWeak, SupplyLimiting, JointResistive, TapOpen, TapsSwapped, StandbyDrain, MeterScale],
            ),
            Symptom::ChargesSlowly => {
                (&[ChargerWeak, SupplyLimiting], &[JointResistive, ChargerOtherCount, StandbyDrain])
            }
            Symptom::NoOutputUntilCharged => (&[BoardAsleep], &[BoardGroupLow, BoardOverCurrent]),
            Symptom::FuseBlows => {
                (&[Short, FuseTooSmall, SoftStartLost], &[PlugReversed, ChargerReversed, WrongSideOfBoard])
            }
            Symptom::Chatters => (
                &[ComparatorChatter, ConverterOutOfHeadroom],
                &[SupplyLimiting, ConverterInLimit, DeviceCutOut, GroupLow, JointResistive, WornCells],
            ),
            Symptom::DropsOutAtChangeOver => (&[ChangeOverGap, ComparatorChatter], &[BoardAsleep, DeviceCutOut]),
            Symptom::GaugeStuck => (&[GaugeUnfed], &[GaugeUnscaled]),
            Symptom::GaugeWrong => (&[GaugeUnscaled], &[GaugeUnfed, GroupLow, JointResistive]),
            Symptom::DisplayDances => {
                (&[JointResistive, TapOpen, MeterScale], &[ComparatorChatter, MeterRange, SupplyLimiting, LeadSocket])
            }
            Symptom::FlatAfterAWeek => {
                (&[StandbyDrain, GroupLow], &[GroupDead, WornCells, WrongSideOfBoard, GaugeUnfed])
            }
            Symptom::BoardNeverOpens => (&[WrongSideOfBoard, TapOpen], &[TapsSwapped, MeterScale]),
        }
    }

    /// How much likelier it is with a cause than with one that has nothing to do with it.
    pub(super) fn ratio(self, kind: FaultKind) -> f64 {
        let (often, may) = self.causes();
        match kind {
            Healthy => SOUND,
            Other => 1.0,
            kind if often.contains(&kind) => OFTEN,
            kind if may.contains(&kind) => MAY,
            _ => HARDLY,
        }
    }
}
