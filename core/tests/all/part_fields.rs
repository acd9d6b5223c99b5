//! The table of figures: whatever stands in it is typed, checked, written, read and told the same way.

use brick_core::parts::catalogue::{Item, columns, read_parts, write_parts};
use brick_core::plan::fields::{self, Field, Form, PartKind, blank, put};
use serde_json::{Value, json};

/// A value that the figure can have.
fn example(field: &Field) -> Value {
    match field.form {
        Form::Name => json!("a part"),
        Form::Quantity(range) if range.whole => json!(range.min as i64 + 1),
        Form::Quantity(range) => json!((range.min.max(0.0) + range.max) / 4.0),
        Form::Known(range) => {
            json!({"value": range.max / 4.0, "how": "measured", "error": 0.01, "meter": "hand meter"})
        }
        Form::YesNo | Form::Flag => json!(true),
        Form::Choice(words) => json!(words.last().unwrap().value),
        Form::WireSize => json!({"standard": "awg", "awg": 18}),
        Form::CellSize => json!({"shape": "cylindrical", "diameter_mm": 18.0, "length_mm": 65.0}),
    }
}

fn item(kind: PartKind, body: Value) -> Result<Item, serde_json::Error> {
    let held_as = kind.held_as();
    serde_json::from_value(json!({"id": "one", "part": {"kind": held_as, held_as: body}}))
}

fn whole(kind: PartKind) -> Value {
    let mut body = blank(kind);
    fields::typed(kind).for_each(|f| put(&mut body, f.at, example(f)));
    body
}

#[test]
fn a_blank_part_is_none_until_what_it_needs_is_typed() {
    for kind in PartKind::ALL {
        let mut body = blank(kind);
        let needs = fields::typed(kind).filter(|f| f.needed && !matches!(f.form, Form::Name));
        for field in needs {
            assert!(item(kind, body.clone()).is_err(), "{kind:?} without {}", field.at);
            put(&mut body, field.at, example(field));
        }
        let item = item(kind, body).unwrap_or_else(|e| panic!("{kind:?}: {e}"));
        assert_eq!(item.check(""), vec![], "{kind:?}");
    }
}

#[test]
fn every_number_out_of_its_range_is_refused_where_it_stands() {
    for kind in PartKind::ALL {
        for field in fields::typed(kind) {
            let Some(range) = field.range() else { continue };
            for beyond in [range.max * 2.0 + 1.0, range.min - 1.0] {
                let mut body = whole(kind);
                let reading = matches!(field.form, Form::Known(_));
                let at = if reading { format!("{}/value", field.at) } else { field.at.to_owned() };
                put(&mut body, &at, if range.whole { json!(beyond as i64) } else { json!(beyond) });
                // A count below nothing is no number of its type at all.
                let Ok(item) = item(kind, body) else { continue };
                let refused = item.check("");
                let told = refused.iter().find(|e| e.field.ends_with(&at));
                assert!(told.is_some_and(|e| e.message.contains(range.label)), "{kind:?} {at} {beyond}: {refused:?}");
            }
        }
    }
}

#[test]
fn every_figure_of_every_kind_comes_back_from_a_sheet_as_it_went_out() {
    for kind in PartKind::ALL {
        let mut before = item(kind, whole(kind)).unwrap_or_else(|e| panic!("{kind:?}: {e}"));
        before.part = serde_json::from_value(serde_json::to_value(&before.part).unwrap()).unwrap();
        let text = write_parts(std::slice::from_ref(&before)).unwrap();
        let (after, unused) = read_parts(&text).unwrap_or_else(|e| panic!("{kind:?}: {e:?}\n{text}"));
        assert!(unused.is_empty(), "{unused:?}");
        let body = |item: &Item| {
            let mut part = serde_json::to_value(&item.part).unwrap();
            part[kind.held_as()]["offer"]["catalogue_id"] = Value::Null;
            part
        };
        assert_eq!(body(&after[0]), body(&before), "{kind:?}\n{text}");
    }
}

#[test]
fn no_two_figures_of_a_kind_share_a_place_a_column_or_a_label() {
    for kind in PartKind::ALL {
        let unlike = |of: fn(&Field) -> &str| {
            let mut names: Vec<&str> = fields::of(kind).map(of).collect();
            names.sort_unstable();
            names.windows(2).for_each(|w| assert_ne!(w[0], w[1], "{kind:?}"));
        };
        unlike(|f| f.at);
        unlike(|f| f.label);
        unlike(|f| if matches!(f.form, Form::WireSize | Form::CellSize) { f.at } else { f.column });
    }
    assert!(columns().iter().all(|c| !c.name.is_empty() && !c.kinds.is_empty()));
}

/// What a plan says of a pointer is what the table says of it.
#[test]
fn a_pointer_of_a_plan_leads_to_its_figure() {
    for (pointer, label) in [
        ("/nodes/3/part/part/module/protects/continuous_a", Some("Continuous current")),
        ("/nodes/1/part/part/fuse/rating_a", Some("Rating")),
        ("/packs/0/cell/part/rated_ah", Some("Capacity")),
        ("/runs/2/wire/part/insulation", Some("Insulation")),
        ("/nodes/3/part/part/connector/rating_a", None),
        ("/device/loads/0/draw", None),
    ] {
        assert_eq!(fields::at(pointer).map(|f| f.label), label, "{pointer}");
    }
}
