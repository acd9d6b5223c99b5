//! Faults in words: what is wrong, and what to do about it.

use super::faults::{CircuitFault, FaultKind};

/// What is wrong, in a sentence.
pub(super) fn says(fault: CircuitFault) -> String {
    let at = fault.at.unwrap_or(0);
    match fault.kind {
        FaultKind::Healthy => "Everything reads as it should.".to_owned(),
        FaultKind::TapsSwapped => format!("Pins B{at} and B{} of the tap plug are swapped.", at + 1),
        FaultKind::TapOpen => format!("Pin B{at} of the tap plug makes no contact."),
        FaultKind::GroupReversed => format!("Group {at} is reversed."),
        FaultKind::GroupDead => format!("Group {at} has no voltage of its own."),
        FaultKind::GroupLow => format!("Group {at} is far below the others."),
        FaultKind::CellMissing => format!("One cell of group {at} is not joined to the others."),
        FaultKind::LinkOpen => format!("Group {at} is not joined to what lies below it."),
        FaultKind::JointResistive => format!("The joint at group {at} has a resistance."),
        FaultKind::FuseOpen => "The fuse has blown, or makes no contact.".to_owned(),
        FaultKind::SwitchOpen => "The switch does not close.".to_owned(),
        FaultKind::BoardOpen => "The board is off: it has opened, or was never woken.".to_owned(),
        FaultKind::PlugReversed => "The plug to the device is reversed.".to_owned(),
        FaultKind::ChargerReversed => "The charger is reversed.".to_owned(),
        FaultKind::ChargerLimited => "The charger, or what feeds it, gives far too little current.".to_owned(),
        FaultKind::MeterScale => "The meter shows too much or too little: its battery may be low.".to_owned(),
        FaultKind::LeadsSwapped => "The meter’s leads are swapped.".to_owned(),
        FaultKind::Other => "None of the known causes.".to_owned(),
    }
}

/// What to do about it.
pub(super) fn cure(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::Healthy => "Nothing. If something is odd all the same, read it while it happens.",
        FaultKind::TapsSwapped => {
            "Pull the plug at once, swap the two pins back, and read all of them before it goes in again. The board may be harmed: test it on dummy cells."
        }
        FaultKind::TapOpen => "Pull the plug, crimp or solder the pin again, read all pins before it goes in.",
        FaultKind::GroupReversed => {
            "Do not charge it. Take the group out; cells that were driven backwards are not used again."
        }
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
        FaultKind::JointResistive => "Feel which joint is warm after a minute under load; weld or solder it again.",
        FaultKind::FuseOpen => "Find out what blew it before a new one goes in: read for a short with the pack out.",
        FaultKind::SwitchOpen => {
            "Read over the switch with the pack out: closed it must have no resistance. Replace it."
        }
        FaultKind::BoardOpen => {
            "Connect the charger for a moment: one that wakes was asleep. If it opens again, read the groups under load for the one that is low."
        }
        FaultKind::PlugReversed => {
            "Switch off at once and turn the plug. What has electronics may be harmed: test it on a limited supply first."
        }
        FaultKind::ChargerReversed => "Unplug it at once and swap its leads. The board may be harmed: test it again.",
        FaultKind::ChargerLimited => {
            "Read the charge current, and the supply’s voltage while it charges. Take a stronger supply."
        }
        FaultKind::MeterScale => "Change the meter’s battery and compare it with another meter on one cell.",
        FaultKind::LeadsSwapped => "Red into the volts socket, black into the common one; read again.",
        FaultKind::Other => "Read the points once more; compare the wiring with the diagram.",
    }
}
