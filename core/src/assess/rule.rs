//! The book of rules: every id once, with the source of its threshold, the figure that an acceptance rests on and the rules that it follows from.
//!
//! A rule is looked at in `rules`, and what clears it is in `advise::fix`; both name it by its constant, so that a slip does not
//! compile. Ids never change: accepted cautions are kept by them.

use std::fmt;
use std::ops::Deref;

use serde::Serialize;
use utoipa::ToSchema;

use super::figures;
use super::ledger::FigureDef;
use crate::base::source::Source;

/// A rule, by its id: stage, dot, what is wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, ToSchema)]
#[serde(transparent)]
#[schema(value_type = String)]
pub struct Rule(&'static str);

impl Rule {
    /// Its id.
    pub const fn id(self) -> &'static str {
        self.0
    }
}

impl Deref for Rule {
    type Target = str;

    fn deref(&self) -> &str {
        self.0
    }
}

impl fmt::Display for Rule {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.0)
    }
}

impl PartialEq<str> for Rule {
    fn eq(&self, id: &str) -> bool {
        self.0 == id
    }
}

impl PartialEq<&str> for Rule {
    fn eq(&self, id: &&str) -> bool {
        self.0 == *id
    }
}

/// The direction in which a figure gets worse.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Worse {
    /// The more of it, the worse.
    Up,
    /// The less of it, the worse.
    Down,
}

/// The figure that an acceptance rests on.
#[derive(Debug, Clone, Copy)]
pub struct Rests {
    /// The figure.
    pub on: &'static FigureDef,
    /// How it gets worse.
    pub worse: Worse,
    /// Whether there is one for each subject.
    pub of_subject: bool,
}

/// What the book says of a rule.
#[derive(Debug, Clone, Copy)]
pub struct Entry {
    /// The rule.
    pub rule: Rule,
    /// Where its threshold comes from.
    pub source: Source,
    /// What an acceptance rests on, where there is such a figure.
    pub rests: Option<Rests>,
    /// Rules that it may follow from, the first that is found. Where both speak of one of several, it must be the same one.
    pub follows: &'static [Rule],
}

/// The entry of a rule.
pub fn entry(rule: Rule) -> Option<&'static Entry> {
    BOOK.iter().find(|e| e.rule == rule)
}

macro_rules! of_subject {
    () => {
        false
    };
    (of its subject) => {
        true
    };
}

macro_rules! rests {
    () => { None };
    ($($figure:ident)::+ $worse:ident $($subject:ident)*) => {
        Some(Rests { on: &$($figure)::+, worse: Worse::$worse, of_subject: of_subject!($($subject)*) })
    };
}

macro_rules! rules {
    ($($stage:ident { $($NAME:ident = $id:literal, by $source:ident
        $(, rests on $($figure:ident)::+ $worse:ident $(of its $subject:ident)?)?
        $(, follows [$($cause:path),+])?;)+ })+) => {
        $(#[doc = concat!("Rules of the stage “", stringify!($stage), "”.")]
        pub mod $stage {
            use super::Rule;
            $(#[doc = concat!("`", stringify!($stage), ".", $id, "`")]
            pub const $NAME: Rule = Rule(concat!(stringify!($stage), ".", $id));)+
        })+

        /// Every rule.
        pub const BOOK: &[Entry] = &[$($(Entry {
            rule: $stage::$NAME,
            source: Source::$source,
            rests: rests!($($($figure)::+ $worse $(of its $subject)?)?),
            follows: &[$($($cause),+)?],
        },)+)+];
    };
}

