//! The parts catalogue as a sheet: out and in again, and what is refused.

use brick_core::Catalogue;
use brick_core::parts::catalogue::{Column, columns, read_parts, write_parts};

fn demo() -> Catalogue {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/catalogue.json");
    Catalogue::from_json(&std::fs::read_to_string(path).unwrap()).unwrap()
}

#[test]
fn every_part_of_the_demo_comes_back_as_it_was() {
    let items = demo().items;
    let text = write_parts(&items).unwrap();
    let (back, unused) = read_parts(&text).unwrap_or_else(|e| panic!("{e:?}"));
    assert!(unused.is_empty(), "{unused:?}");
    assert_eq!(back.len(), items.len());
    for (now, before) in back.iter().zip(&items) {
        assert_eq!(now, before);
    }
}

/// Every figure of a part has a column: a part written and read never loses one.
#[test]
fn every_figure_of_a_part_has_a_column() {
    fn leaves(value: &serde_json::Value, at: &str, found: &mut Vec<String>) {
        match value {
            serde_json::Value::Object(map) => {
                map.iter().for_each(|(key, value)| leaves(value, &format!("{at}/{key}"), found));
            }
            _ => found.push(at.to_owned()),
        }
    }
    let known: Vec<&str> = columns().iter().map(|c: &Column| c.at.as_str()).collect();
    for item in demo().items {
        let part = serde_json::to_value(&item.part).unwrap();
        let body = &part[part["kind"].as_str().unwrap()];
        let mut found = vec![];
        leaves(body, "", &mut found);
        for at in found {
            let is_object = known.iter().any(|k| k.starts_with(&format!("{at}/")));
            assert!(known.contains(&at.as_str()) || is_object || at == "/offer/catalogue_id", "{}: {at}", item.id);
        }
    }
    let mut names: Vec<&str> = columns().iter().map(|c| c.name.as_str()).collect();
    names.sort_unstable();
    assert!(names.windows(2).all(|w| w[0] != w[1]), "two columns of one name");
}

#[test]
fn a_sheet_typed_by_hand_is_read_with_what_is_usual() {
    let text = "kind;name;price;series;board_continuous_a;trip_a;rating_a;awg;wire_standard;at_hand\n\
        module;Board, 4 in series;7,40;4;10;25;;;;2\n\
        fuse;Blade 15 A;0,40;;;;15;;;\n\
        wire;Red silicone 16;1,2;;;;;16;awg;3\n";
    let (items, _) = read_parts(text).unwrap_or_else(|e| panic!("{e:?}"));
    let ids: Vec<&str> = items.iter().map(|i| i.id.as_str()).collect();
    assert_eq!(ids, ["board-4-in-series", "blade-15-a", "red-silicone-16"]);
    let board = serde_json::to_value(&items[0]).unwrap();
    assert_eq!(board["at_hand"], 2);
    assert_eq!(board["part"]["module"]["protects"]["trip_a"]["how"], "stated");
    assert_eq!(board["part"]["module"]["protects"]["bleed_a"], serde_json::Value::Null, "not stated");
    let fuse = serde_json::to_value(&items[1]).unwrap();
    assert_eq!(fuse["part"]["fuse"]["style"], "blade");
}

#[test]
fn every_bad_line_is_told_with_its_number_and_column_and_nothing_is_taken() {
    let text = "id,kind,name,rating_a,dc_v,series,at_hand\n\
        a,fuse,Blade,15,32,,\n\
        b,fuse,Blade,,32,,\n\
        c,fuse,Blade,99999,32,,\n\
        d,gadget,What,,,,\n\
        a,fuse,Blade,10,32,,\n\
        e,fuse,Blade,many,32,,\n\
        f,fuse,Blade,5,32,4,\n\
        g h,fuse,Blade,5,32,,\n\
        i,fuse,,5,32,,\n\
        j,fuse,Blade,5,32,,1.5\n";
    let errors = read_parts(text).unwrap_err();
    let told = |line: usize| {
        let of: Vec<_> = errors.iter().filter(|e| e.line == line).map(|e| e.reason.as_str()).collect();
        of.join("; ")
    };
    assert_eq!(told(2), "");
    assert!(told(3).contains("rating_a: is needed"), "{}", told(3));
    assert!(told(4).contains("rating_a") && told(4).contains("1000 A"), "{}", told(4));
    assert!(told(5).contains("gadget"), "{}", told(5));
    assert!(told(6).contains("“a” is listed above"), "{}", told(6));
    assert!(told(7).contains("rating_a: “many”"), "{}", told(7));
    assert!(told(8).contains("series: a fuse has no such figure"), "{}", told(8));
    assert!(told(9).contains("id"), "{}", told(9));
    assert!(told(10).contains("name"), "{}", told(10));
    assert!(told(11).contains("at_hand"), "{}", told(11));
}
