//! Which words and units name which figure, for each thing that is sold.

use std::sync::LazyLock;

use regex::Regex;

use super::Sold;
use super::asks::{BLEED, DRAIN, LOADED, OVER, PRINT, SET, SHEET, SIDE, TRIP, UNDER};
use super::clauses::Figure;
use crate::quantity::Unit;

/// Words and a unit that name a figure.
pub struct Rule {
    pub at: &'static str,
    pub label: &'static str,
    pub unit: Unit,
    pub test: &'static str,
    /// Whole numbers.
    pub whole: bool,
    /// The larger of two is the more careful.
    pub largest: bool,
    /// Nothing but its unit speaks for it.
    pub bare: bool,
    /// It is the upper end of a range.
    pub upper: bool,
    /// Patterns are constants of this file; a test sees that each is one.
    words: Option<Regex>,
    not: Option<Regex>,
    within: (f64, f64),
}

impl Rule {
    /// The value of a figure that this rule names.
    pub fn reads(&self, figure: &Figure) -> Option<f64> {
        let named = |words: &Option<Regex>| words.as_ref().is_some_and(|w| w.is_match(&figure.named));
        if figure.unit != self.unit || !named(&self.words) || named(&self.not) {
            return None;
        }
        let value = if self.upper { figure.upper? } else { figure.value };
        (self.within.0..=self.within.1).contains(&value).then_some(value)
    }

    fn not(mut self, words: &str) -> Self {
        self.not = Regex::new(words).ok();
        self
    }

    fn upper(mut self) -> Self {
        self.upper = true;
        self
    }

    fn whole(mut self) -> Self {
        self.whole = true;
        self
    }

    fn largest(mut self) -> Self {
        self.largest = true;
        self
    }

    fn bare(mut self) -> Self {
        self.bare = true;
        self
    }
}

fn rule(
    at: &'static str,
    label: &'static str,
    unit: Unit,
    words: &str,
    within: (f64, f64),
    test: &'static str,
) -> Rule {
    let (whole, largest, bare, upper, not) = (false, false, false, false, None);
    Rule { at, label, unit, test, whole, largest, bare, upper, words: Regex::new(words).ok(), not, within }
}

const AMPS: (f64, f64) = (0.001, 1000.0);
const VOLTS: (f64, f64) = (0.1, 500.0);

/// Rules of a kind, the most special first.
pub fn of(sold: Sold) -> &'static [Rule] {
    static ALL: LazyLock<[Vec<Rule>; 7]> =
        LazyLock::new(|| [board(), cut_off(), charger(), converter(), fuse(), wire(), connector()].map(with_offer));
    &ALL[sold as usize]
}

fn with_offer(mut rules: Vec<Rule>) -> Vec<Rule> {
    rules.push(rule("/offer/price", "Price", Unit::Money, "", (0.0, 1e6), SHEET).largest());
    rules.push(rule("/offer/arrives_days", "Arrives in", Unit::Days, "", (0.0, 730.0), SHEET).largest());
    rules
}

fn board() -> Vec<Rule> {
    let cell_v = (1.0, 5.0);
    vec![
        rule("/protects/over_charge_v", "Ends the charge at, a cell", Unit::V, r"over.?charg", cell_v, OVER)
            .not("recover|release|resume"),
        rule(
            "/protects/over_discharge_v",
            "Ends the discharge at, a cell",
            Unit::V,
            r"over.?discharg|under.?volt",
            cell_v,
            UNDER,
        )
        .not("recover|release|resume")
        .largest(),
        rule("/protects/detect_v", "Detector volts", Unit::V, r"detect", (0.005, 2.0), TRIP),
        rule("/protects/short_a", "Short-circuit trip", Unit::A, r"short", AMPS, TRIP),
        rule("/protects/bleed_a", "Bleed current", Unit::A, r"balanc|bleed|equali", (0.0001, 20.0), BLEED),
        rule(
            "/standby_a",
            "Drain at rest",
            Unit::A,
            r"quiescent|self.?consum|stand.?by|static|own consumption",
            (1e-7, 0.1),
            DRAIN,
        )
        .largest(),
        rule(
            "/protects/trip_a/value",
            "Trip current",
            Unit::A,
            r"over.?current|trip|peak|instant|momentary|protection current|upper|burst",
            AMPS,
            TRIP,
        ),
        rule("/protects/charge_a", "Charge current", Unit::A, r"charg", AMPS, LOADED).not("discharg"),
        rule(
            "/protects/continuous_a",
            "Continuous current",
            Unit::A,
            r"contin|working|rated|discharg|load|operating|nominal|limit|max",
            AMPS,
            LOADED,
        ),
        rule("/protects/continuous_a", "Continuous current", Unit::A, "", AMPS, LOADED).bare(),
        rule("/protects/trip_delay_s", "Trip delay", Unit::S, r"delay|time", (1e-5, 60.0), TRIP).not("short|charg"),
        rule(
            "/protects/transistor_ohm",
            "On-resistance of a transistor",
            Unit::Ohm,
            r"rds|mosfet|transistor",
            (1e-4, 1.0),
            SHEET,
        ),
        rule(
            "/protects/path_ohm",
            "Resistance",
            Unit::Ohm,
            r"resist|imped|conduct",
            (1e-5, 1.0),
            "Arrival test “Resistance of its way”.",
        )
        .largest(),
    ]
}

