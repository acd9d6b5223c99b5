//! The first charge as it was logged: who ended it, and when to stop at once.

use serde::Serialize;
use utoipa::ToSchema;

use super::charge_line::ChargeLine;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};

/// Key of the step in which the charge is logged.
pub(super) const LOGGED: &str = "charge/start";

/// A charger that holds its voltage to this share is at its end; its own setting is good to about as much. Common practice, no
/// source.
const END_SHARE: f64 = 0.012;
/// Share of the charge current below which "none" flows, where the meter shows finer.
const NONE_SHARE: f64 = 0.01;
/// A charge that still runs when this much more than it should take has gone by is not ended by anybody. Common practice,
/// no source.
const FAR_TOO_LONG: f64 = 2.0;
/// A tapered current that goes on for so long is held by a supply, which ends nothing. Common practice, no source.
const HELD_S: f64 = 3600.0;
/// A charger that ends by itself has been seen below this share of its current before it stops. Common practice, no source.
const SEEN_TAPERING: f64 = 0.6;
/// A current this much above the charger's is another charger than planned. Common practice, no source.
const MORE_THAN_PLANNED: f64 = 1.2;

/// What tells who ended a charge, and what is too much.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeLimits {
    /// Cells in series.
    pub series: u32,
    /// End voltage of the charger, for the whole pack.
    pub end_v: f64,
    /// Voltage that no cell may ever have.
    pub never_v: f64,
    /// Current of the charger.
    pub charge_a: f64,
    /// Current below which it has tapered.
    pub tapered_a: f64,
    /// How long it takes from empty; absent where it cannot be said.
    pub takes_s: Option<f64>,
    /// Error of the meter at the end voltage.
    pub error_v: f64,
    /// Error of the meter at the tapered current.
    pub error_a: f64,
}

/// Who ended a charge.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum EndedBy {
    /// The charger: its current tapered at its end voltage.
    Charger,
    /// The board: no current, and the charger's side stands above the cells.
    Board,
    /// No one: something still pushes current into a full pack.
    Nobody,
    /// Something before the pack was full: a timer, a sensor, a contact, a charger gone to sleep.
    Early,
    /// No current, and no one looked what holds it off.
    Unknown,
}

impl EndedBy {
    /// Whether the pack may be used after it.
    pub fn is_right(self) -> bool {
        self == EndedBy::Charger
    }

    /// What it means.
    pub fn says(self) -> &'static str {
        match self {
            EndedBy::Charger => "The charger ended it: its current tapered at its end voltage.",
            EndedBy::Board => {
                "The board opened, not the charger: its side stands above the cells and no current flows. The charger's voltage is too high, or one group is far ahead."
            }
            EndedBy::Nobody => {
                "Nothing ends it: current still flows into a full pack. Unplug it. This is a supply that holds a voltage, not a charger."
            }
            EndedBy::Early => {
                "It ended before the pack was full: a timer, a temperature sensor, a loose contact, or a charger that went to sleep."
            }
            EndedBy::Unknown => {
                "No current flows, and the taper was not seen. Read the charger's side of the board: above the cells, the board has opened."
            }
        }
    }
}

/// Who ended the charge that these lines log, in the order of time; none while it goes on.
///
/// Told by input against cells and current: a charger tapers at its end voltage, a board opens with the charger's voltage
/// standing before it, a supply goes on. Common practice, no source.
pub fn ended_by(lines: &[ChargeLine], limits: &ChargeLimits) -> Option<EndedBy> {
    let (last, before) = lines.split_last()?;
    let current_a = last.current_a?;
    let pack_v = last.pack_v.or_else(|| before.iter().rev().find_map(|l| l.pack_v));
    let near_end = pack_v.is_some_and(|v| !below(v, limits.end_v * (1.0 - END_SHARE) - limits.error_v));
    let none_a = limits.error_a.max(NONE_SHARE * limits.charge_a);
    if current_a > limits.tapered_a + limits.error_a {
        let far_too_long = limits.takes_s.is_some_and(|s| last.after_s > FAR_TOO_LONG * s);
        return far_too_long.then_some(EndedBy::Nobody);
    }
    if current_a.abs() <= none_a {
        // Each side is read with the error of the meter.
        if let (Some(input_v), Some(pack_v)) = (last.input_v, last.pack_v)
            && above(input_v - pack_v, 2.0 * limits.error_v)
        {
            return Some(EndedBy::Board);
        }
        let tapering = |l: &ChargeLine| l.current_a.is_some_and(|a| a > none_a && a < SEEN_TAPERING * limits.charge_a);
        let seen = before.iter().any(tapering) || last.input_v.is_some();
        return Some(match (near_end, seen) {
            (true, true) => EndedBy::Charger,
            (true, false) => EndedBy::Unknown,
            (false, _) => EndedBy::Early,
        });
    }
    if !near_end {
        return Some(EndedBy::Early);
    }
    let tapered = |l: &&ChargeLine| l.current_a.is_some_and(|a| a <= limits.tapered_a + limits.error_a);
    let since_s = before.iter().rev().take_while(tapered).last().map_or(last.after_s, |l| l.after_s);
    Some(if last.after_s - since_s > HELD_S { EndedBy::Nobody } else { EndedBy::Charger })
}

/// What in one line means: stop at once.
pub fn stop_at_once(line: &ChargeLine, limits: &ChargeLimits) -> Vec<String> {
    let mut stops = vec![];
    let series = f64::from(limits.series);
    if let Some(pack_v) = line.pack_v {
        // The highest group stands above the mean by what the others lack, at the most.
        let highest_v = pack_v / series + line.apart_v.unwrap_or(0.0) * (series - 1.0) / series;
        if above(pack_v, series * limits.never_v + limits.error_v) {
            stops.push(format!("{} is more than {} cells may ever have.", show(pack_v, Unit::V), limits.series));
        } else if line.apart_v.is_some() && above(highest_v, limits.never_v + limits.error_v) {
            stops.push(format!(
                "One group may be at {}, and none may be above {}: read them all.",
                show(highest_v, Unit::V),
                show(limits.never_v, Unit::V)
            ));
        }
    }
    if let Some(current_a) = line.current_a {
        if above(current_a, MORE_THAN_PLANNED * limits.charge_a + limits.error_a) {
            let (flows, planned) = (show(current_a, Unit::A), show(limits.charge_a, Unit::A));
            stops.push(format!("{flows} flows; the charger of the plan gives {planned}."));
        } else if below(current_a, -limits.error_a.max(NONE_SHARE * limits.charge_a)) {
            stops.push("Current flows out of the pack: the charger or the clamp meter is reversed.".to_owned());
        }
    }
    stops
}
