//! Parts of the power path. A module may protect, charge, convert, cut off and supply at once.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::fields::settles::{
    BLEED, DC_VOLTS, DRAIN, LOADED, OVER, PRINT, RESTING, SET, SHEET, SIDE, STRANDS, TRIP, UNDER,
};
use super::fields::{
    AMPS, CELL, CHEMISTRIES, FUSE_STYLES, Field, Heard, INSULATIONS, PORTS, PartKind, RESETS, TOPOLOGIES, VOLTS,
    WIRE_STANDARDS, bare, choice, flag, known, name, named, named_but, part_fields, quantity, upper_but, vague,
    wire_size, yes_no,
};
use super::{Charger, Known, Supplies};
use crate::base::chemistry::Chemistry;
use crate::base::range;

part_fields! {
    /// Name, price and arrival of any part.
    #[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Offer at "/offer" of &PartKind::ALL;
    /// What it is, in general words.
    pub name: String = name(),
    /// The catalogue's id it was copied from; absent when typed by hand.
    pub catalogue_id: Option<String>,
    /// Price of one, in the plan's currency (a metre for wire and strip).
    pub price: Option<f64> =
        quantity("Price", &range::PRICE).settled_by(SHEET).careful_is_larger().heard(&[named("", (0.0, 1e6))]),
    /// Days until it arrives; 0 is at hand.
    pub arrives_days: Option<f64> =
        quantity("Arrives in", &range::ARRIVAL).settled_by(SHEET).careful_is_larger().heard(&[named("", (0.0, 730.0))]),
    /// Mass of one (a metre for wire).
    pub mass_g: Option<f64> = quantity("Mass", &range::MASS),
}

part_fields! {
    /// An electronic part with any of five capabilities.
    #[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Module at "" of &[PartKind::Board, PartKind::Converter, PartKind::CutOff, PartKind::Alarm];
    /// Name and where it came from.
    pub offer: Offer,
    /// Guards the cells.
    pub protects: Option<Bms>,
    /// Charges the cells.
    pub charges: Option<Charger>,
    /// Changes the voltage to the device.
    pub converts: Option<Converter>,
    /// Ends the discharge at set pack voltage.
    pub cuts_off: Option<CutsOff>,
    /// Only warns; someone must act.
    pub alarms: Option<Alarms>,
    /// Feeds a charger.
    pub supplies: Option<Supplies>,
    /// Current it draws from the pack at rest.
    pub standby_a: Option<f64> = quantity("Standby drain", &range::BENCH_CURRENT)
        .asked(9, DRAIN)
        .careful_is_larger()
        .heard(&[named(RESTING, (1e-7, 1.0))]),
}

