//! What a text sells, and the part it would become before anything is known.

use std::sync::LazyLock;

use regex::Regex;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;

/// What a listing may sell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Sold {
    /// A protection board.
    Board,
    /// A cut-off board.
    CutOff,
    /// A charger or a charge module.
    Charger,
    /// A converter.
    Converter,
    /// A fuse.
    Fuse,
    /// A wire.
    Wire,
    /// A connector.
    Connector,
}

impl Sold {
    /// Everything that may be sold, in the order in which the rules stand.
    pub const ALL: [Sold; 7] =
        [Sold::Board, Sold::CutOff, Sold::Charger, Sold::Converter, Sold::Fuse, Sold::Wire, Sold::Connector];
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
