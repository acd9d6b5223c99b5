//! The label of the pack: what it is, how it is charged, what it must not suffer.

use super::Sheet;
use super::framed::framed;
use crate::assess::Assessment;
use crate::base::quantity::{Unit, show, show_range};
use crate::plan::Plan;

/// Size of the label.
const WIDTH_MM: f64 = 95.0;
const HEIGHT_MM: f64 = 66.0;

/// The label, once cell and counts are chosen. Cautions: common practice, no source.
pub fn page(plan: &Plan, assessment: &Assessment, day: &str) -> Option<Sheet> {
    let pack = plan.main_pack()?;
    // What comes as a whole has a label of its own.
    pack.cell.part().filter(|_| pack.ready.part().is_none())?;
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
            "Charge at {}, never below freezing, never unattended.",
            show_range(coldest_c, charge.charge_max_c.min(45.0), Unit::C)
        ),
    ));
    let care = "Do not short, open, crush, pierce, wet or heat. Swollen or hot: stop, outdoors, away from what burns. \
        Recycle as a lithium battery.";
    lines.push((2.7, 400, care.to_owned()));
    let drawing = framed("label", WIDTH_MM, HEIGHT_MM, lines);
    Some(super::page::page(
        "label".to_owned(),
        format!("{}: label of the pack", plan.name),
        "Cut along the line; under clear tape it lasts.",
        drawing,
    ))
}
