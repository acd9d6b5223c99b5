//! The misuses, one function each: none where the plan does not invite it. Common practice, no source.

use super::{Misuse, Prevented};
use crate::assess::figures::cells::{PACK_AH, PACK_WH};
use crate::assess::figures::device::ORIGINAL_V;
use crate::assess::figures::feed::EQUALISE_A;
use crate::assess::figures::local::charge_situation;
use crate::assess::figures::plate::WEAKEST_A;
use crate::assess::figures::protection::{LEFT_ON_A, LEFT_ON_DAYS, OVER_V, RESERVE_DAYS};
use crate::assess::figures::voltage::{CELL_NEVER_V, FULL_V, LINE_FLOOR_V};
use crate::assess::rule::{self, Rule};
use crate::assess::{Assessment, FigureDef, Workspace};
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::physics::charging::{ChargedBy, ways};
use crate::plan::Joining;

/// Every misuse that the plan invites.
pub(super) fn all(at: &Device<'_, '_>) -> Vec<Misuse> {
    [old_charger, other_charger, old_cells, reversed, unequal, dialled, left_on, larger_fuse, cold, stored, posted]
        .into_iter()
        .filter_map(|case| case(at))
        .collect()
}

/// The finished device: what it is made of, and everything that was found of it.
pub(super) struct Device<'a, 'b> {
    /// The plan on its bench.
    pub workspace: &'a Workspace<'b>,
    /// Its assessment.
    pub assessment: &'a Assessment,
}

fn shown(at: &Device<'_, '_>, def: &FigureDef) -> Option<String> {
    at.assessment.figure(def.id).map(|f| show(f.value, f.unit))
}

/// By an answer of the plan: `true` is that it can still be done.
fn by_answer(can: Option<bool>) -> Prevented {
    match can {
        Some(true) => Prevented::NotYet,
        Some(false) => Prevented::ByDesign,
        None => Prevented::Unknown,
    }
}

fn old_charger(at: &Device<'_, '_>) -> Option<Misuse> {
    let old = &at.workspace.plan.device.original;
    old.chemistry?;
    let way = ways(&charge_situation(at.workspace)).into_iter().find(|w| w.by == ChargedBy::OldCharger)?;
    let full = shown(at, &FULL_V)?;
    Some(Misuse {
        id: "old-charger",
        title: "plug the old charger in",
        happens: way.why,
        prevented: by_answer(old.charger_fits),
        by: "Another jack: what does not fit is not plugged in.".to_owned(),
        finding: Some(rule::charging::OLD_CHARGER_FITS.id().to_owned()),
        label: Some(format!("Never use the old charger. Only a lithium charger, {full}.")),
    })
}

fn other_charger(at: &Device<'_, '_>) -> Option<Misuse> {
    let full = shown(at, &FULL_V)?;
    let value = |def: &FigureDef| at.assessment.figure(def.id).map(|f| f.value);
    // A board ends it only where all of the charge goes through it, and before a cell is harmed.
    let through = at.workspace.charge_board().is_some() && !has(at, rule::protection::CHARGER_ROUND_BOARD);
    let ends_in_time = matches!((value(&OVER_V), value(&CELL_NEVER_V)), (Some(v), Some(never_v)) if !above(v, never_v));
    let over = shown(at, &OVER_V).filter(|_| through);
    let (prevented, by) = match (&over, ends_in_time) {
        (Some(over), true) => {
            (Prevented::ByDesign, format!("The board ends the charge at {over} per cell, as a last resort."))
        }
        (Some(over), false) => (
            Prevented::ByLabel,
            format!(
                "The board opens only at {over} per cell, above the limit of a cell: it prevents a fire, not the damage. Use a different plug."
            ),
        ),
        (None, _) => {
            (Prevented::ByLabel, "A board on the charge side that ends the charge, or a different plug.".to_owned())
        }
    };
    Some(Misuse {
        id: "other-charger",
        title: "charge it with whatever plug fits",
        happens: format!(
            "Round plugs look alike at every voltage. More than {full} overcharges every cell; a laptop supply gives 19 V."
        ),
        label: (prevented != Prevented::ByDesign).then(|| format!("Charge with {full} only.")),
        prevented,
        by,
        finding: has(at, rule::charging::ENDED_BY_GUARD).then(|| rule::charging::ENDED_BY_GUARD.id().to_owned()),
    })
}

fn has(at: &Device<'_, '_>, rule: Rule) -> bool {
    at.assessment.findings.iter().any(|f| f.rule == rule)
}

fn old_cells(at: &Device<'_, '_>) -> Option<Misuse> {
    let (full, old) = (shown(at, &FULL_V)?, shown(at, &ORIGINAL_V)?);
    Some(Misuse {
        id: "old-cells",
        title: "put old cells into the bay",
        happens: format!(
            "They are in parallel with the pack: {full} against {old}, with nothing between. One charges the other until it leaks or burns."
        ),
        prevented: by_answer(at.workspace.plan.device.original.cells_fit),
        by: "The bay blocked, or its wire cut.".to_owned(),
        finding: Some(rule::device::OLD_CELLS_FIT.id().to_owned()),
        label: Some("No cells in the bay: a pack is inside.".to_owned()),
    })
}

