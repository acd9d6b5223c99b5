//! Faults in words: what is wrong, how to prove it, what to do about it, and what may have been harmed meanwhile.

use super::faults::CircuitFault;
use super::kind::FaultKind;

/// What is wrong, in a sentence.
pub(super) fn says(fault: CircuitFault) -> String {
    let at = fault.at.unwrap_or(0);
    match fault.kind {
        FaultKind::TapsSwapped => format!("Pins B{at} and B{} of the tap plug are swapped.", at + 1),
        FaultKind::TapOpen => format!("Pin B{at} of the tap plug makes no contact."),
        FaultKind::GroupReversed => format!("Group {at} is reversed."),
        FaultKind::GroupDead => format!("Group {at} is dead."),
        FaultKind::GroupLow => format!("Group {at} is far below the others."),
        FaultKind::CellMissing => format!("One cell of group {at} is not connected to the others."),
        FaultKind::LinkOpen => format!("Group {at} is not connected to the one below it."),
        FaultKind::JointResistive => format!("The joint at group {at} has a high resistance."),
        kind => plainly(kind).to_owned(),
    }
}

/// The same of one that may be in any of several places.
pub(super) fn anywhere(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::TapsSwapped => "Two pins of the tap plug are swapped.",
        FaultKind::TapOpen => "A pin of the tap plug makes no contact.",
        FaultKind::GroupReversed => "One of the groups is reversed.",
        FaultKind::GroupDead => "One of the groups is dead.",
        FaultKind::GroupLow => "One of the groups is far below the others.",
        FaultKind::CellMissing => "One cell of a group is not connected to the others.",
        FaultKind::LinkOpen => "One of the groups is not connected to the one below it.",
        FaultKind::JointResistive => "One of the joints has a high resistance.",
        kind => plainly(kind),
    }
}

/// The same of one that may be in any of several places but the likeliest.
pub(super) fn elsewhere(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::TapsSwapped => "Two other pins of the tap plug are swapped.",
        FaultKind::TapOpen => "Another pin of the tap plug makes no contact.",
        FaultKind::GroupReversed => "Another group is reversed.",
        FaultKind::GroupDead => "Another group is dead.",
        FaultKind::GroupLow => "Another group is far below the others.",
        FaultKind::CellMissing => "One cell of another group is not connected to the others.",
        FaultKind::LinkOpen => "Another group is not connected to the one below it.",
        FaultKind::JointResistive => "Another joint has a high resistance.",
        kind => plainly(kind),
    }
}

fn plainly(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::Healthy => "Everything reads as it should.",
        FaultKind::FuseOpen => "The fuse has blown, or makes no contact.",
        FaultKind::FuseTooSmall => "The fuse is too small or too fast for this device.",
        FaultKind::Short => "Something behind the fuse is shorted.",
        FaultKind::SwitchOpen => "The switch does not close.",
        FaultKind::BoardOpen => "The board is off: it has opened, or was never woken.",
        FaultKind::BoardAsleep => "The board was never woken: it waits for a charger.",
        FaultKind::BoardOverCurrent => "The board opened because too much current flowed.",
        FaultKind::BoardGroupLow => "The board opened because a group fell too low.",
        FaultKind::BoardGroupHigh => "The board opened because a group rose too high while charging.",
        FaultKind::BoardHot => "The board opened because it was too hot or too cold.",
        FaultKind::WrongSideOfBoard => {
            "The device or the charger is connected to the cells instead of the board’s output, so the board protects nothing."
        }
        FaultKind::PlugReversed => "The plug to the device is reversed.",
        FaultKind::ChargerReversed => "The charger is reversed.",
        FaultKind::ChargerLimited => "The charger, or what feeds it, gives far too little current.",
        FaultKind::ChargerWeak => "The charger gives too little current for this pack.",
        FaultKind::SupplyLimiting => "What feeds the charger is too weak: its voltage collapses and comes back.",
        FaultKind::ChargerOtherCount => "The charger is for another number of cells: it ends at the wrong voltage.",
        FaultKind::ConverterSetWrong => "The converter is set to another voltage.",
        FaultKind::ConverterOutOfHeadroom => {
            "The converter has no headroom left: its input is too close to its output."
        }
        FaultKind::ConverterInLimit => "The converter is in current limit.",
        FaultKind::ComparatorChatter => {
            "A comparator or cut-off switches back and forth: the voltage it watches moves when it switches."
        }
        FaultKind::ChangeOverGap => "The device loses power for too long during the change-over.",
        FaultKind::DeviceCutOut => "The device’s own cut-out is above the pack’s voltage under load.",
        FaultKind::SoftStartLost => "The device’s soft start no longer works: it starts on full voltage.",
        FaultKind::GaugeUnfed => "The gauge is not fed, or fed from the wrong point.",
        FaultKind::GaugeUnscaled => "The gauge and its alarms are still scaled for the old battery.",
        FaultKind::StandbyDrain => "Something draws from the pack while all is switched off.",
        FaultKind::WornCells => "The cells are worn: their resistance has risen, their capacity fallen.",
        FaultKind::Cold => "The cells are cold, and their resistance is several times what it is when warm.",
        FaultKind::MeterScale => "The meter shows too much or too little: its battery may be low.",
        FaultKind::MeterRange => "The meter is in another range than DC voltage.",
        FaultKind::LeadSocket => "The red lead is in a socket for amperes: held to the pack it is a short.",
        FaultKind::LeadsSwapped => "The meter’s leads are swapped.",
        _ => "None of the known causes.",
    }
}

