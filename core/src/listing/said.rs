//! What words alone say: kinds, ports, chemistries, balancers that are not there.

use std::sync::LazyLock;

use regex::Regex;
use serde_json::{Value, json};

use super::Sold;

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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_pattern_is_one() {
        for sold in Sold::ALL {
            assert!(said(sold).iter().all(|s| s.words.is_some()), "{sold:?}");
        }
    }
}
