//! The figures of each stage, in the order of the work. Each file fills the ledger from the plan, its room's
//! formulas and the figures before it.

pub mod balancing;
pub mod brick;
pub mod cells;
pub mod charging;
pub mod converter;
pub mod curve;
pub mod device;
pub mod feed;
pub mod groups;
pub mod holders;
pub mod laid;
pub mod load;
pub mod local;
pub mod path;
pub mod plate;
pub mod protection;
pub mod run;
pub mod voltage;
pub mod wanted;
pub mod wiring;

use super::ledger::FigureDef;

/// Every figure there can be, with its formula, for the reference list.
pub fn all() -> Vec<&'static FigureDef> {
    [
        device::ALL,
        voltage::ALL,
        load::ALL,
        converter::ALL,
        groups::ALL,
        holders::ALL,
        cells::ALL,
        brick::ALL,
        laid::ALL,
        protection::ALL,
        charging::ALL,
        balancing::ALL,
        wiring::ALL,
        run::ALL,
        feed::ALL,
        path::ALL,
        plate::ALL,
    ]
    .concat()
}

/// Declares figures: `NAME = id, label, unit, formula, source`, and the list of all of them.
macro_rules! figures {
    ($($name:ident = $id:literal, $label:literal, $unit:ident, $formula:literal, $source:ident;)*) => {
        $(
            #[doc = $label]
            pub static $name: $crate::assess::ledger::FigureDef = $crate::assess::ledger::FigureDef {
                id: $id,
                label: $label,
                unit: $crate::base::quantity::Unit::$unit,
                formula: $formula,
                source: $crate::base::source::Source::$source,
            };
        )*
        /// Every figure of this stage.
        pub static ALL: &[&$crate::assess::ledger::FigureDef] = &[$(&$name),*];
    };
}
pub(crate) use figures;
