//! `dense-brick life`: how much capacity cells keep, by published models.

use std::path::PathBuf;

use anyhow::{Context, bail};
use brick_core::base::chemistry::Chemistry;
use brick_core::base::table::written;
use brick_core::physics::ageing::{AgeingModel, Cycling, Family, UsePattern, family, shares};
use serde::Deserialize;

use super::read_input;

/// Distance of the days that are printed.
const EVERY_DAYS: f64 = 91.25;
/// As far as any model was measured.
const YEARS: f64 = 3.0;
const MOST_YEARS: f64 = 30.0;
const MOST_CASES: usize = 10_000;

/// What to calculate.
#[derive(Debug, clap::Args)]
pub struct Life {
    /// A JSON file of {"sets": [...], "cases": [...]}, or - for standard input. A case has id, rest_soc and temp_c; one in use also
    /// every (day or week), top_soc, dod, discharge_c and charge_c; years, where they are not 3.
    cases: PathBuf,
    /// Only this set: nmc111_schmalstieg2014, lfp_naumann2018, nca_keil2016_preger2020, nca_wildfeuer2022,
    /// nmc811_everlasting2020 or nmc_lto_bank2020. Of another set of a known chemistry (lco_..., lmo_...) the next of kin is taken, with a wider band.
    #[arg(long)]
    set: Option<String>,
}

#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    sets: Vec<String>,
    cases: Vec<Case>,
}

#[derive(Debug, Clone, Copy, Default, Deserialize)]
#[serde(rename_all = "snake_case")]
enum Every {
    #[default]
    Day,
    Week,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Case {
    id: String,
    rest_soc: f64,
    temp_c: f64,
    #[serde(default)]
    every: Every,
    top_soc: Option<f64>,
    dod: Option<f64>,
    discharge_c: Option<f64>,
    charge_c: Option<f64>,
    years: Option<f64>,
}

impl Case {
    fn used(&self) -> anyhow::Result<UsePattern> {
        let cycling = match (self.top_soc, self.dod, self.discharge_c, self.charge_c) {
            (None, None, None, None) => None,
            (top_soc, Some(dod), Some(discharge_c), Some(charge_c)) => Some(Cycling {
                every_days: match self.every {
                    Every::Day => 1.0,
                    Every::Week => 7.0,
                },
                top_soc: top_soc.unwrap_or(1.0),
                dod,
                discharge_c,
                charge_c,
            }),
            _ => bail!("{}: a case in use has dod, discharge_c and charge_c", self.id),
        };
        let used = UsePattern { rest_soc: self.rest_soc, temp_c: self.temp_c, cycling };
        let errors = used.check();
        if !errors.is_empty() {
            bail!("{}: {}", self.id, errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; "));
        }
        if !self.years.is_none_or(|y| (0.0..=MOST_YEARS).contains(&y)) {
            bail!("{}: years: 0 to {MOST_YEARS}", self.id);
        }
        Ok(used)
    }
}

/// A set: its own model or the next of kin's, and the family whose scatter its band is.
struct Set {
    name: String,
    model: AgeingModel,
    family: Family,
}

fn set(name: &str) -> anyhow::Result<Set> {
    let own = AgeingModel::ALL.into_iter().find(|m| m.key() == name);
    let kin = name.split('_').next().unwrap_or_default();
    let (chemistry, next) = match own.map_or(kin, |m| m.key()) {
        k if k.starts_with("lfp") => (Chemistry::LiFePo4, AgeingModel::Lfp),
        k if k.starts_with("lto") || name.contains("lto") => (Chemistry::LiTitanate, AgeingModel::Titanate),
        k if k.starts_with("nmc811") => (Chemistry::LiIon, AgeingModel::Nmc811),
        k if k.starts_with("nmc") || k.starts_with("lmo") => (Chemistry::LiIon, AgeingModel::Nmc111),
        k if k.starts_with("nca") => (Chemistry::LiIon, AgeingModel::Nca),
        k if k.starts_with("lco") => (Chemistry::LiPo, AgeingModel::Nmc111),
        _ => {
            let known = AgeingModel::ALL.map(AgeingModel::key).join(", ");
            bail!("set: “{name}” is none of {known}, nor of a chemistry with a related model");
        }
    };
    let family = family(chemistry).with_context(|| format!("set: no model for “{name}”"))?;
    let model = own.unwrap_or(next);
    if own.is_none() {
        eprintln!("{name}: no model of its own; the model of {} is used, with the band of its relatives", model.key());
    }
    Ok(Set { name: name.to_owned(), model, family })
}

/// Prints the courses as CSV: set, case, day, share of the first capacity, and what 90 % of cells of the kin are between.
pub fn run(wanted: &Life) -> anyhow::Result<()> {
    let text = read_input(&wanted.cases)?;
    let asked: Asked = serde_json::from_str(&text).with_context(|| wanted.cases.display().to_string())?;
    if asked.cases.len() > MOST_CASES {
        bail!("{}: at most {MOST_CASES} cases", wanted.cases.display());
    }
    let names = match &wanted.set {
        Some(name) => vec![name.clone()],
        None if asked.sets.is_empty() => AgeingModel::ALL.iter().map(|m| m.key().to_owned()).collect(),
        None => asked.sets,
    };
    let sets = names.iter().map(|name| set(name)).collect::<anyhow::Result<Vec<_>>>()?;
    let used = asked.cases.iter().map(Case::used).collect::<anyhow::Result<Vec<_>>>()?;
    let mut rows = vec![["set", "case", "day", "capacity_share", "low", "high"].map(str::to_owned).to_vec()];
    for set in &sets {
        for (case, used) in asked.cases.iter().zip(&used) {
            rows.extend(course(set, case, used));
        }
    }
    print!("{}", written(rows).context("the table cannot be written")?);
    Ok(())
}

fn course(set: &Set, case: &Case, used: &UsePattern) -> Vec<Vec<String>> {
    let count = (case.years.unwrap_or(YEARS) * 365.0 / EVERY_DAYS + 1e-9).floor() as u32;
    let days: Vec<f64> = (0..=count).map(|i| f64::from(i) * EVERY_DAYS).collect();
    let phases = [(0.0, *used)];
    let own = shares(set.model, &phases, &days);
    let kin: Vec<Vec<f64>> = set.family.members.iter().map(|m| shares(m.model, &phases, &days)).collect();
    let row = |(i, (day, share)): (usize, (&f64, &f64))| {
        let said: Vec<f64> = kin.iter().map(|k| k[i]).collect();
        let (low, high) = set.family.band(&said);
        let figures = [*share, low.min(*share), high.max(*share)].map(|v| format!("{v:.5}"));
        [set.name.clone(), case.id.clone(), format!("{day:.2}")].into_iter().chain(figures).collect()
    };
    days.iter().zip(&own).enumerate().map(row).collect()
}
