//! What can be wrong, by name.

use serde::Serialize;
use utoipa::ToSchema;

/// What can be wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FaultKind {
    /// Nothing.
    Healthy,
    /// Two neighbouring pins of the tap plug are swapped.
    TapsSwapped,
    /// A pin of the tap plug makes no contact.
    TapOpen,
    /// A group is reversed.
    GroupReversed,
    /// A group has no voltage.
    GroupDead,
    /// A group is far below the others.
    GroupLow,
    /// One of the parallel cells of a group is not joined.
    CellMissing,
    /// The strip before a group is not joined.
    LinkOpen,
    /// A joint has a resistance.
    JointResistive,
    /// The fuse has blown or makes no contact.
    FuseOpen,
    /// The fuse is too small or too quick for what the device draws.
    FuseTooSmall,
    /// Something behind the fuse is shorted.
    Short,
    /// The switch does not close.
    SwitchOpen,
    /// The board is off, for one of the five reasons that follow.
    BoardOpen,
    /// The board was never woken.
    BoardAsleep,
    /// The board opened at too much current.
    BoardOverCurrent,
    /// The board opened because a group was too low.
    BoardGroupLow,
    /// The board opened because a group was too high.
    BoardGroupHigh,
    /// The board opened because it was too hot or too cold.
    BoardHot,
    /// The device or the charger is joined on the wrong side of the board.
    WrongSideOfBoard,
    /// The plug to the device is reversed.
    PlugReversed,
    /// The charger is reversed.
    ChargerReversed,
    /// The charger gives far too little, for one of the two reasons that follow.
    ChargerLimited,
    /// The charger itself is too weak.
    ChargerWeak,
    /// What feeds the charger limits or collapses.
    SupplyLimiting,
    /// The charger is one for another count of cells.
    ChargerOtherCount,
    /// The converter is set to another voltage.
    ConverterSetWrong,
    /// The converter's input is too near its output, or under its least.
    ConverterOutOfHeadroom,
    /// The converter limits its current.
    ConverterInLimit,
    /// A comparator or a cut-off switches to and fro.
    ComparatorChatter,
    /// The device is unfed for too long while feeds change over.
    ChangeOverGap,
    /// The device stops at a voltage that the pack falls under.
    DeviceCutOut,
    /// The device's soft start no longer works.
    SoftStartLost,
    /// The gauge is fed wrongly or not at all.
    GaugeUnfed,
    /// The gauge is still scaled for the old battery.
    GaugeUnscaled,
    /// Something draws while all is off.
    StandbyDrain,
    /// The cells are worn.
    WornCells,
    /// The cells are cold.
    Cold,
    /// The meter shows too much or too little.
    MeterScale,
    /// The meter is in a wrong range.
    MeterRange,
    /// A lead of the meter is in a wrong socket.
    LeadSocket,
    /// The meter's leads are swapped.
    LeadsSwapped,
    /// None of these: nothing that is known reads like that.
    Other,
}
