//! The network of a laid brick as a netlist that any SPICE reads.

use std::fmt::Write;

use crate::assess::sharing_of;
use crate::physics::brick::{Sharing, Terminal, label};
use crate::plan::Plan;

/// The network at rest voltage of half charge, loaded with the continuous current, with an operating point asked for.
///
/// `None` where the plan has no network. Nodes are named by cell and sign (`1a_p`, `1a_m`); those of pack minus are 0.
pub fn netlist(plan: &Plan) -> Option<String> {
    sharing_of(plan, |sharing, load_a| write(plan, sharing, load_a))?
}

fn write(plan: &Plan, sharing: &Sharing, load_a: Option<f64>) -> Option<String> {
    // Cells chosen before the voltage bring their own chemistry.
    let pack = plan.main_pack()?;
    let nominal_v = pack.chemistry.or(pack.cell().map(|c| c.chemistry))?.facts().nominal_v;
    let cell = |k: usize| label(k / sharing.parallel, k % sharing.parallel);
    let node = |t: Terminal| {
        if sharing.minus.contains(&t) {
            "0".to_owned()
        } else if sharing.plus.contains(&t) {
            "pack".to_owned()
        } else {
            format!("{}_{}", cell(t.cell), if t.plus { "p" } else { "m" })
        }
    };
    // The title must stay one line whatever the plan is called.
    let title: String = plan.name.chars().filter(|c| !c.is_control()).collect();
    let mut text = format!("* {title}: cells, strips and wires of the brick, ohm and volt\n");
    for (k, ohm) in sharing.cell_ohm.iter().enumerate() {
        let [plus, minus] = [true, false].map(|plus| node(Terminal { cell: k, plus }));
        let name = cell(k);
        let _ = writeln!(text, "V{name} {name}_e {minus} DC {nominal_v}");
        let _ = writeln!(text, "R{name} {name}_e {plus} {ohm:.6e}");
    }
    for (k, segment) in sharing.segments.iter().enumerate() {
        let kind = if segment.strip.is_some() { "S" } else { "W" };
        let [a, b] = segment.ends.map(node);
        // Two terminals that one lead joins are one node: nothing flows between them.
        if a != b {
            let _ = writeln!(text, "R{kind}{} {a} {b} {:.6e}", k + 1, segment.ohm);
        }
    }
    let _ = writeln!(text, "Iload pack 0 DC {}", load_a.unwrap_or(1.0));
    text.push_str(".op\n.end\n");
    Some(text)
}
