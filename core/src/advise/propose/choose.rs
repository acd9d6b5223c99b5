//! The best by each wish, clearly different, none that another beats in everything; and what is said of each.

use rayon::prelude::*;

use crate::assess::{Assessment, Finding, Severity, Stage, assess};
use crate::base::phrase::Phrase;
use crate::base::quantity::{Unit, show};
use crate::parts::catalogue::Catalogue;
use crate::plan::{Change, Plan};

use super::complete::{Prefer, Tried, complete, polish};
use super::merits::{merits, simulated};
use super::starts::{Start, made_of};
use super::{Merits, Proposal, Wish, Wishes};

/// Share of the wanted run that counts as that run.
const ENOUGH: f64 = 0.9;
/// And so little is no run.
const LEAST_OF_THE_RUN: f64 = 0.2;
/// By a wish two are about as good within that share.
const NEARLY: f64 = 0.02;
/// So many of the best by a wish are put together again.
const AGAIN: usize = 3;
/// Two of the same make are different where one runs so much longer.
const DIFFERENT: f64 = 1.4;

/// A whole plan with what it comes to.
struct Whole {
    tried: Tried,
    merits: Merits,
    cautions: usize,
}

/// Chooses at most six.
pub fn choose(
    survey: &Plan,
    wanted_s: f64,
    tried: Vec<Tried>,
    catalogue: &Catalogue,
    wishes: &Wishes,
) -> Vec<Proposal> {
    let weigh = |tried: Tried| weighed(tried, wanted_s, catalogue);
    let mut whole: Vec<Whole> = tried.into_par_iter().filter_map(weigh).collect();
    let again = worth_again(&whole, wanted_s);
    let improved = again.into_par_iter().map(|(start, prefer)| complete(start, catalogue, wishes, prefer));
    whole.extend(improved.filter(|t| t.failed.is_none()).filter_map(weigh).collect::<Vec<_>>());
    let kept: Vec<&Whole> = whole.iter().filter(|w| !whole.iter().any(|o| beats(o, w))).collect();
    let told: Vec<Proposal> = pick(&kept, wanted_s)
        .into_par_iter()
        .filter_map(|(i, wishes)| proposal(survey, kept[i], wishes, catalogue))
        .collect();
    let mut found = each_once(told);
    arrange(&mut found, wishes);
    say(&mut found, survey.device.wanted_run_s);
    found
}

/// Two that became the same when their parts were exchanged, once, for the wishes of both.
fn each_once(told: Vec<Proposal>) -> Vec<Proposal> {
    let near = |a: Option<f64>, b: Option<f64>| match (a, b) {
        (Some(a), Some(b)) => (a - b).abs() <= NEARLY * a.abs().max(b.abs()),
        (a, b) => a.is_none() && b.is_none(),
    };
    let same = |a: &Proposal, b: &Proposal| {
        let (x, y) = (&a.merits, &b.merits);
        let scales = [(x.run_s, y.run_s), (x.mass_g, y.mass_g), (x.price, y.price), (x.arrives_days, y.arrives_days)];
        (&a.name, &a.made_of, x.to_buy) == (&b.name, &b.made_of, y.to_buy) && scales.iter().all(|(x, y)| near(*x, *y))
    };
    let mut found: Vec<Proposal> = vec![];
    for one in told {
        match found.iter_mut().find(|earlier| same(earlier, &one)) {
            Some(earlier) => {
                earlier.wishes.extend(one.wishes);
                earlier.wishes.sort_unstable();
            }
            None => found.push(one),
        }
    }
    found
}

