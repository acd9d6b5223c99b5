//! A headless Chromium, driven: one session for all tests, sized like a real screen, its console watched.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicU32, Ordering};
use std::time::{Duration, Instant};

use anyhow::{Context, Result, bail};
use fantoccini::elements::Element;
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder, Locator};
use http::Method;
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::{Value, json};
use url::Url;

/// How long anything may take to appear on the page.
const PATIENCE: Duration = Duration::from_secs(20);

/// Opens every fold of a page that an element is in.
const OPEN_FOLDS: &str = "const openFolds = element => {
    for (let fold = element.closest?.('details.fold'); fold; fold = fold.parentElement.closest('details.fold')) fold.open = true };";

/// The driver's process, ended with the tests.
struct Driver(Child);

impl Drop for Driver {
    fn drop(&mut self) {
        // Already gone is as good as ended.
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// A browser at work.
pub struct Browser {
    /// The session.
    pub client: Client,
    /// Address of the application.
    pub base: String,
    /// Fields typed into, and clicks, since they were last asked for.
    typed: AtomicU32,
    clicked: AtomicU32,
    _driver: Driver,
}

impl Browser {
    /// Starts ChromeDriver and one session for the application at `base`, on this machine.
    pub async fn start(base: &str) -> Result<Browser> {
        Browser::launch(base, &[]).await
    }

    /// The same without the graphics card that is emulated for what is drawn in space: as a machine without one draws.
    pub async fn start_without_graphics(base: &str) -> Result<Browser> {
        Browser::launch(base, &["--disable-gpu".to_owned()]).await
    }

    /// The same as a device of the workshop's network sees it: `base` is an address that is not this machine's to the browser, and
    /// leads here; its owner has trusted the certificate. What is asked from there is passed on, so that the browser must be paired.
    pub async fn start_on_network(base: &str) -> Result<Browser> {
        let url = Url::parse(base)?;
        let host = url.host_str().context("no host")?;
        let browser = Browser::launch(base, &[format!("--host-resolver-rules=MAP {host} 127.0.0.1")]).await?;
        let headers = json!({"headers": {"Via": "1.1 workshop"}});
        for (cmd, params) in [("Network.enable", json!({})), ("Network.setExtraHTTPHeaders", headers)] {
            browser.command("goog/cdp/execute", json!({"cmd": cmd, "params": params})).await?;
        }
        Ok(browser)
    }

    async fn launch(base: &str, options: &[String]) -> Result<Browser> {
        let mut driver = Driver(
            Command::new("chromedriver")
                .arg("--port=0")
                .stdout(Stdio::piped())
                .stderr(Stdio::null())
                .spawn()
                .context("chromedriver cannot be started; ./test installs it")?,
        );
        let mut lines = BufReader::new(driver.0.stdout.take().context("no output of chromedriver")?).lines();
        let port = lines
            .by_ref()
            .find_map(|line| {
                let line = line.ok()?;
                line.split_once("started successfully on port ").map(|(_, p)| p.trim_end_matches('.').to_owned())
            })
            .context("chromedriver gave no port")?;
        // Whatever else it says is read and dropped, so that it never waits for a reader.
        std::thread::spawn(move || lines.for_each(drop));
        let usual = [
            "--headless=new",
            "--no-sandbox",
            "--disable-dev-shm-usage",
            "--hide-scrollbars",
            "--force-device-scale-factor=1",
            "--use-angle=swiftshader",
            "--enable-unsafe-swiftshader",
            "--force-color-profile=srgb",
            "--disable-background-networking",
            "--no-first-run",
            "--lang=en-GB",
        ];
        let args: Vec<&str> = usual.into_iter().chain(options.iter().map(String::as_str)).collect();
        let capabilities = json!({
            "acceptInsecureCerts": true,
            "goog:chromeOptions": { "args": args },
            "goog:loggingPrefs": { "browser": "ALL" },
        });
        let capabilities = capabilities.as_object().cloned().unwrap_or_default();
        let client = ClientBuilder::new(HttpConnector::new())
            .capabilities(capabilities)
            .connect(&format!("http://127.0.0.1:{port}"))
            .await?;
        let browser = Browser {
            client,
            base: base.to_owned(),
            typed: AtomicU32::new(0),
            clicked: AtomicU32::new(0),
            _driver: driver,
        };
        browser.size(1280, 800).await?;
        Ok(browser)
    }

    /// Ends the session.
    pub async fn close(self) -> Result<()> {
        Ok(self.client.close().await?)
    }

    async fn command(&self, path: &'static str, body: Value) -> Result<Value> {
        Ok(self.client.issue_cmd(Own { path, body }).await?)
    }

    /// Sets the size of the page itself, not of the window round it.
    pub async fn size(&self, width: u32, height: u32) -> Result<()> {
        let params = json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500});
        let command = json!({"cmd": "Emulation.setDeviceMetricsOverride", "params": params});
        self.command("goog/cdp/execute", command).await?;
        Ok(())
    }

