//! What follows from what is said once: the counts of a pack that is taken as a whole, the part of a place that another place's thing
//! serves.

use super::{Change, Choice, Module, NodeKind, Offer, Pack, Part, Plan, SecondPack, Supplies};

impl Pack {
    /// Takes over what its ready pack decides.
    fn follow(&mut self) {
        self.group = self.ready.part().map(|ready| Box::new(ready.group()));
        let Some(ready) = self.ready.part() else { return };
        self.chemistry = Some(ready.chemistry);
        self.series = Some(ready.series);
        self.parallel = Some(1);
        self.groups.clear();
        self.brick.layout = None;
    }
}

impl Plan {
    /// Takes over everything that follows; a plan that is read has been through this.
    pub(super) fn follow(&mut self) {
        self.packs.iter_mut().for_each(Pack::follow);
        self.feed.second.iter_mut().for_each(SecondPack::follow);
        for i in 0..self.nodes.len() {
            if let Some(part) = self.served_by(i) {
                self.nodes[i].part = part;
            }
        }
        if let Some((place, host)) = self.host_supply() {
            self.nodes[place].part = host;
        }
    }

    /// The place of the supply, and the device's own charge circuit as the part there, where that was said and its voltage and current are known.
    fn host_supply(&self) -> Option<(usize, Choice<Part>)> {
        let place = self.nodes.iter().position(|n| n.kind == NodeKind::Supply)?;
        let electronics = &self.device.electronics;
        let (volts, limit) = (electronics.charge_v.as_ref()?, electronics.charge_limit_a.as_ref()?);
        (self.charging.fed_by_host == Some(true)).then(|| {
            let offer = Offer { name: "the device's own charge circuit".to_owned(), ..Offer::default() };
            let supplies = Supplies { output_v: volts.value, output_a: limit.value };
            let module = Module { supplies: Some(supplies), offer, ..Module::default() };
            (place, Choice::chosen(Part::Module { module: Box::new(module) }))
        })
    }

    /// The part of the place that serves this one, too, where that place says so and has one of its own.
    fn served_by(&self, place: usize) -> Option<Choice<Part>> {
        let other = self.nodes[place].with.as_deref()?;
        self.nodes.iter().find(|n| n.id == other && n.with.is_none()).map(|n| n.part.clone())
    }

    /// The same as changes, for a page that holds the plan as it was typed.
    pub fn follows(&self) -> Vec<Change> {
        let packs = self.packs.iter().enumerate().filter(|(_, p)| p.ready.part().is_some()).flat_map(|(i, p)| {
            [
                Change::put(format!("/packs/{i}/chemistry"), p.chemistry),
                Change::put(format!("/packs/{i}/series"), p.series),
                Change::put(format!("/packs/{i}/parallel"), p.parallel),
                Change::put(format!("/packs/{i}/groups"), &p.groups),
                Change::put(format!("/packs/{i}/brick/layout"), &p.brick.layout),
            ]
        });
        let second = self.feed.second.iter().filter(|s| s.ready.part().is_some()).flat_map(|s| {
            [
                Change::put("/feed/second/series", s.series),
                Change::put("/feed/second/capacity_ah", s.capacity_ah),
                Change::put("/feed/second/pack_ohm", s.pack_ohm),
            ]
        });
        let nodes = self.nodes.iter().enumerate().filter(|(_, n)| n.with.is_some());
        let host = self.host_supply().map(|(i, part)| Change::put(format!("/nodes/{i}/part"), part));
        packs
            .chain(second)
            .chain(nodes.map(|(i, n)| Change::put(format!("/nodes/{i}/part"), &n.part)))
            .chain(host)
            .collect()
    }
}
