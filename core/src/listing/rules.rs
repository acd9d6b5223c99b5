//! Which words and units name which figure, for each thing that is sold.

use std::sync::LazyLock;

use regex::Regex;
use serde_json::{Value, json};

use super::Sold;
use super::clauses::Figure;
use crate::quantity::Unit;

/// What settles a doubtful figure.
const LOADED: &str = "Pass the load's current for ten minutes: a finger must be able to stay on it.";
const TRIP: &str = "Arrival test “Trips at over-current”.";
const OVER: &str = "Arrival test “Ends the charge”.";
const UNDER: &str = "Arrival test “Ends the discharge”.";
const DRAIN: &str = "Arrival test “Drain at rest”.";
const BLEED: &str =
    "Ohms of its bleed resistors: full volts of a cell / ohms. Or a meter in a tap lead at the end of a charge.";
const SIDE: &str =
    "A meter in each lead and a resistor as dummy battery: the charge current is the one into the resistor.";
const SHEET: &str = "Ask the seller, or look for the print of its chips and their data sheet.";
const PRINT: &str = "Read its print on arrival; no DC volts in print means none.";
const SET: &str = "Set it and read it on a meter before it is wired in, and again under load.";

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
    rules.push(rule("/offer/price", "Price", Unit::Money, "", (0.0, 1e6), SHEET));
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

/// Words that say something by themselves.
pub struct Said {
    pub at: &'static str,
    pub label: &'static str,
    words: Option<Regex>,
    value: fn() -> Value,
}

impl Said {
    /// Whether a clause says it.
    pub fn is_in(&self, lower: &str) -> bool {
        self.words.as_ref().is_some_and(|w| w.is_match(lower))
    }

    pub fn value(&self) -> Value {
        (self.value)()
    }
}

fn said_by(at: &'static str, label: &'static str, words: &str, value: fn() -> Value) -> Said {
    Said { at, label, words: Regex::new(words).ok(), value }
}

/// What words alone say, the most special first.
pub fn said(sold: Sold) -> &'static [Said] {
    static BOARD: LazyLock<Vec<Said>> = LazyLock::new(|| {
        let at = "/protects/chemistry";
        vec![
            said_by("/protects/bleed_a", "Bleed current", r"(without|no|non.?) ?(passive )?(balanc|equali)", || {
                json!(0.0)
            }),
            said_by("/protects/senses_temperature", "Senses temperature", r"(no|without) (ntc|temperature)", || {
                json!(false)
            }),
            said_by(
                "/protects/senses_temperature",
                "Senses temperature",
                r"\bntc\b|temperature (sens|prob|protect|control)",
                || json!(true),
            ),
            said_by("/protects/wants_waking", "Wants waking", r"activat|wake|0 ?v output", || json!(true)),
            said_by("/protects/port", "Ports", r"(separate|split|different|two).?port", || json!("separate")),
            said_by("/protects/port", "Ports", r"(common|same|single).?port", || json!("common")),
            said_by("/protects/resets", "Re-set by", r"(remov|disconnect|unplug|releas)\w* (of )?(the )?load", || {
                json!("load_off")
            }),
            said_by("/protects/resets", "Re-set by", r"(charg\w* to (release|recover|re.?set|unlock))", || {
                json!("charger")
            }),
            said_by("/protects/resets", "Re-set by", r"auto\w* (recover|releas|re.?set|restart)", || {
                json!("by_itself")
            }),
            said_by(at, "Chemistry", r"life ?po4|lfp|phosphate", || json!("li_fe_po4")),
            said_by(at, "Chemistry", r"titanate|\blto\b", || json!("li_titanate")),
            said_by(at, "Chemistry", r"sodium|na.?ion", || json!("na_ion")),
            said_by(at, "Chemistry", r"li.?po\b|polymer", || json!("li_po")),
            said_by(at, "Chemistry", r"li.?ion|lithium|18650|21700|ternary|nmc", || json!("li_ion")),
        ]
    });
    static CHARGER: LazyLock<Vec<Said>> = LazyLock::new(|| {
        vec![
            said_by("/charges/kind", "Kind", r"ni.?mh|ni.?cd|nickel", || json!("nickel")),
            said_by("/charges/kind", "Kind", r"lead.?acid|\bagm\b", || json!("lead_acid")),
            said_by(
                "/charges/own_supply",
                "Plugs into the wall itself",
                r"100.{0,3}240|mains|wall plug|ac input",
                || json!(true),
            ),
        ]
    });
    static CONVERTER: LazyLock<Vec<Said>> = LazyLock::new(|| {
        let at = "/converts/topology";
        vec![
            said_by(at, "Kind", r"buck.?boost|boost.?buck|step.?up.?(and|/|&)?.?(step.?)?down|up.?down", || {
                json!("buck_boost")
            }),
            said_by(at, "Kind", r"boost|step.?up", || json!("boost")),
            said_by(at, "Kind", r"buck|step.?down", || json!("buck")),
            said_by("/converts/adjustable", "Turned while in use", r"adjustable|potentiometer", || json!(true)),
        ]
    });
    static FUSE: LazyLock<Vec<Said>> = LazyLock::new(|| {
        vec![
            said_by("/style", "Style", r"(slow|time.?lag|time.?delay).*|glass.*(slow|lag)", || json!("glass_time_lag")),
            said_by("/style", "Style", r"glass|5 ?x ?20|6 ?x ?30|cartridge", || json!("glass_fast")),
            said_by("/style", "Style", r"blade|automotive|\bcar\b", || json!("blade")),
        ]
    });
    static WIRE: LazyLock<Vec<Said>> = LazyLock::new(|| {
        vec![
            said_by("/insulation", "Insulation", r"silicone", || json!("silicone")),
            said_by("/insulation", "Insulation", r"pvc", || json!("pvc")),
        ]
    });
    static CONNECTOR: LazyLock<Vec<Said>> = LazyLock::new(|| {
        vec![said_by("/keyed", "Fits one way only", r"keyed|polari[sz]ed|anti.?reverse|one way", || json!(true))]
    });
    match sold {
        Sold::Board => &BOARD,
        Sold::CutOff => &[],
        Sold::Charger => &CHARGER,
        Sold::Converter => &CONVERTER,
        Sold::Fuse => &FUSE,
        Sold::Wire => &WIRE,
        Sold::Connector => &CONNECTOR,
    }
}

