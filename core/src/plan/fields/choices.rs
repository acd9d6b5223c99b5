//! The words of every choice of a part, what a person reads for each, and how a seller says it.

use super::Word;

const fn word(value: &'static str, title: &'static str) -> Word {
    Word { value, title, heard: "" }
}

const fn heard(value: &'static str, title: &'static str, heard: &'static str) -> Word {
    Word { value, title, heard }
}

pub const CHEMISTRIES: &[Word] = &[
    heard("li_ion", "Li-ion, cylindrical", r"li.?ion|lithium|18650|21700|ternary|nmc"),
    heard("li_po", "LiPo pouch, hobby", r"li.?po\b|polymer"),
    word("li_hv", "High-voltage LiPo"),
    heard("li_fe_po4", "LiFePO4", r"life ?po4|lfp|phosphate"),
    heard("li_titanate", "Li-titanate", r"titanate|\blto\b"),
    heard("na_ion", "Na-ion", r"sodium|na.?ion"),
];

pub const READY_KINDS: &[Word] = &[
    heard("hobby", "hobby pack", r"rc\b|hobby|model"),
    heard("tool", "tool pack", r"power tool|tool battery"),
    heard("replacement", "replacement pack", r"replacement"),
    word("kept", "the device’s own, which stays"),
];

pub const CELL_ORIGINS: &[Word] =
    &[word("new", "new, data sheet"), word("salvaged", "salvaged"), word("hobby", "hobby pack")];

pub const STRIP_METALS: &[Word] = &[
    word("nickel", "pure nickel"),
    word("nickel_plated_steel", "nickel-plated steel"),
    word("copper", "copper"),
    word("aluminium", "aluminium"),
];

pub const INSULATIONS: &[Word] = &[heard("silicone", "silicone", "silicone"), heard("pvc", "PVC", "pvc")];

pub const PORTS: &[Word] = &[
    heard("common", "load and charger on P−", r"(common|same|single).?port"),
    heard("separate", "charger on C−", r"(separate|split|different|two).?port"),
];

pub const RESETS: &[Word] = &[
    heard("by_itself", "by itself", r"auto\w* (recover|releas|re.?set|restart)"),
    heard("charger", "when a charger is on", r"charg\w* to (release|recover|re.?set|unlock)"),
    heard("load_off", "when the load is off", r"(remov|disconnect|unplug|releas)\w* (of )?(the )?load"),
];

pub const FUSE_STYLES: &[Word] = &[
    heard("blade", "blade", r"blade|automotive|\bcar\b"),
    heard("glass_fast", "glass, fast", r"glass|5 ?x ?20|6 ?x ?30|cartridge"),
    heard("glass_time_lag", "glass, time-lag", r"(slow|time.?lag|time.?delay).*|glass.*(slow|lag)"),
    word("other", "another, curve not known"),
];

pub const TOPOLOGIES: &[Word] = &[
    heard("buck", "step-down", r"buck|step.?down"),
    heard("boost", "step-up", r"boost|step.?up"),
    heard("buck_boost", "step-up-down", r"buck.?boost|boost.?buck|step.?up.?(and|/|&)?.?(step.?)?down|up.?down"),
];

pub const CHARGER_KINDS: &[Word] = &[
    word("cc_cv", "lithium: CC/CV"),
    word("fixed_volts", "fixed voltage, no current limit"),
    heard("nickel", "for nickel", r"ni.?mh|ni.?cd|nickel"),
    heard("lead_acid", "for lead-acid", r"lead.?acid|\bagm\b"),
];

pub const WIRE_STANDARDS: &[Word] = &[word("awg", "AWG"), word("metric", "mm²")];

pub const CELL_SHAPES: &[Word] =
    &[word("cylindrical", "round"), word("pouch", "pouch"), word("prismatic", "hard case, flat")];
