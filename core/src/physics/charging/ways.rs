//! The ways to charge one pack: which of them do, which are refused, and what each asks and risks.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::{Chemistry, Facts};
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::plan::HostCircuit;

/// Ordinary hobby chargers take up to so many cells in series. From memory.
const HOBBY_SERIES: u32 = 6;
/// A gentle charge, in C. Common practice, no source.
pub const GENTLE_C: f64 = 0.5;
/// What a USB-C socket without power delivery gives.
const USB_W: f64 = 15.0;
/// End voltage off by more than this share are refused.
const OFF_SHARE: f64 = 0.01;

/// Who charges the pack.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChargedBy {
    /// A charger that plugs into the wall.
    WallCharger,
    /// A charge module that a supply feeds.
    ChargeModule,
    /// A hobby charger, with the tap plug.
    HobbyCharger,
    /// The device's own charge circuit.
    HostCircuit,
    /// The charger of the old battery.
    OldCharger,
    /// A converter or a plain supply.
    Converter,
}

/// How a way stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// It does.
    Does,
    /// It does, with something to mind.
    Minding,
    /// It must not be done.
    Refused,
    /// Something must be found out first.
    Unknown,
}

/// One way.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeWay {
    /// Who charges.
    pub by: ChargedBy,
    /// How it stands.
    pub stands: Standing,
    /// Why, for this pack.
    pub why: String,
    /// What it asks and what it risks, for any pack.
    pub risks: &'static str,
    /// Whether it is the one that is planned.
    pub chosen: bool,
}

/// What the ways are judged on; absent is not known.
#[derive(Debug, Clone, Copy, Default)]
pub struct Situation {
    /// Cells in series.
    pub series: Option<u32>,
    /// Facts of the chemistry.
    pub facts: Option<&'static Facts>,
    /// Voltage of the full pack.
    pub full_v: Option<f64>,
    /// Capacity of the pack.
    pub ah: Option<f64>,
    /// Resistance of the pack.
    pub pack_ohm: Option<f64>,
    /// Voltage of the empty pack.
    pub empty_v: Option<f64>,
    /// Whether a board that the charge goes through brings cells level.
    pub bleeds: Option<bool>,
    /// Whether the device has a charge circuit.
    pub host: Option<bool>,
    /// What is to become of it.
    pub host_becomes: Option<HostCircuit>,
    /// Its voltage at the battery.
    pub host_v: Option<f64>,
    /// Chemistry of the old battery.
    pub original: Option<Chemistry>,
    /// Voltage of the old charger.
    pub old_charger_v: Option<f64>,
    /// What the jack leads to where that is the input of a module in the device: its lowest and highest input voltage.
    pub jack_feeds: Option<ModuleInput>,
    /// Who is planned.
    pub planned: Option<ChargedBy>,
}

/// The input of a charge module, as far as it is stated.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct ModuleInput {
    /// Works from.
    pub least_v: Option<f64>,
    /// Withstands.
    pub most_v: Option<f64>,
}

/// Every way with how it stands for this pack.
pub fn ways(s: &Situation) -> Vec<ChargeWay> {
    let way = |by, (stands, why): (Standing, String), risks| ChargeWay {
        by,
        stands,
        why,
        risks,
        chosen: s.planned == Some(by),
    };
    vec![
        way(
            ChargedBy::WallCharger,
            wall_charger(s),
            "Easy: plug in, nothing to set. But it sees only the whole pack, so a board must watch the cells.",
        ),
        way(
            ChargedBy::ChargeModule,
            charge_module(s),
            "Small enough to stay in the device. Its heat stays there too, its print is vague, and a weak supply makes it flicker.",
        ),
        way(
            ChargedBy::HobbyCharger,
            hobby_charger(s),
            "Watches and balances every cell. Needs the tap plug within reach, the right setting each time, and you nearby.",
        ),
        way(
            ChargedBy::HostCircuit,
            host(s),
            "Nothing to add and nothing to unplug; but it charges the way its maker meant for the old battery.",
        ),
        way(
            ChargedBy::OldCharger,
            old_charger(s),
            "It is at hand and fits, so someone will try it. Change the jack, or label it.",
        ),
        way(
            ChargedBy::Converter,
            converter(s),
            "With a current limit that is set and read it works as a charge module; without one it does not.",
        ),
    ]
}