/// How to prove a cause before anything is changed.
pub(super) fn proof(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::Healthy => "Read it again while it happens.",
        FaultKind::TapsSwapped => {
            "Pull the tap plug and read its pins from B0 upwards: each must be higher than the one before."
        }
        FaultKind::TapOpen => "Pull the tap plug and read that pin while you move its wire.",
        FaultKind::GroupReversed => "Read the group on its own joints: it shows a minus.",
        FaultKind::GroupDead => "Read the group on its own joints, at rest and under a small load.",
        FaultKind::GroupLow => "Read it again after an hour of rest, and once more after a day.",
        FaultKind::CellMissing => "Under load this group sags more than the others. Look at every weld of it.",
        FaultKind::LinkOpen => "Read from the group below to this one with the switch off: nothing steady shows.",
        FaultKind::JointResistive => "Read across the joint itself under load: every millivolt there is lost.",
        FaultKind::FuseOpen => "Take the fuse out and read through it: it must show no resistance.",
        FaultKind::FuseTooSmall => "Read the current for as long as the device runs, and at its start.",
        FaultKind::Short => "With the pack out, read from plus to minus behind the fuse: there must be no continuity.",
        FaultKind::SwitchOpen => "With the pack out, read through the closed switch: it must show no resistance.",
        FaultKind::BoardOpen => "Read from B− to P− with the switch on: over an open board the pack’s voltage shows.",
        FaultKind::BoardAsleep => "Plug the charger in for a moment: the output must come and stay.",
        FaultKind::BoardOverCurrent => {
            "Take the load off and switch on again: it comes back. Then run it on a light load."
        }
        FaultKind::BoardGroupLow => "Read every group at once after it opened: one is near its floor.",
        FaultKind::BoardGroupHigh => "Read every group as the charge stops: one is at its limit, the others are not.",
        FaultKind::BoardHot => "Let the pack come to room temperature: it must work again.",
        FaultKind::WrongSideOfBoard => "Follow both minus wires with the pack out: continuity to P−, none to B−.",
        FaultKind::PlugReversed => "Read at the device’s plug: red on plus must not show a minus.",
        FaultKind::ChargerReversed => "Read at the charger’s open plug: red on plus must not show a minus.",
        FaultKind::ChargerLimited | FaultKind::ChargerWeak => {
            "Read the charge current with the pack half full: compare it with what the charger states."
        }
        FaultKind::SupplyLimiting => "Read the supply’s voltage while the lamp flickers: it falls and comes back.",
        FaultKind::ChargerOtherCount => {
            "Read at the charger’s open plug: its end voltage divided by your cells in series."
        }
        FaultKind::ConverterSetWrong => "Read its output with nothing on it.",
        FaultKind::ConverterOutOfHeadroom => {
            "Read its input and its output under load, with the pack full and nearly empty."
        }
        FaultKind::ConverterInLimit => "Read its output while the load grows: from one current on it falls.",
        FaultKind::ComparatorChatter => "Read the voltage it watches just before and just after it switches.",
        FaultKind::ChangeOverGap => "Let it change over with a large capacitor across the device: it must run through.",
        FaultKind::DeviceCutOut => {
            "Feed the device from a bench supply and turn the voltage down slowly: it stops at its cut-out."
        }
        FaultKind::SoftStartLost => "Read the start current against that of the device as it was.",
        FaultKind::GaugeUnfed => "Read at the gauge’s input: it must follow the pack.",
        FaultKind::GaugeUnscaled => "Read the pack at two levels and write beside it what the gauge shows.",
        FaultKind::StandbyDrain => {
            "With all off, put an ammeter into the pack’s plus, then unplug one thing after another."
        }
        FaultKind::WornCells => "Test a cell’s capacity and resistance against its first figures.",
        FaultKind::Cold => "Warm the pack to 20 °C and run it again.",
        FaultKind::MeterScale => "Read one fresh cell with this meter and with another.",
        FaultKind::MeterRange | FaultKind::LeadSocket | FaultKind::LeadsSwapped => {
            "Lift the probes. Look at the range and at both sockets before they touch anything again."
        }
        FaultKind::Other => "Read the same points once more.",
    }
}