/// A figure that a buyer needs.
pub struct Asked {
    pub at: &'static str,
    pub label: &'static str,
    pub test: &'static str,
}

const fn asked(at: &'static str, label: &'static str, test: &'static str) -> Asked {
    Asked { at, label, test }
}

/// What must be known of each kind, the weightiest first.
pub fn asks(sold: Sold) -> &'static [Asked] {
    const BOARD: &[Asked] = &[
        asked("/protects/series", "Cells in series", "Count its taps."),
        asked("/protects/chemistry", "Chemistry", OVER),
        asked("/protects/over_charge_v", "Ends the charge at, a cell", OVER),
        asked("/protects/over_discharge_v", "Ends the discharge at, a cell", UNDER),
        asked("/protects/continuous_a", "Continuous current", LOADED),
        asked("/protects/trip_a/value", "Trip current", TRIP),
        asked("/protects/trip_delay_s", "Trip delay", "A start of the device: does it open?"),
        asked("/protects/charge_a", "Charge current", LOADED),
        asked("/protects/bleed_a", "Bleed current", BLEED),
        asked("/standby_a", "Drain at rest", DRAIN),
        asked("/protects/port", "Ports", "Ohms from C− to P−: nothing between them is a common port."),
    ];
    const CUT_OFF: &[Asked] = &[
        asked("/cuts_off/at_v", "Opens at", "Arrival test “Opens”."),
        asked("/cuts_off/rearm_v", "Closes again at", "Arrival test “Closes again”."),
        asked("/standby_a", "Drain at rest", DRAIN),
    ];
    const CHARGER: &[Asked] = &[
        asked(
            "/charges/output_v/value",
            "End volts",
            "A capacitor through a resistor as dummy battery; read where it stops.",
        ),
        asked("/charges/output_a", "Charge current", SIDE),
        asked("/charges/tolerance", "Tolerance", "The end volts of this one, read on a meter."),
    ];
    const CONVERTER: &[Asked] = &[
        asked("/converts/output_v", "Set to", SET),
        asked("/converts/input_max_v", "Highest input", SHEET),
        asked("/converts/input_min_v", "Lowest input", "Turn its supply down under load until the output falls."),
        asked("/converts/output_a", "Output current", LOADED),
        asked("/converts/efficiency", "Efficiency", SIDE),
        asked("/standby_a", "Drain at rest", DRAIN),
    ];
    const FUSE: &[Asked] = &[
        asked("/rating_a", "Rating", PRINT),
        asked("/dc_v", "DC volts", PRINT),
        asked("/breaking_a", "Breaking capacity", SHEET),
        asked("/style", "Style", PRINT),
    ];
    const WIRE: &[Asked] = &[asked("/insulation", "Insulation", "A soldering iron: silicone does not melt, PVC does.")];
    const CONNECTOR: &[Asked] = &[
        asked("/continuous_a", "Continuous current", LOADED),
        asked("/dc_v", "DC volts", PRINT),
        asked("/keyed", "Fits one way only", "Try it the wrong way round, unpowered."),
        asked("/live_pins_bare", "Live half has bare pins", "Look: which half has bare pins?"),
    ];
    match sold {
        Sold::Board => BOARD,
        Sold::CutOff => CUT_OFF,
        Sold::Charger => CHARGER,
        Sold::Converter => CONVERTER,
        Sold::Fuse => FUSE,
        Sold::Wire => WIRE,
        Sold::Connector => CONNECTOR,
    }
}

