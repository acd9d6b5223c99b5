//! A pack that is taken as a whole: bought ready, or the device's own that stays.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::fields::settles::PRINT;
use super::fields::{
    AMPS, CHEMISTRIES, Heard, PartKind, READY_KINDS, VOLTS, bare, choice, known, named, named_but, part_fields,
    quantity, yes_no,
};
use super::{Cell, CellOrigin, CellSize, Known, Offer};
use crate::base::chemistry::Chemistry;
use crate::base::range;

/// What is taken as a whole.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ReadyKind {
    /// A hobby pack: a main plug, usually a tap plug, no guard of its own.
    Hobby,
    /// A pack of a tool, which slides onto an adapter.
    Tool,
    /// A replacement pack, made for a device.
    Replacement,
    /// The pack that the device has, and keeps.
    Kept,
}

part_fields! {
    /// A pack as its label, its seller or a test states it. Absent is not stated.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct ReadyPack at "" of &[PartKind::Pack];
    /// Name, price and arrival of the whole pack.
    pub offer: Offer,
    /// What it is.
    pub kind: ReadyKind = choice("Kind of pack", READY_KINDS).needed().column("pack_kind").or("hobby"),
    /// Chemistry.
    pub chemistry: Chemistry = choice("Chemistry", CHEMISTRIES).needed().as_planned("/device/original/chemistry"),
    /// Cells in series.
    pub series: u32 = quantity("Cells in series", &range::SERIES)
        .needed()
        .as_planned("/device/original/series")
        .column("pack_series"),
    /// Capacity on its label.
    pub capacity_ah: f64 = quantity("Capacity on the label", &range::BATTERY_AH)
        .needed()
        .as_planned("/device/original/capacity_ah/value")
        .column("pack_ah")
        .settled_by("A discharge at a fifth of that current, counted: what it gave is what it has.")
        .heard(&[bare("", (0.01, 400.0))]),
    /// Charge that a discharge of it gave, counted.
    pub counted_ah: Option<f64> = quantity("Charge it gave in a test", &range::BATTERY_AH).column("pack_counted_ah"),
    /// C rating on its label.
    pub c_rating: Option<f64> = quantity("C rating on the label", &range::LABEL_C).column("pack_c_rating"),
    /// Continuous current, where it is stated in amperes.
    pub continuous_a: Option<f64> = quantity("Continuous current", &range::CURRENT)
        .column("pack_continuous_a")
        .settled_by(PRINT)
        .heard(&[named_but("contin|discharg|max", "charging", AMPS)]),
    /// Highest charge current.
    pub charge_a: Option<f64> = quantity("Highest charge current", &range::CURRENT)
        .column("pack_charge_a")
        .settled_by(PRINT)
        .heard(&[named_but("charg", "discharg", AMPS)]),
    /// Resistance of the whole pack, with its leads.
    pub resistance_ohm: Option<Known> = known("Resistance of the pack", &range::PACK_OHM).column("pack_resistance_ohm"),
    /// Length of the pack.
    pub length_mm: Option<f64> = quantity("Length", &range::SIZE).column("pack_length_mm"),
    /// Width of the pack.
    pub width_mm: Option<f64> = quantity("Width", &range::SIZE).column("pack_width_mm"),
    /// Height of the pack.
    pub height_mm: Option<f64> = quantity("Height", &range::SIZE).column("pack_height_mm"),
    /// Whether it has a plug with a pin for every group.
    pub taps: Option<bool> = yes_no("Has a balance plug").column("pack_taps").heard(&[Heard::Yes("balance (plug|lead|connector)")]),
    /// Whether something inside ends the discharge before its cells are harmed.
    pub guarded: Option<bool> = yes_no("Protection inside against over-discharge")
        .column("pack_guarded")
        .heard(&[Heard::Yes("protected|protection|bms"), Heard::No("unprotected|without protection")]),
    /// Voltage of the pack at which that opens.
    pub guard_v: Option<f64> = quantity("Its cut-off voltage", &range::DEVICE_VOLTS)
        .column("pack_guard_v")
        .settled_by(PRINT)
        .heard(&[named("cut.?off|under.?volt", VOLTS)]),
    /// Continuous current of its main plug.
    pub plug_a: Option<f64> = quantity("Continuous current of its plug", &range::CURRENT)
        .column("pack_plug_a")
        .settled_by(PRINT)
        .heard(&[named(r"plug|connector", AMPS)]),
    /// Whether the pins of its main plug can be touched: they are always live.
    pub plug_bare: Option<bool> = yes_no("Its plug has bare pins").column("pack_plug_bare"),
    /// Whether it comes with a charger of its own.
    pub own_charger: Option<bool> = yes_no("Comes with its charger")
        .column("pack_own_charger")
        .heard(&[Heard::Yes("(with|incl\\w*|and) (a |its |wall )*charger"), Heard::No("without (a )?charger|charger not included")]),
    /// Whether it shows by itself how full it is.
    pub shows_charge: Option<bool> = yes_no("Shows how full it is")
        .column("pack_shows_charge")
        .heard(&[Heard::Yes("charge (indicator|display|leds?)|fuel gauge|battery indicator")]),
    /// Whether something inside ends a short.
    pub fused: Option<bool> = yes_no("Fuse or short-circuit protection inside").column("pack_fused"),
}