fn volts(v: f64) -> String {
    show(v, Unit::V)
}

/// What a charger for this pack must be.
fn made_for(s: &Situation) -> Option<String> {
    Some(format!("One for {} in series that ends at {}, with constant current first", s.series?, volts(s.full_v?)))
}

fn several(s: &Situation) -> bool {
    s.series.is_some_and(|n| n > 1)
}

fn open() -> (Standing, String) {
    (Standing::Unknown, "Choose chemistry and series count first.".to_owned())
}

fn wall_charger(s: &Situation) -> (Standing, String) {
    let Some(made_for) = made_for(s) else { return open() };
    if several(s) && s.bleeds != Some(true) {
        return (
            Standing::Minding,
            format!(
                "{made_for}. Nothing balances the cells: for a few new equal ones; read the taps every few months."
            ),
        );
    }
    (Standing::Does, format!("{made_for}."))
}

fn charge_module(s: &Situation) -> (Standing, String) {
    let Some(made_for) = made_for(s) else { return open() };
    let gentle_w = s.ah.zip(s.full_v).map(|(ah, full_v)| GENTLE_C * ah * full_v / super::TYPICAL_EFFICIENCY);
    let feed = match gentle_w {
        Some(w) if above(w, USB_W) => format!(
            "; half the capacity per hour takes {} of its supply, more than the {} of a plain USB-C socket",
            show(w, Unit::W),
            show(USB_W, Unit::W)
        ),
        Some(w) => format!("; half the capacity per hour takes {} of its supply", show(w, Unit::W)),
        None => String::new(),
    };
    let unlevel = several(s) && s.bleeds != Some(true);
    let stands = if unlevel { Standing::Minding } else { Standing::Does };
    let minds = if unlevel { " Nothing balances the cells." } else { "" };
    (stands, format!("{made_for}{feed}.{minds} Test it on a capacitor first."))
}

fn hobby_charger(s: &Situation) -> (Standing, String) {
    let (Some(series), Some(full_v), Some(facts)) = (s.series, s.full_v, s.facts) else { return open() };
    if series > HOBBY_SERIES {
        return (
            Standing::Refused,
            format!("Ordinary ones take up to {HOBBY_SERIES} in series; this pack has {series}."),
        );
    }
    let set = format!("Set to {} in series, end {}", series, volts(full_v));
    if matches!(facts.chemistry, Chemistry::LiTitanate | Chemistry::NaIon) {
        return (
            Standing::Minding,
            format!("{set}. Few have a setting for {}: use one with an adjustable end voltage per cell.", facts.short),
        );
    }
    if series == 1 {
        return (Standing::Does, format!("{set}. A single cell has nothing to balance."));
    }
    (Standing::Does, format!("{set}, over the main plug and the tap plug: it balances {series} groups itself."))
}

/// Whether voltage at the end of a charge suit the pack, and what comes of it if not.
fn ends(end_v: f64, full_v: f64, empty_v: Option<f64>) -> Result<(), String> {
    if above(end_v, full_v * (1.0 + OFF_SHARE)) {
        return Err(format!(
            "It goes on to {}, past the {} of a full pack: overcharge, until a board opens or a cell vents",
            volts(end_v),
            volts(full_v)
        ));
    }
    if empty_v.is_some_and(|empty_v| below(end_v, empty_v)) {
        return Err(format!("Its {} is below the empty pack: nothing flows in, and some may flow out", volts(end_v)));
    }
    Ok(())
}

/// The words for a battery whose chargers end otherwise.
fn other_kind(original: Option<Chemistry>) -> Option<&'static str> {
    match original? {
        Chemistry::Nickel => Some("nickel: it charges until heat or a timer ends it"),
        Chemistry::LeadAcid => Some("lead: it keeps holding its voltage and floats"),
        Chemistry::Alkaline => Some("primary cells, which are never charged"),
        _ => None,
    }
}

