//! What may lie behind a circuit that reads alike: why a board is off, why a charger is weak, what is odd though every voltage is
//! right. No meter tells them apart; what is seen and what is answered does, and so does what the plan was warned of.

use super::kind::FaultKind;
use super::kind::FaultKind::*;
use crate::assess::rule::{self, Rule};
use crate::assess::{Finding, Workspace};
use crate::plan::NodeKind;

/// How much likelier a cause is that a finding of the plan foretold. Assumed.
const FORETOLD: f64 = 4.0;

/// One cause behind a circuit, with its share of the circuit's likelihood before anything was seen.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Story {
    pub kind: FaultKind,
    pub share: f64,
}

/// What of the plan makes causes possible or likelier.
pub(super) struct Setting<'s> {
    workspace: &'s Workspace<'s>,
    found: Vec<Rule>,
    /// Whether anything odd was seen: only then does one look for causes that leave every voltage right.
    odd: bool,
}

impl<'s> Setting<'s> {
    pub fn of(workspace: &'s Workspace<'s>, findings: &[Finding], odd: bool) -> Setting<'s> {
        Setting { workspace, found: findings.iter().map(|f| f.rule).collect(), odd }
    }

    /// How likely a cause is made by what the plan was warned of.
    pub fn factor(&self, kind: FaultKind) -> f64 {
        if foretells(kind).iter().any(|r| self.found.contains(r)) { FORETOLD } else { 1.0 }
    }

    /// The stories of a circuit. Weights as in `faults`: common practice, no source.
    pub fn stories(&self, circuit: FaultKind) -> Vec<Story> {
        let list: &[(FaultKind, f64)] = match circuit {
            BoardOpen => &[
                (BoardAsleep, 0.3),
                (BoardOverCurrent, 0.25),
                (BoardGroupLow, 0.25),
                (BoardGroupHigh, 0.1),
                (BoardHot, 0.1),
            ],
            ChargerLimited => &[(ChargerWeak, 0.45), (SupplyLimiting, 0.55)],
            // Against the sound pack, which weighs 0.25 in `faults`.
            Healthy if self.odd => &[
                (Healthy, 1.0),
                (DeviceCutOut, 0.2),
                (SoftStartLost, 0.1),
                (ComparatorChatter, 0.1),
                (ChangeOverGap, 0.1),
                (GaugeUnfed, 0.1),
                (GaugeUnscaled, 0.12),
                (StandbyDrain, 0.16),
                (WrongSideOfBoard, 0.08),
                (FuseTooSmall, 0.12),
                (Short, 0.12),
            ],
            other => return vec![Story { kind: other, share: 1.0 }],
        };
        let all: Vec<Story> = list
            .iter()
            .filter(|(kind, _)| self.can_be(*kind))
            .map(|&(kind, share)| Story { kind, share: share * self.factor(kind) })
            .collect();
        // The reasons of a circuit share its likelihood; beside a sound one they add to it.
        let sum: f64 = if circuit == Healthy { 1.0 } else { all.iter().map(|s| s.share).sum() };
        all.into_iter().map(|s| Story { share: s.share / sum, ..s }).collect()
    }

    fn can_be(&self, kind: FaultKind) -> bool {
        let plan = self.workspace.plan;
        let has = |kind: NodeKind| plan.nodes.iter().any(|n| n.kind == kind);
        match kind {
            ComparatorChatter => plan.feed.change_over.is_some() || has(NodeKind::CutOff) || has(NodeKind::Alarm),
            ChangeOverGap => plan.feed.change_over.is_some(),
            WrongSideOfBoard => has(NodeKind::Board),
            FuseTooSmall | Short => has(NodeKind::Fuse),
            _ => true,
        }
    }
}

