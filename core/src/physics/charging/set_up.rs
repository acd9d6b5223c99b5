//! Setting a charge module, or a converter used as one, up on the bench before it meets the pack: what to do, what the meters then show.

use crate::base::e_series::Series;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::physics::converter::SetUpStep;

/// A charger as it is meant to work.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ChargerSetUp {
    /// Voltage at which it is to end.
    pub end_v: f64,
    /// How far they may be off, as a share.
    pub tolerance: f64,
    /// Current it is to give.
    pub charge_a: f64,
    /// Whether it limits that current itself.
    pub limits: bool,
    /// Voltage and current of its supply, where they are known.
    pub supply: Option<(f64, f64)>,
    /// Voltage of the emptiest pack.
    pub empty_v: f64,
    /// Current at which the charge is over.
    pub ends_a: f64,
}

/// How far a current that was set by hand may be off. Common practice, no source: 5 %.
const CURRENT_SHARE: f64 = 0.05;
/// Limit of the bench supply while nothing is connected.
const IDLE_LIMIT_A: f64 = 0.2;
/// A resistor at its rating is too hot to touch: twice what it sheds. Common practice, no source.
const LOAD_ROOM: f64 = 2.0;

/// The steps in order. One that limits no current has no step for it: it is no charger, which a rule says.
pub fn charger_set_up(s: &ChargerSetUp) -> Vec<SetUpStep> {
    let volts = |v: f64| Phrase::default().value(v, Unit::V);
    let feeds = match s.supply {
        Some((v, _)) => Phrase::words("No pack. Supply at its input: ").value(v, Unit::V).text(", limit "),
        None => Phrase::words("No pack. Its own supply at its input, limit "),
    };
    let mut steps = vec![
        SetUpStep { act: feeds.value(IDLE_LIMIT_A, Unit::A), reads: Phrase::words("no smoke, nothing warm") },
        SetUpStep {
            act: Phrase::words("Turn the voltage adjuster, with nothing at the output"),
            reads: volts(s.end_v * (1.0 - s.tolerance)).text(" to ").value(s.end_v, Unit::V),
        },
    ];
    let needed_a = s.supply.map(|(_, a)| a);
    if s.limits {
        let act = Phrase::words("Bridge the output with the ammeter on its 10 A range and turn the current adjuster");
        let act = match needed_a {
            Some(a) => act.text("; the supply may now give ").value(a, Unit::A),
            None => act,
        };
        let [low_a, high_a] = [1.0 - CURRENT_SHARE, 1.0].map(|share| s.charge_a * share);
        steps.push(SetUpStep {
            act,
            reads: Phrase::default().value(low_a, Unit::A).text(" to ").value(high_a, Unit::A),
        });
        // With an empty pack it must run at constant current.
        let load_ohm = Series::E24.nearest(s.empty_v / s.charge_a);
        let held_v = load_ohm * s.charge_a;
        if held_v < s.end_v {
            let load_w = held_v * s.charge_a;
            steps.push(SetUpStep {
                act: Phrase::default()
                    .value(load_ohm, Unit::Ohm)
                    .text(" at the output instead of the pack, made for ")
                    .value(LOAD_ROOM * load_w, Unit::W)
                    .text(" or more, for ten minutes"),
                reads: volts(held_v * (1.0 - CURRENT_SHARE))
                    .text(" to ")
                    .value(held_v, Unit::V)
                    .text(", and it does not fall"),
            });
        }
    }
    steps.push(SetUpStep {
        act: Phrase::words("Only now connect the pack, half empty, and stay with it"),
        reads: Phrase::default()
            .value(s.charge_a, Unit::A)
            .text(" at first; at ")
            .value(s.end_v, Unit::V)
            .text(" the current falls until ")
            .value(s.ends_a, Unit::A)
            .text(": unplug it there if it does not end by itself"),
    });
    steps
}

#[cfg(test)]
mod tests {
    use super::*;

    fn standby() -> ChargerSetUp {
        ChargerSetUp {
            end_v: 12.6,
            tolerance: 0.01,
            charge_a: 1.0,
            limits: true,
            supply: Some((18.0, 0.9)),
            empty_v: 9.0,
            ends_a: 0.1,
        }
    }

    /// Worked by hand: 9 V at 1 A are 9 Ω, 9.1 Ω of E24; 9.1 V on it, 9.1 W, so a resistor for 18.2 W.
    #[test]
    fn a_converter_as_charger_is_set_up_with_the_readings_worked_by_hand() {
        let steps = charger_set_up(&standby());
        let text = |k: usize| format!("{} | {}", steps[k].act.text, steps[k].reads.text);
        assert_eq!(steps.len(), 5);
        assert!(text(1).contains("12.47 V to 12.6 V"), "{}", text(1));
        assert!(text(2).contains("0.9 A") && text(2).contains("0.95 A to 1 A"), "{}", text(2));
        assert!(text(3).contains("9.1 Ω") && text(3).contains("18.2 W") && text(3).contains("9.1 V"), "{}", text(3));
        assert!(text(4).contains("0.1 A"), "{}", text(4));
    }

    #[test]
    fn what_limits_no_current_has_none_to_set() {
        let steps = charger_set_up(&ChargerSetUp { limits: false, ..standby() });
        assert!(steps.len() == 3 && steps.iter().all(|s| !s.act.text.contains("current adjuster")));
    }
}