/// What a completed plan comes to, its run simulated. `None` where a reading moved to its ends brings a stop, or the device hardly runs.
fn weighed(tried: Tried, wanted_s: f64, catalogue: &Catalogue) -> Option<Whole> {
    let assessment = assess(&tried.plan).ok()?;
    let merits = simulated(&tried.plan, merits(&tried.plan, &assessment, catalogue)?);
    let runs = merits.run_s.is_none_or(|s| s > LEAST_OF_THE_RUN * wanted_s);
    let cautions = open(&assessment, Severity::Caution).count();
    (runs && open(&assessment, Severity::Stop).next().is_none()).then_some(Whole { tried, merits, cautions })
}

/// The findings of a severity that nobody has accepted.
fn open(assessment: &Assessment, severity: Severity) -> impl Iterator<Item = &Finding> {
    assessment.findings.iter().filter(move |f| f.severity == severity && f.accepted.is_none())
}

/// Starts of the best in something, to be completed again with the parts that are better still in it.
fn worth_again(whole: &[Whole], wanted_s: f64) -> Vec<(Start, Prefer)> {
    let preferred =
        [(Wish::Cheapest, Prefer::Cheapest), (Wish::Soonest, Prefer::Soonest), (Wish::Lightest, Prefer::Lightest)];
    let mut found = vec![];
    for (wish, prefer) in preferred {
        let mut order: Vec<&Whole> = whole.iter().filter(|w| has(wish, &w.merits)).collect();
        order.sort_by(|a, b| better(wish, a, b, wanted_s));
        found.extend(order.into_iter().take(AGAIN).map(|w| (w.tried.start.clone(), prefer)));
    }
    found
}

/// The best by each wish, then the simplest of each school that is not among them.
fn pick(kept: &[&Whole], wanted_s: f64) -> Vec<(usize, Vec<Wish>)> {
    let best_first = |wish: Wish| {
        let mut order: Vec<usize> = (0..kept.len()).filter(|i| has(wish, &kept[*i].merits)).collect();
        order.sort_by(|a, b| better(wish, kept[*a], kept[*b], wanted_s));
        order
    };
    let mut picked: Vec<(usize, Vec<Wish>)> = vec![];
    for wish in Wish::ALL {
        let Some(&best) = best_first(wish).first() else { continue };
        let least = key(wish, kept[best]);
        // One of the same make that is about as good by this wish, too, stands for both.
        let stands = |i: usize| alike(kept[i], kept[best]) && key(wish, kept[i]) <= least + NEARLY * least.abs();
        match picked.iter_mut().find(|(i, _)| *i == best || stands(*i)) {
            Some((_, wishes)) => wishes.push(wish),
            None => picked.push((best, vec![wish])),
        }
    }
    for i in best_first(Wish::Simplest) {
        if picked.len() < MOST && picked.iter().all(|(p, _)| school(kept[*p]) != school(kept[i])) {
            picked.push((i, vec![]));
        }
    }
    picked
}

/// So many are shown at most.
const MOST: usize = 6;

/// The schools a maker knows: cells joined here, cells in holders, or a pack as it comes; one or two that are switched; direct or through a
/// converter.
fn school(w: &Whole) -> (bool, bool, bool, bool) {
    let feed = &w.tried.plan.feed;
    let regulated = w.tried.start.way.path.is_some_and(|p| p.topology().is_some());
    (w.merits.welded > 0, feed.holder.is_some(), feed.second.is_some(), regulated)
}

/// Whether a plan is at least as good in everything and better in something: the other is dominated.
fn beats(a: &Whole, b: &Whole) -> bool {
    let (x, y) = (scales(a), scales(b));
    x.iter().zip(&y).all(|(x, y)| x >= y) && x.iter().zip(&y).any(|(x, y)| x > y)
}

/// Everything that a plan is weighed by, more is better. What is not known is the worst.
fn scales(w: &Whole) -> [f64; 8] {
    let less = |v: Option<f64>| v.map_or(f64::NEG_INFINITY, |v| -v);
    let m = &w.merits;
    [
        m.run_s.unwrap_or(0.0),
        less(m.mass_g),
        less(m.price),
        less(m.arrives_days),
        m.at_hand,
        -effort(w),
        -(w.cautions as f64),
        // Both settings of the device stay.
        f64::from(w.tried.plan.feed.second.is_some()),
    ]
}

