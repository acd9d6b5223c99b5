//! Faults in words: what is wrong, and what to do about it.

use super::faults::{Fault, Kind};

/// What is wrong, in a sentence.
pub(super) fn says(fault: Fault) -> String {
    let at = fault.at.unwrap_or(0);
    match fault.kind {
        Kind::Healthy => "Everything reads as it should.".to_owned(),
        Kind::TapsSwapped => format!("Pins B{at} and B{} of the tap plug are exchanged.", at + 1),
        Kind::TapOpen => format!("Pin B{at} of the tap plug makes no contact."),
        Kind::GroupReversed => format!("Group {at} is the wrong way round."),
        Kind::GroupDead => format!("Group {at} has no voltage of its own."),
        Kind::GroupLow => format!("Group {at} is far below the others."),
        Kind::CellMissing => format!("One cell of group {at} is not joined to the others."),
        Kind::LinkOpen => format!("Group {at} is not joined to what lies below it."),
        Kind::JointResistive => format!("The joint at group {at} has a resistance."),
        Kind::FuseOpen => "The fuse has blown, or makes no contact.".to_owned(),
        Kind::SwitchOpen => "The switch does not close.".to_owned(),
        Kind::BoardOpen => "The board is off: it has opened, or was never woken.".to_owned(),
        Kind::PlugReversed => "The plug to the device is the wrong way round.".to_owned(),
        Kind::ChargerReversed => "The charger is the wrong way round.".to_owned(),
        Kind::ChargerLimited => "The charger, or what feeds it, gives far too little current.".to_owned(),
        Kind::MeterScale => "The meter shows too much or too little: its battery may be low.".to_owned(),
        Kind::LeadsSwapped => "The meter’s leads are exchanged.".to_owned(),
        Kind::Other => "None of the known causes.".to_owned(),
    }
}

/// What to do about it.
pub(super) fn cure(kind: Kind) -> &'static str {
    match kind {
        Kind::Healthy => "Nothing. If something is odd all the same, read it while it happens.",
        Kind::TapsSwapped => {
            "Pull the plug at once, exchange the two pins, and read all of them before it goes in again. The board may be harmed: test it on dummy cells."
        }
        Kind::TapOpen => "Pull the plug, crimp or solder the pin again, read all pins before it goes in.",
        Kind::GroupReversed => {
            "Do not charge it. Take the group out; cells that were driven backwards are not used again."
        }
        Kind::GroupDead => "Do not charge it. Take the group out and find out whether a cell or a joint has failed.",
        Kind::GroupLow => {
            "Charge this group alone to the others’ voltage under watch, leave it for a day and read it again: one that falls is replaced."
        }
        Kind::CellMissing => {
            "Weld or solder the cell again, with every other face covered; read the groups under load."
        }
        Kind::LinkOpen => "Join the strip again, with every other face covered, then read every group.",
        Kind::JointResistive => "Feel which joint is warm after a minute under load; weld or solder it again.",
        Kind::FuseOpen => "Find out what blew it before a new one goes in: read for a short with the pack out.",
        Kind::SwitchOpen => "Read over the switch with the pack out: closed it must have no resistance. Replace it.",
        Kind::BoardOpen => {
            "Connect the charger for a moment: one that wakes was asleep. If it opens again, read the groups under load for the one that is low."
        }
        Kind::PlugReversed => {
            "Switch off at once and turn the plug. What has electronics may be harmed: test it on a limited supply first."
        }
        Kind::ChargerReversed => "Unplug it at once and exchange its leads. The board may be harmed: test it again.",
        Kind::ChargerLimited => {
            "Read the charge current, and the supply’s voltage while it charges. Take a stronger supply."
        }
        Kind::MeterScale => "Change the meter’s battery and compare it with another meter on one cell.",
        Kind::LeadsSwapped => "Red into the volts socket, black into the common one; read again.",
        Kind::Other => "Read the points once more; compare the wiring with the diagram.",
    }
}
