//! Reports as JSON text, written here and not where they are sent: of the profile that `./start` and `./test` build, this crate
//! alone is compiled to be fast, and a program compiled to be ready quickly takes longer to write an assessment than to make it.

use serde_json::value::{RawValue, to_raw_value};

use crate::Assessment;
use crate::advise::bill::Bill;
use crate::advise::fix::FindingFixes;
use crate::advise::suggest::layouts::LayoutOffers;
use crate::advise::suggest::{Suggestion, VoltageOptions};
use crate::assess::{Balance, ChargeReport, Coordination, FillReport, NetworkReport, RunReport};
use crate::print::diagram::Diagram;

/// A report that can be written.
pub trait Written {
    /// Its JSON text. Fails where a text cannot be written, which none of these does.
    fn written(&self) -> serde_json::Result<Box<RawValue>>;
}

macro_rules! written {
    ($($report:ty),* $(,)?) => {
        $(impl Written for $report {
            fn written(&self) -> serde_json::Result<Box<RawValue>> {
                to_raw_value(self)
            }
        })*
    };
}

written!(
    Assessment,
    Balance,
    Bill,
    ChargeReport,
    Coordination,
    FillReport,
    LayoutOffers,
    NetworkReport,
    Option<Diagram>,
    RunReport,
    Vec<FindingFixes>,
    Vec<Suggestion>,
    VoltageOptions,
);

impl<T: Written> Written for Box<T> {
    fn written(&self) -> serde_json::Result<Box<RawValue>> {
        (**self).written()
    }
}