/// Kind of the part and its body before anything is known.
pub fn blank(sold: Sold) -> (&'static str, Value) {
    match sold {
        Sold::Board => ("module", json!({"protects": {}})),
        Sold::CutOff => ("module", json!({"cuts_off": {}})),
        Sold::Charger => ("module", json!({"charges": {"kind": "cc_cv", "own_supply": false}})),
        Sold::Converter => ("module", json!({"converts": {"wired_in": false}})),
        Sold::Fuse => ("fuse", json!({"style": "blade"})),
        Sold::Wire => ("wire", json!({"insulation": "pvc", "bundled": false})),
        Sold::Connector => ("connector", json!({})),
    }
}

/// What a text seems to sell, by its words; a board where nothing speaks.
pub fn guess(text: &str) -> Sold {
    static SIGNS: LazyLock<Vec<(Sold, Regex)>> = LazyLock::new(|| {
        let signs = [
            (Sold::Fuse, r"\bfuses?\b"),
            (Sold::Board, r"protection board|\bbms\b|\bpcm\b|balanc|over.?discharge|battery protection (board|module)"),
            (Sold::CutOff, r"cut.?off|low.?voltage (disconnect|protect)|under.?voltage|disconnect module"),
            (Sold::Charger, r"charger|charging (module|board)|charge module|cc/?cv"),
            (Sold::Converter, r"step.?(up|down)|\bbuck\b|\bboost\b|dc.?dc|converter"),
            (Sold::Wire, r"\bawg\b|\bwires?\b|\bcable\b|mm²|mm2"),
            (Sold::Connector, r"connector|plug|socket|\bjack\b|terminal"),
        ];
        signs.into_iter().filter_map(|(sold, words)| Some((sold, Regex::new(words).ok()?))).collect()
    });
    let lower = text.to_lowercase();
    SIGNS.iter().find(|(_, words)| words.is_match(&lower)).map_or(Sold::Board, |(sold, _)| *sold)
}

#[cfg(test)]
mod tests {
    use super::*;

    const ALL: [Sold; 7] =
        [Sold::Board, Sold::CutOff, Sold::Charger, Sold::Converter, Sold::Fuse, Sold::Wire, Sold::Connector];

    #[test]
    fn every_pattern_is_one() {
        for sold in ALL {
            assert!(of(sold).iter().all(|r| r.words.is_some()), "{sold:?}");
            assert!(said(sold).iter().all(|s| s.words.is_some()), "{sold:?}");
        }
    }

    #[test]
    fn what_is_sold_is_guessed_from_its_words() {
        for (text, sold) in [
            ("4S 30A lithium battery protection board with balance", Sold::Board),
            ("Low voltage disconnect module 12 V", Sold::CutOff),
            ("2S charging module USB", Sold::Charger),
            ("DC-DC step-down, adjustable", Sold::Converter),
            ("Blade fuses, 15 A, ten in a bag", Sold::Fuse),
            ("16 AWG silicone, one metre red", Sold::Wire),
            ("Keyed high-current plug, pair", Sold::Connector),
        ] {
            assert_eq!(guess(text), sold, "{text}");
        }
    }
}