fn cut_off() -> Vec<Rule> {
    vec![
        rule(
            "/cuts_off/rearm_v",
            "Closes again at",
            Unit::V,
            r"recover|re.?connect|restor|releas|re.?arm|resum|return",
            VOLTS,
            "Arrival test “Closes again”.",
        ),
        rule(
            "/cuts_off/at_v",
            "Opens at",
            Unit::V,
            r"cut|disconnect|protect|under|open|low",
            VOLTS,
            "Arrival test “Opens”.",
        ),
        rule(
            "/standby_a",
            "Drain at rest",
            Unit::A,
            r"quiescent|self.?consum|stand.?by|static|own consumption",
            (1e-7, 1.0),
            DRAIN,
        )
        .largest(),
    ]
}

fn charger() -> Vec<Rule> {
    vec![
        rule("/charges/output_v/value", "End volts", Unit::V, r"output|charg|full|cut.?off|terminat|end", VOLTS, SET)
            .not("input|supply"),
        rule("/charges/output_a", "Charge current", Unit::A, r"output|charg", AMPS, SIDE)
            .not("input|supply|cut.?off|terminat"),
        rule("/charges/efficiency", "Efficiency", Unit::Share, r"efficien", (0.2, 1.0), SIDE),
        rule("/charges/tolerance", "Tolerance", Unit::Share, r"accura|toleran|precis", (0.0001, 0.2), SET).largest(),
        rule("/standby_a", "Drain at rest", Unit::A, r"quiescent|stand.?by|leak|reverse", (1e-7, 0.1), DRAIN).largest(),
    ]
}

fn converter() -> Vec<Rule> {
    vec![
        rule("/converts/input_max_v", "Highest input", Unit::V, r"input|\bin\b", VOLTS, SHEET).not("output").upper(),
        rule(
            "/converts/input_max_v",
            "Highest input",
            Unit::V,
            r"(max|up to|highest).*\bin|input.*(max|up to|highest)",
            VOLTS,
            SHEET,
        ),
        rule("/converts/input_min_v", "Lowest input", Unit::V, r"input|\bin\b", VOLTS, SHEET).not("output").largest(),
        rule("/converts/output_v", "Set to", Unit::V, r"output|\bout\b|adjust", VOLTS, SET),
        rule("/standby_a", "Drain at rest", Unit::A, r"quiescent|stand.?by|no.?load|idle", (1e-7, 1.0), DRAIN)
            .largest(),
        rule("/converts/input_a", "Input current", Unit::A, r"input", AMPS, SIDE),
        rule("/converts/output_a", "Output current", Unit::A, r"output|contin|load", AMPS, SIDE),
        rule("/converts/output_a", "Output current", Unit::A, "", AMPS, SIDE).bare(),
        rule("/converts/efficiency", "Efficiency", Unit::Share, r"efficien|convers", (0.2, 1.0), SIDE),
        rule("/converts/dropout_v", "Head room", Unit::V, r"drop.?out|differ", (0.05, 10.0), SET),
    ]
}

fn fuse() -> Vec<Rule> {
    vec![
        rule("/breaking_a", "Breaking capacity", Unit::A, r"break|interrupt|capacity", (1.0, 200_000.0), SHEET),
        rule("/dc_v", "DC volts", Unit::V, r"dc|direct", VOLTS, PRINT).not(r"\bac\b"),
        rule("/rating_a", "Rating", Unit::A, "", (0.01, 1000.0), PRINT),
    ]
}

fn wire() -> Vec<Rule> {
    vec![
        rule("/size/awg", "Gauge", Unit::Count, "", (-3.0, 40.0), "Count and measure its strands.").whole().largest(),
        rule("/size/area_mm2", "Cross-section", Unit::Mm2, "", (0.01, 300.0), "Count and measure its strands."),
    ]
}

fn connector() -> Vec<Rule> {
    vec![
        rule("/contact_ohm", "Resistance", Unit::Ohm, r"resist|contact", (1e-5, 1.0), "Volts over it at 1 A.")
            .largest(),
        rule("/continuous_a", "Continuous current", Unit::A, r"contin|rated|working|current|max", AMPS, LOADED)
            .not("peak|instant|burst|momentary"),
        rule("/continuous_a", "Continuous current", Unit::A, "", AMPS, LOADED)
            .not("peak|instant|burst|momentary")
            .bare(),
        rule("/dc_v", "DC volts", Unit::V, "", VOLTS, PRINT).not(r"\bac\b"),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_pattern_is_one() {
        for sold in Sold::ALL {
            assert!(of(sold).iter().all(|r| r.words.is_some()), "{sold:?}");
        }
    }
}
