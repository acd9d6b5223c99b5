//! Guarding: who acts first when too much current flows.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{copy_of, saved, stage};

pub async fn who_acts_first_is_told_and_changes_with_the_strips_and_the_fuse(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Protection").await?;
    let case = |name: &str| format!("[data-case='{name}']");
    let overload = b.text_is(&case("overload"), |t| t.contains("27 A")).await?;
    ensure!(overload.contains("first harmed: strips"), "{overload}");
    let short = b.text(&case("dead short")).await?;
    ensure!(short.contains("the board opens within 1 ms"), "{short}");
    ensure!(b.count("[data-curve]").await? == 7, "board, fuse, cells, strips, switch, wire, plug");

    // Thicker strips: then it is the wire that an overload harms first.
    b.click_text("Two layers of strip").await?;
    b.text_is(&case("overload"), |t| t.contains("first harmed: 16 AWG wire")).await?;
    b.click_text("silicone wire 12 AWG").await?;
    b.text_is(&case("overload"), |t| !t.contains("harmed: ")).await?;
    saved(b).await?;
    Ok(())
}