part_fields! {
    /// What a protection board does.
    #[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Bms at "/protects" of &[PartKind::Board];
    /// Cells in series it is made for.
    pub series: Option<u32> =
        quantity("Cells in series", &range::SERIES).as_planned("/packs/0/series").asked(1, "Count its taps."),
    /// Chemistry it is sold for.
    pub chemistry: Option<Chemistry> =
        choice("Sold for", CHEMISTRIES).as_planned("/packs/0/chemistry").column("board_chemistry").asked(2, OVER),
    /// Opens the charge at this voltage of one cell.
    pub over_charge_v: Option<f64> = quantity("Overcharge cut-off per cell", &range::CELL_VOLTS)
        .asked(3, OVER)
        .heard(&[named_but(r"over.?charg", "recover|release|resume", CELL)]),
    /// Opens the discharge at this voltage of one cell.
    pub over_discharge_v: Option<f64> = quantity("Over-discharge cut-off per cell", &range::CELL_VOLTS)
        .asked(4, UNDER)
        .careful_is_larger()
        .heard(&[named_but(r"over.?discharg|under.?volt", "recover|release|resume", CELL)]),
    /// Continuous discharge current.
    pub continuous_a: Option<f64> = quantity("Continuous current", &range::CURRENT)
        .column("board_continuous_a")
        .asked(5, LOADED)
        .heard(&[vague(r"contin|working|rated|discharg|load|operating|nominal|limit|max", "", AMPS), bare("", AMPS)]),
    /// Highest charge current.
    pub charge_a: Option<f64> = quantity("Charge current", &range::CURRENT)
        .column("board_charge_a")
        .asked(8, LOADED)
        .heard(&[named_but(r"charg", r"discharg|short|balanc|bleed|equali|over.?current|trip|peak", AMPS)]),
    /// Overcurrent trip; its error is half the band.
    pub trip_a: Option<Known> = known("Trip current", &range::CURRENT)
        .asked(6, TRIP)
        .heard(&[
            named_but(
                r"over.?current|trip|peak|instant|momentary|protection current|upper|burst",
                r"short|balanc|bleed|equali|quiescent|stand.?by|static|own consumption|self.?consum",
                AMPS,
            ),
        ]),
    /// Delay before the overcurrent trip.
    pub trip_delay_s: Option<f64> = quantity("Trip delay", &range::DURATION)
        .asked(7, "A start of the device: does it open?")
        .heard(&[named_but(r"delay|time", "short|charg", (1e-5, 60.0))]),
    /// Short-circuit trip.
    pub short_a: Option<f64> =
        quantity("Short-circuit trip", &range::CURRENT).settled_by(TRIP).heard(&[named(r"short", AMPS)]),
    /// Bleed current of the balancer; 0 is a board without one.
    pub bleed_a: Option<f64> = quantity("Bleed current", &range::BENCH_CURRENT)
        .asked(8, BLEED)
        .heard(&[
            named_but(r"balanc|bleed|equali", "short", (0.0001, 20.0)),
            Heard::No(r"(without|no|non.?) ?(passive )?(balanc|equali)"),
        ]),
    /// Whether it senses the cells' temperature.
    pub senses_temperature: Option<bool> = yes_no("Senses temperature")
        .heard(&[
            Heard::No(r"(no|without) (ntc|temperature)"),
            Heard::Yes(r"\bntc\b|temperature (sens|prob|protect|control)"),
        ]),
    /// Whether it gives no output until a charger has woken it.
    pub wants_waking: Option<bool> = yes_no("Needs a charger to wake it").heard(&[Heard::Yes(r"activat|wake|0 ?v output")]),
    /// Resistance from pack to load.
    pub path_ohm: Option<f64> = quantity("Resistance", &range::DCIR)
        .column("board_path_ohm")
        .settled_by("Arrival test “Resistance of its path”.")
        .careful_is_larger()
        .heard(&[named_but(r"resist|imped|conduct", "rds|mosfet|transistor", (1e-5, 1.0))]),
    /// Voltage over its transistors at which the detector trips.
    pub detect_v: Option<f64> = quantity("Detection voltage", &range::DETECTOR)
        .settled_by(TRIP)
        .heard(&[named_but(r"detect", r"over.?charg|over.?discharg|under.?volt", (0.005, 2.0))]),
    /// Relative tolerance of that voltage.
    pub detect_tolerance: Option<f64> = quantity("Tolerance of the detection voltage", &range::TOLERANCE),
    /// On-resistance of one transistor, cold.
    pub transistor_ohm: Option<f64> = quantity("On-resistance per MOSFET (RDS(on))", &range::DCIR)
        .settled_by(SHEET)
        .heard(&[named(r"rds|mosfet|transistor", (1e-4, 1.0))]),
    /// Pairs of transistors in parallel; a pair is one for the charge and one for the discharge, in series.
    pub pairs: Option<u32> = quantity("MOSFET pairs", &range::PAIRS),
    /// Where the charger goes.
    pub port: Option<Port> =
        choice("Ports", PORTS).asked(10, "Ohms from C− to P−: nothing between them is a common port."),
    /// What closes it again after a trip.
    pub resets: Option<Resets> = choice("Closes again after a trip", RESETS),
    /// Current of a resistor's way round it, by which a charger wakes it or fills the last cell.
    pub trickle_a: Option<f64> = quantity("Trickle path current", &range::BENCH_CURRENT),
}

/// Terminals of a board.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Port {
    /// Load and charger on the same minus, P−.
    Common,
    /// The charger has a minus of its own, C−.
    Separate,
}

/// What closes a board again after an overcurrent trip.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Resets {
    /// The load is taken off.
    LoadOff,
    /// A charger is connected.
    Charger,
    /// It closes by itself after a while.
    ByItself,
}

