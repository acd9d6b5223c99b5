//! The label of the pack: what it is, how it is charged, what it must not suffer.

use svg::node::element::{Group, Rectangle};

use super::Sheet;
use super::page::{LEFT_MM, TOP_MM, words};
use crate::assess::Assessment;
use crate::plan::Plan;
use crate::quantity::{Unit, show};

/// Size of the label.
const WIDTH_MM: f64 = 95.0;
const HEIGHT_MM: f64 = 66.0;
/// Width of a letter as a share of its height, at most on average; and the border inside the label.
const LETTER_SHARE: f64 = 0.6;
const BORDER_MM: f64 = 4.0;

/// The label, once cell and counts are chosen. Cautions: common practice, no source.
pub fn page(plan: &Plan, assessment: &Assessment, day: &str) -> Option<Sheet> {
    let pack = plan.main_pack()?;
    pack.cell.part()?;
    let (count, _) = pack.series.zip(pack.parallel)?;
    let value = |id: &str| assessment.figure(id).map(|f| (f.value, f.unit));
    let shown = |id: &str| value(id).map(|(v, unit)| show(v, unit));
    let nominal = shown("pack.nominal_v")?;
    let plate = &assessment.nameplate;
    let name = plate.designation.clone().unwrap_or_else(|| plate.counts.clone());
    let figures: Vec<String> = [Some(nominal), shown("pack.ah"), shown("pack.wh")].into_iter().flatten().collect();
    let mut lines = vec![
        (5.5, 600, format!("{name} · {}", plate.counts)),
        (4.6, 600, figures.join(" · ")),
        (2.7, 400, format!("{}, {}", plate.chemistry.unwrap_or("rechargeable"), plan.name)),
        (2.7, 400, format!("Put together {day}. Home-made: not transport-tested.")),
    ];
    if let Some(full) = shown("pack.full_v") {
        lines.push((2.7, 600, format!("Charge only with a CC/CV charger for {count} in series, {full}.")));
    }
    let charge = &plan.environment;
    let coldest_c = charge.charge_min_c.max(0.0);
    lines.push((
        2.7,
        400,
        format!(
            "Charge at {} to {}, never below freezing, never unattended.",
            show(coldest_c, Unit::C),
            show(charge.charge_max_c.min(45.0), Unit::C)
        ),
    ));
    let care = "Do not short, open, crush, pierce, wet or heat. Swollen or hot: stop, outdoors, away from what burns. \
        Recycle as a lithium battery.";
    lines.push((2.7, 400, care.to_owned()));
    let border = Rectangle::new()
        .set("id", "label")
        .set("x", LEFT_MM)
        .set("y", TOP_MM)
        .set("width", WIDTH_MM)
        .set("height", HEIGHT_MM)
        .set("rx", 2)
        .set("fill", "none")
        .set("stroke", "#1e2422")
        .set("stroke-width", 0.4);
    let mut drawing = Group::new().add(border);
    let mut y_mm = TOP_MM + 1.5;
    for (size_mm, weight, text) in lines {
        for line in wrapped(&text, ((WIDTH_MM - 2.0 * BORDER_MM) / (size_mm * LETTER_SHARE)) as usize) {
            y_mm += size_mm * 1.4;
            let line = words(line, LEFT_MM + BORDER_MM, y_mm).set("class", "line");
            drawing = drawing.add(line.set("font-size", size_mm).set("font-weight", weight));
        }
        y_mm += 0.6;
    }
    Some(super::page::page(
        "label".to_owned(),
        format!("{}: label of the pack", plan.name),
        "Cut along the line; under clear tape it lasts.",
        drawing,
    ))
}

/// Text in lines of at most so many letters, broken between words; a longer word is cut.
fn wrapped(text: &str, letters: usize) -> Vec<String> {
    let mut lines: Vec<String> = vec![];
    let pieces = text.split_whitespace().flat_map(|word| {
        let letters_of: Vec<char> = word.chars().collect();
        letters_of.chunks(letters).map(|piece| piece.iter().collect::<String>()).collect::<Vec<_>>()
    });
    for word in pieces {
        match lines.last_mut() {
            Some(line) if line.chars().count() + 1 + word.chars().count() <= letters => {
                line.push(' ');
                line.push_str(&word);
            }
            _ => lines.push(word),
        }
    }
    lines
}
