//! What a text sells.

use std::sync::LazyLock;

use regex::Regex;

use crate::plan::fields::PartKind;

/// Kinds of part whose sellers' words are known.
pub const SOLD: [PartKind; 8] = [
    PartKind::Pack,
    PartKind::Board,
    PartKind::CutOff,
    PartKind::Charger,
    PartKind::Converter,
    PartKind::Fuse,
    PartKind::Wire,
    PartKind::Connector,
];

/// What a text seems to sell, by its words; a board where nothing speaks.
pub fn guess(text: &str) -> PartKind {
    static SIGNS: LazyLock<Vec<(PartKind, Regex)>> = LazyLock::new(|| {
        let signs = [
            (PartKind::Fuse, r"\bfuses?\b"),
            (
                PartKind::Board,
                r"protection board|\bbms\b|\bpcm\b|balanc|over.?discharge|battery protection (board|module)",
            ),
            (PartKind::CutOff, r"cut.?off|low.?voltage (disconnect|protect)|under.?voltage|disconnect module"),
            (PartKind::Charger, r"charger|charging (module|board)|charge module|cc/?cv"),
            (PartKind::Converter, r"step.?(up|down)|\bbuck\b|\bboost\b|dc.?dc|converter"),
            (PartKind::Wire, r"\bawg\b|\bwires?\b|\bcable\b|mm²|mm2"),
            (PartKind::Connector, r"connector|plug|socket|\bjack\b|terminal"),
        ];
        signs.into_iter().filter_map(|(sold, words)| Some((sold, Regex::new(words).ok()?))).collect()
    });
    let lower = text.to_lowercase();
    if is_pack(&lower) {
        return PartKind::Pack;
    }
    SIGNS.iter().find(|(_, words)| words.is_match(&lower)).map_or(PartKind::Board, |(sold, _)| *sold)
}

/// A pack as it is sold, and nothing that is made for one.
fn is_pack(lower: &str) -> bool {
    static PACK: LazyLock<Option<Regex>> = LazyLock::new(|| {
        Regex::new(r"battery pack|(hobby|li-?po|li-?ion|tool|replacement) ?(battery|pack)|\bpack\b.*\bm?ah\b").ok()
    });
    static MADE_FOR_ONE: LazyLock<Option<Regex>> = LazyLock::new(|| {
        Regex::new(r"\bboard\b|\bbms\b|\bpcm\b|charger|module|holder|\bstrips?\b|fuse|converter|pack of").ok()
    });
    let says = |words: &Option<Regex>| words.as_ref().is_some_and(|w| w.is_match(lower));
    says(&PACK) && !says(&MADE_FOR_ONE)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_sold_is_guessed_from_its_words() {
        for (text, sold) in [
            ("4S 30A lithium battery protection board with balance", PartKind::Board),
            ("3S 2200 mAh 25C LiPo pack with balance plug", PartKind::Pack),
            ("Charger for a LiPo pack, 3S", PartKind::Charger),
            ("Protection board for a Li-ion battery pack", PartKind::Board),
            ("Low voltage disconnect module 12 V", PartKind::CutOff),
            ("2S charging module USB", PartKind::Charger),
            ("DC-DC step-down, adjustable", PartKind::Converter),
            ("Blade fuses, 15 A, ten in a bag", PartKind::Fuse),
            ("16 AWG silicone, one metre red", PartKind::Wire),
            ("Keyed high-current plug, pair", PartKind::Connector),
        ] {
            assert_eq!(guess(text), sold, "{text}");
        }
    }
}