/// How a converter changes voltage.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Topology {
    /// Down only.
    Buck,
    /// Up only.
    Boost,
    /// Down and up.
    BuckBoost,
}

part_fields! {
    /// What a converter does.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Converter at "/converts" of &[PartKind::Converter];
    /// Down, up, or both.
    pub topology: Topology = choice("Kind", TOPOLOGIES).needed(),
    /// Voltage it is set to.
    pub output_v: f64 = quantity("Output set-point", &range::DEVICE_VOLTS)
        .needed()
        .asked(1, SET)
        .heard(&[vague(r"output|\bout\b|adjust", "", VOLTS)]),
    /// The set-point as read on a meter.
    pub set_point_v: Option<Known> = known("Set-point as read", &range::DEVICE_VOLTS),
    /// Whether it is wired in already.
    pub wired_in: bool = flag("Wired in already"),
    /// Lowest input voltage.
    pub input_min_v: Option<f64> = quantity("Minimum input voltage", &range::DEVICE_VOLTS)
        .asked(3, "Turn its supply down under load until the output falls.")
        .careful_is_larger()
        .heard(&[named_but(r"input|\bin\b", r"output|max|up to|highest", VOLTS)]),
    /// Highest input voltage.
    pub input_max_v: Option<f64> = quantity("Maximum input voltage", &range::DEVICE_VOLTS)
        .asked(2, SHEET)
        .heard(&[
            upper_but(r"input|\bin\b", "output", VOLTS),
            named(r"(max|up to|highest).*\bin|input.*(max|up to|highest)", VOLTS),
        ]),
    /// Highest input current.
    pub input_a: Option<f64> =
        quantity("Input current", &range::CURRENT).settled_by(SIDE).heard(&[named_but(r"input", RESTING, AMPS)]),
    /// Highest output current.
    pub output_a: Option<f64> = quantity("Output current", &range::CURRENT)
        .asked(4, LOADED)
        .heard(&[
            named_but(r"output|contin|load", r"input|quiescent|self.?consum|stand.?by|static|no.?load|idle", AMPS),
            bare("", AMPS),
        ]),
    /// Efficiency at the usual load.
    pub efficiency: Option<f64> =
        quantity("Efficiency", &range::EFFICIENCY).asked(5, SIDE).heard(&[named(r"efficien|convers", (0.2, 1.0))]),
    /// Headroom a buck needs.
    pub dropout_v: Option<f64> =
        quantity("Headroom", &range::DEVICE_VOLTS).settled_by(SET).heard(&[named(r"drop.?out|differ", (0.05, 10.0))]),
    /// Heat it can shed where it sits.
    pub sheds_w: Option<f64> = quantity("Heat its place can carry away", &range::POWER),
    /// What it draws itself while it runs.
    pub own_w: Option<f64> = quantity("Power it uses itself", &range::OWN_POWER),
    /// Resistance in its inductor's way.
    pub path_ohm: Option<f64> = quantity("Resistance of its path", &range::DCIR).column("converter_path_ohm"),
    /// Forward voltage of its diode.
    pub diode_v: Option<f64> = quantity("Its diode", &range::SMALL_VOLTS),
    /// Rise of its hottest part over the air, per watt of heat.
    pub k_per_w: Option<f64> = quantity("K/W", &range::K_PER_W),
    /// Whether its user turns its output.
    pub adjustable: Option<bool> = yes_no("Turned while in use").heard(&[Heard::Yes(r"adjustable|potentiometer")]),
    /// Least voltage it can be turned to.
    pub output_min_v: Option<f64> = quantity("Minimum output voltage", &range::DEVICE_VOLTS).careful_is_larger(),
    /// Maximum voltage it can be turned to.
    pub output_max_v: Option<f64> = quantity("Maximum output voltage", &range::DEVICE_VOLTS),
    /// Whether a socket made for fixed voltage hangs on its output.
    pub fixed_socket: Option<bool> = yes_no("Fixed-voltage socket on it"),
    /// Whether its adjuster was moved out on leads.
    pub adjuster_on_leads: Option<bool> = yes_no("Adjuster on leads"),
    /// Voltage it holds at its feedback pin.
    pub reference_v: Option<f64> = quantity("Reference at its feedback pin", &range::CELL_VOLTS).settled_by(SHEET),
    /// Resistor from that pin to minus.
    pub feedback_ohm: Option<f64> = quantity("Feedback resistor to minus", &range::DIVIDER_OHM).settled_by(SHEET),
    /// The variable resistor of its adjuster, end to end.
    pub adjuster_ohm: Option<f64> = quantity("Adjuster, end to end", &range::DIVIDER_OHM).settled_by("Ohms between its outer pins, out of the circuit."),
    /// Whether end resistors or a clamp hold the output when a lead of the adjuster opens.
    pub adjuster_clamped: Option<bool> = yes_no("Output clamped if one opens"),
}

