//! A new plan: the line pack - board - fuse - switch - plug - converter - device with a charge branch, all open.

use super::{
    Brick, Buying, Charging, Choice, Connection, Device, DeviceKind, DummyBattery, Electronics, Environment, FORMAT,
    Feed, Node, NodeKind, Original, Pack, Plan, Proving, State, StateName, Surroundings, VERSION, Wiring,
};

impl Plan {
    /// A plan in which everything is still to be found out or decided, but its line is drawn.
    ///
    /// The wire from the switch to the plug is the lead; parts that are usually joined on the spot are joined
    /// directly, and can be given a wire.
    pub fn blank(name: &str) -> Plan {
        let node = |id: &str, kind| Node::place(id, kind, Choice::Undecided);
        let fixed = |id: &str, kind| Node::place(id, kind, Choice::None);
        let run = |id: &str, from: &str, to: &str, wire| Connection {
            id: id.to_owned(),
            from: from.to_owned(),
            to: to.to_owned(),
            wire,
            length_mm: None,
        };
        Plan {
            format: FORMAT.to_owned(),
            version: VERSION,
            name: name.to_owned(),
            notes: String::new(),
            currency: "€".to_owned(),
            device: Device {
                kind: DeviceKind::Unsaid,
                original: Original::default(),
                lowest_v: None,
                highest_v: None,
                cutout_v: None,
                loads: vec![],
                wanted_run_s: None,
                job: None,
                label: String::new(),
                connector: String::new(),
                electronics: Electronics::default(),
                contacts: vec![],
                surroundings: Surroundings::default(),
                compartments: vec![],
                proving: Proving::default(),
                photos: vec![],
                apart: vec![],
            },
            environment: Environment::default(),
            meters: vec![],
            packs: vec![Pack {
                id: "pack".to_owned(),
                chemistry: None,
                series: None,
                parallel: None,
                ready: Choice::Undecided,
                group: None,
                cell: Choice::Undecided,
                strip: Choice::Undecided,
                groups: vec![],
                brick: Brick::default(),
                group_v: vec![],
                fitted: None,
            }],
            nodes: vec![
                fixed("pack", NodeKind::Pack),
                node("board", NodeKind::Board),
                node("fuse", NodeKind::Fuse),
                fixed("cutoff", NodeKind::CutOff),
                node("switch", NodeKind::Switch),
                node("plug", NodeKind::Connector),
                fixed("converter", NodeKind::Converter),
                fixed("device", NodeKind::Device),
                fixed("alarm", NodeKind::Alarm),
                node("jack", NodeKind::Jack),
                node("charger", NodeKind::Charger),
                node("supply", NodeKind::Supply),
            ],
            connections: vec![
                run("pack-board", "pack", "board", Choice::None),
                run("board-fuse", "board", "fuse", Choice::None),
                run("fuse-cutoff", "fuse", "cutoff", Choice::None),
                run("cutoff-switch", "cutoff", "switch", Choice::None),
                run("lead", "switch", "plug", Choice::Undecided),
                run("plug-converter", "plug", "converter", Choice::None),
                run("converter-device", "converter", "device", Choice::None),
                run("charge-lead", "jack", "board", Choice::None),
                run("charger-jack", "charger", "jack", Choice::None),
                run("supply-charger", "supply", "charger", Choice::None),
            ],
            states: vec![
                State { name: StateName::Rest, open: vec!["switch".to_owned(), "charger".to_owned()] },
                State { name: StateName::Running, open: vec!["charger".to_owned()] },
                State { name: StateName::Charging, open: vec!["switch".to_owned()] },
                State { name: StateName::Tripped, open: vec!["board".to_owned()] },
                State { name: StateName::Off, open: vec!["switch".to_owned(), "charger".to_owned()] },
            ],
            feed: Feed::default(),
            charging: Charging::default(),
            wiring: Wiring::default(),
            buying: Buying::default(),
            arrivals: vec![],
            dummy: DummyBattery::default(),
            accepted: vec![],
        }
    }
}
