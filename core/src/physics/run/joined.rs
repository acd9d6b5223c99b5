//! The cells of a pack joined: what they are together behind one resistance, and how each shares a current.

use crate::physics::brick::{Circuit, Solver};

/// A solved network is used until the resistance of a cell has changed by this share; what is left of the change is put
/// into its voltage.
const STALE: f64 = 0.02;

/// How cells are joined.
#[derive(Debug, Clone)]
pub enum Joined {
    /// Groups of so many cells, joined without resistance.
    Ideal {
        /// Cells in a group.
        parallel: usize,
    },
    /// By strips and wires.
    Strips {
        /// Cells in a group.
        parallel: usize,
        /// Contacts of a holder in each cell.
        contacts_ohm: f64,
        /// The strips.
        circuit: Circuit,
    },
}

/// A solved network, with what one ampere does in it.
#[derive(Debug, Clone)]
struct Network {
    solver: Solver,
    share: Vec<f64>,
    ohm: f64,
}

impl Network {
    fn of(solver: Solver) -> Network {
        let one = solver.flow(&vec![0.0; solver.cell_ohm().len()], 1.0);
        Network { solver, share: one.cell_a, ohm: -one.pack_v }
    }
}

/// The cells at one moment: voltage and resistance of the pack, and how a current divides.
#[derive(Debug, Clone)]
pub struct Sharer {
    parallel: usize,
    contacts_ohm: f64,
    network: Option<Network>,
    /// Current of each cell without a load.
    circulating_a: Vec<f64>,
    /// Share of each cell in a load.
    share: Vec<f64>,
    /// Voltage of the pack without a load.
    pub rest_v: f64,
    /// Resistance of the pack at once.
    pub ohm: f64,
}

impl Sharer {
    /// Ready for so many cells. `None` for strips that leave a cell in the air.
    pub fn new(joined: &Joined, cells: usize) -> Option<Sharer> {
        let (parallel, contacts_ohm, network) = match joined {
            Joined::Ideal { parallel } => (*parallel, 0.0, None),
            Joined::Strips { parallel, contacts_ohm, circuit } => {
                (*parallel, *contacts_ohm, Some(Network::of(circuit.solver()?)))
            }
        };
        let none = vec![0.0; cells];
        Some(Sharer {
            parallel,
            contacts_ohm,
            network,
            circulating_a: none.clone(),
            share: none,
            rest_v: 0.0,
            ohm: 0.0,
        })
    }

    /// Takes in the voltage behind each cell's resistance, and the resistances. `cell_a` are the currents a step before.
    /// `None` if the network cannot be solved any more.
    pub fn take(&mut self, behind_v: &[f64], r0_ohm: &[f64], cell_a: &[f64]) -> Option<()> {
        match &mut self.network {
            None => {
                self.rest_v = 0.0;
                self.ohm = 0.0;
                let groups = behind_v.chunks(self.parallel).zip(r0_ohm.chunks(self.parallel));
                let own = self.circulating_a.chunks_mut(self.parallel).zip(self.share.chunks_mut(self.parallel));
                for ((volts, ohms), (circulating_a, share)) in groups.zip(own) {
                    // The shares hold the conductances until their sum is known.
                    share.iter_mut().zip(ohms).for_each(|(s, r)| *s = 1.0 / r);
                    let group_ohm = 1.0 / share.iter().sum::<f64>();
                    let group_v = volts.iter().zip(&*share).map(|(v, s)| v * s).sum::<f64>() * group_ohm;
                    for ((v, own_a), s) in volts.iter().zip(circulating_a).zip(share) {
                        *own_a = (v - group_v) * *s;
                        *s *= group_ohm;
                    }
                    self.rest_v += group_v;
                    self.ohm += group_ohm;
                }
            }
            Some(network) => {
                let contacts_ohm = self.contacts_ohm;
                let whole = |r: &f64| r + contacts_ohm;
                let stale = |(r, used): (&f64, &f64)| (whole(r) / used - 1.0).abs() > STALE;
                if r0_ohm.iter().zip(network.solver.cell_ohm()).any(stale) {
                    network.solver.refit(&r0_ohm.iter().map(whole).collect::<Vec<_>>())?;
                    *network = Network::of(network.solver.clone());
                }
                let left = r0_ohm
                    .iter()
                    .zip(network.solver.cell_ohm())
                    .zip(cell_a)
                    .map(|((r, used), a)| (whole(r) - used) * a);
                let emf_v: Vec<f64> = behind_v.iter().zip(left).map(|(v, left_v)| v - left_v).collect();
                let open = network.solver.flow(&emf_v, 0.0);
                self.rest_v = open.pack_v;
                self.circulating_a.copy_from_slice(&open.cell_a);
                self.share.copy_from_slice(&network.share);
                self.ohm = network.ohm;
            }
        }
        Some(())
    }

    /// Current of each cell while the pack gives one.
    pub fn divide(&self, pack_a: f64, cell_a: &mut [f64]) {
        for ((a, own_a), share) in cell_a.iter_mut().zip(&self.circulating_a).zip(&self.share) {
            *a = own_a + share * pack_a;
        }
    }
}
