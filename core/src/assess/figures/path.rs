//! The limits of every link, referred to the battery, and how much of them is asked for.

use super::figures;

figures! {
    REFERRED = "converter.referred", "Battery current per ampere after the converter", Ratio,
        "set-point / (efficiency × minimum loaded voltage)", CircuitLaw;
    LINK_A = "link.continuous_a", "Continuous limit of the link, at the battery", A,
        "its own continuous limit; after a converter × battery current per ampere", PartSheet;
    LINK_BEARS_A = "link.rated_a", "Peak current limit of the link, at the battery", A,
        "cells: pulse rating if its time is long enough; strip and wire: adiabatic; board: low end of the trip band \
         unless its delay is longer; fuse: curve of least opening time; else the continuous limit", CircuitLaw;
    LINK_USED = "link.used", "Largest demand against the limit", Share,
        "largest of continuous current / continuous limit and each peak / peak limit", Arithmetic;
    CHARGE_LINK_A = "charge.link_a", "Limit of the link for the charge current", A, "as stated for the charge", PartSheet;
    CHARGE_USED = "charge.used", "Charge current against the limit of the link", Share, "current through it / its limit", Arithmetic;
}
