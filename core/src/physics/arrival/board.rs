//! A protection board on dummy cells: a row of equal resistors on a current-limited supply.
//!
//! Its overcurrent detector watches the voltage over its transistors, so the trip is found with a second supply of a few
//! voltage between B− and P−, and no cell is near.

use super::{ArrivalTest, ArrivalTests, Expected, Task, amps, volts};
use crate::base::e_series::Series;
use crate::base::quantity::{Unit, show};
use crate::physics::protection::trip_band_a;
use crate::plan::{Bms, Module, Resets};

/// The dummy cells carry so many times what the board draws, so that it does not bend their voltage.
const STIFF: f64 = 20.0;
/// The same against its bleeders, which start at full cells only.
const BLEED_STIFF: f64 = 3.0;
/// How far a bleed current may be off. Common practice, no source: a resistor's and a threshold's tolerance.
const BLEED_TOLERANCE: f64 = 0.3;
/// On-resistances grow so far warm and with their solder joints. Common practice, no source.
const WAY_WARM: f64 = 1.5;
/// Drain of a pack board where none is stated. Common practice, no source: 20 to 100 microampere.
const USUAL_DRAIN_A: f64 = 100e-6;
/// Tolerance of a row of 1 % resistors under a board.
const ROW: f64 = 0.03;
/// Tolerances of the thresholds of ordinary boards, a cell. Common practice, no source.
const UNDER_TOLERANCE_V: f64 = 0.08;
const OVER_TOLERANCE_V: f64 = 0.05;
/// A drain so many times the stated one is another part's. Common practice, no source.
const DRAIN_FACTOR: f64 = 1.5;
/// What an ordinary bench supply gives. Common practice, no source.
const MOST_BENCH_A: f64 = 10.0;
/// Drain from which a board flattens a shelf pack in months. Common practice, no source.
const MOST_DRAIN_A: f64 = 200e-6;

pub(super) fn tests(module: &Module, board: &Bms, task: &Task) -> ArrivalTests {
    let series = task.series.or(board.series).unwrap_or(1);
    let cell_v = task.facts.map_or(3.6, |f| f.nominal_v);
    let pack_v = f64::from(series) * cell_v;
    let drain_a = module.standby_a.unwrap_or(USUAL_DRAIN_A);
    // A bleeder that starts must not pull its dummy cell down.
    let bleed_a = board.bleed_a.unwrap_or(0.0);
    let row_ohm = Series::E24.at_most(cell_v / (STIFF * drain_a).max(BLEED_STIFF * bleed_a));
    let row_a = cell_v / row_ohm;
    let limit_a = (1.0 + row_a / 0.01).ceil() * 0.01;
    let needs = vec![
        format!(
            "{series} equal resistors of {}, 1 %, in series: the dummy cells (each dissipates {})",
            show(row_ohm, Unit::Ohm),
            show(cell_v * row_a, Unit::W)
        ),
        format!("a bench supply to {}, current limit {}", show(pack_v * 1.25, Unit::V), show(limit_a, Unit::A)),
        second_supply(board),
        "a meter for voltage and small currents".to_owned(),
    ];
    let tests = [
        Some(marks(series, board)),
        Some(row(series, cell_v, task)),
        Some(output(series, pack_v, board, task)),
        under(series, cell_v, board),
        over(series, board, task),
        trip(board),
        Some(way(board)),
        bleeds(board, task),
        task.continuous_a.map(warm),
        Some(drain(module)),
        (board.senses_temperature == Some(true)).then(sensor),
    ];
    ArrivalTests { needs, tests: tests.into_iter().flatten().collect() }
}

fn second_supply(board: &Bms) -> String {
    match trip_band_a(board) {
        Some((_, high_a)) if high_a > MOST_BENCH_A => format!(
            "a second supply of 1 to 2 V that gives up to {}; without one, leave the trip to a known load on the finished pack, behind its fuse",
            show(high_a, Unit::A)
        ),
        Some((_, high_a)) => {
            format!(
                "a second supply of 1 to 2 V that gives up to {}, leads as thick as the pack's",
                show(high_a, Unit::A)
            )
        }
        None => "a second supply of 1 to 2 V that gives more than the load's largest current".to_owned(),
    }
}

fn marks(series: u32, board: &Bms) -> ArrivalTest {
    let volts = board.over_charge_v.map_or_else(String::new, |v| format!(", {} per cell", show(v, Unit::V)));
    ArrivalTest::asks(
        "marks",
        "Print and terminals",
        &[
            "Read its print.",
            "Find B−, every tap and B+ by their print, then by ohms to the tap plug: pin orders differ.",
        ],
        format!("Made for {series} in series{volts}, every tap found?"),
    )
}

/// What a cell of the dummy pack may have: from where this chemistry ends to where it is full, whatever the supply is set to.
fn cell_band_v(cell_v: f64, task: &Task) -> (f64, f64) {
    let (low_v, high_v) = task.facts.map_or((cell_v, cell_v), |f| (f.cutoff_v, f.full_v));
    (low_v.min(cell_v) * (1.0 - ROW), high_v.max(cell_v) * (1.0 + ROW / 3.0))
}