fn reversed(at: &Device<'_, '_>) -> Option<Misuse> {
    let springs = at.workspace.pack.brick.joined_by == Some(Joining::Springs);
    let plugs: Vec<_> = at
        .workspace
        .line
        .nodes
        .iter()
        .chain(&at.workspace.charge_path.nodes)
        .filter_map(|n| Some((n, n.connector()?)))
        .collect();
    if !springs && plugs.is_empty() {
        return None;
    }
    let loose = plugs.iter().find(|(_, plug)| plug.keyed != Some(true));
    let (prevented, by, finding) = match (springs, loose) {
        (true, _) => {
            (Prevented::ByLabel, "A stop that a flat end does not reach past, or cells that stay in.".to_owned(), None)
        }
        (false, Some((node, plug))) => {
            let prevented = if plug.keyed == Some(false) { Prevented::NotYet } else { Prevented::Unknown };
            (
                prevented,
                format!("“{}” in a type that fits one way only.", plug.offer.name),
                Some(format!("wiring.unkeyed@{}", node.id)),
            )
        }
        (false, None) => (Prevented::ByDesign, "Every plug fits one way only.".to_owned(), None),
    };
    let happens = if springs {
        "A reversed cell is driven backwards by the others: it heats up, vents, and shorts its group."
    } else {
        "Plus meets minus: the board or the device is destroyed at once, and the wire glows if nothing opens."
    };
    let label = (prevented != Prevented::ByDesign).then(|| "Watch plus and minus.".to_owned());
    Some(Misuse {
        id: "reversed",
        title: "connect it reversed",
        happens: happens.to_owned(),
        prevented,
        by,
        finding,
        label,
    })
}

fn unequal(at: &Device<'_, '_>) -> Option<Misuse> {
    let second = at.workspace.plan.feed.second.as_ref();
    let springs = at.workspace.pack.brick.joined_by == Some(Joining::Springs);
    if second.is_none() && !springs {
        return None;
    }
    let happens = match shown(at, &EQUALISE_A) {
        Some(a) => format!(
            "As they were read, {a} flows from the fuller into the emptier at once; in series the emptier is reversed."
        ),
        None => "In parallel the fuller discharges into the emptier; in series the emptier is reversed.".to_owned(),
    };
    // Guards keep the emptier from being driven too low; what flows at the joining they do not limit.
    let guarded = at.workspace.each_guarded() == Some(true) && second.is_some_and(|s| s.used_in_parallel != Some(true));
    Some(Misuse {
        id: "unequal",
        title: "join a full and an empty one",
        happens,
        prevented: if guarded { Prevented::ByDesign } else { Prevented::ByLabel },
        by: "Protection in each pack, and both voltages read before they are joined.".to_owned(),
        finding: Some(rule::voltage::PACKS_APART.id().to_owned()),
        label: (!guarded).then(|| "Only equal ones, equally full: within 50 mV per cell.".to_owned()),
    })
}

fn dialled(at: &Device<'_, '_>) -> Option<Misuse> {
    let (module, converter) = at.workspace.converter()?;
    if converter.adjustable != Some(true) {
        return None;
    }
    let socket = converter.fixed_socket == Some(true);
    Some(Misuse {
        id: "dialled-output",
        title: "plug something into the adjustable output",
        happens: format!("It gets the voltage “{}” was last turned to.", module.offer.name),
        prevented: if socket { Prevented::NotYet } else { Prevented::ByLabel },
        by: "A socket with its own regulator; a display that is on before the output is.".to_owned(),
        finding: Some(rule::voltage::FIXED_SOCKET.id().to_owned()),
        label: Some("Set and read the voltage before you plug anything in.".to_owned()),
    })
}

/// Days in which someone finds a device that was left on; a reserve that lasts them keeps the cells. Common practice, no
/// source: a month.
const FOUND_DAYS: f64 = 30.0;

