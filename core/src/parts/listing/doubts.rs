//! What in a listing contradicts something, or can be read in two ways; and what follows from several figures at once.

use std::sync::LazyLock;

use regex::Regex;
use serde_json::{Value, json};

use super::clauses::Clause;
use super::{Doubt, Proposed};
use crate::base::chemistry::{Chemistry, Facts};
use crate::base::limit::above;
use crate::base::quantity::{Unit, show, show_range};
use crate::physics::wiring;
use crate::plan::fields::{self, PartKind};
use crate::plan::{Insulation, Offer, Wire, WireSize};

/// Pack voltage this far from the series count's are another count's.
const NEAR: f64 = 0.03;
/// DC voltage of ordinary blades and plugs: what is more is usually AC. Common practice, no source.
const MOST_DC_V: f64 = 80.0;

/// Adds what follows from several figures, and the doubts.
pub fn find(sold: PartKind, text: &str, clauses: &[Clause], proposed: &mut Vec<Proposed>, doubts: &mut Vec<Doubt>) {
    let lower = text.to_lowercase();
    match sold {
        PartKind::Board => {
            let series = series(&lower, doubts);
            if let Some((series, from)) = &series {
                proposed.push(new("/protects/series", show_count(*series), from, json!(series)));
            }
            board(proposed, doubts);
            pack_volts(series.map(|(s, _)| s), facts(proposed, &lower), clauses, doubts);
        }
        PartKind::Pack => pack(&lower, clauses, proposed, doubts),
        PartKind::Charger => charger(&lower, clauses, proposed, doubts),
        PartKind::Converter => converter(clauses, proposed, doubts),
        PartKind::Fuse => fuse(clauses, proposed, doubts),
        PartKind::Wire => wire(clauses, proposed, doubts),
        _ => {}
    }
}

/// Series count and C rating, which have no unit of their own.
fn pack(lower: &str, clauses: &[Clause], proposed: &mut Vec<Proposed>, doubts: &mut Vec<Doubt>) {
    static C_RATING: LazyLock<Option<Regex>> = LazyLock::new(|| Regex::new(r"\b(\d{1,3}) ?c\b").ok());
    let found = series(lower, doubts);
    if let Some((series, from)) = &found {
        proposed.push(new("/series", show_count(*series), from, json!(series)));
    }
    // The first is the continuous one; a burst rating follows it.
    let rated = C_RATING.as_ref().and_then(|words| words.captures(lower));
    if let Some((from, c)) = rated.and_then(|c| Some((c[0].to_owned(), c[1].parse::<f64>().ok()?))) {
        proposed.push(new("/c_rating", format!("{c}"), &from, json!(c)));
    }
    pack_volts(found.map(|(s, _)| s), facts(proposed, lower), clauses, doubts);
}

fn new(at: &'static str, shown: String, from: &str, value: Value) -> Proposed {
    let label = fields::all().find(|f| f.at == at).map_or("", |f| f.label);
    Proposed { at, label, shown, from: from.to_owned(), sure: true, value }
}

fn doubt(about: &str, why: String, test: &str) -> Doubt {
    Doubt { about: about.to_owned(), why, test: test.to_owned() }
}

fn show_count(n: u32) -> String {
    n.to_string()
}

fn value(proposed: &[Proposed], at: &str) -> Option<f64> {
    proposed.iter().find(|p| p.at == at)?.value.as_f64()
}

fn facts(proposed: &[Proposed], lower: &str) -> Option<&'static Facts> {
    let named = proposed.iter().find(|p| p.at == "/protects/chemistry").map(|p| p.value.clone());
    let phosphate = lower.contains("phosphate") || lower.contains("lifepo4") || lower.contains("life po4");
    let chemistry = match named {
        Some(value) => serde_json::from_value(value).ok()?,
        None if phosphate => Chemistry::LiFePo4,
        None => Chemistry::LiIon,
    };
    Some(chemistry.facts())
}

/// Series count of a text: "4S", "4 series", "4 strings"; a doubt where it names several.
fn series(lower: &str, doubts: &mut Vec<Doubt>) -> Option<(u32, String)> {
    static COUNT: LazyLock<Option<Regex>> =
        LazyLock::new(|| Regex::new(r"\b(\d{1,2})\s?(?:s\b|cells? in series|in series|series|strings?)").ok());
    let mut found: Vec<(u32, String)> = vec![];
    for captures in COUNT.as_ref()?.captures_iter(lower) {
        let count = captures.get(1).and_then(|m| m.as_str().parse().ok()).filter(|n| (1..=24).contains(n));
        let before = captures.get(0).map_or("", |m| &lower[..m.start()]);
        let is_time = ["delay", "time", "within", "after"]
            .iter()
            .any(|w| before.rsplit(['\n', ',', ';']).next().is_some_and(|clause| clause.contains(w)));
        if let Some(count) = count.filter(|n| !is_time && found.iter().all(|(f, _)| f != n)) {
            found.push((count, captures[0].to_owned()));
        }
    }
    if found.len() > 1 {
        let named: Vec<&str> = found.iter().map(|(_, from)| from.as_str()).collect();
        doubts.push(doubt(
            "Cells in series",
            format!("It names {}.", named.join(" and ")),
            "Count the taps of the one that arrives.",
        ));
    }
    found.into_iter().next()
}