rules! {
    device {
        ALARM_NOT_RESCALED = "alarm-not-rescaled", by CircuitLaw, follows [device::GAUGE_BLIND];
        LAMP_DARK = "lamp-dark", by CommonPractice;
        LABEL_WORDS = "label-words", by CommonPractice;
        METAL_WALL = "metal-wall", by CommonPractice;
        CHARGER_UNDER_LABEL = "charger-under-label", by CommonPractice;
        CHARGER_UNREGULATED = "charger-unregulated", by CommonPractice;
        CHEMICALS_OPEN_PACK = "chemicals-open-pack", by CommonPractice;
        CONTACT_CHARGES = "contact-charges", by CommonPractice;
        CONTACT_REVERSED = "contact-reversed", by CommonPractice;
        CONTACT_SENSED = "contact-sensed", by CommonPractice;
        ERROR_DECIDES = "error-decides", by Jcgm100;
        GAUGE_BLIND = "gauge-blind", by CircuitLaw;
        HIGHEST_ASSUMED = "highest-assumed", by CommonPractice;
        KNOCKS_UNHELD = "knocks-unheld", by CommonPractice;
        LABEL_VOLTS = "label-volts", by CommonPractice;
        LOWER_SETTING_NEVER_RUNS = "lower-setting-never-runs", by CircuitLaw;
        NO_WAY_BACK_UNPROVED = "no-way-back-unproved", by CommonPractice;
        OLD_CELLS_FIT = "old-cells-fit", by CommonPractice;
        OLD_RUN_DOUBTFUL = "old-run-doubtful", by Arithmetic;
        PULLED_UNSEEN = "pulled-unseen", by CommonPractice;
        SOFT_START_BYPASSED = "soft-start-bypassed", by CommonPractice;
        VENTED_IN_THE_WET = "vented-in-the-wet", by CommonPractice;
        WANTS_IDENTITY = "wants-identity", by CommonPractice;
        WANTS_TEMPERATURE = "wants-temperature", by CommonPractice;
        WET_OPEN_BOARD = "wet-open-board", by CommonPractice;
    }
    voltage {
        ADJUSTER_ABOVE_DEVICE = "adjuster-above-device", by CommonPractice, rests on figures::voltage::OUTPUT_MOST_V Up;
        ADJUSTER_OPEN = "adjuster-open", by CommonPractice;
        ALARM_ONLY = "alarm-only", by CommonPractice;
        BOOST_OVERFED = "boost-overfed", by PartSheet;
        BUCK_HEADROOM = "buck-headroom", by PartSheet;
        CHANGE_OVER_TOO_LOW = "change-over-too-low", by CircuitLaw;
        CHARGE_UNUSED = "charge-unused", by CircuitLaw, rests on figures::run::USABLE Down,
            follows [
                voltage::NOTHING_USABLE, wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE, voltage::BUCK_HEADROOM
            ];
        COMPARATOR_BLIND = "comparator-blind", by CircuitLaw;
        COMPARATOR_CHATTER = "comparator-chatter", by CommonPractice;
        CONVERTER_HEAT = "converter-heat", by PartSheet, rests on figures::converter::HEAT_W Up;
        CONVERTER_HOT = "converter-hot", by CommonPractice, rests on figures::converter::HOTTEST_C Up,
            follows [voltage::CONVERTER_HEAT, voltage::CONVERTER_OUTPUT_CURRENT];
        CONVERTER_INPUT_CURRENT = "converter-input-current", by PartSheet;
        CONVERTER_INPUT_HIGH = "converter-input-high", by PartSheet;
        CONVERTER_INPUT_LOW = "converter-input-low", by PartSheet;
        CONVERTER_INPUT_PEAK = "converter-input-peak", by PartSheet, rests on figures::load::PEAK_A Up,
            follows [voltage::CONVERTER_OUTPUT_PEAK];
        CONVERTER_OUTPUT_CURRENT = "converter-output-current", by PartSheet;
        CONVERTER_OUTPUT_PEAK = "converter-output-peak", by PartSheet, rests on figures::load::OUTPUT_PEAK_A Up;
        DIVIDER_DRAINS = "divider-drains", by CommonPractice, rests on figures::feed::GAUGE_DAYS Down;
        FASTER_MOTOR = "faster-motor", by FanLaws, rests on figures::voltage::SPEED Up,
            follows [voltage::FULL_ABOVE_DEVICE, voltage::SERIES_ABOVE_DEVICE];
        SOCKET_STARVES = "socket-starves", by CommonPractice;
        GAUGE_AFTER = "gauge-after", by CommonPractice;
        SELECTOR_SMALL = "selector-small", by PartSheet;
        FIXED_SOCKET = "fixed-socket", by CommonPractice;
        FULL_ABOVE_DEVICE = "full-above-device", by CommonPractice, follows [voltage::SERIES_ABOVE_DEVICE];
        FULL_IN_TOLERANCE = "full-in-tolerance", by CommonPractice, rests on figures::voltage::FULL_V Up;
        GAUGE_OFF = "gauge-off", by Arithmetic;
        GUARD_BELOW_FLOOR = "guard-below-floor", by CommonPractice;
        HEAT_UNPLACED = "heat-unplaced", by CommonPractice, follows [voltage::CONVERTER_HOT];
        HOLD_UP_SMALL = "hold-up-small", by CircuitLaw, rests on figures::feed::HOLD_UP_F Up;
        LAST_RESORT_GUARD = "last-resort-guard", by CommonPractice, rests on figures::voltage::GUARD_V Down,
            follows [protection::ENDS_TOO_LOW];
        LOADED_BELOW_DEVICE = "loaded-below-device", by CircuitLaw, follows [voltage::PARALLEL_NEVER_RUNS];
        MAKE_BEFORE_BREAK = "make-before-break", by CircuitLaw;
        NO_GUARD = "no-guard", by CommonPractice;
        NOTHING_USABLE = "nothing-usable", by CircuitLaw,
            follows [
                wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE, voltage::CONVERTER_INPUT_LOW,
                cells::OVER_RATING
            ];
        OTHER_CHEMISTRIES = "other-chemistries", by CommonPractice;
        OTHER_PACKS = "other-packs", by Assumed;
        OUTPUT_ABOVE_DEVICE = "output-above-device", by PartSheet;
        OUTPUT_BELOW_DEVICE = "output-below-device", by PartSheet;
        OVER_TOUCH_LIMIT = "over-touch-limit", by Iec62368;
        PACKS_APART = "packs-apart", by CircuitLaw, rests on figures::feed::APART_CELL_V Up;
        PACKS_UNEQUAL = "packs-unequal", by CircuitLaw, rests on figures::feed::LEFT_AH Up;
        PACKS_UNREAD = "packs-unread", by CommonPractice;
        PARALLEL_NEVER_RUNS = "parallel-never-runs", by CircuitLaw;
        PARALLEL_OTHER_COUNTS = "parallel-other-counts", by CircuitLaw;
        SECOND_GUARD = "second-guard", by PartSheet;
        SECOND_UNGUARDED = "second-unguarded", by CommonPractice, follows [voltage::NO_GUARD, voltage::PACKS_UNEQUAL];
        SERIES_ABOVE_DEVICE = "series-above-device", by CommonPractice;
        SET_POINT_OFF = "set-point-off", by PartSheet;
        SET_POINT_UNREAD = "set-point-unread", by PartSheet;
        SLOWER_MOTOR = "slower-motor", by FanLaws;
        STANDBY_DRAIN = "standby-drain", by CommonPractice, rests on figures::protection::FLAT_DAYS Down;
        UNPOWERED_PIN = "unpowered-pin", by CommonPractice;
    }
    cells {
        ABOVE_FULL = "above-full", by CommonPractice;
        BELOW_FLOOR = "below-floor", by CommonPractice;
        DOUBTFUL_CLAIM = "doubtful-claim", by CommonPractice, rests on figures::cells::CELL_RATED Up;
        GROUP_SPREAD = "group-spread", by Assumed, rests on figures::groups::SPREAD Up;
        GROUPS_FOR_OTHER_COUNTS = "groups-for-other-counts", by Arithmetic;
        HOBBY_LABEL = "hobby-label", by CommonPractice;
        HOLDER_FEW = "holder-few", by PartSheet;
        HOLDER_MIXED = "holder-mixed", by CircuitLaw, rests on figures::holders::MIXED_A Up, follows [cells::HOLDER_REVERSED];
        HOLDER_NOT_CHARGED = "holder-not-charged", by CircuitLaw;
        HOLDER_REVERSED = "holder-reversed", by CircuitLaw, rests on figures::holders::REVERSED_A Up;
        IMPOSSIBLE_CLAIM = "impossible-claim", by CommonPractice;
        IMPOSSIBLE_DENSITY = "impossible-density", by CommonPractice;
        JOIN_OVER_LIMIT = "join-over-limit", by CircuitLaw;
        JOIN_UNEQUAL = "join-unequal", by CommonPractice, rests on figures::groups::APART_V Up;
        OTHER_CHEMISTRY = "other-chemistry", by CommonPractice;
        OVER_CHARGED = "over-charged", by Iec62133;
        OVER_RATING = "over-rating", by PartSheet;
        PEAK_OVER_RATING = "peak-over-rating", by PartSheet;
        PEAK_UNSTATED = "peak-unstated", by CommonPractice, rests on figures::load::PEAK_A Up;
        PULSE_BELOW_CONTINUOUS = "pulse-below-continuous", by Arithmetic;
        SALVAGED_UNTESTED = "salvaged-untested", by CommonPractice;
    }
    brick {
        THING_UNPLACED = "thing-unplaced", by Arithmetic;
        CELL_TOO_LARGE = "cell-too-large", by Arithmetic;
        DOES_NOT_FIT = "does-not-fit", by Arithmetic;
        DRILL_HITS = "drill-hits", by CommonPractice;
        GROUP_APART = "group-apart", by CircuitLaw;
        HOTTEST_CELL = "hottest-cell", by CommonPractice, rests on figures::laid::HOTTEST_C Up, follows [cells::OVER_RATING];
        LAYOUT_FOR_OTHER_COUNTS = "layout-for-other-counts", by Arithmetic;
        LOOSE_CELLS = "loose-cells", by CircuitLaw;
        NEIGHBOURS_BARE = "neighbours-bare", by CommonPractice;
        NO_ROOM_FOR_BOARD = "no-room-for-board", by CommonPractice;
        NO_ROOM_FOR_SWELLING = "no-room-for-swelling", by CommonPractice;
        OPENING_BLOCKED = "opening-blocked", by Arithmetic;
        OTHER_FACE = "other-face", by CircuitLaw;
        PACK_TOO_LARGE = "pack-too-large", by Arithmetic;
        POUCH_WITHOUT_SHELL = "pouch-without-shell", by CommonPractice;
        SHARE_OVER_RATING = "share-over-rating", by PartSheet, follows [brick::UNEVEN_SHARING];
        SHORT = "short", by CircuitLaw;
        SIGN_UNSEEN = "sign-unseen", by CommonPractice;
        SOLDERED_ON_CELLS = "soldered-on-cells", by CommonPractice;
        SPRING_CONTACTS = "spring-contacts", by CommonPractice, rests on figures::cells::CELL_CONTINUOUS_A Up;
        STRIP_OVER_CURRENT = "strip-over-current", by CommonPractice;
        STRIP_OVER_PEAK = "strip-over-peak", by MetalsHandbook, follows [brick::STRIP_OVER_CURRENT];
        STRIPS_NEAR = "strips-near", by CommonPractice;
        TOO_MANY_CELLS = "too-many-cells", by Thue, follows [brick::CELL_TOO_LARGE];
        UNEVEN_SHARING = "uneven-sharing", by CircuitLaw, rests on figures::laid::UNEVEN Up;
        WALL_TOO_THICK = "wall-too-thick", by Arithmetic;
    }
    protection {
        BLEED_WEAK = "bleed-weak", by CommonPractice, rests on figures::protection::BLEED_A Down;
        BOARD_CONTRADICTS = "board-contradicts", by Arithmetic;
        BOARD_OVER_CURRENT = "board-over-current", by PartSheet;
        BYPASSED = "bypassed", by CircuitLaw;
        CHARGE_SIDE_ONLY = "charge-side-only", by CommonPractice;
        CHARGER_ROUND_BOARD = "charger-round-board", by CommonPractice;
        CUTOFF_CHATTER = "cutoff-chatter", by CommonPractice, rests on figures::run::REBOUND_V Up;
        ENDS_TOO_LOW = "ends-too-low", by CommonPractice;
        FAILED_ON_ARRIVAL = "failed-on-arrival", by PartSheet;
        FUSE_ABOVE_CONNECTOR = "fuse-above-connector", by CommonPractice, follows [wiring::CONNECTOR_OVER_CURRENT];
        FUSE_ABOVE_STRIPS = "fuse-above-strips", by CommonPractice, follows [brick::STRIP_OVER_CURRENT, brick::STRIP_OVER_PEAK];
        FUSE_ABOVE_WIRE = "fuse-above-wire", by CommonPractice, follows [wiring::WIRE_OVER_CURRENT, wiring::WIRE_OVER_PEAK];
        FUSE_BREAKING = "fuse-breaking", by CircuitLaw;
        FUSE_FAR = "fuse-far", by CommonPractice, rests on figures::protection::UNGUARDED_MM Up;
        FUSE_NOT_DC = "fuse-not-dc", by Iec60127;
        FUSE_NUISANCE = "fuse-nuisance", by CommonPractice, rests on figures::load::CONTINUOUS_A Up;
        FUSE_OVERSIZED = "fuse-oversized", by CommonPractice, rests on figures::protection::FUSE_A Up;
        FUSE_PEAK = "fuse-peak", by Iso8820, rests on figures::load::PEAK_A Up;
        FUSE_VOLTS = "fuse-volts", by PartSheet;
        NO_BALANCING = "no-balancing", by CommonPractice, rests on figures::load::CONTINUOUS_A Up;
        NO_OVER_CURRENT = "no-over-current", by CommonPractice;
        NO_TAPS = "no-taps", by CircuitLaw;
        NO_TEMPERATURE = "no-temperature", by CommonPractice, rests on figures::load::CONTINUOUS_A Up;
        OTHER_CHEMISTRY = "other-chemistry", by CommonPractice;
        OTHER_SERIES = "other-series", by PartSheet, follows [protection::OTHER_CHEMISTRY];
        OUT_REVERSED = "out-reversed", by CircuitLaw;
        REARM_BELOW = "rearm-below", by Arithmetic;
        RESERVE_DRAINS = "reserve-drains", by Assumed, rests on figures::protection::RESERVE_DAYS Down,
            follows [voltage::GUARD_BELOW_FLOOR, voltage::NO_GUARD];
        SEPARATE_PORT = "separate-port", by CommonPractice;
        SHORT_TOO_LATE = "short-too-late", by Iec60364, rests on figures::brick::SHORT_A Up,
            follows [protection::FUSE_ABOVE_WIRE, protection::FUSE_ABOVE_STRIPS, protection::NO_OVER_CURRENT];
        STARTS_AGAIN = "starts-again", by CommonPractice;
        TRICKLE_ABOVE_BLEED = "trickle-above-bleed", by CommonPractice, rests on figures::protection::TRICKLE_A Up;
        TRIP_ABOVE_CELLS = "trip-above-cells", by CommonPractice, rests on figures::protection::TRIP_A Up;
        TRIP_ABOVE_STRIPS = "trip-above-strips", by CommonPractice, rests on figures::protection::TRIP_A Up,
            follows [brick::STRIP_OVER_CURRENT, brick::STRIP_OVER_PEAK];
        TRIP_IN_LOAD = "trip-in-load", by CommonPractice, rests on figures::load::CONTINUOUS_A Up,
            follows [protection::BOARD_OVER_CURRENT, protection::BOARD_CONTRADICTS];
        TRIP_IN_PEAK = "trip-in-peak", by CommonPractice, rests on figures::load::PEAK_A Up,
            follows [protection::BOARD_OVER_CURRENT, protection::TRIP_IN_LOAD];
        TRIP_NOT_AS_STATED = "trip-not-as-stated", by CircuitLaw, rests on figures::protection::TRIP_WARM_A Up;
        WANTS_WAKING = "wants-waking", by CommonPractice;
    }
    charging {
        BACK_LEAK = "back-leak", by CommonPractice, rests on figures::charging::BACK_DAYS Down;
        BALANCING_LONG = "balancing-long", by CircuitLaw, rests on figures::balancing::LEVEL_S Up;
        BELOW_FULL = "below-full", by CircuitLaw;
        COLD_FAST = "cold-fast", by CommonPractice, rests on figures::charging::C_RATE Up, follows [charging::OVER_CELLS];
        END_UNSURE = "end-unsure", by Iec62133, rests on figures::charging::PER_CELL_V Up;
        ENDED_BY_GUARD = "ended-by-guard", by CommonPractice, rests on figures::charging::PER_CELL_V Up,
            follows [charging::OVER_VOLTS, charging::SLIGHTLY_OVER, charging::END_UNSURE];
        FAILED_ON_ARRIVAL = "failed-on-arrival", by PartSheet;
        FAST = "fast", by CommonPractice, rests on figures::charging::C_RATE Up, follows [charging::COLD_FAST, charging::OVER_CELLS];
        FUSE_SMALL = "fuse-small", by Iso8820;
        FUSE_VOLTS = "fuse-volts", by PartSheet;
        FREEZING = "freezing", by CommonPractice, rests on figures::charging::COLDEST_C Down;
        GROUPS_APART = "groups-apart", by CommonPractice, rests on figures::balancing::APART_AH Up;
        HOST_CHARGES = "host-charges", by CommonPractice;
        HOST_NODE_FED = "host-node-fed", by CommonPractice;
        HOST_OVER_VOLTS = "host-over-volts", by Iec62133;
        HOST_REUSED = "host-reused", by CommonPractice;
        HOT = "hot", by CommonPractice, rests on figures::charging::HOTTEST_C Up;
        LOAD_ON = "load-on", by CommonPractice;
        NEVER_ENDS = "never-ends", by CommonPractice;
        NO_CURRENT_LIMIT = "no-current-limit", by CommonPractice;
        NO_SUPPLY = "no-supply", by CircuitLaw;
        OLD_CHARGER = "old-charger", by CommonPractice;
        OLD_CHARGER_FITS = "old-charger-fits", by CommonPractice;
        OTHER_COUNT = "other-count", by Arithmetic;
        OVER_BOARD = "over-board", by PartSheet;
        OVER_CELLS = "over-cells", by PartSheet;
        OVER_JACK = "over-jack", by PartSheet;
        OVER_VOLTS = "over-volts", by Iec62133;
        POLARITY = "polarity", by CommonPractice;
        READINGS_DISAGREE = "readings-disagree", by CircuitLaw, follows [wiring::TAP_MISPLACED];
        RESTARTS = "restarts", by CircuitLaw, rests on figures::charging::RESTART_V Down;
        SLIGHTLY_OVER = "slightly-over", by CommonPractice, rests on figures::charging::PER_CELL_V Up;
        SLOW = "slow", by CircuitLaw, rests on figures::charging::TIME_S Up;
        SUPPLY_BELOW_END = "supply-below-end", by CircuitLaw, rests on figures::charging::CHARGER_V Up;
        SUPPLY_LOW = "supply-low", by CircuitLaw, rests on figures::charging::ARRIVES_V Down;
        SUPPLY_VOLTS = "supply-volts", by PartSheet;
        SUPPLY_WEAK = "supply-weak", by CircuitLaw, rests on figures::charging::SUPPLY_A Up;
        TWO_CHARGERS = "two-chargers", by CircuitLaw;
        UNKNOWN_SIDE = "unknown-side", by CommonPractice, rests on figures::charging::CHARGER_A Up;
    }
    wiring {
        BARE_LIVE_PINS = "bare-live-pins", by PartSheet;
        CHARGE_WIRE = "charge-wire", by ChurchillChu;
        CONNECTOR_OVER_CURRENT = "connector-over-current", by PartSheet;
        CONNECTOR_PEAK = "connector-peak", by PartSheet, rests on figures::load::PEAK_A Up;
        CONNECTOR_VOLTS = "connector-volts", by PartSheet;
        DROP = "drop", by CommonPractice, rests on figures::wiring::DROP_SHARE Up, follows [wiring::DROP_BELOW_DEVICE];
        DROP_BELOW_DEVICE = "drop-below-device", by CircuitLaw;
        METER_NOT_ISOLATED = "meter-not-isolated", by CommonPractice;
        NO_STRAIN_RELIEF = "no-strain-relief", by CommonPractice;
        NO_WAY = "no-way", by CircuitLaw;
        PACK_PLUG_BARE = "pack-plug-bare", by PartSheet;
        PACK_PLUG_OVER_CURRENT = "pack-plug-over-current", by PartSheet;
        PLUGS_SWAP = "plugs-swap", by CommonPractice;
        SWITCH_NOT_DC = "switch-not-dc", by CommonPractice;
        SWITCH_OVER_CURRENT = "switch-over-current", by PartSheet;
        SWITCH_PEAK = "switch-peak", by PartSheet, rests on figures::load::PEAK_A Up;
        SWITCH_VOLTS = "switch-volts", by PartSheet;
        TAP_MISPLACED = "tap-misplaced", by CircuitLaw;
        TAP_ORDER = "tap-order", by CommonPractice;
        TAPS_UNFUSED = "taps-unfused", by CommonPractice;
        THINNER_THAN_BEFORE = "thinner-than-before", by CommonPractice, rests on figures::wiring::AREA Down of its subject,
            follows [wiring::WIRE_OVER_CURRENT];
        WIRE_OVER_CURRENT = "wire-over-current", by ChurchillChu;
        WIRE_OVER_PEAK = "wire-over-peak", by Iec60364, follows [wiring::WIRE_OVER_CURRENT];
        UNKEYED = "unkeyed", by PartSheet;
    }
    run {
        BAGGAGE = "baggage", by IataDgr;
        BROWN_OUT = "brown-out", by CircuitLaw,
            follows [voltage::NOTHING_USABLE, voltage::LOADED_BELOW_DEVICE, cells::PEAK_OVER_RATING];
        CELL_TOO_HOT = "cell-too-hot", by CommonPractice, follows [cells::OVER_RATING];
        OVER_60 = "over-60", by CommonPractice;
        SHORTER_THAN_BEFORE = "shorter-than-before", by CircuitLaw, rests on figures::run::TIME_S Down,
            follows [
                voltage::NOTHING_USABLE, voltage::CHARGE_UNUSED, wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE
            ];
        SHORTER_THAN_WANTED = "shorter-than-wanted", by CircuitLaw, rests on figures::run::TIME_S Down,
            follows [
                voltage::NOTHING_USABLE, voltage::CHARGE_UNUSED, wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE
            ];
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_follows_from_itself_by_any_way_round() {
        for start in BOOK {
            let (mut reached, mut next) = (vec![], vec![start.rule]);
            while let Some(at) = next.pop() {
                for cause in entry(at).map_or(&[][..], |e| e.follows) {
                    assert_ne!(*cause, start.rule, "{} leads back to itself", start.rule.id());
                    if !reached.contains(cause) {
                        reached.push(*cause);
                        next.push(*cause);
                    }
                }
            }
        }
    }

    #[test]
    fn every_id_stands_once_and_belongs_to_a_stage() {
        let ids: std::collections::HashSet<&str> = BOOK.iter().map(|e| e.rule.id()).collect();
        assert_eq!(ids.len(), BOOK.len());
    }
}