/// The work: lines to buy, cells to weld, and a converter to set up. Chosen, no source.
fn effort(w: &Whole) -> f64 {
    let converter = w.tried.start.way.path.is_some_and(|p| p.topology().is_some());
    let welded = f64::from(w.merits.welded);
    w.merits.to_buy as f64 + if welded > 0.0 { 3.0 + welded / 4.0 } else { 0.0 } + if converter { 1.0 } else { 0.0 }
}

/// Whether a plan can be the best by a wish.
fn has(wish: Wish, m: &Merits) -> bool {
    match wish {
        Wish::AtHand => m.at_hand > 0.0,
        Wish::Simplest => true,
        Wish::Longest => m.run_s.is_some(),
        Wish::Lightest => m.mass_g.is_some(),
        Wish::Cheapest => m.price.is_some(),
        Wish::Soonest => m.arrives_days.is_some(),
    }
}

/// What a plan is by a wish; less is better.
fn key(wish: Wish, w: &Whole) -> f64 {
    let m = &w.merits;
    match wish {
        Wish::AtHand => -m.at_hand,
        Wish::Simplest => effort(w),
        Wish::Longest => -m.run_s.unwrap_or(0.0),
        Wish::Lightest => m.mass_g.unwrap_or(f64::MAX),
        Wish::Cheapest => m.price.unwrap_or(f64::MAX),
        Wish::Soonest => m.arrives_days.unwrap_or(f64::MAX),
    }
}

/// Which of two plans is the better one by a wish: first what runs long enough, then the wish, then fewer cautions, then less work.
fn better(wish: Wish, a: &Whole, b: &Whole, wanted_s: f64) -> std::cmp::Ordering {
    let short = |w: &Whole| w.merits.run_s.is_some_and(|run| run < ENOUGH * wanted_s);
    short(a)
        .cmp(&short(b))
        .then(key(wish, a).total_cmp(&key(wish, b)))
        .then(a.cautions.cmp(&b.cautions))
        .then(effort(a).total_cmp(&effort(b)))
        .then(a.tried.start.way.name.cmp(&b.tried.start.way.name))
        .then(made_of(&a.tried.plan).cmp(&made_of(&b.tried.plan)))
}

/// Whether two plans are the same to a maker: the same cells in the same way, and about as many.
fn alike(a: &Whole, b: &Whole) -> bool {
    let same = a.tried.start.way.name == b.tried.start.way.name && made_of(&a.tried.plan) == made_of(&b.tried.plan);
    let ratio = a.merits.run_s.zip(b.merits.run_s).map_or(1.0, |(a, b)| (a / b).max(b / a));
    same && ratio < DIFFERENT
}

/// The first that was found, as it stands: something to look at while better ones are looked for.
pub fn first_found(survey: &Plan, wanted_s: f64, tried: &Tried, catalogue: &Catalogue) -> Option<Proposal> {
    let found = told(survey, &weighed(tried.clone(), wanted_s, catalogue)?, None, vec![], catalogue)?;
    let (why, price) = (why(&found, survey.device.wanted_run_s), price(&found, survey.device.wanted_run_s, None, None));
    Some(Proposal { title: "First found".to_owned(), why, price, ..found })
}

fn proposal(survey: &Plan, whole: &Whole, wishes: Vec<Wish>, catalogue: &Catalogue) -> Option<Proposal> {
    let polished = polish(&whole.tried.start, whole.tried.plan.clone(), catalogue);
    // Parts exchanged at face value may not hold at the ends of a reading.
    told(survey, whole, Some(polished), wishes.clone(), catalogue)
        .or_else(|| told(survey, whole, None, wishes, catalogue))
}