fn board(proposed: &mut [Proposed], doubts: &mut Vec<Doubt>) {
    let over = facts(proposed, "").and_then(|f| f.over_charge);
    if let (Some(over_v), Some(band)) = (value(proposed, "/protects/over_charge_v"), over)
        && (over_v < band.low_v || above(over_v, band.high_v))
    {
        doubts.push(doubt(
            "Chemistry",
            format!(
                "It ends the charge at {}; boards for what it names end it between {} and {}.",
                show(over_v, Unit::V),
                show(band.low_v, Unit::V),
                show(band.high_v, Unit::V)
            ),
            "Arrival test “Ends the charge”.",
        ));
    }
    let (continuous, trip_a) = ("/protects/continuous_a", value(proposed, "/protects/trip_a"));
    let bare = proposed.iter().find(|p| p.at == continuous && !p.sure).map(|p| (p.shown.clone(), p.from.clone()));
    if let (Some((shown, from)), None) = (&bare, trip_a)
        && doubts.iter().all(|d| d.about != "Continuous current")
    {
        doubts.push(doubt(
            "Continuous current",
            format!("“{from}” does not say whether {shown} is what it carries continuously or where it trips; sellers name the larger."),
            "Pass that current for ten minutes; then the arrival test “Trips at overcurrent”.",
        ));
    }
    if let (Some(continuous_a), Some(trip_a)) = (value(proposed, continuous), trip_a)
        && continuous_a >= trip_a
    {
        doubts.push(doubt(
            "Trip current",
            format!(
                "It is rated for {} continuously and trips at {}.",
                show(continuous_a, Unit::A),
                show(trip_a, Unit::A)
            ),
            "Arrival test “Trips at overcurrent”.",
        ));
    }
}

/// Pack voltage that belong to another series count.
fn pack_volts(series: Option<u32>, facts: Option<&Facts>, clauses: &[Clause], doubts: &mut Vec<Doubt>) {
    let (Some(series), Some(facts)) = (series, facts) else { return };
    for clause in clauses {
        let figures = clause.figures.iter().filter(|f| f.unit == Unit::V && f.upper.is_none() && f.value > 5.0);
        let meant = figures
            .filter(|f| f.named.is_empty() || ["charg", "full", "pack", "max"].iter().any(|w| f.named.contains(w)));
        for figure in meant {
            let cells = |per_cell_v: f64| figure.value / per_cell_v;
            let fits =
                |count: f64| [facts.full_v, facts.nominal_v].iter().any(|v| (cells(*v) / count - 1.0).abs() < NEAR);
            let other = (1..=24).find(|n| *n != series && (cells(facts.full_v) / f64::from(*n) - 1.0).abs() < NEAR);
            if let Some(other) = other.filter(|_| !fits(f64::from(series))) {
                doubts.push(doubt(
                    "Cells in series",
                    format!(
                        "{} in “{}” is {other} × {}, not {series}.",
                        show(figure.value, Unit::V),
                        clause.text,
                        show(facts.full_v, Unit::V)
                    ),
                    "Count the taps of the one that arrives.",
                ));
            }
        }
    }
}

fn charger(lower: &str, clauses: &[Clause], proposed: &mut Vec<Proposed>, doubts: &mut Vec<Doubt>) {
    const AT: &str = "/charges/output_v";
    let series = series(lower, doubts);
    let facts = facts(proposed, lower);
    if let (Some((series, from)), Some(facts)) = (&series, facts) {
        let full_v = f64::from(*series) * facts.full_v;
        match value(proposed, AT) {
            None => {
                let shown = show(full_v, Unit::V);
                proposed.push(Proposed { sure: false, ..new(AT, shown.clone(), from, json!(full_v)) });
                doubts.push(doubt(
                    "End voltage",
                    format!("Not stated: {shown} would be {series} × {}.", show(facts.full_v, Unit::V)),
                    "A capacitor through a resistor as dummy battery; read where it stops.",
                ));
            }
            Some(stated_v) if (stated_v / full_v - 1.0).abs() > 0.01 => doubts.push(doubt(
                "End voltage",
                format!("{} is not {series} × {}.", show(stated_v, Unit::V), show(facts.full_v, Unit::V)),
                "A capacitor through a resistor as dummy battery; read where it stops.",
            )),
            Some(_) => {}
        }
    }
    if value(proposed, "/charges/output_a").is_none() {
        let sided = |name: &str| ["input", "supply"].iter().any(|w| name.contains(w));
        let mut bare = clauses.iter().flat_map(|c| c.figures.iter().map(move |f| (f, c)));
        if let Some((figure, clause)) = bare.find(|(f, _)| f.unit == Unit::A && f.value >= 0.05 && !sided(&f.named)) {
            doubts.push(doubt(
                "Charge current",
                format!("{} in “{}”: input or output?", show(figure.value, Unit::A), clause.text),
                "A meter in each lead and a resistor as dummy battery: the charge current is the one into the resistor.",
            ));
        }
    }
}

