//! Jack against plug: the contact that is plus in one must be plus in the other.

use crate::assess::finding::Severity;
use crate::assess::findings::Findings;
use crate::assess::rule;
use crate::physics::charging::{Polarity, polarity};

pub fn check(f: &mut Findings<'_, '_>) {
    let charging = &f.workspace.plan.charging;
    let (Some(jack), Some(plug)) = (&charging.jack_v, &charging.plug_v) else { return };
    let both = (polarity(jack), polarity(plug));
    if matches!(both, (Polarity::PlusInside, Polarity::MinusInside) | (Polarity::MinusInside, Polarity::PlusInside)) {
        f.tell(
            Severity::Stop,
            rule::charging::POLARITY,
            "Jack and plug have opposite polarity",
            "The contact that is plus in one is minus in the other. Plugged in, charger and pack short each other through the wire. Swap the leads of one, and read both again.",
        );
    }
}
