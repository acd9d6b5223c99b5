//! Keeping: nothing is lost, nothing is overwritten, everything can be gone back to.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::{COUNTS, SAVED, new_plan, saved};
use crate::pictures::plan_path;

pub async fn plans_are_renamed_deleted_and_taken_back(b: &Browser) -> Result<()> {
    new_plan(b, "Garden pump").await?;
    b.open("/").await?;
    b.click_text("More for Garden pump").await?;
    b.click_text("Rename Garden pump").await?;
    b.type_into(".v-dialog", "Name", "Pond pump").await?;
    b.click(".v-dialog button[type='submit']").await?;
    b.click_text("More for Pond pump").await?;
    b.click_text("Delete Pond pump").await?;
    let gone = "//li[contains(@class,'plan')][.//b[normalize-space(.)='Pond pump']]";
    b.until("the plan to go", async || {
        Ok(b.client.find(fantoccini::Locator::XPath(gone)).await.is_err().then_some(()))
    })
    .await?;
    b.click_text("Undo").await?;
    b.xpath(gone).await.context("the deletion was not taken back")?;
    Ok(())
}

/// Saves a plan from outside the page, as another tab does.
async fn save_elsewhere(b: &Browser, notes: &str) -> Result<()> {
    let script = "const [notes, done] = arguments;
        const path = '/api' + location.pathname.replace('/plan/', '/plans/').split('/').slice(0, 3).join('/');
        fetch(path).then(r => r.json()).then(({revision, edit, plan}) => fetch(path, {method: 'PUT',
            body: JSON.stringify({revision, edit, plan: {...plan, notes}})})).then(r => done(r.status))";
    let status = b.client.execute_async(script, vec![json!(notes)]).await?;
    ensure!(status == 200, "the other tab's save answered {status}");
    Ok(())
}

pub async fn two_tabs_cannot_overwrite_each_other(b: &Browser) -> Result<()> {
    new_plan(b, "Shared torch").await?;
    b.type_into("main", "Maximum", "6 V").await?;
    b.text_is(SAVED, |t| t == "saved, revision 2").await?;
    save_elsewhere(b, "from the other tab").await?;
    b.type_into("main", "Maximum", "7 V").await?;
    b.text_is("#conflict-title", |t| t == "This plan was saved elsewhere").await?;
    b.click_text("Use the stored one").await?;
    b.text_is(SAVED, |t| t == "saved, revision 4").await?;
    let fields = "return [...document.querySelectorAll('main input, main textarea')].map(e => e.value)";
    b.until("the stored one", async || {
        let shown = b.script(fields).await?;
        let has = |text: &str| shown.as_array().is_some_and(|v| v.contains(&json!(text)));
        Ok((has("6") && has("from the other tab")).then_some(()))
    })
    .await?;
    // What was not taken is in the history all the same.
    b.click_text("History").await?;
    b.text_is("[data-revision='3']", |t| t.contains("device, highest: 6 V stated → 7 V stated")).await?;
    b.click_text("Close").await?;
    Ok(())
}

pub async fn work_goes_on_while_the_program_is_away_and_is_saved_when_it_is_back(b: &Browser) -> Result<()> {
    new_plan(b, "Lost torch").await?;
    b.block(&["*/api/plans/*"]).await?;
    b.type_into("main", "Maximum", "6 V").await?;
    b.text_is("[data-testid='away']", |t| t.contains("kept in this browser")).await?;
    b.text_is(SAVED, |t| t == "not saved: kept in this browser").await?;
    b.block(&[]).await?;
    b.text_is(SAVED, |t| t == "saved, revision 2").await?;
    ensure!(b.count("[data-testid='away']").await? == 0, "the message stays");
    // A page that is closed before the program is back: the work is there when it is opened again.
    let address = b.client.current_url().await?;
    b.block(&["*/api/plans/*"]).await?;
    b.type_into("main", "Maximum", "7 V").await?;
    b.text_is(SAVED, |t| t == "not saved: kept in this browser").await?;
    b.client.goto("about:blank").await?;
    b.block(&[]).await?;
    b.client.goto(address.as_str()).await?;
    b.until("the kept figure", async || {
        let shown = b.script("return [...document.querySelectorAll('main input')].map(e => e.value)").await?;
        Ok(shown.as_array().is_some_and(|v| v.contains(&json!("7"))).then_some(()))
    })
    .await?;
    saved(b).await?;
    let kept = "return Object.keys(localStorage).some(k => k.endsWith(location.pathname.split('/')[2]))";
    b.until("the draft to be dropped", async || Ok((b.script(kept).await? == json!(false)).then_some(()))).await?;
    Ok(())
}