impl ReadyPack {
    /// One of its groups as a cell: what every computation of a pack goes by. Its size is that share of the pack's, `None` of the two
    /// where the pack was not measured: then it is one of ordinary density, and nothing is said of that.
    pub fn group(&self) -> Cell {
        let series = f64::from(self.series);
        let labelled_a = self.c_rating.map(|c| c * self.capacity_ah);
        // Only a C rating is a hobby label, which is halved.
        let hobby = self.continuous_a.is_none() && labelled_a.is_some();
        let per_group = |known: &Known| Known {
            value: known.value / series,
            error: known.error.map(|error| error / series),
            ..known.clone()
        };
        Cell {
            offer: Offer { name: self.offer.name.clone(), ..Offer::default() },
            chemistry: self.chemistry,
            size: self.group_size().unwrap_or_else(|| self.usual_size()),
            origin: if hobby { CellOrigin::Hobby } else { CellOrigin::New },
            tested: self.counted_ah.is_some(),
            rated_ah: self.counted_ah.unwrap_or(self.capacity_ah),
            dcir_ohm: self.resistance_ohm.as_ref().map(per_group),
            discharge_a: self.continuous_a.or(labelled_a),
            pulse_a: None,
            pulse_s: None,
            charge_a: self.charge_a,
            full_v: None,
            end_v: None,
        }
    }

    /// Its outer size, once it was measured: length, width, height.
    pub fn size_mm(&self) -> Option<[f64; 3]> {
        Some([self.length_mm?, self.width_mm?, self.height_mm?])
    }

    fn group_size(&self) -> Option<CellSize> {
        let [length_mm, width_mm, height_mm] = self.size_mm()?;
        let thickness_mm = height_mm / f64::from(self.series);
        let pouch = matches!(self.chemistry, Chemistry::LiPo | Chemistry::LiHv);
        Some(if pouch {
            CellSize::Pouch { thickness_mm, width_mm, length_mm }
        } else {
            CellSize::Prismatic { thickness_mm, width_mm, length_mm }
        })
    }

    /// A flat cell of 300 Wh in a litre. Assumed; it decides nothing.
    fn usual_size(&self) -> CellSize {
        const WH_PER_MM3: f64 = 300.0 / 1e6;
        let side_mm = (self.capacity_ah * self.chemistry.facts().nominal_v / WH_PER_MM3).cbrt();
        CellSize::Prismatic { thickness_mm: side_mm, width_mm: side_mm, length_mm: side_mm }
    }

    /// Where a figure of its groups is typed, as a pointer below the pack's part.
    pub fn typed_at(&self, field: &str) -> &'static str {
        match field {
            "rated_ah" if self.counted_ah.is_some() => "counted_ah",
            "rated_ah" => "capacity_ah",
            "dcir_ohm/value" => "resistance_ohm/value",
            "discharge_a" if self.continuous_a.is_some() => "continuous_a",
            "discharge_a" => "c_rating",
            "charge_a" => "charge_a",
            "offer/mass_g" => "offer/mass_g",
            "offer/price" => "offer/price",
            _ => "offer/name",
        }
    }
}
