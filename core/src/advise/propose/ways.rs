//! The ways to feed the device that are worth completing, and those that a stop refuses.

use crate::advise::suggest::{VoltageOption, options};
use crate::assess::{Severity, assess_at_face_value};
use crate::base::chemistry::Chemistry;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::physics::voltage::FeedPath;
use crate::plan::{Change, Choice, FieldError, Job, Offer, Plan, ReadyKind, ReadyPack, apply};

use super::Wishes;
use super::refuse::Refused;

/// Ways completed for one chemistry on one path, and in all.
const MOST_ALIKE: usize = 2;
const MOST_WAYS: usize = 14;
/// Share of the charge below which a way is none.
const LEAST_USABLE: f64 = 0.3;

/// One way.
#[derive(Debug, Clone)]
pub struct Way {
    /// In words: "4S Li-ion, direct".
    pub name: String,
    /// Chemistry of the pack.
    pub chemistry: Chemistry,
    /// Groups in series.
    pub series: u32,
    /// The path; absent where the pack stays.
    pub path: Option<FeedPath>,
    /// The changes that choose it.
    pub changes: Vec<Change>,
}

/// The ways of a survey.
#[derive(Debug, Default)]
pub struct Ways {
    /// What must be known first.
    pub missing: Option<String>,
    /// Worth completing, best first.
    pub open: Vec<Way>,
    /// Refused by a stop.
    pub refused: Vec<Refused>,
}

/// Sorts the voltage options of a survey into those worth completing and those refused.
pub fn ways(survey: &Plan, wishes: &Wishes) -> Result<Ways, Vec<FieldError>> {
    if survey.device.job == Some(Job::ChargingAdded) {
        return Ok(kept(survey));
    }
    let weighed = options(survey)?;
    let mut found = Ways { missing: weighed.missing, ..Ways::default() };
    // What is chosen stays; a pack with electronics of its own gets cells as it had.
    let original = &survey.device.original;
    let recelled = survey.device.job == Some(Job::Recelling);
    let pack = survey.packs.first();
    let kept_chemistry = pack.and_then(|p| p.chemistry).or(original.chemistry.filter(|_| recelled));
    let kept_series = pack.and_then(|p| p.series).or(original.series.filter(|_| recelled));
    let ready_only = survey.device.job == Some(Job::ReadyPack);
    // With the cells chosen the path is chosen, too.
    let has_cells = pack.is_some_and(|p| p.cell.part().is_some() || p.ready.part().is_some());
    let only_chosen = has_cells && weighed.options.iter().any(|o| o.chosen);
    let outside = |o: &VoltageOption| matches!(o.path, FeedPath::OutsidePack | FeedPath::ToolPack);
    let mut alike: Vec<((Chemistry, FeedPath), usize)> = vec![];
    let useless = |o: &VoltageOption| o.usable_share.is_some_and(|share| share < LEAST_USABLE);
    // Two packs and a switch between them are for a device with two settings.
    let two_settings = survey.device.electronics.selector == Some(true);
    let any_useful = weighed.options.iter().any(|o| o.worst != Some(Severity::Stop) && !useless(o));
    for option in weighed.options {
        let make = (option.chemistry, option.path);
        let at = alike.iter().position(|(of, _)| *of == make).unwrap_or_else(|| {
            alike.push((make, 0));
            alike.len() - 1
        });
        let count = &mut alike[at].1;
        let fits_wishes = (!wishes.reversible || option.reversible)
            && (option.path != FeedPath::Switched || two_settings)
            && (option.series == 1 || survey.feed.holder.is_none());
        let stays = kept_chemistry.is_none_or(|c| c == option.chemistry)
            && kept_series.is_none_or(|s| s == option.series)
            && (!only_chosen || option.chosen)
            && (!recelled || option.path == FeedPath::Direct)
            && (!ready_only || outside(&option));
        if !fits_wishes || !stays {
            continue;
        }
        if option.worst == Some(Severity::Stop) || any_useful && useless(&option) {
            if *count == 0 {
                found.refused.push(refused(survey, &option));
            }
            continue;
        }
        *count += 1;
        if *count > MOST_ALIKE || found.open.len() >= MOST_WAYS {
            continue;
        }
        found.open.push(Way {
            name: option.name,
            chemistry: option.chemistry,
            series: option.series,
            path: Some(option.path),
            changes: option.changes,
        });
    }
    let open: Vec<(Chemistry, Option<FeedPath>)> = found.open.iter().map(|w| (w.chemistry, w.path)).collect();
    // A way that goes with another count is not refused.
    found.refused.retain(|r| !open.contains(&(r.chemistry, Some(r.path))));
    found.refused.dedup_by_key(|r| (r.chemistry, r.path));
    Ok(found)
}

/// The deciding reason, with its figures, where the whole plan says it.
fn refused(survey: &Plan, option: &VoltageOption) -> Refused {
    let title = option.reasons.first().cloned().unwrap_or_default();
    let judged = apply(survey, &option.changes).ok().and_then(|plan| assess_at_face_value(&plan).ok());
    let findings = judged.map(|a| a.findings).unwrap_or_default();
    let stop = findings.iter().find(|f| f.severity == Severity::Stop && f.follows.is_none());
    let decides = stop.or_else(|| findings.iter().find(|f| f.title == title));
    let (title, why) = match (decides, option.usable_share) {
        (Some(f), _) => (f.title.clone(), Some(f.why.clone())),
        (None, Some(share)) => (title, Some(little(share))),
        (None, None) => (title, None),
    };
    Refused { name: option.name.clone(), chemistry: option.chemistry, path: option.path, title, why, look_for: None }
}

/// So little of the charge can be used, where so much is the least of any use.
fn little(share: f64) -> Phrase {
    Phrase::words("The device or its converter can use ")
        .value(share, Unit::Share)
        .text(" of the charge before the voltage is too low; under ")
        .value(LEAST_USABLE, Unit::Share)
        .text(" are not worth building for.")
}

/// The pack that stays, as it was surveyed.
fn kept(survey: &Plan) -> Ways {
    let original = &survey.device.original;
    let chosen = survey.packs.first().and_then(|p| p.ready.part());
    let (chemistry, series) = match (chosen, original.chemistry.zip(original.series)) {
        (Some(ready), _) => (ready.chemistry, ready.series),
        (None, Some(known)) => known,
        (None, None) => {
            let missing = "Enter the chemistry and the cells in series of the pack that stays, first.".to_owned();
            return Ways { missing: Some(missing), ..Ways::default() };
        }
    };
    let stays = ReadyPack {
        offer: Offer { name: "the pack that stays".to_owned(), ..Offer::default() },
        kind: ReadyKind::Kept,
        chemistry,
        series,
        capacity_ah: original.capacity_ah.as_ref().map_or(2.0, |k| k.value),
        counted_ah: None,
        c_rating: None,
        continuous_a: None,
        charge_a: None,
        resistance_ohm: None,
        length_mm: None,
        width_mm: None,
        height_mm: None,
        taps: None,
        guarded: None,
        guard_v: None,
        plug_a: None,
        plug_bare: None,
        own_charger: None,
        shows_charge: None,
        fused: None,
    };
    let mut changes = vec![Change::put("/packs/0/chemistry", chemistry), Change::put("/packs/0/series", series)];
    if chosen.is_none() {
        changes.push(Change::put("/packs/0/ready", Choice::chosen(&stays)));
    }
    let name = format!("{series}S {}, the pack stays", chemistry.facts().short);
    Ways { open: vec![Way { name, chemistry, series, path: None, changes }], ..Ways::default() }
}
