//! The pack's voltage against the device's window, and who ends the discharge.

use super::protection::runs_in_words;
use crate::assess::figures::cells::PACK_COLD_OHM;
use crate::assess::figures::device::{CUTOUT_V, HIGHEST_V, LOWEST_V};
use crate::assess::figures::run::{LOADED_FULL_V, USABLE};
use crate::assess::figures::voltage::{
    CELL_CUTOFF_V, CELL_FLOOR_V, CUTOFF_V, FAN_POWER, LINE_FULL_V, OUTPUT_MOST_V, SPEED, TOUCH_LIMIT_V,
};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::assess::workspace::Guard;
use crate::base::limit::{self, above, below};
use crate::plan::{ChargesAs, DeviceKind, NodeKind};

/// A guard this far below the cell's floor no longer guards. Common practice, no source.
const FLOOR_TOLERANCE: f64 = 0.04;
/// Charge left unused below the device's cut-out that is worth a caution.
const UNUSED_SHARE: f64 = 0.15;
/// Less usable charge than this is none.
const NOTHING_USABLE: f64 = 0.05;
/// Most that a charger's stated tolerance may excuse. Common practice, no source.
const MOST_TOLERANCE: f64 = 0.01;
/// Gain in motor speed that is worth a caution, and that which asks for a measured current. Common practice.
const FASTER: f64 = 0.10;
const MUCH_FASTER: f64 = 0.20;

pub fn check(f: &mut Findings<'_, '_>) {
    touch(f);
    output_touch(f);
    if f.workspace.converter().is_none() {
        window(f);
    }
    unused(f);
    motor(f);
    guards(f);
    if f.workspace.plan.packs.len() > 1 {
        f.tell(
            Severity::Caution,
            rule::voltage::OTHER_PACKS,
            "Only the first pack is judged",
            "This plan has several packs; figures and findings speak of the first one.",
        );
    }
}

fn touch(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    if let (Some(full_v), Some(limit_v)) = (l.value(&LINE_FULL_V), l.value(&TOUCH_LIMIT_V))
        && above(full_v, limit_v)
    {
        f.tell(
            Severity::Stop,
            rule::voltage::OVER_TOUCH_LIMIT,
            "More than 60 V DC: dangerous to touch",
            "Full, the pack has {line.full_v}, above {limit.touch_v}. This is work for licensed practice under local rules.",
        );
    }
}

/// What a step-up converter makes of a harmless pack.
fn output_touch(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    if let (Some(most_v), Some(limit_v)) = (l.value(&OUTPUT_MOST_V), l.value(&TOUCH_LIMIT_V))
        && above(most_v, limit_v)
    {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::voltage::OVER_TOUCH_LIMIT,
                subject: "behind",
                title: "Converter output above 60 V DC",
                why: "It gives up to {output.most_v}, above {limit.touch_v} and dangerous to touch, whatever the pack voltage. This is work for licensed practice under local rules.",
                words: &[],
            },
        );
    }
}

fn window(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let (Some(full_v), Some(highest)) = (l.value(&LINE_FULL_V), l.get(HIGHEST_V.id)) else {
        return;
    };
    let charges = f.workspace.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref());
    let tolerance =
        charges.filter(|c| c.kind == ChargesAs::CcCv).and_then(|c| c.tolerance).map_or(0.0, |t| t.min(MOST_TOLERANCE));
    let allowed_v = highest.high.unwrap_or(highest.value).max(highest.value * (1.0 + tolerance));
    let surely_v = highest.low.unwrap_or(highest.value);
    // Cells times volts is exact, but what the device was seen to bear, and what a charger ends at, are read to some percent.
    let typed = l.is_typed(HIGHEST_V.id);
    let allowed_v = if typed { allowed_v } else { allowed_v.max(highest.value * (1.0 + limit::COMPUTED)) };
    if above(full_v, allowed_v) {
        f.tell(
            Severity::Stop,
            rule::voltage::FULL_ABOVE_DEVICE,
            "Full pack exceeds the device's limit",
            "Full, the pack gives {line.full_v}; the device is limited to {device.highest_v}. Use fewer cells in series, another chemistry, or a converter.",
        );
    } else if above(full_v, surely_v) {
        f.tell(
            Severity::Caution,
            rule::voltage::FULL_IN_TOLERANCE,
            "Full pack at the device's limit",
            "Full, the pack gives {line.full_v} against {device.highest_v}: over it only by the uncertainty of that figure. Practice differs: accept it with your reason, or use fewer cells.",
        );
    }
    if let (Some(loaded_v), Some(lowest_v)) = (l.value(&LOADED_FULL_V).or(l.value(&LINE_FULL_V)), l.value(&LOWEST_V))
        && below(loaded_v, lowest_v)
    {
        let why = if l.value(&LOADED_FULL_V).is_some() {
            "The device needs {device.lowest_v}; a full pack gives {line.full_v} at rest and {run.loaded_full_v} under the usual load."
        } else {
            "The device needs {device.lowest_v}; a full pack gives only {line.full_v} at rest, and less under load."
        };
        f.tell(Severity::Stop, rule::voltage::LOADED_BELOW_DEVICE, "Even full, the pack voltage is too low", why);
    }
}