fn host(s: &Situation) -> (Standing, String) {
    match s.host {
        Some(false) => return (Standing::Refused, "The device has none.".to_owned()),
        None => {
            return (
                Standing::Unknown,
                "Whether there is one: voltage at the battery leads with its mains in and no battery.".to_owned(),
            );
        }
        Some(true) => {}
    }
    let becomes = match s.host_becomes {
        Some(HostCircuit::CutOff) => " It is disconnected.",
        Some(HostCircuit::Followed) => " Its voltage only shows that there is mains; the pack has its own charger.",
        _ => " Disconnect it, or follow it with a comparator and give the pack its own charger.",
    };
    if let Some(kind) = other_kind(s.original) {
        return (Standing::Refused, format!("Made for {kind}.{becomes}"));
    }
    let (Some(host_v), Some(full_v)) = (s.host_v, s.full_v) else {
        return (
            Standing::Unknown,
            "Its voltage with a battery on it and without, and the full voltage of the pack.".to_owned(),
        );
    };
    match ends(host_v, full_v, s.empty_v) {
        Err(why) => (Standing::Refused, format!("{why}.{becomes}")),
        Ok(()) if below(host_v, full_v * (1.0 - OFF_SHARE)) => {
            (Standing::Minding, format!("It ends at {}: safe, but short of {}.", volts(host_v), volts(full_v)))
        }
        Ok(()) => (Standing::Minding, format!("It ends at {}, as the pack does. Read its current too.", volts(host_v))),
    }
}

fn old_charger(s: &Situation) -> (Standing, String) {
    if let Some(input) = s.jack_feeds {
        return into_module(input, s.old_charger_v);
    }
    let end = match (s.old_charger_v, s.full_v) {
        (Some(old_v), Some(full_v)) => ends(old_v, full_v, s.empty_v),
        _ => Ok(()),
    };
    if let Some(kind) = other_kind(s.original) {
        let then = match end {
            Err(why) => format!(" {why}."),
            Ok(()) => String::new(),
        };
        return (Standing::Refused, format!("Made for {kind}.{then}"));
    }
    match (s.original, s.old_charger_v, s.full_v) {
        (Some(_), Some(old_v), Some(full_v)) => match end {
            Err(why) => (Standing::Refused, format!("{why}.")),
            Ok(()) if below(old_v, full_v * (1.0 - OFF_SHARE)) => {
                (Standing::Minding, format!("It ends at {}: safe, but short of {}.", volts(old_v), volts(full_v)))
            }
            Ok(()) => (Standing::Does, format!("It ends at {}, as the pack does.", volts(old_v))),
        },
        _ => (Standing::Unknown, "What it was made for, and the voltage it gives.".to_owned()),
    }
}

/// The old charger at a jack that leads to a module inside: a supply, strong or weak, and never a charger.
fn into_module(input: ModuleInput, old_v: Option<f64>) -> (Standing, String) {
    let Some(old_v) = old_v else {
        return (
            Standing::Unknown,
            "The jack feeds the charge module, not the cells: the voltage at its input decides.".to_owned(),
        );
    };
    let has = volts(old_v);
    match (input.least_v, input.most_v) {
        (_, Some(most_v)) if above(old_v, most_v) => (
            Standing::Refused,
            format!(
                "It puts {has} on the input of the charge module, which is limited to {}: that destroys the module.",
                volts(most_v)
            ),
        ),
        (Some(least_v), _) if below(old_v, least_v) => (
            Standing::Minding,
            format!(
                "It puts {has} on the input of the charge module, which needs at least {}: a weak supply, but no overcharge. Nothing is charged.",
                volts(least_v)
            ),
        ),
        (_, Some(most_v)) => (
            Standing::Minding,
            format!(
                "It feeds the charge module with {has}, within its limit of {}: a supply like any other, if its current is enough.",
                volts(most_v)
            ),
        ),
        (_, None) => {
            (Standing::Unknown, format!("It puts {has} on the input of the charge module, whose limit is not stated."))
        }
    }
}

