//! The sheet for whoever has the pack next, and what is done with one that no one uses any more.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::entry::{Logged, PackState};
use super::story::PackStory;
use crate::base::quantity::{Unit, show};
use crate::base::table::written_moment;

/// Most lines of what was done to it: one page holds them.
const DONE_MAX: usize = 14;

/// A part of the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct HandOnPart {
    /// Its heading.
    pub title: &'static str,
    /// Its lines.
    pub lines: Vec<String>,
}

/// Lines of the label, the first ones large. `number`: the pack's own.
pub fn label_lines(card: &PackCard, number: i32) -> Vec<String> {
    let facts = card.chemistry.facts();
    let series = f64::from(card.series);
    let nominal_v = facts.nominal_v * series;
    let full_v = card.charged_to_v.unwrap_or(facts.full_v) * series;
    let figures = [
        Some(show(nominal_v, Unit::V)),
        card.rated_ah.map(|ah| show(ah, Unit::Ah)),
        card.rated_ah.map(|ah| show((ah * nominal_v).round(), Unit::Wh)),
    ];
    let made = card.made_on.as_deref().and_then(|d| d.get(..7)).map(|month| format!("made {month}, "));
    [
        Some(card.designation.clone().unwrap_or_else(|| format!("{} {}", card.counts(), facts.short))),
        Some(figures.into_iter().flatten().collect::<Vec<_>>().join("  ")),
        Some(format!("Charge {} only", show(full_v, Unit::V))),
        card.fuse_a.map(|a| format!("Fuse {}", show(a, Unit::A))),
        Some(format!("{}no. {number}", made.unwrap_or_default())),
    ]
    .into_iter()
    .flatten()
    .collect()
}

/// The sheet for the next owner. Cautions: common practice, no source.
pub fn hand_on(card: &PackCard, story: &PackStory) -> Vec<HandOnPart> {
    let facts = card.chemistry.facts();
    let series = f64::from(card.series);
    let cell_v = card.charged_to_v.unwrap_or(facts.full_v);
    let ah = story.measured.last_share().map(|p| (p.capacity_ah, true)).or(card.rated_ah.map(|ah| (ah, false)));
    let mut is = vec![format!(
        "{} of {} cells, {} nominal, {} full, {} empty.",
        card.counts(),
        facts.name,
        show(facts.nominal_v * series, Unit::V),
        show(cell_v * series, Unit::V),
        show(facts.cutoff_v * series, Unit::V)
    )];
    if let Some((ah, is_tested)) = ah {
        let how = if is_tested { "as last tested" } else { "as printed on its cells" };
        is.push(format!("{} {how}.", show(ah, Unit::Ah)));
    }
    is.extend(
        card.fuse_a.map(|a| format!("Fuse in the main lead: {}. Replace it only with the same.", show(a, Unit::A))),
    );
    is.push(
        "Home-made: not transport-tested. Never by air; by post only as the rules for lithium batteries allow."
            .to_owned(),
    );
    let wiring = if card.wiring.trim().is_empty() {
        format!(
            "Balance leads in order from pack minus: 0 to {}. Red is plus. Read before you connect anything.",
            card.series
        )
    } else {
        card.wiring.clone()
    };
    let charge = vec![
        format!(
            "Only with a CC/CV charger for {} {} cells in series: {} at its end, {} per cell.",
            card.series,
            facts.short,
            show(cell_v * series, Unit::V),
            show(cell_v, Unit::V)
        ),
        format!(
            "Between {} and {}, never below freezing unless stated, on something fireproof, never unattended.",
            show(facts.charge.least_c, Unit::C),
            show(facts.charge.most_c, Unit::C)
        ),
        facts.storage_v.map_or_else(String::new, |v| {
            format!("For storage: {} per cell, dry and cool; check it every three months.", show(v, Unit::V))
        }),
    ];
    let never = [
        "Do not short, open, crush, pierce, wet or heat it.",
        "Do not charge one that is swollen, dented, hot by itself, or that was empty for weeks.",
        "Do not charge the groups through the balance leads alone, nor with a nickel or lead charger.",
        "Smoke or hissing: outdoors at once, away from people and from what burns; water cools.",
    ];
    let mut parts = vec![
        HandOnPart { title: "What it is", lines: is },
        HandOnPart { title: "Wiring", lines: vec![wiring] },
        HandOnPart { title: "How to charge it", lines: charge.into_iter().filter(|l| !l.is_empty()).collect() },
        HandOnPart { title: "What not to do", lines: never.map(str::to_owned).to_vec() },
        HandOnPart { title: "What was done to it", lines: done(story) },
    ];
    if matches!(story.state, PackState::Retired | PackState::Recycled) {
        parts.insert(0, HandOnPart { title: "Retired", lines: retired() });
    }
    parts
}

/// How a pack is put into a safe state before it leaves the house. Common practice, no source; local rules go first.
pub fn retired() -> Vec<String> {
    [
        "Discharge it to its cut-off through a lamp or a resistor, outdoors, under watch; do not discharge a swollen one.",
        "Tape every contact, the balance plug too. Put it into a bag and into a fireproof box, away from the house.",
        "Take it to a collection point for lithium batteries as your local rules say; say that it is home-made. Never put it in the bin.",
    ]
    .map(str::to_owned)
    .to_vec()
}

fn done(story: &PackStory) -> Vec<String> {
    let tells = |l: &&super::lines::LogLine| {
        l.struck.is_none()
            && matches!(
                l.entry.happened,
                Logged::Capacity { .. }
                    | Logged::Event { .. }
                    | Logged::Looked { .. }
                    | Logged::Repair { .. }
                    | Logged::State { .. }
                    | Logged::Resistance { .. }
            )
    };
    let habit = &story.habit;
    let mut lines = vec![];
    if habit.charges > 0 {
        let through =
            habit.through_ah.map(|ah| format!(", {} through it", show(ah.round(), Unit::Ah))).unwrap_or_default();
        lines.push(format!("{} charges{through}.", habit.charges));
    }
    lines.extend(story.lines.iter().filter(tells).take(DONE_MAX).map(|l| {
        let on = written_moment(l.at_s);
        let figure = l.figure.as_ref().map(|f| format!(" ({f})")).unwrap_or_default();
        let says = if l.says.is_empty() { String::new() } else { format!(": {}", l.says) };
        format!("{}  {}{says}{figure}", on.get(..10).unwrap_or_default(), l.title)
    }));
    if lines.is_empty() {
        lines.push("Nothing was logged.".to_owned());
    }
    lines
}
