//! What happens in a run, in words.

use crate::base::quantity::{Unit, show};
use crate::physics::run::{Limit, RunEvent, Watched, Who};

/// An event in words.
pub fn said(event: &RunEvent, limits: &[Limit]) -> String {
    let limit = limits.iter().find(|l| l.who == event.who && l.name == event.name);
    let at = limit.map_or_else(String::new, |l| match l.watched {
        Watched::GroupBelow(v) | Watched::PackBelow(v) | Watched::FeedBelow(v) => show(v, Unit::V),
        Watched::HotterThan(c) => show(c, Unit::C),
        Watched::MoreThan(a) => show(a, Unit::A),
    });
    let part = |plain: &str| event.name.as_ref().map_or_else(|| plain.to_owned(), |name| format!("“{name}”"));
    let (groups, are) =
        event.group.map_or_else(|| ("all groups".to_owned(), "are"), |g| (format!("group {}", g + 1), "is"));
    if event.peak_only {
        let why = match event.who {
            Who::Board => format!("{} would open, a group below {at}", part("the board")),
            Who::Trip => format!("{} would trip above {at}", part("the board")),
            Who::CutOff => format!("{} would open at {at}", part("the cut-off")),
            Who::CutOut => format!("the device would switch off at {at}"),
            Who::Device => format!("the device would get less than the {at} it works at"),
            Who::Converter => format!("{} would get less than the {at} it needs", part("the converter")),
            Who::Floor => format!("a group would fall below the minimum of its cells, {at}"),
            _ => "the pack could not give it".to_owned(),
        };
        return format!("From here on the pack cannot supply a peak: {why}.");
    }
    match event.who {
        Who::Board => format!("{} opens the discharge: {groups} {are} at {at} under load.", part("The board")),
        Who::Trip => format!("{} trips: more than {at} for longer than its delay.", part("The board")),
        Who::CutOff => format!("{} opens: the pack is at {at} under load.", part("The cut-off")),
        Who::CutOut => format!("The device switches itself off at {at}."),
        Who::Device => format!("The device gets less than the {at} it works at; nothing switches it off."),
        Who::Converter => format!("{} gets less than the {at} it needs: its output falls.", part("The converter")),
        Who::Floor => {
            let begin = groups[..1].to_uppercase() + &groups[1..];
            format!(
                "{begin} {are} at the minimum of the cells, {at}, and nothing has switched off: stop there yourself."
            )
        }
        Who::Heat => format!("A cell of {groups} has come to {at}: stop, let it cool."),
        Who::Collapse => "The pack cannot give what is asked for at any voltage: they collapse.".to_owned(),
        Who::Alarm => format!("{} sounds: {groups} {are} at {at}. Stop the device.", part("The alarm")),
        Who::Steps => "The load changes so often that it was not followed to the end.".to_owned(),
        Who::Time => "It still runs when the calculation ends.".to_owned(),
    }
}