fn row(series: u32, cell_v: f64, task: &Task) -> ArrivalTest {
    let steps = vec![
        format!("Solder the {series} resistors in series, a wire from each end and each joint: B−, B1 … B{series}."),
        format!("Supply across the row, {}; board not yet on it.", show(f64::from(series) * cell_v, Unit::V)),
        "Read each step from tap to tap; note the one farthest off.".to_owned(),
    ];
    let (low_v, high_v) = cell_band_v(cell_v, task);
    let because = "the supply shared by equal resistors; real cells may be anywhere between empty and full";
    ArrivalTest::reads("row", "Dummy cells alike", steps, volts(low_v, high_v, because))
}

fn output(series: u32, pack_v: f64, board: &Bms, task: &Task) -> ArrivalTest {
    let mut steps = vec![
        "Supply off. Connect B− first, then the taps in order, B+ last.".to_owned(),
        "Supply on. Read from P− to P+.".to_owned(),
    ];
    if board.wants_waking != Some(false) {
        steps.push(
            "0 V is not a fault yet: touch P− and P+ with the supply for a second to wake it, and read again."
                .to_owned(),
        );
    }
    let n = f64::from(series);
    let (low_v, high_v) = cell_band_v(pack_v / n, task);
    let because = format!("what {series} dummy cells have, from empty to full");
    ArrivalTest::reads("output", "It switches on", steps, volts(n * low_v, n * high_v, because))
}

fn under(series: u32, cell_v: f64, board: &Bms) -> Option<ArrivalTest> {
    let at_v = board.over_discharge_v?;
    let n = f64::from(series);
    let steps = vec![
        "A resistor of 10 kilohm from P− to P+, the meter over it.".to_owned(),
        format!("Turn the supply down slowly from {}; stop when the meter falls to zero.", show(n * cell_v, Unit::V)),
        "Read the supply.".to_owned(),
    ];
    let because = format!("{series} × ({} ± {})", show(at_v, Unit::V), show(UNDER_TOLERANCE_V, Unit::V));
    let expected = volts(n * (at_v - UNDER_TOLERANCE_V), n * (at_v + UNDER_TOLERANCE_V), because);
    Some(ArrivalTest::reads("under", "Ends the discharge", steps, expected).adopting(
        "/protects/over_discharge_v",
        n,
        false,
    ))
}

fn over(series: u32, board: &Bms, task: &Task) -> Option<ArrivalTest> {
    let at_v = board.over_charge_v?;
    let n = f64::from(series);
    let steps = vec![
        "Second supply, limit 10 mA: plus to B−, minus to P− (a separate port: C−). Its voltage stays near zero."
            .to_owned(),
        format!("Turn the dummy pack up slowly, past {}, until that voltage jumps.", show(n * (at_v - 0.2), Unit::V)),
        "Read the supply of the dummy pack, then turn it back at once.".to_owned(),
    ];
    let never_v = task.facts.and_then(|f| f.over_charge).map_or(at_v + OVER_TOLERANCE_V, |band| band.high_v);
    let high_v = (at_v + OVER_TOLERANCE_V).min(never_v.max(at_v));
    let because = format!("{series} × {}, no higher than {} per cell", show(at_v, Unit::V), show(high_v, Unit::V));
    let expected = volts(n * (at_v - OVER_TOLERANCE_V), n * high_v, because);
    Some(ArrivalTest::reads("over", "Ends the charge", steps, expected).adopting("/protects/over_charge_v", n, false))
}

fn trip(board: &Bms) -> Option<ArrivalTest> {
    let (low_a, high_a) = trip_band_a(board)?;
    let steps = vec![
        "Dummy pack at its nominal voltage. Second supply: plus to P−, minus to B−, current limit at zero.".to_owned(),
        format!("Raise its limit in steps, a second each, from {}.", show(0.7 * low_a, Unit::A)),
        "When its voltage jumps to its own limit the board has opened: note the current before.".to_owned(),
        match board.resets {
            Some(Resets::Charger) => "Touch P− and P+ with the supply, as a charger would: it closes again.".to_owned(),
            _ => "Take the second supply off: it closes again.".to_owned(),
        },
    ];
    let because =
        if board.trip_a.is_some() { "as stated" } else { "detection voltage across its MOSFETs, warm to cold" };
    let test = ArrivalTest::reads("trip", "Trips at overcurrent", steps, amps(low_a, high_a, because));
    Some(test.adopting("/protects/trip_a", 1.0, true))
}

/// Voltage over the way at 1 A are its resistance.
fn way(board: &Bms) -> ArrivalTest {
    let steps = vec![
        "Second supply: plus to P−, minus to B−, 1 A.".to_owned(),
        "Read the voltage from P− to B−, on the pads themselves.".to_owned(),
    ];
    // What its transistors have is a figure of physics; a stated one may be the same board with cold joints.
    let (high_v, because) = match (board.transistor_ohm.zip(board.pairs), board.path_ohm) {
        (Some((ohm, pairs)), _) => {
            let cold_ohm = 2.0 * ohm / f64::from(pairs);
            (WAY_WARM * cold_ohm, format!("two MOSFETs in series, {pairs} in parallel, and half as much again × 1 A"))
        }
        (None, Some(ohm)) => (2.0 * ohm, "twice its stated resistance × 1 A".to_owned()),
        (None, None) => (0.05, "50 milliohm, more than a pack board has".to_owned()),
    };
    ArrivalTest::reads("way", "Resistance of its path", steps, volts(0.0, high_v, because)).adopting(
        "/protects/path_ohm",
        1.0,
        false,
    )
}

