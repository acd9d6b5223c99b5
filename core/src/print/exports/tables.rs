//! Strips and welds as tables, comma and point, one header line.

use crate::assess::network;
use crate::base::table::written;
use crate::physics::brick::{End, Laid, cuts, draw, label, strip_places};
use crate::plan::{Plan, StripMetal};

fn metal(of: StripMetal) -> &'static str {
    match of {
        StripMetal::Nickel => "nickel",
        StripMetal::NickelPlatedSteel => "nickel-plated steel",
        StripMetal::Copper => "copper",
        StripMetal::Aluminium => "aluminium",
    }
}

/// Every strip: where it lies, its size, what it carries at the continuous current. `None` without layout or strip.
pub fn strips_csv(plan: &Plan) -> Option<String> {
    let laid = Laid::of(plan).filter(Laid::suits)?;
    let strip = laid.pack.strip.part()?;
    let places = strip_places(&laid);
    let drawing = draw(&laid);
    let flows = network(plan, None).ok()?;
    let head =
        "face,strip,node,joins,metal,width_mm,thickness_mm,layers,length_mm,welds,mass_g,largest_current_a,limit_a";
    let mut rows = vec![head.split(',').map(str::to_owned).collect::<Vec<_>>()];
    for cut in cuts(&laid, strip) {
        let (face, number) = *places.get(&(cut.piece, cut.line))?;
        let own = || flows.segments.iter().filter(|s| s.face == Some(face) && s.strip == Some(number));
        let most_a = own().map(|s| s.current_a).fold(0.0, f64::max);
        let limit_a = own().find_map(|s| s.limit_a);
        let mark = drawing.faces.get(face)?.strips.get(number)?;
        rows.push(vec![
            drawing.faces[face].title.clone(),
            (number + 1).to_string(),
            format!("B{}", mark.node),
            mark.joins.join(" "),
            metal(strip.metal).to_owned(),
            strip.width_mm.to_string(),
            strip.thickness_mm.to_string(),
            strip.layers.to_string(),
            format!("{:.2}", cut.length_mm),
            cut.welds.to_string(),
            format!("{:.3}", cut.mass_g),
            if own().next().is_some() { format!("{most_a:.3}") } else { String::new() },
            limit_a.map_or_else(String::new, |a| format!("{a:.3}")),
        ]);
    }
    written(rows)
}

/// Every weld: the strip, the cell and its terminal, and where it lies on its face. `None` without layout or strip.
pub fn welds_csv(plan: &Plan) -> Option<String> {
    let laid = Laid::of(plan).filter(Laid::suits)?;
    let strip = laid.pack.strip.part()?;
    let places = strip_places(&laid);
    let drawing = draw(&laid);
    let cells = laid.cells_by_place();
    let head = "face,strip,cell,terminal,x_mm,y_mm,layers,pulses";
    let mut rows = vec![head.split(',').map(str::to_owned).collect::<Vec<_>>()];
    for cut in cuts(&laid, strip) {
        let (face, number) = *places.get(&(cut.piece, cut.line))?;
        let piece = &laid.pieces()[cut.piece];
        for &site in &piece.lines[cut.line].sites {
            let cell = cells[laid.grid.index(site)]?;
            let plus = laid.layout.cells[cell].plus_up == (piece.end == End::Top);
            let [x_mm, y_mm] = crate::physics::brick::seen_mm(&laid.grid, site, piece.end);
            rows.push(vec![
                drawing.faces.get(face)?.title.clone(),
                (number + 1).to_string(),
                label(cell / laid.parallel, cell % laid.parallel),
                if plus { "plus" } else { "minus" }.to_owned(),
                format!("{x_mm:.2}"),
                format!("{y_mm:.2}"),
                strip.layers.to_string(),
                (cut.welds / cut.terminals as u32).to_string(),
            ]);
        }
    }
    written(rows)
}