/// What to do about it.
pub(super) fn cure(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::Healthy => "Nothing. If something is odd all the same, read it while it happens.",
        FaultKind::TapsSwapped => {
            "Pull the plug at once, swap the two pins back, and read all of them before it goes in again."
        }
        FaultKind::TapOpen => "Pull the plug, crimp or solder the pin again, read all pins before it goes in.",
        FaultKind::GroupReversed => "Do not charge it. Take the group out.",
        FaultKind::GroupDead => {
            "Do not charge it. Take the group out and find out whether a cell or a joint has failed."
        }
        FaultKind::GroupLow => {
            "Charge this group alone to the others’ voltage under watch, leave it for a day and read it again: one that falls is replaced."
        }
        FaultKind::CellMissing => {
            "Weld or solder the cell again, with every other face covered; read the groups under load."
        }
        FaultKind::LinkOpen => "Join the strip again, with every other face covered, then read every group.",
        FaultKind::JointResistive => "Weld or solder the joint again, or replace the plug.",
        FaultKind::FuseOpen => "Find out what blew it before a new one goes in: look for a short with the pack out.",
        FaultKind::FuseTooSmall => "Use the fuse that the plan proposes, and no larger: it protects the wire.",
        FaultKind::Short => "Do not put in a larger fuse. Find the short with the pack out, and separate what touches.",
        FaultKind::SwitchOpen => "Replace the switch by one rated for this DC voltage and current.",
        FaultKind::BoardOpen => {
            "Connect the charger for a moment: a board that wakes was asleep. If it opens again, find out which of its limits it reached."
        }
        FaultKind::BoardAsleep => {
            "Plug the charger in for a moment, every time the board was disconnected from the cells."
        }
        FaultKind::BoardOverCurrent => {
            "Switch off and on. If it opens at start-up, use a board with a longer delay or a higher trip, within the cells’ rating. If it opens later, look for what is stiff or blocked."
        }
        FaultKind::BoardGroupLow => "Charge it, then read every group at rest after a day: one that falls is replaced.",
        FaultKind::BoardGroupHigh => {
            "Balance the groups: charge the low ones alone, or leave it on the balancer for hours."
        }
        FaultKind::BoardHot => "Let it cool, or warm up. Then look for the hottest spot after a minute of hard work.",
        FaultKind::WrongSideOfBoard => {
            "Switch off. Connect device and charger to the board’s output, and test each trip again before use."
        }
        FaultKind::PlugReversed => "Switch off at once and turn the plug. Key it so that it fits one way only.",
        FaultKind::ChargerReversed => "Unplug it at once and swap its leads.",
        FaultKind::ChargerLimited => "Take a charger of the planned current, and a supply that carries it.",
        FaultKind::ChargerWeak => "Take a charger of the planned current, or accept the time.",
        FaultKind::SupplyLimiting => "Take a supply of more current, and a shorter or thicker lead to the charger.",
        FaultKind::ChargerOtherCount => {
            "Do not use it. Take one that ends at the pack’s full voltage, and make sure the old one no longer fits."
        }
        FaultKind::ConverterSetWrong => {
            "Take the load off, set the output with the meter on it, and secure the adjuster."
        }
        FaultKind::ConverterOutOfHeadroom => {
            "Set a lower output if the device allows it, or use a buck-boost converter or one more cell in series."
        }
        FaultKind::ConverterInLimit => "Take a converter for the device’s peak, not for its usual current.",
        FaultKind::ComparatorChatter => {
            "Set more hysteresis than that step in voltage, add a delay, and measure closer to the source."
        }
        FaultKind::ChangeOverGap => {
            "Put in the hold-up capacitor that the plan works out, or diodes instead of the relay."
        }
        FaultKind::DeviceCutOut => {
            "Use more cells in series, within the device’s maximum voltage, or a regulated converter, or give up that setting. Do not drain the pack further to keep it running."
        }
        FaultKind::SoftStartLost => "Feed the motor through the device’s own start circuit again, or add one.",
        FaultKind::GaugeUnfed => "Connect its input to the point the plan draws, after its divider.",
        FaultKind::GaugeUnscaled => {
            "Change the one resistor that the plan works out, then read all alarm levels again."
        }
        FaultKind::StandbyDrain => "Put a switch before it, or store the pack unplugged.",
        FaultKind::WornCells => "Retire the pack, or test and group its cells again.",
        FaultKind::Cold => "Keep the pack warm until it is used, and never charge it below freezing.",
        FaultKind::MeterScale => "Change the meter’s battery and compare it with another meter on one cell.",
        FaultKind::MeterRange => "Set it to DC voltage, and read again.",
        FaultKind::LeadSocket => {
            "Put red into the voltage socket. The meter’s own fuse may have blown: check it on a cell first."
        }
        FaultKind::LeadsSwapped => "Red into the voltage socket, black into the common one; read again.",
        FaultKind::Other => "Compare the wiring with the diagram, point by point.",
    }
}