impl Converter {
    /// A converter of which only its kind and its set-point are decided.
    pub fn to(topology: Topology, output_v: f64) -> Self {
        Converter {
            topology,
            output_v,
            set_point_v: None,
            wired_in: false,
            input_min_v: None,
            input_max_v: None,
            input_a: None,
            output_a: None,
            efficiency: None,
            dropout_v: None,
            sheds_w: None,
            own_w: None,
            path_ohm: None,
            diode_v: None,
            k_per_w: None,
            adjustable: None,
            output_min_v: None,
            output_max_v: None,
            fixed_socket: None,
            adjuster_on_leads: None,
            reference_v: None,
            feedback_ohm: None,
            adjuster_ohm: None,
            adjuster_clamped: None,
        }
    }
}

part_fields! {
    /// What a cut-off board does.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct CutsOff at "/cuts_off" of &[PartKind::CutOff];
    /// Pack voltage at which it opens.
    pub at_v: f64 = quantity("Cut-off voltage", &range::DEVICE_VOLTS)
        .needed()
        .column("cuts_off_v")
        .asked(1, "Arrival test “Opens”.")
        .heard(&[vague(r"cut|disconnect|protect|under|open|low", "", VOLTS)]),
    /// Pack voltage at which it closes again.
    pub rearm_v: Option<f64> = quantity("Reconnect voltage", &range::DEVICE_VOLTS)
        .asked(2, "Arrival test “Closes again”.")
        .heard(&[named(r"recover|re.?connect|restor|releas|re.?arm|resum|return", VOLTS)]),
}

part_fields! {
    /// What an alarm does.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Alarms at "/alarms" of &[PartKind::Alarm];
    /// Voltage of one cell at which it sounds.
    pub at_cell_v: f64 = quantity("Alarm voltage per cell", &range::CELL_VOLTS).needed().column("alarm_cell_v"),
}

/// Build of a fuse; it decides what the fuse carries continuously.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FuseStyle {
    /// Blade fuse of vehicles.
    Blade,
    /// Glass cartridge, fast.
    GlassFast,
    /// Glass cartridge, time-lag.
    GlassTimeLag,
    /// Another build, of which no curve is known here.
    Other,
}

part_fields! {
    /// A fuse.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Fuse at "" of &[PartKind::Fuse];
    /// Name and where it came from.
    pub offer: Offer,
    /// Blade or glass.
    pub style: FuseStyle = choice("Style", FUSE_STYLES).needed().or("blade").asked(4, PRINT),
    /// Rated current.
    pub rating_a: f64 =
        quantity("Rating", &range::CURRENT).needed().asked(1, PRINT).heard(&[vague("", "", (0.01, 1000.0))]),
    /// Highest DC voltage it may open at; absent where only AC is stated.
    pub dc_v: Option<f64> =
        quantity("DC voltage", &range::DEVICE_VOLTS).asked(2, PRINT).heard(&[named_but(r"dc|direct", r"\bac\b", VOLTS)]),
    /// Highest current it can break.
    pub breaking_a: Option<f64> = quantity("Breaking capacity", &range::BREAKING)
        .asked(3, SHEET)
        .heard(&[named(r"break|interrupt|capacity", (1.0, 200_000.0))]),
}

/// Thickness of a wire.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "standard", rename_all = "snake_case", deny_unknown_fields)]
pub enum WireSize {
    /// American wire gauge; 0 is 1/0.
    Awg {
        /// Gauge number.
        awg: i32,
    },
    /// Metric cross-section.
    Metric {
        /// Cross-section.
        area_mm2: f64,
    },
}

