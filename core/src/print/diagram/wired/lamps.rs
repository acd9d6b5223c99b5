//! Lamps led outside in the place of those on a module: each hangs on the pads of the module's own lamp.

use super::super::Condition;
use super::super::circuit::Element;
use super::{Block, Builder, JOINT_OHM, OFF_OHM, Piece, Poles, Side};
use crate::assess::figures::device::LAMP_OHM;
use crate::base::quantity::{Unit, show};
use crate::physics::device::lamp::SEEN_A;
use crate::plan::{LampColour, LampCommon, LampWanted, Sign};

impl Builder<'_> {
    /// The lamps of one side: those that say it is on hang at the device, all others at the charger.
    pub(super) fn lamps(&mut self, side: Side, at: Poles) {
        let of_device = |shows: &[Sign]| shows.first() == Some(&Sign::On);
        for place in &self.workspace.plan.device.compartments {
            for (k, opening) in place.openings.iter().enumerate() {
                let Some(lamp) = opening.lamp.as_ref().filter(|lamp| lamp.keeps == Some(false)) else { continue };
                if of_device(&opening.shows) == (side == Side::Load) {
                    self.lamp(lamp, &opening.shows, &format!("{}/{k}", place.id), side, at);
                }
            }
        }
    }

    fn lamp(&mut self, lamp: &LampWanted, shows: &[Sign], key: &str, side: Side, at: Poles) {
        let Some((colour, fed_v)) = lamp.colour.zip(lamp.fed_v) else { return };
        let on_plus = lamp.common == Some(LampCommon::Anode);
        let pad = self.node("pad of the lamp");
        let (plus, minus) = if on_plus { (at.plus, pad) } else { (pad, at.minus) };
        let lit = match side {
            // While it charges it is not full.
            Side::Charge => self.condition == Condition::Charging && shows != [Sign::Full],
            Side::Load => matches!(self.condition, Condition::Running | Condition::Hardest),
        };
        let through = if lit {
            self.wired.circuit.put(plus, minus, Element::Source { emf_v: fed_v, ohm: JOINT_OHM });
            self.join(plus, minus, fed_v / SEEN_A)
        } else {
            self.join(plus, minus, OFF_OHM)
        };
        let name = match colour {
            LampColour::Red => "red",
            LampColour::Yellow => "yellow",
            LampColour::Green => "green",
            LampColour::Blue => "blue",
            LampColour::White => "white",
        };
        let detail = match self.workspace.ledger.value_at(&LAMP_OHM, key) {
            Some(ohm) => format!("{name}, {} in series", show(ohm, Unit::Ohm)),
            None => format!("{name}, too little voltage"),
        };
        self.block(Block {
            id: format!("lamp-{}", key.replace('/', "-")),
            piece: Piece::Lamp { pad, on_plus },
            title: "Lamp",
            detail,
            side,
            undecided: false,
            open: false,
            from: at,
            to: at,
            through: Some(through),
            loses_unknown: false,
        });
    }
}