/// What may have been harmed meanwhile; empty where nothing is.
pub(super) fn harmed(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::TapsSwapped => {
            "The board: its inputs saw more than one cell. Test it on dummy cells before it is trusted."
        }
        FaultKind::TapOpen => "The two groups beside the pin: nothing watched them. Read both.",
        FaultKind::GroupReversed => "The cells that were reversed: do not use them again.",
        FaultKind::GroupDead => "Its cells. Those of the other groups were overcharged if it was charged: read them.",
        FaultKind::CellMissing => "The other cells of the group: they carried the missing cell’s current.",
        FaultKind::JointResistive => "Whatever was next to it, by heat: look for browned plastic and loosened solder.",
        FaultKind::Short | FaultKind::FuseOpen => "Wires and contacts that the short current passed.",
        FaultKind::BoardGroupLow => "The low group, if it stood below its floor for long.",
        FaultKind::WrongSideOfBoard => "The cells: nothing kept them from too deep a discharge. Read every group.",
        FaultKind::PlugReversed => "Everything electronic in the device: try it on a limited supply first.",
        FaultKind::ChargerReversed => "The board and the charger: test both again.",
        FaultKind::ChargerOtherCount => "Cells above their full voltage, if it ends too high: read every group now.",
        FaultKind::ConverterSetWrong => "The device, if the output was above its maximum.",
        FaultKind::SoftStartLost => "Brushes, gears and switch, by the start current.",
        FaultKind::StandbyDrain | FaultKind::GroupLow => {
            "Cells that lay below their floor: they are not charged again."
        }
        FaultKind::Cold => "Cells that were charged below freezing: watch them.",
        FaultKind::LeadSocket => "The meter’s fuse, the probes, and whatever the short passed.",
        FaultKind::MeterRange => "The meter, if it was in ohms on a live pack.",
        _ => "",
    }
}

/// What tells a cause that this meter cannot.
pub(super) fn tool(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::CellMissing | FaultKind::GroupLow => {
            "a load of known current and a meter that shows single millivolts"
        }
        FaultKind::JointResistive | FaultKind::LinkOpen => {
            "a milliohm meter, or a thermometer held to each joint under load"
        }
        FaultKind::ChargerLimited | FaultKind::ChargerWeak | FaultKind::SupplyLimiting => {
            "an ammeter in the charge lead"
        }
        FaultKind::StandbyDrain => "an ammeter that shows microamperes",
        FaultKind::MeterScale | FaultKind::MeterRange => "a second meter",
        FaultKind::WornCells => "a capacity test of one cell",
        FaultKind::Cold | FaultKind::BoardHot => "a thermometer",
        FaultKind::DeviceCutOut | FaultKind::ConverterOutOfHeadroom => "a bench supply that is turned down slowly",
        FaultKind::ConverterInLimit | FaultKind::BoardOverCurrent | FaultKind::FuseTooSmall => {
            "an ammeter that keeps the highest reading"
        }
        FaultKind::ComparatorChatter | FaultKind::ChangeOverGap | FaultKind::SoftStartLost => "an oscilloscope",
        FaultKind::TapOpen | FaultKind::TapsSwapped => "the tap plug pulled, and each pin read by itself",
        _ => "a second meter, and a load of known current",
    }
}