fn unused(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let (Some(usable), Some(_)) = (l.value(&USABLE), l.value(&PACK_COLD_OHM)) else {
        return;
    };
    if below(usable, NOTHING_USABLE) {
        f.tell(
            Severity::Stop,
            rule::voltage::NOTHING_USABLE,
            "Pack empty at once under this load",
            "It sags {pack.sag_usual_v} at the usual current, and the run ends at {pack.cutoff_v}. Only {run.usable_share} of the charge is used.",
        );
        return;
    }
    let needs_v = l.value(&CUTOUT_V).into_iter().chain(l.value(&LOWEST_V)).reduce(f64::max);
    let device_ends = f.workspace.converter().is_none()
        && matches!((needs_v, l.value(&CUTOFF_V)), (Some(needs_v), Some(ends_v)) if !below(needs_v, ends_v));
    // Said where it is so for warm cells too, at the upper end of the band: how much diffusion keeps back is the least known.
    let at_most = l.get(USABLE.id).map_or(usable, |f| f.ends().1);
    if device_ends && below(at_most, 1.0 - UNUSED_SHARE) {
        f.tell(
            Severity::Caution,
            rule::voltage::CHARGE_UNUSED,
            "Part of the charge cannot be used",
            "Under load the run ends at {pack.cutoff_v}, when {run.usable_share} of the charge is used. The rest stays in the pack.",
        );
    }
}

fn motor(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let Some(speed) = l.value(&SPEED) else { return };
    let fan = f.workspace.plan.device.kind == DeviceKind::FanOrPump && l.value(&FAN_POWER).is_some();
    let why = match (fan, above(speed, MUCH_FASTER)) {
        (true, _) => {
            "Speed changes by {device.speed_change}; a fan or pump then draws {device.current_change} more current and \
             {device.power_change} more power. Measure the current and feel the motor."
        }
        (false, true) => {
            "Speed and stall current change by {device.speed_change}. Above 20 %, measure the current and the motor's temperature before you use it."
        }
        (false, false) => "Speed and stall current change by {device.speed_change} against the original battery.",
    };
    if above(speed, FASTER) {
        let rule = rule::voltage::FASTER_MOTOR;
        let title = "Motor runs faster than before";
        f.add(Severity::Caution, Says { rule, subject: "", title, why, words: &[] });
    } else if below(speed, -FASTER) {
        f.tell(
            Severity::Note,
            rule::voltage::SLOWER_MOTOR,
            "Motor runs slower than before",
            "Speed changes by {device.speed_change} against the original battery.",
        );
    }
}

fn no_guard(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let passed = workspace.line.nodes.iter().find_map(|n| {
        n.module().filter(|m| m.protects.is_some() || m.cuts_off.is_some())?;
        Some((n.part.part()?.offer().name.clone(), runs_in_words(workspace.plan, &workspace.past(&n.id)?)))
    });
    let words: Vec<&str> = passed.iter().flat_map(|(name, runs)| [name.as_str(), runs.as_str()]).collect();
    // The device has lived with its own pack: whether that guards itself is to be found out, and changes nothing that is done here.
    let kept = workspace.is_kept() && workspace.ready().is_some_and(|r| r.guarded.is_none());
    let why = if kept {
        "The pack stays as it is, and it is not known whether it protects itself. Nothing else stops before its cells reach {cell.floor_v}. Look at its label, or read its voltage after the device has switched off empty."
    } else if !words.is_empty() {
        "“{$0}” would, but a path leads past it: {$1}. Nothing stops before the cells reach {cell.floor_v} and are permanently damaged."
    } else if workspace.any_board().is_some() {
        "The board protects the charge only: the device is fed past it. Nothing stops before the cells reach {cell.floor_v} and are permanently damaged."
    } else {
        "No board, cut-off, device or alarm stops before the cells reach {cell.floor_v} and are permanently damaged."
    };
    f.add(
        if kept { Severity::Caution } else { Severity::Stop },
        Says { rule: rule::voltage::NO_GUARD, subject: "", title: "Nothing ends the discharge", why, words: &words },
    );
}

fn guards(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let Some(series) = workspace.line_series() else {
        return;
    };
    let (Some(floor_v), Some(cutoff_v)) =
        (workspace.ledger.value(&CELL_FLOOR_V), workspace.ledger.value(&CELL_CUTOFF_V))
    else {
        return;
    };
    let acting: Vec<&Guard> = workspace.guards.iter().filter(|g| !g.only_warns).collect();
    if acting.is_empty() {
        let undecided = workspace.is_open(NodeKind::Board) || workspace.is_open(NodeKind::CutOff);
        if workspace.guards.iter().any(|g| g.only_warns) {
            f.tell(
                Severity::Caution,
                rule::voltage::ALARM_ONLY,
                "Only an alarm ends the discharge",
                "Cells are damaged below {cell.floor_v}. An alarm that is not heard protects nothing.",
            );
        } else if !undecided && workspace.reaches_device() {
            no_guard(f);
        }
        return;
    }
    // A guard whose threshold nobody stated may be good: the stage asks for it.
    let Some(best) = acting.iter().filter_map(|g| Some((g.pack_v?, g))).max_by(|a, b| a.0.total_cmp(&b.0)) else {
        return;
    };
    if acting.iter().any(|g| g.pack_v.is_none()) {
        return;
    }
    let (pack_v, guard) = best;
    let words: &[&str] = &[&guard.who];
    if below(pack_v, series * floor_v * (1.0 - FLOOR_TOLERANCE)) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::voltage::GUARD_BELOW_FLOOR,
                subject: "",
                title: "Discharge stops too low",
                why: "“{$0}” ends the discharge at {guard.pack_v}; the cells are damaged below {line.floor_v}.",
                words,
            },
        );
    } else if below(pack_v, series * cutoff_v) {
        f.add(Severity::Caution, Says {
            rule: rule::voltage::LAST_RESORT_GUARD,
            subject: "",
            title: "Discharge stops lower than necessary",
            why: "“{$0}” is the first to open, at {guard.pack_v}; a sensible end is {line.empty_v}. Cells last longer if the discharge ends earlier.",
            words,
        });
    }
}