/// A bleeder starts where the cell is full, and draws what is stated.
fn bleeds(board: &Bms, task: &Task) -> Option<ArrivalTest> {
    let (bleed_a, facts) = board.bleed_a.filter(|a| *a > 0.0).zip(task.facts)?;
    let steps = vec![
        format!(
            "Turn the dummy pack up until a cell has {}, just under where the board opens.",
            show(facts.full_v + 0.01, Unit::V)
        ),
        "The meter in the lead of one tap, on its current range: note the current once it has started.".to_owned(),
    ];
    let expected = amps(
        bleed_a * (1.0 - BLEED_TOLERANCE),
        bleed_a * (1.0 + BLEED_TOLERANCE),
        "as stated, ± 30 %: its resistor and where it starts",
    );
    Some(ArrivalTest::reads("bleeds", "Its balancers", steps, expected).adopting("/protects/bleed_a", 1.0, false))
}

fn warm(continuous_a: f64) -> ArrivalTest {
    let load = format!(
        "Second supply: {} from P− to B− for ten minutes, the dummy pack on, the board on a table.",
        show(continuous_a, Unit::A)
    );
    ArrivalTest::asks("warm", "Carries the load", &[&load], "Can a finger stay on its MOSFETs?")
}

fn drain(module: &Module) -> ArrivalTest {
    let steps = vec![
        "Everything off P− and P+. The meter on its smallest current range between B− of the dummy pack and the board."
            .to_owned(),
        "Read it after a minute.".to_owned(),
    ];
    let (high_a, because) = match module.standby_a {
        Some(a) => (DRAIN_FACTOR * a, "its stated drain and half as much again".to_owned()),
        None => (MOST_DRAIN_A, "a pack board draws 20 to 100 microampere".to_owned()),
    };
    let expected = Expected { range: "current", ..amps(0.0, high_a, because) };
    ArrivalTest::reads("drain", "Standby drain", steps, expected).adopting("/standby_a", 1.0, false)
}

fn sensor() -> ArrivalTest {
    ArrivalTest::asks(
        "sensor",
        "Senses temperature",
        &["Output on. Warm its sensor with a hair dryer, to what a hand can no longer stand.", "Let it cool."],
        "Does it open, and close again when cool?",
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::chemistry::Chemistry;
    use crate::plan::Known;

    fn bill(board: Bms, standby_a: Option<f64>) -> ArrivalTests {
        let module = Module { standby_a, ..Module::default() };
        let task = Task { series: Some(4), facts: Some(Chemistry::LiIon.facts()), ..Task::default() };
        tests(&module, &board, &task)
    }

    fn expected<'b>(bill: &'b ArrivalTests, id: &str) -> &'b Expected {
        let test = bill.tests.iter().find(|t| t.id == id).unwrap_or_else(|| panic!("no {id}"));
        test.expected.as_ref().unwrap()
    }

    /// Four cells at 3.00 ± 0.08 V and 4.28 V: 11.68 to 12.32 V, and up from 16.92 V; overcharge no higher than the
    /// chemistry allows, 4.35 V per cell (common practice, no source).
    #[test]
    fn thresholds_are_read_on_the_whole_row() {
        let board = Bms {
            over_charge_v: Some(4.28),
            over_discharge_v: Some(3.0),
            trip_a: Some(Known::stated(25.0)),
            ..Bms::default()
        };
        let bill = bill(board, Some(30e-6));
        let under = expected(&bill, "under");
        assert!((under.low - 11.68).abs() < 1e-9 && (under.high - 12.32).abs() < 1e-9);
        let over = expected(&bill, "over");
        assert!((over.low - 16.92).abs() < 1e-9 && (over.high - 17.32).abs() < 1e-9);
        assert_eq!((expected(&bill, "trip").low, expected(&bill, "trip").high), (20.0, 30.0));
        assert!((expected(&bill, "drain").high - 45e-6).abs() < 1e-12);
    }

    /// 20 times 30 microampere through 3.6 V: 6 kilohm, the value at hand below it is 5.6.
    #[test]
    fn the_dummy_cells_are_stiff_against_the_board() {
        let bill = bill(Bms::default(), Some(30e-6));
        assert!(bill.needs[0].contains("4 equal resistors of 5.6 kΩ"), "{}", bill.needs[0]);
    }

    #[test]
    fn what_is_not_stated_is_not_tested_against() {
        let bill = bill(Bms::default(), None);
        let ids: Vec<_> = bill.tests.iter().map(|t| t.id).collect();
        assert_eq!(ids, ["marks", "row", "output", "way", "drain"]);
    }
}