    /// Errors the page wrote to its console since the last call.
    pub async fn console_errors(&self) -> Result<Vec<String>> {
        let entries = self.command("se/log", json!({"type": "browser"})).await?;
        let entries = entries.as_array().cloned().unwrap_or_default();
        Ok(entries
            .iter()
            .filter(|e| e["level"] == "SEVERE")
            .map(|e| e["message"].as_str().unwrap_or_default().to_owned())
            .collect())
    }

    /// Opens a view of the application.
    pub async fn open(&self, path: &str) -> Result<()> {
        self.client.goto(&format!("{}{path}", self.base)).await?;
        Ok(())
    }

    /// Waits for an element by CSS selector.
    pub async fn css(&self, selector: &str) -> Result<Element> {
        self.wait_for(Locator::Css(selector)).await.with_context(|| format!("no element {selector}"))
    }

    /// Waits for an element by XPath.
    pub async fn xpath(&self, path: &str) -> Result<Element> {
        self.wait_for(Locator::XPath(path)).await.with_context(|| format!("no element {path}"))
    }

    /// Waits for an element; where the page goes elsewhere while it is looked for, it is looked for on the page that comes.
    async fn wait_for(&self, locator: Locator<'_>) -> Result<Element> {
        const PAGES: u32 = 3;
        let mut left = PAGES;
        loop {
            match self.client.wait().at_most(PATIENCE).for_element(locator).await {
                Err(e) if left > 0 && e.to_string().contains("aborted by navigation") => left -= 1,
                found => return self.unfolded(found?).await,
            }
        }
    }

    /// What is in a fold is looked for as a person would: the fold is opened first. An element that is gone by then is the caller's trouble.
    async fn unfolded(&self, element: Element) -> Result<Element> {
        let script = format!("{OPEN_FOLDS} openFolds(arguments[0])");
        let _ = self.client.execute(&script, vec![serde_json::to_value(&element)?]).await;
        Ok(element)
    }

    /// Clicks an element, scrolled into view first.
    pub async fn click(&self, selector: &str) -> Result<()> {
        self.press_found(Locator::Css(selector)).await
    }

    /// Presses what is found; where the page puts another in its place between finding and pressing, that one.
    async fn press_found(&self, locator: Locator<'_>) -> Result<()> {
        const AGAIN: u32 = 3;
        let mut left = AGAIN;
        loop {
            let found = self.wait_for(locator).await.with_context(|| format!("no element {locator:?}"))?;
            match self.press(found).await {
                Err(e) if left > 0 && e.to_string().contains("stale element") => left -= 1,
                pressed => return pressed,
            }
        }
    }

    /// Clicks the button or link that says or is labelled so.
    pub async fn click_text(&self, text: &str) -> Result<()> {
        let path = format!(
            "//*[self::button or self::a or contains(@class,'v-list-item--link')][normalize-space(.)='{text}' or @aria-label='{text}'][not(@disabled)]"
        );
        self.press_found(Locator::XPath(&path)).await
    }