impl WireSize {
    /// Its figures: typed and checked together, written in columns of their own.
    pub const FIELDS: &'static [Field] = &[
        choice("Standard", WIRE_STANDARDS).inner().placed("/size/standard", &[PartKind::Wire], "wire_standard"),
        quantity("Gauge", &range::AWG)
            .inner()
            .settled_by(STRANDS)
            .careful_is_larger()
            .heard(&[named("", (-3.0, 40.0))])
            .placed("/size/awg", &[PartKind::Wire], "awg"),
        quantity("Cross-section", &range::AREA).inner().settled_by(STRANDS).heard(&[named("", (0.01, 300.0))]).placed(
            "/size/area_mm2",
            &[PartKind::Wire],
            "area_mm2",
        ),
    ];
}

/// Insulation of a wire; it decides what a short overload may heat it to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Insulation {
    /// PVC.
    Pvc,
    /// Silicone, or another insulation good for 90 C and more.
    Silicone,
}

part_fields! {
    /// A wire.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Wire at "" of &[PartKind::Wire];
    /// Name and where it came from; price and mass are per metre.
    pub offer: Offer,
    /// Thickness.
    pub size: WireSize = wire_size("Thickness"),
    /// Insulation.
    pub insulation: Insulation = choice("Insulation", INSULATIONS)
        .needed()
        .or("pvc")
        .asked(1, "A soldering iron: silicone does not melt, PVC does."),
    /// Whether it lies in a bundle or a closed case.
    pub bundled: bool = flag("In a bundle or closed case"),
}

part_fields! {
    /// A connector or a jack.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Connector at "" of &[PartKind::Connector];
    /// Name and where it came from.
    pub offer: Offer,
    /// Continuous current.
    pub continuous_a: Option<f64> = quantity("Continuous current", &range::CURRENT)
        .asked(1, LOADED)
        .heard(&[
            named_but(r"contin|rated|working|current|max", "peak|instant|burst|momentary", AMPS),
            bare("peak|instant|burst|momentary", AMPS),
        ]),
    /// Highest DC voltage.
    pub dc_v: Option<f64> = DC_VOLTS,
    /// Whether it fits one way only.
    pub keyed: Option<bool> = yes_no("Fits one way only")
        .asked(3, "Try to plug it in reversed, unpowered.")
        .heard(&[Heard::Yes(r"keyed|polari[sz]ed|anti.?reverse|one way")]),
    /// Whether the half that is live when unplugged has bare pins.
    pub live_pins_bare: Option<bool> = yes_no("Live half has bare pins").asked(4, "Look: which half has bare pins?"),
    /// Whether it is a socket in a wall, for a plug from outside.
    pub wall_socket: Option<bool> = yes_no("Socket in a wall, for a plug from outside")
        .heard(&[Heard::Yes(r"panel|\bjack\b|chassis|bulkhead")]),
    /// Resistance of both contacts together.
    pub contact_ohm: Option<f64> = quantity("Resistance", &range::DCIR)
        .settled_by("Voltage across it at 1 A.")
        .careful_is_larger()
        .heard(&[named(r"resist|contact", (1e-5, 1.0))]),
}

part_fields! {
    /// A switch.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Switch at "" of &[PartKind::Switch];
    /// Name and where it came from.
    pub offer: Offer,
    /// Continuous current.
    pub continuous_a: Option<f64> = quantity("Continuous current", &range::CURRENT),
    /// Highest DC voltage it may break; absent where only AC is stated.
    pub dc_v: Option<f64> = DC_VOLTS,
    /// Resistance when closed.
    pub contact_ohm: Option<f64> = quantity("Resistance", &range::DCIR),
    /// Current of the coil that holds it closed; absent or 0 is a switch worked by hand.
    pub coil_a: Option<f64> = quantity("Coil current", &range::BENCH_CURRENT)
        .settled_by("Coil voltage / ohms between the coil pins.")
        .heard(&[named(r"coil|hold", (0.0001, 5.0))]),
    /// Whether it leaves one position before it makes the next.
    pub break_before_make: Option<bool> = yes_no("Breaks before it makes")
        .settled_by("Ohms between both positions while it is turned slowly: never both.")
        .heard(&[Heard::Yes(r"break.before.make|centre.?off|center.?off|on.off.on"), Heard::No(r"make.before.break")]),
}
