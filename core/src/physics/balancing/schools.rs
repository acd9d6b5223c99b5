//! The three schools of bringing cells level, for one pack.

use serde::Serialize;
use utoipa::ToSchema;

/// Balance current of ordinary hobby chargers, over the tap plug. Common practice, no source.
pub const HOBBY_A: f64 = 0.25;
const SECONDS_PER_HOUR: f64 = 3600.0;

/// Who brings the cells level.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Leveller {
    /// A hobby charger through the tap plug.
    HobbyCharger,
    /// A board with bleeders and a plain charger.
    Bleeders,
    /// No one: a few new, equal cells.
    Nobody,
}

/// What one school makes of a difference.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LevelWay {
    /// The school.
    pub school: Leveller,
    /// Current that leaves the fullest group.
    pub bleed_a: f64,
    /// Time until the fullest group is level with the emptiest; absent is never.
    pub level_s: Option<f64>,
    /// Heat of one bleeder.
    pub heat_each_w: f64,
    /// Heat of all that work at once.
    pub heat_all_w: f64,
    /// Charges until they are level, where it happens at the end of each; absent is never or not so.
    pub charges: Option<u32>,
    /// Time by a trickle path, once it has opened on the first full cell; absent without one, or where the
    /// bleeders cannot hold that cell against it.
    pub trickle_s: Option<f64>,
    /// Difference left after one charge.
    pub left_ah: f64,
    /// What it asks, and what it risks.
    pub says: &'static str,
}

/// What the schools are weighed on.
#[derive(Debug, Clone, Copy)]
pub struct Task {
    /// Difference of the fullest and the emptiest group.
    pub apart_ah: f64,
    /// Groups above the emptiest.
    pub above: usize,
    /// Full voltage of a cell.
    pub full_v: f64,
    /// Bleed current of the board, if it has bleeders.
    pub bleed_a: Option<f64>,
    /// How long a charge stays at constant voltage, where bleeders work.
    pub top_s: f64,
    /// Balance current of the hobby charger, where it is known.
    pub hobby_a: Option<f64>,
    /// Current of a trickle path.
    pub trickle_a: Option<f64>,
}

/// The schools, each with what it makes of the difference.
///
/// t = Q / I, by a trickle path with its current: the full cell is held while the others rise. A bleeder of a board works only at the top of the charge, so that Q falls by I t(CV) each charge.
pub fn ways(task: &Task) -> Vec<LevelWay> {
    let level_s = |a: f64| (a > 0.0).then(|| task.apart_ah / a * SECONDS_PER_HOUR);
    let heat = |a: f64| (a * task.full_v, a * task.full_v * task.above as f64);
    let hobby_a = task.hobby_a.unwrap_or(HOBBY_A);
    let (hobby_each_w, hobby_all_w) = heat(hobby_a);
    let bleed_a = task.bleed_a.unwrap_or(0.0);
    let (each_w, all_w) = heat(bleed_a);
    let trickle_a = task.trickle_a.filter(|a| *a <= bleed_a);
    let at_top_ah = bleed_a * task.top_s / SECONDS_PER_HOUR;
    vec![
        LevelWay {
            school: Leveller::HobbyCharger,
            bleed_a: hobby_a,
            level_s: level_s(hobby_a),
            heat_each_w: hobby_each_w,
            heat_all_w: hobby_all_w,
            charges: Some(1),
            trickle_s: None,
            left_ah: 0.0,
            says: "Waits until all are balanced, however long it takes. Needs the tap plug within reach and you nearby; nothing in the pack protects it later.",
        },
        LevelWay {
            school: Leveller::Bleeders,
            bleed_a,
            level_s: level_s(bleed_a),
            heat_each_w: each_w,
            heat_all_w: all_w,
            charges: (at_top_ah > 0.0).then(|| (task.apart_ah / at_top_ah - 1e-9).ceil().max(1.0) as u32),
            trickle_s: trickle_a.and_then(level_s),
            left_ah: (task.apart_ah - at_top_ah).max(0.0),
            says: "Any charger will do. Holds a full cell only while the charge current is below the bleed current; heats the cells; balances a little at each charge.",
        },
        LevelWay {
            school: Leveller::Nobody,
            bleed_a: 0.0,
            level_s: None,
            heat_each_w: 0.0,
            heat_all_w: 0.0,
            charges: None,
            trickle_s: None,
            left_ah: task.apart_ah,
            says: "For a few new cells of one lot. The fullest ends every charge, the emptiest every run: read the taps every few months.",
        },
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    fn task(bleed_a: Option<f64>) -> Task {
        Task { apart_ah: 0.12, above: 2, full_v: 4.2, bleed_a, top_s: 3600.0, hobby_a: None, trickle_a: None }
    }

    fn of(school: Leveller, task: &Task) -> LevelWay {
        ways(task).into_iter().find(|w| w.school == school).unwrap()
    }

    /// 4.2 V on 68 ohm are 62 mA and 0.26 W (common practice, no source); 0.12 Ah at 60 mA take two hours, and two charges of one
    /// hour at the top.
    #[test]
    fn bleeders_take_their_hours_at_the_top_of_each_charge() {
        let way = of(Leveller::Bleeders, &task(Some(0.06)));
        assert!((way.level_s.unwrap() - 7200.0).abs() < 1e-9);
        assert_eq!(way.charges, Some(2));
        assert!((way.left_ah - 0.06).abs() < 1e-12);
        let resistor = of(Leveller::Bleeders, &task(Some(4.2 / 68.0)));
        assert!((resistor.heat_each_w - 0.26).abs() < 0.005, "{}", resistor.heat_each_w);
        assert!((resistor.heat_all_w - 2.0 * resistor.heat_each_w).abs() < 1e-12);
    }

    /// 0.12 Ah by 40 mA round the board are three hours, if 60 mA hold the full cell meanwhile; 80 mA they do not hold.
    #[test]
    fn a_way_round_the_board_fills_the_rest_while_the_bleeders_hold() {
        let by = |trickle_a| of(Leveller::Bleeders, &Task { trickle_a, ..task(Some(0.06)) }).trickle_s;
        assert!((by(Some(0.04)).unwrap() - 3.0 * 3600.0).abs() < 1e-9);
        assert_eq!((by(Some(0.08)), by(None)), (None, None));
    }

    #[test]
    fn a_hobby_charger_levels_with_its_own_current() {
        let way = of(Leveller::HobbyCharger, &Task { hobby_a: Some(0.5), ..task(None) });
        assert!((way.level_s.unwrap() - 0.24 * 3600.0).abs() < 1e-9);
    }

    #[test]
    fn without_bleeders_or_anybody_they_stay_apart() {
        assert_eq!(of(Leveller::Bleeders, &task(None)).level_s, None);
        assert_eq!(of(Leveller::Nobody, &task(None)).left_ah, 0.12);
        assert_eq!(of(Leveller::HobbyCharger, &task(None)).left_ah, 0.0);
    }
}