fn converter(s: &Situation) -> (Standing, String) {
    let rush = match (s.full_v, s.empty_v, s.pack_ohm) {
        (Some(full_v), Some(empty_v), Some(ohm)) if ohm > 0.0 => format!(
            " Set to {} it would push {} into the empty pack, or break.",
            volts(full_v),
            show((full_v - empty_v) / ohm, Unit::A)
        ),
        _ => String::new(),
    };
    (Standing::Refused, format!("It holds its voltage at any current.{rush}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn two_series() -> Situation {
        Situation {
            series: Some(2),
            facts: Some(Chemistry::LiIon.facts()),
            full_v: Some(8.4),
            ah: Some(2.5),
            pack_ohm: Some(0.1),
            empty_v: Some(6.0),
            bleeds: Some(true),
            host: Some(false),
            original: Some(Chemistry::Nickel),
            old_charger_v: Some(11.0),
            ..Situation::default()
        }
    }

    fn of(by: ChargedBy, s: &Situation) -> ChargeWay {
        ways(s).into_iter().find(|w| w.by == by).unwrap()
    }

    /// What leads to a module inside is its supply: 9.9 V do not overcharge two cells behind it.
    #[test]
    fn the_old_charger_at_a_module_inside_is_a_supply() {
        let old = |input, old_v| {
            let s = Situation { jack_feeds: Some(input), old_charger_v: old_v, ..two_series() };
            of(ChargedBy::OldCharger, &s)
        };
        let stated = ModuleInput { least_v: Some(4.5), most_v: Some(12.0) };
        assert_eq!(old(stated, Some(9.9)).stands, Standing::Minding);
        assert_eq!(old(stated, Some(15.0)).stands, Standing::Refused);
        let weak = old(stated, Some(4.0));
        assert!(weak.stands == Standing::Minding && weak.why.contains("weak supply"), "{}", weak.why);
        assert_eq!(old(ModuleInput::default(), Some(9.9)).stands, Standing::Unknown);
        assert_eq!(old(stated, None).stands, Standing::Unknown);
        assert_eq!(
            of(ChargedBy::OldCharger, &Situation { old_charger_v: Some(9.9), ..two_series() }).stands,
            Standing::Refused
        );
    }

    #[test]
    fn a_converter_is_never_a_charger_and_says_what_would_flow() {
        let way = of(ChargedBy::Converter, &two_series());
        assert_eq!(way.stands, Standing::Refused);
        // (8.4 V - 6.0 V) / 0.1 ohm
        assert!(way.why.contains("24 A"), "{}", way.why);
        assert_eq!(of(ChargedBy::Converter, &Situation::default()).stands, Standing::Refused);
    }

    #[test]
    fn an_old_charger_is_judged_by_its_kind_then_by_its_volts() {
        let nickel = of(ChargedBy::OldCharger, &two_series());
        assert!(nickel.stands == Standing::Refused && nickel.why.contains("11 V"), "{}", nickel.why);
        let lithium = |v| Situation { original: Some(Chemistry::LiIon), old_charger_v: Some(v), ..two_series() };
        assert_eq!(of(ChargedBy::OldCharger, &lithium(8.4)).stands, Standing::Does);
        assert_eq!(of(ChargedBy::OldCharger, &lithium(8.5)).stands, Standing::Refused);
        assert_eq!(of(ChargedBy::OldCharger, &lithium(8.2)).stands, Standing::Minding);
        assert_eq!(of(ChargedBy::OldCharger, &lithium(4.2)).stands, Standing::Refused);
    }

    #[test]
    fn a_host_circuit_for_lead_never_charges_lithium_and_an_unknown_one_is_asked_for() {
        let lead = Situation { host: Some(true), original: Some(Chemistry::LeadAcid), ..two_series() };
        assert_eq!(of(ChargedBy::HostCircuit, &lead).stands, Standing::Refused);
        assert_eq!(of(ChargedBy::HostCircuit, &Situation { host: None, ..two_series() }).stands, Standing::Unknown);
    }

    #[test]
    fn a_hobby_charger_levels_up_to_six() {
        assert_eq!(of(ChargedBy::HobbyCharger, &two_series()).stands, Standing::Does);
        let ten = Situation { series: Some(10), full_v: Some(42.0), ..two_series() };
        assert_eq!(of(ChargedBy::HobbyCharger, &ten).stands, Standing::Refused);
    }

    /// 0.5 C of 2.5 Ah at 8.4 V and 88 % are 11.9 W: a USB-C socket does; of 5 Ah it does not.
    #[test]
    fn a_module_is_weighed_against_the_socket_one_has() {
        let small = of(ChargedBy::ChargeModule, &two_series());
        assert!(small.why.contains("11.9 W") && !small.why.contains("more than"), "{}", small.why);
        let large = of(ChargedBy::ChargeModule, &Situation { ah: Some(5.0), ..two_series() });
        assert!(large.why.contains("more than the 15 W"), "{}", large.why);
    }
}