/// Findings of a plan that foretell a cause.
fn foretells(kind: FaultKind) -> &'static [Rule] {
    use rule::{brick, cells, charging, device, protection, run, voltage, wiring};
    match kind {
        DeviceCutOut => &[
            voltage::LOADED_BELOW_DEVICE,
            voltage::PARALLEL_NEVER_RUNS,
            voltage::NOTHING_USABLE,
            voltage::CHARGE_UNUSED,
            voltage::CHANGE_OVER_TOO_LOW,
            device::LOWER_SETTING_NEVER_RUNS,
            wiring::DROP_BELOW_DEVICE,
            run::BROWN_OUT,
        ],
        SoftStartLost => &[device::SOFT_START_BYPASSED],
        ComparatorChatter => &[
            voltage::COMPARATOR_CHATTER,
            voltage::COMPARATOR_BLIND,
            protection::CUTOFF_CHATTER,
            protection::REARM_BELOW,
        ],
        ChangeOverGap => &[voltage::HOLD_UP_SMALL],
        GaugeUnfed => &[device::GAUGE_BLIND, voltage::UNPOWERED_PIN],
        GaugeUnscaled => &[device::ALARM_NOT_RESCALED],
        StandbyDrain => {
            &[voltage::STANDBY_DRAIN, voltage::DIVIDER_DRAINS, protection::RESERVE_DRAINS, charging::BACK_LEAK]
        }
        WornCells => &[cells::SALVAGED_UNTESTED, cells::DOUBTFUL_CLAIM, cells::IMPOSSIBLE_CLAIM, cells::OVER_RATING],
        WrongSideOfBoard => &[protection::BYPASSED, protection::CHARGER_ROUND_BOARD, protection::OUT_REVERSED],
        ChargerOtherCount => &[
            charging::OTHER_COUNT,
            charging::OVER_VOLTS,
            charging::BELOW_FULL,
            charging::OLD_CHARGER,
            charging::OLD_CHARGER_FITS,
            charging::SUPPLY_BELOW_END,
        ],
        SupplyLimiting => &[charging::SUPPLY_WEAK, charging::SUPPLY_LOW, charging::NO_SUPPLY],
        ChargerWeak => &[charging::SLOW, charging::LOAD_ON],
        FuseTooSmall => &[protection::FUSE_NUISANCE, protection::FUSE_PEAK],
        Short => &[brick::SHORT, brick::NEIGHBOURS_BARE, brick::STRIPS_NEAR, wiring::BARE_LIVE_PINS],
        BoardAsleep => &[protection::WANTS_WAKING],
        BoardOverCurrent => &[
            protection::TRIP_IN_LOAD,
            protection::TRIP_IN_PEAK,
            protection::TRIP_NOT_AS_STATED,
            protection::BOARD_OVER_CURRENT,
            protection::BOARD_CONTRADICTS,
        ],
        BoardGroupLow => &[cells::GROUP_SPREAD, charging::GROUPS_APART, protection::ENDS_TOO_LOW],
        BoardGroupHigh => {
            &[charging::ENDED_BY_GUARD, charging::GROUPS_APART, charging::OVER_VOLTS, charging::SLIGHTLY_OVER]
        }
        BoardHot => &[charging::FREEZING, charging::HOT, run::CELL_TOO_HOT, run::OVER_60, brick::HOTTEST_CELL],
        ConverterSetWrong => {
            &[voltage::SET_POINT_UNREAD, voltage::SET_POINT_OFF, voltage::ADJUSTER_OPEN, voltage::FIXED_SOCKET]
        }
        ConverterOutOfHeadroom => &[voltage::BUCK_HEADROOM, voltage::CONVERTER_INPUT_LOW, voltage::BOOST_OVERFED],
        ConverterInLimit => &[
            voltage::CONVERTER_OUTPUT_CURRENT,
            voltage::CONVERTER_OUTPUT_PEAK,
            voltage::CONVERTER_INPUT_CURRENT,
            voltage::CONVERTER_INPUT_PEAK,
            voltage::CONVERTER_HEAT,
        ],
        TapsSwapped => &[wiring::TAP_MISPLACED, wiring::TAP_ORDER],
        JointResistive => &[wiring::CONNECTOR_OVER_CURRENT, brick::SPRING_CONTACTS, brick::SOLDERED_ON_CELLS],
        PlugReversed => &[wiring::UNKEYED],
        ChargerReversed => &[charging::POLARITY],
        _ => &[],
    }
}
