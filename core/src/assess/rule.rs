//! The book of rules: every id once, with the figure that an acceptance rests on and the rules that it follows from.
//!
//! A rule is looked at in `rules`, and what clears it is in `advise::fix`; both name it by its constant, so that a slip does not
//! compile. Ids never change: accepted cautions are kept by them.

use std::fmt;
use std::ops::Deref;

use serde::Serialize;
use utoipa::ToSchema;

use super::figures;
use super::ledger::FigureDef;

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
    ($($stage:ident { $($NAME:ident = $id:literal
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
            rests: rests!($($($figure)::+ $worse $(of its $subject)?)?),
            follows: &[$($($cause),+)?],
        },)+)+];
    };
}

rules! {
    device {
        ALARM_NOT_RESCALED = "alarm-not-rescaled", follows [device::GAUGE_BLIND];
        CHARGER_UNDER_LABEL = "charger-under-label";
        CHARGER_UNREGULATED = "charger-unregulated";
        CHEMICALS_OPEN_PACK = "chemicals-open-pack";
        ERROR_DECIDES = "error-decides";
        GAUGE_BLIND = "gauge-blind";
        HIGHEST_ASSUMED = "highest-assumed";
        KNOCKS_UNHELD = "knocks-unheld";
        LABEL_VOLTS = "label-volts";
        LOWER_SETTING_NEVER_RUNS = "lower-setting-never-runs";
        NO_WAY_BACK_UNPROVED = "no-way-back-unproved";
        OLD_CELLS_FIT = "old-cells-fit";
        OLD_RUN_DOUBTFUL = "old-run-doubtful";
        PULLED_UNSEEN = "pulled-unseen";
        SOFT_START_BYPASSED = "soft-start-bypassed";
        VENTED_IN_THE_WET = "vented-in-the-wet";
        WANTS_IDENTITY = "wants-identity";
        WET_OPEN_BOARD = "wet-open-board";
    }
    voltage {
        ADJUSTER_ABOVE_DEVICE = "adjuster-above-device", rests on figures::voltage::OUTPUT_MOST_V Up;
        ADJUSTER_OPEN = "adjuster-open";
        ALARM_ONLY = "alarm-only";
        BOOST_OVERFED = "boost-overfed";
        BUCK_HEADROOM = "buck-headroom";
        CHANGE_OVER_TOO_LOW = "change-over-too-low";
        CHARGE_UNUSED = "charge-unused", rests on figures::run::USABLE Down,
            follows [
                voltage::NOTHING_USABLE, wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE, voltage::BUCK_HEADROOM
            ];
        COMPARATOR_BLIND = "comparator-blind";
        COMPARATOR_CHATTER = "comparator-chatter";
        CONVERTER_HEAT = "converter-heat", rests on figures::converter::HEAT_W Up;
        CONVERTER_HOT = "converter-hot", rests on figures::converter::HOTTEST_C Up,
            follows [voltage::CONVERTER_HEAT, voltage::CONVERTER_OUTPUT_CURRENT];
        CONVERTER_INPUT_CURRENT = "converter-input-current";
        CONVERTER_INPUT_HIGH = "converter-input-high";
        CONVERTER_INPUT_LOW = "converter-input-low";
        CONVERTER_INPUT_PEAK = "converter-input-peak", rests on figures::load::PEAK_A Up,
            follows [voltage::CONVERTER_OUTPUT_PEAK];
        CONVERTER_OUTPUT_CURRENT = "converter-output-current";
        CONVERTER_OUTPUT_PEAK = "converter-output-peak", rests on figures::load::OUTPUT_PEAK_A Up;
        DIVIDER_DRAINS = "divider-drains", rests on figures::feed::GAUGE_DAYS Down;
        FASTER_MOTOR = "faster-motor", rests on figures::voltage::SPEED Up,
            follows [voltage::FULL_ABOVE_DEVICE, voltage::SERIES_ABOVE_DEVICE];
        FIXED_SOCKET = "fixed-socket";
        FULL_ABOVE_DEVICE = "full-above-device", follows [voltage::SERIES_ABOVE_DEVICE];
        FULL_IN_TOLERANCE = "full-in-tolerance", rests on figures::voltage::FULL_V Up;
        GUARD_BELOW_FLOOR = "guard-below-floor";
        HEAT_UNPLACED = "heat-unplaced", follows [voltage::CONVERTER_HOT];
        HOLD_UP_SMALL = "hold-up-small", rests on figures::feed::HOLD_UP_F Up;
        LAST_RESORT_GUARD = "last-resort-guard", rests on figures::voltage::GUARD_V Down,
            follows [protection::ENDS_TOO_LOW];
        LOADED_BELOW_DEVICE = "loaded-below-device", follows [voltage::PARALLEL_NEVER_RUNS];
        MAKE_BEFORE_BREAK = "make-before-break";
        NO_GUARD = "no-guard";
        NOTHING_USABLE = "nothing-usable",
            follows [
                wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE, voltage::CONVERTER_INPUT_LOW,
                cells::OVER_RATING
            ];
        OTHER_PACKS = "other-packs";
        OUTPUT_ABOVE_DEVICE = "output-above-device";
        OUTPUT_BELOW_DEVICE = "output-below-device";
        OVER_TOUCH_LIMIT = "over-touch-limit";
        PACKS_APART = "packs-apart", rests on figures::feed::APART_CELL_V Up;
        PACKS_UNEQUAL = "packs-unequal", rests on figures::feed::LEFT_AH Up;
        PACKS_UNREAD = "packs-unread";
        PARALLEL_NEVER_RUNS = "parallel-never-runs";
        PARALLEL_OTHER_COUNTS = "parallel-other-counts";
        SECOND_UNGUARDED = "second-unguarded", follows [voltage::NO_GUARD, voltage::PACKS_UNEQUAL];
        SERIES_ABOVE_DEVICE = "series-above-device";
        SET_POINT_OFF = "set-point-off";
        SET_POINT_UNREAD = "set-point-unread";
        SLOWER_MOTOR = "slower-motor";
        STANDBY_DRAIN = "standby-drain", rests on figures::protection::FLAT_DAYS Down;
        UNPOWERED_PIN = "unpowered-pin";
    }
    cells {
        ABOVE_FULL = "above-full";
        BELOW_FLOOR = "below-floor";
        DOUBTFUL_CLAIM = "doubtful-claim", rests on figures::cells::CELL_RATED Up;
        GROUP_SPREAD = "group-spread", rests on figures::groups::SPREAD Up;
        GROUPS_FOR_OTHER_COUNTS = "groups-for-other-counts";
        HOBBY_LABEL = "hobby-label";
        IMPOSSIBLE_CLAIM = "impossible-claim";
        IMPOSSIBLE_DENSITY = "impossible-density";
        JOIN_OVER_LIMIT = "join-over-limit";
        JOIN_UNEQUAL = "join-unequal", rests on figures::groups::APART_V Up;
        OTHER_CHEMISTRY = "other-chemistry";
        OVER_CHARGED = "over-charged";
        OVER_RATING = "over-rating";
        PEAK_OVER_RATING = "peak-over-rating";
        PEAK_UNSTATED = "peak-unstated", rests on figures::load::PEAK_A Up;
        PULSE_BELOW_CONTINUOUS = "pulse-below-continuous";
        SALVAGED_UNTESTED = "salvaged-untested";
    }
    brick {
        CELL_TOO_LARGE = "cell-too-large";
        DOES_NOT_FIT = "does-not-fit";
        DRILL_HITS = "drill-hits";
        GROUP_APART = "group-apart";
        HOTTEST_CELL = "hottest-cell", rests on figures::laid::HOTTEST_C Up, follows [cells::OVER_RATING];
        LAYOUT_FOR_OTHER_COUNTS = "layout-for-other-counts";
        LOOSE_CELLS = "loose-cells";
        NEIGHBOURS_BARE = "neighbours-bare";
        NO_ROOM_FOR_BOARD = "no-room-for-board";
        NO_ROOM_FOR_SWELLING = "no-room-for-swelling";
        OPENING_BLOCKED = "opening-blocked";
        OTHER_FACE = "other-face";
        POUCH_WITHOUT_SHELL = "pouch-without-shell";
        SHARE_OVER_RATING = "share-over-rating", follows [brick::UNEVEN_SHARING];
        SHORT = "short";
        SIGN_UNSEEN = "sign-unseen";
        SOLDERED_ON_CELLS = "soldered-on-cells";
        SPRING_CONTACTS = "spring-contacts", rests on figures::cells::CELL_CONTINUOUS_A Up;
        STRIP_OVER_CURRENT = "strip-over-current";
        STRIP_OVER_PEAK = "strip-over-peak", follows [brick::STRIP_OVER_CURRENT];
        STRIPS_NEAR = "strips-near";
        TOO_MANY_CELLS = "too-many-cells", follows [brick::CELL_TOO_LARGE];
        UNEVEN_SHARING = "uneven-sharing", rests on figures::laid::UNEVEN Up;
        WALL_TOO_THICK = "wall-too-thick";
    }
    protection {
        BLEED_WEAK = "bleed-weak", rests on figures::protection::BLEED_A Down;
        BOARD_CONTRADICTS = "board-contradicts";
        BOARD_OVER_CURRENT = "board-over-current";
        BYPASSED = "bypassed";
        CHARGE_SIDE_ONLY = "charge-side-only";
        CHARGER_ROUND_BOARD = "charger-round-board";
        CUTOFF_CHATTER = "cutoff-chatter", rests on figures::run::REBOUND_V Up;
        ENDS_TOO_LOW = "ends-too-low";
        FAILED_ON_ARRIVAL = "failed-on-arrival";
        FUSE_ABOVE_CONNECTOR = "fuse-above-connector", follows [wiring::CONNECTOR_OVER_CURRENT];
        FUSE_ABOVE_STRIPS = "fuse-above-strips", follows [brick::STRIP_OVER_CURRENT, brick::STRIP_OVER_PEAK];
        FUSE_ABOVE_WIRE = "fuse-above-wire", follows [wiring::WIRE_OVER_CURRENT, wiring::WIRE_OVER_PEAK];
        FUSE_BREAKING = "fuse-breaking";
        FUSE_FAR = "fuse-far", rests on figures::protection::UNGUARDED_MM Up;
        FUSE_NOT_DC = "fuse-not-dc";
        FUSE_NUISANCE = "fuse-nuisance", rests on figures::load::CONTINUOUS_A Up;
        FUSE_OVERSIZED = "fuse-oversized", rests on figures::protection::FUSE_A Up;
        FUSE_PEAK = "fuse-peak", rests on figures::load::PEAK_A Up;
        FUSE_VOLTS = "fuse-volts";
        NO_BALANCING = "no-balancing", rests on figures::load::CONTINUOUS_A Up;
        NO_OVER_CURRENT = "no-over-current";
        NO_TEMPERATURE = "no-temperature", rests on figures::load::CONTINUOUS_A Up;
        OTHER_CHEMISTRY = "other-chemistry";
        OTHER_SERIES = "other-series", follows [protection::OTHER_CHEMISTRY];
        OUT_REVERSED = "out-reversed";
        REARM_BELOW = "rearm-below";
        RESERVE_DRAINS = "reserve-drains", rests on figures::protection::RESERVE_DAYS Down,
            follows [voltage::GUARD_BELOW_FLOOR, voltage::NO_GUARD];
        SEPARATE_PORT = "separate-port";
        SHORT_TOO_LATE = "short-too-late", rests on figures::brick::SHORT_A Up,
            follows [protection::FUSE_ABOVE_WIRE, protection::FUSE_ABOVE_STRIPS, protection::NO_OVER_CURRENT];
        STARTS_AGAIN = "starts-again";
        TRICKLE_ABOVE_BLEED = "trickle-above-bleed", rests on figures::protection::TRICKLE_A Up;
        TRIP_ABOVE_CELLS = "trip-above-cells", rests on figures::protection::TRIP_A Up;
        TRIP_ABOVE_STRIPS = "trip-above-strips", rests on figures::protection::TRIP_A Up,
            follows [brick::STRIP_OVER_CURRENT, brick::STRIP_OVER_PEAK];
        TRIP_IN_LOAD = "trip-in-load", rests on figures::load::CONTINUOUS_A Up,
            follows [protection::BOARD_OVER_CURRENT, protection::BOARD_CONTRADICTS];
        TRIP_IN_PEAK = "trip-in-peak", rests on figures::load::PEAK_A Up,
            follows [protection::BOARD_OVER_CURRENT, protection::TRIP_IN_LOAD];
        TRIP_NOT_AS_STATED = "trip-not-as-stated", rests on figures::protection::TRIP_WARM_A Up;
        WANTS_WAKING = "wants-waking";
    }
    charging {
        BACK_LEAK = "back-leak", rests on figures::charging::BACK_DAYS Down;
        BALANCING_LONG = "balancing-long", rests on figures::balancing::LEVEL_S Up;
        BELOW_FULL = "below-full";
        COLD_FAST = "cold-fast", rests on figures::charging::C_RATE Up, follows [charging::OVER_CELLS];
        END_UNSURE = "end-unsure", rests on figures::charging::PER_CELL_V Up;
        ENDED_BY_GUARD = "ended-by-guard", rests on figures::charging::PER_CELL_V Up,
            follows [charging::OVER_VOLTS, charging::SLIGHTLY_OVER, charging::END_UNSURE];
        FAILED_ON_ARRIVAL = "failed-on-arrival";
        FAST = "fast", rests on figures::charging::C_RATE Up, follows [charging::COLD_FAST, charging::OVER_CELLS];
        FREEZING = "freezing", rests on figures::charging::COLDEST_C Down;
        GROUPS_APART = "groups-apart", rests on figures::balancing::APART_AH Up;
        HOST_CHARGES = "host-charges";
        HOST_NODE_FED = "host-node-fed";
        HOST_OVER_VOLTS = "host-over-volts";
        HOST_REUSED = "host-reused";
        HOT = "hot", rests on figures::charging::HOTTEST_C Up;
        LOAD_ON = "load-on";
        NO_CURRENT_LIMIT = "no-current-limit";
        NO_SUPPLY = "no-supply";
        OLD_CHARGER = "old-charger";
        OLD_CHARGER_FITS = "old-charger-fits";
        OTHER_COUNT = "other-count";
        OVER_BOARD = "over-board";
        OVER_CELLS = "over-cells";
        OVER_JACK = "over-jack";
        OVER_VOLTS = "over-volts";
        POLARITY = "polarity";
        READINGS_DISAGREE = "readings-disagree", follows [wiring::TAP_MISPLACED];
        RESTARTS = "restarts", rests on figures::charging::RESTART_V Down;
        SLIGHTLY_OVER = "slightly-over", rests on figures::charging::PER_CELL_V Up;
        SLOW = "slow", rests on figures::charging::TIME_S Up;
        SUPPLY_BELOW_END = "supply-below-end", rests on figures::charging::CHARGER_V Up;
        SUPPLY_LOW = "supply-low", rests on figures::charging::ARRIVES_V Down;
        SUPPLY_VOLTS = "supply-volts";
        SUPPLY_WEAK = "supply-weak", rests on figures::charging::SUPPLY_A Up;
        TWO_CHARGERS = "two-chargers";
        UNKNOWN_SIDE = "unknown-side", rests on figures::charging::CHARGER_A Up;
    }
    wiring {
        BARE_LIVE_PINS = "bare-live-pins";
        CHARGE_WIRE = "charge-wire";
        CONNECTOR_OVER_CURRENT = "connector-over-current";
        CONNECTOR_PEAK = "connector-peak", rests on figures::load::PEAK_A Up;
        CONNECTOR_VOLTS = "connector-volts";
        DROP = "drop", rests on figures::wiring::DROP_SHARE Up, follows [wiring::DROP_BELOW_DEVICE];
        DROP_BELOW_DEVICE = "drop-below-device";
        METER_NOT_ISOLATED = "meter-not-isolated";
        NO_STRAIN_RELIEF = "no-strain-relief";
        NO_WAY = "no-way";
        PLUGS_SWAP = "plugs-swap";
        SWITCH_NOT_DC = "switch-not-dc";
        SWITCH_OVER_CURRENT = "switch-over-current";
        SWITCH_PEAK = "switch-peak", rests on figures::load::PEAK_A Up;
        SWITCH_VOLTS = "switch-volts";
        TAP_MISPLACED = "tap-misplaced";
        TAP_ORDER = "tap-order";
        TAPS_UNFUSED = "taps-unfused";
        THINNER_THAN_BEFORE = "thinner-than-before", rests on figures::wiring::AREA Down of its subject,
            follows [wiring::WIRE_OVER_CURRENT];
        WIRE_OVER_CURRENT = "wire-over-current";
        WIRE_OVER_PEAK = "wire-over-peak", follows [wiring::WIRE_OVER_CURRENT];
        UNKEYED = "unkeyed";
    }
    run {
        BAGGAGE = "baggage";
        BROWN_OUT = "brown-out",
            follows [voltage::NOTHING_USABLE, voltage::LOADED_BELOW_DEVICE, cells::PEAK_OVER_RATING];
        CELL_TOO_HOT = "cell-too-hot", follows [cells::OVER_RATING];
        OVER_60 = "over-60";
        SHORTER_THAN_BEFORE = "shorter-than-before", rests on figures::run::TIME_S Down,
            follows [
                voltage::NOTHING_USABLE, voltage::CHARGE_UNUSED, wiring::DROP_BELOW_DEVICE, voltage::LOADED_BELOW_DEVICE
            ];
        SHORTER_THAN_WANTED = "shorter-than-wanted", rests on figures::run::TIME_S Down,
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