pub async fn a_save_whose_answer_is_lost_is_known_as_ones_own(b: &Browser) -> Result<()> {
    new_plan(b, "Far torch").await?;
    // The next two saves are done by the program, but their answers never come.
    b.script(
        "const real = window.fetch; let lose = 2;
         window.fetch = async (request) => {
           const answer = await real(request);
           if (request.method === 'PUT' && lose-- > 0) throw new TypeError('lost');
           return answer;
         }",
    )
    .await?;
    b.type_into("main", "Maximum", "6 V").await?;
    b.text_is(SAVED, |t| t == "not saved: kept in this browser").await?;
    // Work goes on from what the program has already, and is no conflict with it.
    b.type_into("main", "Maximum", "7 V").await?;
    saved(b).await?;
    ensure!(b.count("#conflict-title").await? == 0, "its own save was taken for somebody else's");
    let address = b.client.current_url().await?;
    b.open(address.path()).await?;
    b.until("the second figure", async || {
        let shown = b.script("return [...document.querySelectorAll('main input')].map(e => e.value)").await?;
        Ok(shown.as_array().is_some_and(|v| v.contains(&json!("7"))).then_some(()))
    })
    .await?;
    Ok(())
}

pub async fn a_paired_browser_is_listed_and_put_out(b: &Browser) -> Result<()> {
    let script = "const [code, done] = arguments;
        fetch('/api/pair', {method: 'POST', body: JSON.stringify({code})}).then(r => done(r.status))";
    let code = crate::DOORS.with(|doors| doors.code.clone());
    b.open("/").await?; // a page of this address, for the answer's cookie
    ensure!(b.client.execute_async(script, vec![json!(code)]).await? == 204, "the code was refused");
    b.open("/").await?;
    b.text_is("[data-testid='paired']", |t| t.contains("127.0.0.1") && t.contains("Chrome")).await?;
    b.click_text("Remove 127.0.0.1").await?;
    b.text_is("[data-testid='paired']", |t| t.contains("is removed") && !t.contains("Chrome")).await?;
    Ok(())
}

pub async fn a_revision_is_found_in_the_history_and_gone_back_to(b: &Browser) -> Result<()> {
    new_plan(b, "Night lamp").await?;
    b.type_into("main", "Cells in series", "6").await?;
    b.text_is(SAVED, |t| t == "saved, revision 2").await?;
    b.click_text("History").await?;
    b.text_is("[data-revision='2']", |t| t.contains("series: set to 6")).await?;
    b.text_is("[data-revision='1']", |t| t.contains("Start of the plan.")).await?;
    b.click_text("Go back to revision 1").await?;
    b.text_is(SAVED, |t| t == "saved, revision 3").await?;
    let six = "return [...document.querySelectorAll('main input')].some(e => e.value === '6')";
    b.until("the six to go", async || Ok((b.script(six).await? == json!(false)).then_some(()))).await?;
    b.click_text("Undo").await?;
    b.until("the six to be back", async || Ok((b.script(six).await? == json!(true)).then_some(()))).await?;
    saved(b).await?;
    Ok(())
}

pub async fn an_edit_is_undone_and_done_again(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/cells")).await?;
    b.text_is(COUNTS, |t| t == "4S2P").await?;
    b.type_into("main", "In parallel", "3").await?;
    b.text_is(COUNTS, |t| t == "4S3P").await?;
    b.click_text("Undo").await?;
    b.text_is(COUNTS, |t| t == "4S2P").await?;
    b.click_text("Redo").await?;
    b.text_is(COUNTS, |t| t == "4S3P").await?;
    b.click_text("Undo").await?;
    b.text_is(COUNTS, |t| t == "4S2P").await?;
    b.text_is("[data-plate='pack.ah']", |t| t.contains("7.5 Ah →") && t.contains("5 Ah")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_backup_is_taken_and_restored_on_the_screen(b: &Browser) -> Result<()> {
    b.open("/").await?;
    b.css("li.plan").await?;
    let script = "const done = arguments[0]; fetch('/api/backup').then(r => r.text()).then(done)";
    let text = b.client.execute_async(script, vec![]).await?;
    let file = std::env::temp_dir().join(format!("backup-{}.json", std::process::id()));
    std::fs::write(&file, text.as_str().context("no backup")?)?;
    let plans = b.count("li.plan").await?;
    new_plan(b, "Made after the backup").await?;
    b.open("/").await?;
    b.until("the new plan", async || Ok((b.count("li.plan").await? == plans + 1).then_some(()))).await?;
    b.choose_file("restore", &file).await?;
    b.click_text("Replace everything").await?;
    b.text_is("[data-testid='restored']", |t| t.contains("are restored")).await?;
    b.until("the plans of the backup", async || Ok((b.count("li.plan").await? == plans).then_some(()))).await?;
    std::fs::write(&file, "a photograph")?;
    b.choose_file("restore", &file).await?;
    b.click_text("Replace everything").await?;
    b.text_is("[data-testid='restored']", |t| t.contains("Nothing was restored")).await?;
    ensure!(b.count("li.plan").await? == plans, "a damaged backup changed the plans");
    std::fs::remove_file(&file)?;
    Ok(())
}
