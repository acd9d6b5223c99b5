//! The limits of every link, referred to the battery, and how much of them is asked for.

use super::figures;

figures! {
    REFERRED = "converter.referred", "Battery amperes for one ampere behind the converter", Ratio,
        "set point / (efficiency × lowest loaded volts)", CircuitLaw;
    LINK_A = "link.continuous_a", "Continuous limit of the link, at the battery", A,
        "its own continuous limit; behind a converter × battery amperes for one ampere", PartSheet;
    LINK_BEARS_A = "link.bears_a", "Current the link bears for the peak, at the battery", A,
        "cells: pulse rating if its time is long enough; strip and wire: adiabatic; board: low end of the trip band \
         unless its delay is longer; fuse: curve of least opening time; else the continuous limit", CircuitLaw;
    LINK_USED = "link.used", "Largest demand against the limit", Share,
        "largest of continuous current / continuous limit and each peak / what the link bears for it", Arithmetic;
    CHARGE_LINK_A = "charge.link_a", "Limit of the link for the charge current", A, "as stated for the charge", PartSheet;
    CHARGE_USED = "charge.used", "Charge current against the limit of the link", Share, "current through it / its limit", Arithmetic;
}