fn left_on(at: &Device<'_, '_>) -> Option<Misuse> {
    at.assessment.figure(PACK_AH.id)?;
    let value = |def: &FigureDef| at.assessment.figure(def.id).map(|f| f.value);
    let after = match (shown(at, &LEFT_ON_A), shown(at, &LEFT_ON_DAYS)) {
        (Some(a), Some(days)) => format!("At {a} it is empty after {days}"),
        _ => "The device's standby drain empties it".to_owned(),
    };
    // A guard below the floor, or a device that merely stops working there, ends nothing in time.
    let guard = at
        .workspace
        .guards
        .iter()
        .filter(|g| !g.only_warns)
        .filter_map(|g| g.pack_v)
        .reduce(f64::max)
        .filter(|v| value(&LINE_FLOOR_V).is_some_and(|floor_v| !below(*v, floor_v)));
    let second_open = at.workspace.plan.feed.second.is_some() && at.workspace.each_guarded() != Some(true);
    let reserve = value(&RESERVE_DAYS);
    let (prevented, by) = match guard {
        Some(_) if second_open => (Prevented::ByLabel, "The protection sees one pack; each needs its own.".to_owned()),
        Some(v) if reserve.is_some_and(|days| below(days, FOUND_DAYS)) => (
            Prevented::ByLabel,
            format!(
                "It is cut off at {}; but what stays connected drains the rest in {}. Use a switch before it, or a cut-off that opens earlier.",
                show(v, Unit::V),
                shown(at, &RESERVE_DAYS).unwrap_or_default()
            ),
        ),
        Some(v) => (Prevented::ByDesign, format!("It is cut off at {}; charge it soon after.", show(v, Unit::V))),
        None => {
            (Prevented::ByLabel, "A board or cut-off that ends the discharge before the cells are damaged.".to_owned())
        }
    };
    let floor =
        shown(at, &LINE_FLOOR_V).map_or(String::new(), |v| format!("; below {v} the cells are permanently damaged"));
    let finding = [
        rule::voltage::NO_GUARD,
        rule::voltage::GUARD_BELOW_FLOOR,
        rule::voltage::ALARM_ONLY,
        rule::protection::RESERVE_DRAINS,
    ];
    Some(Misuse {
        id: "left-on",
        title: "leave it switched on",
        happens: format!("{after}{floor}."),
        prevented,
        by,
        finding: finding.into_iter().find(|rule| has(at, *rule)).map(|rule| rule.id().to_owned()),
        label: Some("Switch off after use.".to_owned()),
    })
}

fn larger_fuse(at: &Device<'_, '_>) -> Option<Misuse> {
    let fuse = at.workspace.line.nodes.iter().find_map(|n| n.fuse())?;
    let rating = show(fuse.rating_a, Unit::A);
    let limit = shown(at, &WEAKEST_A).map_or(String::new(), |a| format!(" The weakest link is limited to {a}."));
    Some(Misuse {
        id: "larger-fuse",
        title: "put a larger fuse in",
        happens: format!("A blown fuse gets replaced by the next larger one. Then the wire burns first.{limit}"),
        prevented: Prevented::ByLabel,
        by: "The rating printed beside the holder, and a spare of the right one.".to_owned(),
        finding: None,
        label: Some(format!("Fuse {rating}, no larger.")),
    })
}

fn cold(at: &Device<'_, '_>) -> Option<Misuse> {
    let may = &at.workspace.facts()?.charge;
    let senses = at.workspace.charge_board().is_some_and(|(_, b)| b.senses_temperature == Some(true))
        && !has(at, rule::protection::CHARGER_ROUND_BOARD);
    let (least, most) = (show(may.slow_below_c, Unit::C), show(may.most_c, Unit::C));
    let never = show(may.least_c, Unit::C);
    Some(Misuse {
        id: "cold",
        title: "charge it in the cold",
        happens: format!("Below {never}: {}", lower_first(may.too_cold)),
        prevented: if senses { Prevented::ByDesign } else { Prevented::ByLabel },
        by: if senses { "The board senses it." } else { "A board with a temperature sensor." }.to_owned(),
        finding: Some(rule::charging::FREEZING.id().to_owned()),
        label: (!senses).then(|| format!("Charge at {least} to {most}, never below {never}, never unattended.")),
    })
}

fn lower_first(sentence: &str) -> String {
    let mut chars = sentence.chars();
    chars.next().map_or(String::new(), |first| first.to_lowercase().chain(chars).collect())
}

fn stored(at: &Device<'_, '_>) -> Option<Misuse> {
    let storage_v = at.workspace.facts()?.storage_v? * f64::from(at.workspace.pack.series?);
    let at = show(storage_v, Unit::V);
    Some(Misuse {
        id: "stored",
        title: "forget it over the winter",
        happens: "Full it ages fast; empty it falls below the cells' minimum.".to_owned(),
        prevented: Prevented::ByLabel,
        by: "Half full, cool, checked every three months.".to_owned(),
        finding: None,
        label: Some(format!("Store half full, about {at}; check it every three months.")),
    })
}

fn posted(at: &Device<'_, '_>) -> Option<Misuse> {
    let wh = shown(at, &PACK_WH)?;
    Some(Misuse {
        id: "posted",
        title: "post it, or take it on a plane",
        happens: "A home-made pack has passed no transport test (UN 38.3), whatever its size.".to_owned(),
        prevented: Prevented::ByLabel,
        by: "Energy and “home-made” on the label; the carrier decides.".to_owned(),
        finding: Some(rule::run::BAGGAGE.id().to_owned()),
        label: Some(format!("{wh}, home-made, not transport-tested.")),
    })
}