/// A whole plan as it is told, with its parts exchanged or as they are; `None` where it has a stop.
fn told(
    survey: &Plan,
    whole: &Whole,
    exchanged: Option<Plan>,
    wishes: Vec<Wish>,
    catalogue: &Catalogue,
) -> Option<Proposal> {
    let start = &whole.tried.start;
    let mut plan = exchanged.unwrap_or_else(|| whole.tried.plan.clone());
    plan.device.wanted_run_s = survey.device.wanted_run_s;
    let assessment = assess(&plan).ok()?;
    if open(&assessment, Severity::Stop).next().is_some() {
        return None;
    }
    let merits = simulated(&plan, merits(&plan, &assessment, catalogue)?);
    // What ends or spoils the run is told before what is settled with a part or a tie.
    let mut cautions: Vec<&Finding> = open(&assessment, Severity::Caution).collect();
    cautions.sort_by_key(|f| !matches!(f.stage, Stage::Voltage | Stage::Run));
    let cautions = cautions.into_iter().map(|f| f.title.clone()).collect();
    let decides = |s: &&crate::assess::StageReport| matches!(s.stage, Stage::Device | Stage::Voltage);
    let provisional = assessment.stages.iter().filter(decides).find_map(|s| s.to_find_out.first().cloned());
    let counted = plan.packs.first().filter(|p| p.cell.part().is_some());
    let name = match counted.and_then(|p| Some(format!("{}S{}P", p.series?, p.parallel?))) {
        Some(counts) => start.way.name.replacen(&format!("{}S", start.way.series), &counts, 1),
        None => start.way.name.clone(),
    };
    Some(Proposal {
        wishes,
        title: String::new(),
        name,
        made_of: made_of(&plan)?.to_owned(),
        why: Phrase::default(),
        price: None,
        merits,
        cautions,
        provisional,
        changes: changes(survey, &plan),
        plan,
    })
}

/// What takes a proposal over: each part of the document that differs, in one step.
fn changes(survey: &Plan, plan: &Plan) -> Vec<Change> {
    let (Ok(before), Ok(after)) = (serde_json::to_value(survey), serde_json::to_value(plan)) else { return vec![] };
    let fields = after.as_object().into_iter().flatten();
    fields
        .filter(|(key, value)| before.get(key.as_str()) != Some(*value))
        .map(|(key, value)| Change::put(format!("/{key}"), value))
        .collect()
}

/// The wanted one first, then by the weights, else as they come.
fn arrange(found: &mut [Proposal], wishes: &Wishes) {
    let weight = |p: &Proposal| -> f64 {
        let of = |wish: &Wish| {
            let i = Wish::ALL.iter().position(|w| w == wish).unwrap_or(0);
            wishes.weights.get(i).copied().unwrap_or(1.0) * if wishes.first == Some(*wish) { 100.0 } else { 1.0 }
        };
        // The first of all wishes counts a little more, so that equal weights leave the order as it is.
        p.wishes.iter().map(of).fold(0.0, f64::max)
    };
    found.sort_by(|a, b| weight(b).total_cmp(&weight(a)));
}

/// Says of each why, and what it costs, in figures.
fn say(found: &mut [Proposal], wanted_s: Option<f64>) {
    let most = |of: &dyn Fn(&Merits) -> Option<f64>, found: &[Proposal]| {
        let all: Vec<f64> = found.iter().filter_map(|p| of(&p.merits)).collect();
        (all.len() == found.len() && all.len() > 1).then(|| all.into_iter().fold(f64::MIN, f64::max))
    };
    let heaviest_g = most(&|m| m.mass_g, found);
    let longest_days = most(&|m| m.arrives_days, found);
    let only = found.len() == 1;
    // What all of them have tells none from another.
    let shared: Vec<Phrase> = found.first().map_or_else(Vec::new, |first| {
        first.cautions.iter().filter(|c| found.iter().all(|p| p.cautions.contains(c))).cloned().collect()
    });
    for p in found {
        p.cautions.sort_by_key(|c| shared.contains(c));
        p.title = if only { "The one way that works".to_owned() } else { title(&p.wishes) };
        p.why = why(p, wanted_s);
        p.price = price(p, wanted_s, heaviest_g, longest_days);
    }
}