fn converter(clauses: &[Clause], proposed: &mut [Proposed], doubts: &mut Vec<Doubt>) {
    let output = clauses
        .iter()
        .flat_map(|c| &c.figures)
        .find(|f| f.unit == Unit::V && f.upper.is_some() && f.named.contains("out"));
    if let Some((figure, high_v)) = output.and_then(|f| Some((f, f.upper?))) {
        doubts.push(doubt(
            "Output set-point",
            format!("It can be set to {}.", show_range(figure.value, high_v, Unit::V)),
            "Set it and read it on a meter before it is wired in, and again under load.",
        ));
        if let Some(set) = proposed.iter_mut().find(|p| p.at == "/converts/output_v") {
            set.sure = false;
        }
    }
    if let Some(bare) = proposed.iter().find(|p| p.at == "/converts/output_a" && !p.sure) {
        doubts.push(doubt(
            "Output current",
            format!("{} in “{}”: input or output, and for how long?", bare.shown, bare.from),
            "A meter in each lead, the load on; a finger on its hottest part after ten minutes.",
        ));
    }
    let watts = clauses.iter().flat_map(|c| &c.figures).find(|f| f.unit == Unit::W).map(|f| f.value);
    let most_v = output.and_then(|f| f.upper).or(value(proposed, "/converts/output_v"));
    if let (Some(watts), Some(volts), Some(amps)) = (watts, most_v, value(proposed, "/converts/output_a"))
        && above(watts, 1.05 * volts * amps)
    {
        doubts.push(doubt(
            "Output current",
            format!("{} is more than {} × {}.", show(watts, Unit::W), show(volts, Unit::V), show(amps, Unit::A)),
            "A meter in each lead, the load on.",
        ));
    }
}

/// Voltage of a fuse are DC only where someone says so.
fn fuse(clauses: &[Clause], proposed: &mut Vec<Proposed>, doubts: &mut Vec<Doubt>) {
    const TEST: &str = "Read its print on arrival; no DC voltage in print means none.";
    if value(proposed, "/dc_v").is_some() {
        return;
    }
    let mut figures = clauses.iter().flat_map(|c| c.figures.iter().map(move |f| (f, c)));
    let Some((figure, clause)) = figures.find(|(f, _)| f.unit == Unit::V) else { return };
    let shown = show(figure.value, Unit::V);
    let about_ac = clause.lower.contains(" ac") || clause.lower.contains("vac") || figure.value > MOST_DC_V;
    if about_ac {
        doubts.push(doubt(
            "DC voltage",
            format!("“{}”: {shown} is AC, which says nothing about DC.", clause.text),
            TEST,
        ));
    } else {
        proposed.push(Proposed { sure: false, ..new("/dc_v", shown.clone(), &clause.text, json!(figure.value)) });
        doubts.push(doubt("DC voltage", format!("“{}” does not say whether {shown} is DC.", clause.text), TEST));
    }
}

/// A gauge and a claimed current that do not go together.
fn wire(clauses: &[Clause], proposed: &[Proposed], doubts: &mut Vec<Doubt>) {
    let size = match (value(proposed, "/size/awg"), value(proposed, "/size/area_mm2")) {
        (Some(awg), _) => WireSize::Awg { awg: awg as i32 },
        (None, Some(area_mm2)) => WireSize::Metric { area_mm2 },
        (None, None) => return,
    };
    let wire = Wire { offer: Offer::default(), size, insulation: Insulation::Silicone, bundled: false };
    let rated_a = wiring::ampacity_a(&wire, 25.0);
    let mut claimed = clauses.iter().flat_map(|c| c.figures.iter().map(move |f| (f, c)));
    if let Some((_, clause)) = claimed.find(|(f, _)| f.unit == Unit::A && above(f.value, rated_a)) {
        doubts.push(doubt(
            "Current",
            format!(
                "“{}”: that thickness carries {} in the open at a rise of 30 K.",
                clause.text,
                show(rated_a, Unit::A)
            ),
            "Count and measure its strands; go by the thickness.",
        ));
    }
}
