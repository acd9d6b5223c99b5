//! The label of the pack: what it is, how it is charged, what it must not suffer.

use svg::node::element::{Group, Rectangle};

use super::Sheet;
use super::page::{LEFT_MM, TOP_MM, words};
use crate::assess::Assessment;
use crate::plan::Plan;
use crate::quantity::{Unit, show};

/// Size of the label.
const WIDTH_MM: f64 = 90.0;
const HEIGHT_MM: f64 = 50.0;

/// The label, once cell and counts are chosen. Cautions: common practice, no source.
pub fn page(plan: &Plan, assessment: &Assessment, day: &str) -> Option<Sheet> {
    plan.main_pack()?.cell.part()?;
    let value = |id: &str| assessment.figure(id).map(|f| (f.value, f.unit));
    let shown = |id: &str| value(id).map(|(v, unit)| show(v, unit));
    let nominal = shown("pack.nominal_v")?;
    let plate = &assessment.nameplate;
    let name = plate.designation.clone().unwrap_or_else(|| plate.counts.clone());
    let figures: Vec<String> = [Some(nominal), shown("pack.ah"), shown("pack.wh")].into_iter().flatten().collect();
    let mut lines = vec![
        (5.5, 600, format!("{name}   {}", plate.counts)),
        (4.6, 600, figures.join("   ")),
        (3.2, 400, format!("{}, {}", plate.chemistry.unwrap_or("rechargeable"), plan.name)),
        (3.2, 400, format!("Put together {day}. Home-made: not transport-tested.")),
    ];
    if let Some(full) = shown("pack.full_v") {
        let count = plan.main_pack().and_then(|p| p.series).unwrap_or(1);
        lines.push((3.2, 600, format!("Charge only with a CC/CV charger for {count} in series, {full}.")));
    }
    let charge = &plan.environment;
    let coldest_c = charge.charge_min_c.max(0.0);
    lines.push((
        3.2,
        400,
        format!(
            "Charge at {} to {}, never below freezing, never unattended.",
            show(coldest_c, Unit::C),
            show(charge.charge_max_c.min(45.0), Unit::C)
        ),
    ));
    lines.push((3.2, 400, "Do not short, open, crush, pierce, wet or heat. Swollen or hot:".to_owned()));
    lines.push((3.2, 400, "stop, outdoors, away from what burns. Recycle as a lithium battery.".to_owned()));
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
        y_mm += size_mm * 1.45;
        drawing = drawing.add(words(text, LEFT_MM + 4.0, y_mm).set("font-size", size_mm).set("font-weight", weight));
    }
    Some(super::page::page(
        "label".to_owned(),
        format!("{}: label of the pack", plan.name),
        "Cut along the line; under clear tape it lasts.",
        drawing,
    ))
}