    /// Clicks an element, whatever moves over it just then.
    pub async fn press(&self, element: Element) -> Result<()> {
        let script = "arguments[0].scrollIntoView({block: 'center'});
            arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true, cancelable: true}))";
        self.client.execute(script, vec![serde_json::to_value(&element)?]).await?;
        self.clicked.fetch_add(1, Ordering::Relaxed);
        Ok(())
    }

    /// Replaces what stands in the field of that label, below a selector, as a person would type it.
    pub async fn type_into(&self, within: &str, label: &str, text: &str) -> Result<()> {
        let script = format!(
            "{OPEN_FOLDS}
            const root = document.querySelector(arguments[0]);
            const label = root && [...root.querySelectorAll('label')].find(l => l.textContent.trim() === arguments[1]);
            const field = label && label.closest('.v-input').querySelector('input, textarea');
            if (!field) return null;
            openFolds(field);
            field.scrollIntoView({{block: 'center'}}); field.focus(); field.select && field.select();
            return field"
        );
        let typed = if text.is_empty() { "\u{e003}" } else { text };
        let keys = format!("\u{e009}a\u{e000}{typed}\u{e004}");
        const AGAIN: u32 = 3;
        let mut left = AGAIN;
        loop {
            let found = self
                .until(&format!("a field “{label}” in {within}"), async || {
                    let found = self.client.execute(&script, vec![json!(within), json!(label)]).await?;
                    Ok((!found.is_null()).then_some(found))
                })
                .await?;
            let element = Element::from_element_id(self.client.clone(), element_id(&found)?);
            match element.send_keys(&keys).await {
                Err(e) if left > 0 && e.to_string().contains("stale element") => left -= 1,
                sent => break sent?,
            }
        }
        self.typed.fetch_add(1, Ordering::Relaxed);
        Ok(())
    }

    /// Fields typed into and clicks since this was last asked: what a job costs its maker. A drop-down is two clicks.
    pub fn tally(&self) -> (u32, u32) {
        (self.typed.swap(0, Ordering::Relaxed), self.clicked.swap(0, Ordering::Relaxed))
    }

    /// Chooses an entry of the drop-down of that label, below a selector.
    pub async fn select(&self, within: &str, label: &str, entry: &str) -> Result<()> {
        let script = format!(
            "{OPEN_FOLDS}
            const root = document.querySelector(arguments[0]);
            const label = root && [...root.querySelectorAll('label')].find(l => l.textContent.trim() === arguments[1]);
            const field = label && label.closest('.v-input').querySelector('.v-field');
            if (!field) return false;
            openFolds(field);
            field.scrollIntoView({{block: 'center'}});
            field.dispatchEvent(new MouseEvent('mousedown', {{bubbles: true}}));
            return true"
        );
        let entry_path = format!(
            "//div[contains(@class,'v-overlay--active')]//*[contains(@class,'v-list-item')][.//*[normalize-space(.)='{entry}']]"
        );
        self.until(&format!("a drop-down “{label}” in {within}"), async || {
            let found = self.client.execute(&script, vec![json!(within), json!(label)]).await?;
            Ok((found == json!(true)).then_some(()))
        })
        .await?;
        self.clicked.fetch_add(1, Ordering::Relaxed);
        self.press_found(Locator::XPath(&entry_path)).await?;
        self.until("the drop-down to close", async || {
            let open = "return document.querySelectorAll('.v-select__content').length === 0
                || ![...document.querySelectorAll('.v-select__content')].some(e => e.offsetParent)";
            Ok((self.client.execute(open, vec![]).await? == json!(true)).then_some(()))
        })
        .await
    }

    /// Puts a file into the file chooser of that test id.
    pub async fn choose_file(&self, test_id: &str, path: &std::path::Path) -> Result<()> {
        let input = self.css(&format!("[data-testid='{test_id}']")).await?;
        Ok(input.send_keys(&path.display().to_string()).await?)
    }

    /// Presses keys wherever the cursor is.
    pub async fn keys(&self, keys: &str) -> Result<()> {
        Ok(self.client.active_element().await?.send_keys(keys).await?)
    }

    /// Clicks with the mouse at a point of the page, for what is drawn and is no element to press.
    pub async fn click_at(&self, x: f64, y: f64) -> Result<()> {
        for kind in ["mouseMoved", "mousePressed", "mouseReleased"] {
            let params = json!({"type": kind, "x": x, "y": y, "button": "left", "clickCount": 1});
            self.command("goog/cdp/execute", json!({"cmd": "Input.dispatchMouseEvent", "params": params})).await?;
        }
        Ok(())
    }

    /// Puts two fingers beside a point of the page and moves them apart, or together, to that many pixels.
    pub async fn pinch(&self, (x, y): (f64, f64), from_px: f64, to_px: f64) -> Result<()> {
        const STEPS: u32 = 6;
        let both =
            |apart: f64| json!([{"x": x - apart / 2.0, "y": y, "id": 0}, {"x": x + apart / 2.0, "y": y, "id": 1}]);
        let at = |k: u32| from_px + (to_px - from_px) * f64::from(k) / f64::from(STEPS);
        let moves = (0..=STEPS).map(|k| ("touchMove", both(at(k))));
        for (kind, points) in [("touchStart", both(from_px))].into_iter().chain(moves).chain([("touchEnd", json!([]))])
        {
            let params = json!({"type": kind, "touchPoints": points});
            self.command("goog/cdp/execute", json!({"cmd": "Input.dispatchTouchEvent", "params": params})).await?;
        }
        Ok(())
    }

    /// Drags with the mouse from one point of the page to another, in steps as a hand does.
    pub async fn drag(&self, from: (f64, f64), to: (f64, f64)) -> Result<()> {
        const STEPS: u32 = 6;
        let along = |k: u32| {
            let share = f64::from(k) / f64::from(STEPS);
            (from.0 + (to.0 - from.0) * share, from.1 + (to.1 - from.1) * share)
        };
        let moves = (0..=STEPS).map(|k| ("mouseMoved", along(k)));
        let all =
            [("mouseMoved", from), ("mousePressed", from)].into_iter().chain(moves).chain([("mouseReleased", to)]);
        for (kind, (x, y)) in all {
            let params = json!({"type": kind, "x": x, "y": y, "button": "left", "buttons": 1, "clickCount": 1});
            self.command("goog/cdp/execute", json!({"cmd": "Input.dispatchMouseEvent", "params": params})).await?;
        }
        Ok(())
    }

    /// Lets every answer of the program come so much later; zero lets them come as they do.
    pub async fn slow_network(&self, latency_ms: u32) -> Result<()> {
        let conditions =
            json!({"offline": false, "latency": latency_ms, "downloadThroughput": -1, "uploadThroughput": -1});
        for (cmd, params) in [("Network.enable", json!({})), ("Network.emulateNetworkConditions", conditions)] {
            self.command("goog/cdp/execute", json!({"cmd": cmd, "params": params})).await?;
        }
        Ok(())
    }

    /// Shows the page as it would be printed, or as on a screen again.
    pub async fn print_media(&self, printed: bool) -> Result<()> {
        let params = json!({"media": if printed { "print" } else { "" }});
        self.command("goog/cdp/execute", json!({"cmd": "Emulation.setEmulatedMedia", "params": params})).await?;
        Ok(())
    }

    /// Cuts the page off from addresses that match, or lets it reach all again.
    pub async fn block(&self, addresses: &[&str]) -> Result<()> {
        let command = |cmd: &str, params: Value| json!({"cmd": cmd, "params": params});
        self.command("goog/cdp/execute", command("Network.enable", json!({}))).await?;
        self.command("goog/cdp/execute", command("Network.setBlockedURLs", json!({"urls": addresses}))).await?;
        Ok(())
    }

    /// Text of an element.
    pub async fn text(&self, selector: &str) -> Result<String> {
        Ok(self.css(selector).await?.text().await?)
    }

    /// Waits until an element's text satisfies a condition; the error tells what it was.
    pub async fn text_is(&self, selector: &str, holds: impl Fn(&str) -> bool) -> Result<String> {
        let started = Instant::now();
        let mut last = String::new();
        while started.elapsed() < PATIENCE {
            if let Ok(element) = self.client.find(Locator::Css(selector)).await
                && let Ok(element) = self.unfolded(element).await
                && let Ok(text) = element.text().await
            {
                if holds(&text) {
                    return Ok(text);
                }
                last = text;
            }
            pause().await;
        }
        bail!("{selector} says “{last}”")
    }

    /// Waits until something is there.
    pub async fn until<T>(&self, what: &str, mut look: impl AsyncFnMut() -> Result<Option<T>>) -> Result<T> {
        let started = Instant::now();
        while started.elapsed() < PATIENCE {
            if let Some(found) = look().await? {
                return Ok(found);
            }
            pause().await;
        }
        bail!("waited in vain for {what}")
    }

    /// How many elements match.
    pub async fn count(&self, selector: &str) -> Result<usize> {
        Ok(self.client.find_all(Locator::Css(selector)).await?.len())
    }

    /// Waits until nothing on the page matches a selector.
    pub async fn gone(&self, selector: &str) -> Result<()> {
        self.until(&format!("nothing at {selector}"), async || Ok((self.count(selector).await? == 0).then_some(())))
            .await
    }

    /// Runs a script in the page and returns its answer; a space that keeps a figure and its unit together is a space.
    pub async fn script(&self, script: &str) -> Result<Value> {
        let mut answer = self.client.execute(script, vec![]).await?;
        loosen(&mut answer);
        Ok(answer)
    }

    /// A picture of the page, once its fonts are there and two frames are drawn.
    pub async fn picture(&self) -> Result<Vec<u8>> {
        let settled = "const done = arguments[0];
            document.fonts.ready.then(() => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 300))))";
        self.client.execute_async(settled, vec![]).await?;
        Ok(self.client.screenshot().await?)
    }
}

fn loosen(answer: &mut Value) {
    match answer {
        Value::String(text) => *text = text.replace('\u{a0}', " "),
        Value::Array(items) => items.iter_mut().for_each(loosen),
        Value::Object(fields) => fields.values_mut().for_each(loosen),
        Value::Null | Value::Bool(_) | Value::Number(_) => {}
    }
}

fn element_id(found: &Value) -> Result<fantoccini::elements::ElementRef> {
    let id = found.as_object().and_then(|o| o.values().next()).and_then(Value::as_str).context("not an element")?;
    Ok(id.to_owned().into())
}

async fn pause() {
    tokio::time::sleep(Duration::from_millis(40)).await;
}

/// A command of the browser's own, beyond the standard: a POST below the session.
#[derive(Debug)]
struct Own {
    path: &'static str,
    body: Value,
}

impl WebDriverCompatibleCommand for Own {
    fn endpoint(&self, base: &Url, session: Option<&str>) -> Result<Url, url::ParseError> {
        base.join(&format!("session/{}/{}", session.unwrap_or_default(), self.path))
    }

    fn method_and_body(&self, _: &Url) -> (Method, Option<String>) {
        (Method::POST, Some(self.body.to_string()))
    }
}
