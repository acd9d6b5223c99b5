//! Every kind of job, from a blank page to a plan without stops: what it takes in fields and clicks, and its special point on the screen.

use std::sync::Mutex;

use anyhow::{Context, Result, bail, ensure};
use brick_e2e::Browser;

use super::{FINDINGS, saved, stage, take_best, unfold};

/// What a maker does beyond taking the best of each list.
pub enum Act {
    /// Goes to a stage.
    Go(&'static str),
    /// Types into a field of a part of the page.
    Type(&'static str, &'static str, &'static str),
    /// Types what is printed on the old battery and takes it over.
    Label(&'static str),
    /// Clicks an element.
    Click(&'static str),
    /// Chooses an entry of a drop-down.
    Select(&'static str, &'static str, &'static str),
    /// Clicks a button by its words.
    Press(&'static str),
    /// Takes the best part for a place.
    Take(&'static str),
    /// Takes the first part of a place whose name holds these words.
    TakeNamed(&'static str, &'static str),
    /// Chooses the first voltage whose name holds these words.
    Voltage(&'static str),
    /// Sees these words in an element.
    Sees(&'static str, &'static str),
    /// Takes the best of each list for everything that is still undecided, and clears what is still a stop by its first button.
    Finish,
}
use Act::{Click, Finish, Go, Label, Press, Sees, Select, Take, TakeNamed, Type, Voltage};

/// A job as a maker enters it.
pub struct Job {
    pub name: &'static str,
    kind: &'static str,
    acts: &'static [Act],
}

const MAIN: &str = "main";
/// The choice between a pack that is built and one taken as a whole.
const WHOLE: &str = "[data-testid='pack-ways'] label:last-of-type input";
const USUAL: &str = "[data-load='load-1']";

/// The jobs that no other story enters.
pub const JOBS: &[Job] = &[
    Job {
        name: "a charge module from five volts",
        kind: "new cells for a pack with its own electronics",
        acts: &[
            Label("Li-ion 7.4 V 2.2 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "0.8 A"),
            Voltage("2S Li-ion, direct"),
            Go("Cells"),
            Take("cell"),
            Go("Charging"),
            TakeNamed("charger", "“2 A”"),
            TakeNamed("supply", "5 V, 2 A"),
            Sees("[data-finding='charging.unknown-side']", "input"),
            Finish,
            Sees("[data-testid='counts']", "2S"),
        ],
    },
    Job {
        name: "one cell and a step-up for four primary cells",
        kind: "handheld with a gauge",
        acts: &[
            Label("4 × LR6 alkaline, 6 V"),
            Select(MAIN, "Can the old cells still be fitted?", "yes"),
            Press("Usual current"),
            Type(USUAL, "Draws", "0.1 A"),
            Sees("[data-finding='device.old-cells-fit']", "block the bay"),
            Voltage("step-up"),
            Finish,
            Sees("[data-testid='counts']", "1S"),
        ],
    },
    Job {
        name: "two tool packs, switched",
        kind: "pump or fan",
        acts: &[
            Label("Sealed lead-acid 24 V 12 Ah"),
            Type(MAIN, "Maximum", "43 V"),
            Press("Usual current"),
            Type(USUAL, "Draws", "8 A"),
            Go("Cells"),
            Click(WHOLE),
            TakeNamed("ready", "tool pack"),
            Go("Voltage"),
            Press("Add a second pack…"),
            Select("[data-feed='second']", "Used in series", "yes"),
            Select("[data-feed='second']", "Used in parallel", "yes"),
            Sees("[data-feed='second']", "42 V"),
            Sees("[data-testid='plate-sub']", "42 V in series, 21 V in parallel"),
            Finish,
        ],
    },
    Job {
        name: "a board re-made for a higher trip",
        kind: "new cells for a pack with its own electronics",
        acts: &[
            Label("Li-ion 14.4 V 2.6 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "6 A"),
            Voltage("4S Li-ion"),
            Go("Protection"),
            TakeNamed("board", "five pairs"),
            Sees("[data-figure='board.trip_a']", " A"),
            Finish,
        ],
    },
    Job {
        name: "one to three cells in holders",
        kind: "instrument with its own charger",
        acts: &[
            Label("Sealed lead-acid 6 V 4 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "0.4 A"),
            Select(MAIN, "It charges its battery itself", "yes"),
            Voltage("step-up"),
            Go("Cells"),
            Take("cell"),
            Type(MAIN, "In parallel", "3"),
            Press("Add cell holders…"),
            Type("[data-feed='holder']", "Minimum number of cells", "1"),
            Select("[data-feed='holder']", "Protection per cell", "an ideal diode"),
            Finish,
            Go("Run"),
            Sees("[data-testid='by-count']", "Current per cell"),
        ],
    },
    Job {
        name: "a hobby pack on a plug",
        kind: "ready pack on a plug",
        acts: &[
            Label("Li-ion 11.1 V 0.8 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "4 A"),
            Go("Cells"),
            TakeNamed("ready", "hobby pack"),
            Go("Protection"),
            Take("alarm"),
            Sees("[data-finding='voltage.alarm-only']", "alarm"),
            Finish,
        ],
    },
    Job {
        name: "a pump on a tool pack through a cut-off",
        kind: "pump or fan",
        acts: &[
            Label("Sealed lead-acid 12 V 7 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "3 A"),
            Go("Cells"),
            Click(WHOLE),
            TakeNamed("ready", "tool pack"),
            Go("Protection"),
            TakeNamed("cutoff", "cut-off"),
            Finish,
        ],
    },
    Job {
        name: "a bleeder against the charge current",
        kind: "motor tool",
        acts: &[
            Label("Ni-Cd 14.4 V 1.3 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "6 A"),
            Finish,
            Go("Charging"),
            Sees(MAIN, "balancer"),
        ],
    },
    Job {
        name: "another chemistry for a toy",
        kind: "toy or model",
        acts: &[
            Label("LiFePO4 6.4 V 1.1 Ah"),
            Select(MAIN, "Old charger still fits", "yes"),
            Press("Usual current"),
            Type(USUAL, "Draws", "5 A"),
            Type(MAIN, "Maximum", "8.6 V"),
            Voltage("2S Li-ion, direct"),
            Sees("[data-finding='charging.old-charger-fits']", "charger"),
            Finish,
        ],
    },
    Job {
        name: "a standby supply",
        kind: "standby supply",
        acts: &[
            Label("Sealed lead-acid 12 V 7 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "1 A"),
            Voltage("4S LiFePO4, direct"),
            Press("There is a change-over…"),
            Select("[data-feed='change_over']", "Changes over by", "a relay"),
            Sees("[data-figure='change.gap_s']", "15 ms"),
            Sees("[data-testid='mains']", "no feed for 15 ms"),
            Finish,
        ],
    },
    Job {
        name: "eight cells on a power bank",
        kind: "power bank",
        acts: &[
            Type(MAIN, "Maximum", "5.25 V"),
            Type(MAIN, "Minimum", "4.75 V"),
            Press("Usual current"),
            Type(USUAL, "Draws", "2 A"),
            Voltage("1S Li-ion + step-up"),
            Go("Cells"),
            Take("cell"),
            Type(MAIN, "In parallel", "8"),
            Finish,
            Sees("[data-testid='counts']", "1S8P"),
        ],
    },
    Job {
        name: "six nickel cells, two in series direct",
        kind: "motor tool",
        acts: &[
            Label("Ni-MH 7.2 V 2.0 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "4 A"),
            Voltage("2S Li-ion, direct"),
            Sees("[data-finding='device.highest-assumed']", "8.28 V"),
            Finish,
        ],
    },
    Job {
        name: "an adjustable bench supply",
        kind: "adjustable bench supply",
        acts: &[
            Type(MAIN, "Maximum", "15 V"),
            Type(MAIN, "Minimum", "11 V"),
            Press("Usual current"),
            Type(USUAL, "Draws", "1 A"),
            Voltage("step-up-down"),
            Press("Its figures"),
            Select("[data-place='converter']", "Turned while in use", "yes"),
            Type("[data-place='converter']", "Minimum output voltage", "3 V"),
            Type("[data-place='converter']", "Maximum output voltage", "12 V"),
            Type("[data-place='converter']", "Reference at its feedback pin", "1.25 V"),
            Type("[data-place='converter']", "Feedback resistor to minus", "1 kohm"),
            Type("[data-place='converter']", "Adjuster, end to end", "10 kohm"),
            Sees("[data-figure='adjuster.across_ohm']", "24 k"),
            Finish,
            Go("Voltage"),
            Sees("[data-testid='output-map']", "Battery full"),
        ],
    },
    Job {
        name: "a nickel drill on four in series",
        kind: "motor tool",
        acts: &[
            Label("Ni-MH 14.4 V 2.0 Ah"),
            Press("Usual current"),
            Type(USUAL, "Draws", "9 A"),
            Finish,
            Sees("[data-testid='counts']", "4S"),
        ],
    },
    Job {
        name: "a nickel vacuum on salvaged cells",
        kind: "motor tool",
        acts: &[
            Label("Ni-MH 7.2 V 1.8 Ah"),
            Select(MAIN, "Old charger still fits", "yes"),
            Press("Usual current"),
            Type(USUAL, "Draws", "7 A"),
            Voltage("2S Li-ion, direct"),
            Go("Cells"),
            TakeNamed("cell", "salvaged"),
            Type(MAIN, "In parallel", "4"),
            Sees("[data-finding='cells.salvaged-untested']", "scrap"),
            Finish,
        ],
    },
];

/// Fields and clicks of every job that was entered.
static TALLIES: Mutex<Vec<(u32, u32)>> = Mutex::new(vec![]);

/// Most fields and clicks of any kind of job, and of the one in the middle.
const MOST: (u32, u32) = (35, 45);
const MIDDLE: (u32, u32) = (20, 30);

/// Enters a job.
pub async fn enter(b: &Browser, job: &Job) -> Result<()> {
    b.open("/").await?;
    b.tally();
    b.click_text("New plan").await?;
    b.type_into("main", "Name", job.name).await?;
    b.select("main", "Kind of job", job.kind).await?;
    b.click_text("Stage by stage").await?;
    b.text_is("[data-testid='plan-name']", |t| t == job.name).await?;
    for (i, act) in job.acts.iter().enumerate() {
        perform(b, act).await.with_context(|| format!("{}, act {i}", job.name))?;
    }
    b.text_is(FINDINGS, |t| !t.contains("stop")).await?;
    saved(b).await?;
    let (fields, clicks) = b.tally();
    println!("{}: {fields} fields, {clicks} clicks", job.name);
    ensure!(fields <= MOST.0 && clicks <= MOST.1, "{fields} fields and {clicks} clicks");
    keep((fields, clicks));
    Ok(())
}

/// Counts a job that another story entered.
pub fn keep(tally: (u32, u32)) {
    TALLIES.lock().unwrap_or_else(std::sync::PoisonError::into_inner).push(tally);
}

/// The job in the middle, once all of them were entered.
pub async fn the_job_in_the_middle_takes_few_fields_and_clicks(_: &Browser) -> Result<()> {
    let tallies = TALLIES.lock().unwrap_or_else(std::sync::PoisonError::into_inner).clone();
    // Told alone, or with a few, there is no middle yet.
    if tallies.len() <= JOBS.len() {
        return Ok(());
    }
    let middle = |mut counts: Vec<u32>| {
        counts.sort_unstable();
        counts[counts.len() / 2]
    };
    let fields = middle(tallies.iter().map(|t| t.0).collect());
    let clicks = middle(tallies.iter().map(|t| t.1).collect());
    println!("the job in the middle of {}: {fields} fields, {clicks} clicks", tallies.len());
    ensure!(fields <= MIDDLE.0 && clicks <= MIDDLE.1, "{fields} fields and {clicks} clicks in the middle");
    Ok(())
}

async fn perform(b: &Browser, act: &Act) -> Result<()> {
    match act {
        Go(title) => stage(b, title).await?,
        Type(within, label, text) => b.type_into(within, label, text).await?,
        Label(words) => {
            b.type_into(MAIN, "Everything printed on it", words).await?;
            b.click("[data-fixes^='device.label-words']:not([inert]) button").await?;
            b.gone("[data-fixes^='device.label-words']").await?;
        }
        Click(selector) => b.click(selector).await?,
        Select(within, label, entry) => b.select(within, label, entry).await?,
        Press(words) => b.click_text(words).await?,
        Take(place) => {
            take_best(b, place).await?;
        }
        TakeNamed(place, words) => take_named(b, place, words).await?,
        Voltage(words) => {
            stage(b, "Voltage").await?;
            b.css("li[data-option]").await?;
            if b.count(&format!("li[data-option*='{words}']")).await? == 0 {
                b.click("label.all input").await?;
            }
            let choose =
                format!("//li[@data-option[contains(., '{words}')]]//button[starts-with(@aria-label,'Choose')]");
            let Ok(button) = b.xpath(&choose).await else {
                let names =
                    "return [...document.querySelectorAll('li[data-option]')].map(o => o.dataset.option).join('; ')";
                bail!("no voltage “{words}” among {}", b.script(names).await?);
            };
            b.press(button).await?;
            b.text_is("li.chosen .words b", |t| t.contains(words)).await?;
        }
        Sees(selector, words) => {
            b.text_is(selector, |t| t.contains(words)).await?;
        }
        Finish => finish(b).await?,
    }
    Ok(())
}

async fn take_named(b: &Browser, place: &str, words: &str) -> Result<()> {
    unfold(b, place).await?;
    b.click(&format!("[data-place='{place}'] button[aria-label^='Use'][aria-label*='{words}']")).await?;
    b.text_is(&format!("[data-place='{place}'] [data-testid='chosen']"), |t| t.contains(words)).await?;
    Ok(())
}

/// Stages with their places, in the order of the work.
const PLACES: [(&str, &[&str]); 5] = [
    ("Cells", &["cell"]),
    ("Brick", &["strip"]),
    ("Protection", &["board", "fuse"]),
    ("Charging", &["charger", "supply", "jack"]),
    ("Wiring", &["lead", "plug", "switch"]),
];

async fn finish(b: &Browser) -> Result<()> {
    let unset = "return document.querySelector(\"[data-testid='counts']\")?.textContent.includes('?') ?? true";
    if b.script(unset).await?.as_bool() == Some(true) {
        stage(b, "Voltage").await?;
        let chosen = "return document.querySelectorAll('li.chosen').length";
        b.css("li[data-option]").await?;
        if b.script(chosen).await? == 0 {
            b.click("li[data-option] button[aria-label^='Choose']").await?;
            b.css("li.chosen").await?;
        }
    }
    for (title, places) in PLACES {
        stage(b, title).await?;
        for place in places {
            let open = format!(
                "const p = document.querySelector(\"[data-place='{place}']\");
                 return p ? p.textContent.includes('not decided yet') : false"
            );
            if b.script(&open).await?.as_bool() != Some(true) {
                continue;
            }
            if *place == "supply"
                && b.script("return !!document.querySelector(\"[data-place='charger'] [data-testid='chosen']\")")
                    .await?
                    .as_bool()
                    == Some(true)
            {
                // A charger for the wall needs none: what asks for one is found.
                continue;
            }
            if !is_offered(b, place).await? {
                continue;
            }
            take_best(b, place).await.with_context(|| format!("taking the best {place}"))?;
        }
    }
    clear_stops(b).await
}

/// Whether the list of a place has something that fits.
async fn is_offered(b: &Browser, place: &str) -> Result<bool> {
    let list = format!("[data-place='{place}'] ol.list");
    unfold(b, place).await?;
    b.css(&format!("{list} li, [data-place='{place}'] button.textlink")).await?;
    Ok(b.count(&format!("{list} li .words b")).await? > 0)
}

/// Presses the first button of the first stop until there is none.
async fn clear_stops(b: &Browser) -> Result<()> {
    const MOST_STOPS: usize = 8;
    for _ in 0..MOST_STOPS {
        let stops = "const open = [...document.querySelectorAll('[data-finding].stop')];
            return JSON.stringify(open.map(f => [f.dataset.finding, f.querySelectorAll(\"[data-testid='fix']\").length]))";
        saved(b).await?;
        let found: Vec<(String, u32)> = serde_json::from_str(b.script(stops).await?.as_str().unwrap_or("[]"))?;
        let Some((key, _)) = found.first().cloned() else { return Ok(()) };
        b.click(&format!("[data-finding='{key}'] :not([inert]) > [data-testid='fix']"))
            .await
            .with_context(|| format!("a fix of {key}"))?;
        b.gone(&format!("[data-finding='{key}'].stop")).await?;
    }
    bail!("stops are left after {MOST_STOPS} buttons")
}