fn title(wishes: &[Wish]) -> String {
    let word = |wish: &Wish| match wish {
        Wish::AtHand => "from what you have",
        Wish::Simplest => "simplest to build",
        Wish::Longest => "longest run",
        Wish::Lightest => "lightest",
        Wish::Cheapest => "cheapest",
        Wish::Soonest => "soonest",
    };
    let words: Vec<&str> = wishes.iter().map(word).collect();
    let text = match words[..] {
        [] => "another way".to_owned(),
        [one] => one.to_owned(),
        [.., last] => format!("{} and {last}", words[..words.len() - 1].join(", ")),
    };
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().collect::<String>() + letters.as_str())
}

fn why(p: &Proposal, wanted_s: Option<f64>) -> Phrase {
    let m = &p.merits;
    let lines = if m.to_buy == 1 { "1 line to buy".to_owned() } else { format!("{} lines to buy", m.to_buy) };
    let stock = p.plan.packs.iter().flat_map(|pack| &pack.groups).map(|g| g.cells.len()).sum::<usize>();
    let mut said = if stock > 0 {
        Phrase::words(format!("Uses {stock} of your tested cells; {lines}"))
    } else if m.welded > 0 {
        Phrase::words(format!(
            "{}; {lines}",
            if m.welded == 1 { "One cell".to_owned() } else { format!("{} cells to weld", m.welded) }
        ))
    } else {
        Phrase::words(format!("No welding; {lines}"))
    };
    if let Some(run_s) = m.run_s {
        said = said.text(". Runs ").value(run_s, Unit::S);
        if let Some(wanted_s) = wanted_s.filter(|wanted| run_s >= *wanted) {
            said = said.text("; you want ").value(wanted_s, Unit::S);
        }
    }
    said.text(".")
}

/// A title inside a sentence.
fn small(title: &str) -> String {
    let mut letters = title.chars();
    letters.next().map_or_else(String::new, |first| first.to_lowercase().collect::<String>() + letters.as_str())
}

fn price(p: &Proposal, wanted_s: Option<f64>, heaviest_g: Option<f64>, longest_days: Option<f64>) -> Option<Phrase> {
    let m = &p.merits;
    let mut said: Vec<String> = vec![];
    if let Some((wanted_s, run_s)) = wanted_s.zip(m.run_s).filter(|(wanted, run)| run < wanted) {
        said.push(format!(
            "runs {} short of the {} you want",
            show(wanted_s - run_s, Unit::S),
            show(wanted_s, Unit::S)
        ));
    }
    match &p.cautions[..] {
        [] => {}
        [one] => said.push(format!("needs 1 caution accepted: {}", small(&one.text))),
        [first, ..] => {
            said.push(format!("needs {} cautions accepted, one of them: {}", p.cautions.len(), small(&first.text)))
        }
    }
    if heaviest_g.is_some() && m.mass_g == heaviest_g {
        said.push("it is the heaviest of these".to_owned());
    }
    if let Some(days) = m.arrives_days.filter(|d| Some(*d) == longest_days && *d > 0.0) {
        said.push(format!("{} until it can be built", show(days, Unit::Days)));
    }
    if m.unpriced > 0 {
        said.push(format!(
            "the price of {} is not known",
            if m.unpriced == 1 { "1 line".to_owned() } else { format!("{} lines", m.unpriced) }
        ));
    }
    let text = said.join("; ");
    let mut letters = text.chars();
    let first = letters.next()?;
    Some(Phrase::words(format!("{}{}.", first.to_uppercase(), letters.as_str())))
}
