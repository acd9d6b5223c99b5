//! Who may use the program over the workshop's network: browsers that were paired with the code shown at the start.

use std::collections::HashMap;
use std::net::{IpAddr, Ipv6Addr};
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use chrono::{DateTime, Utc};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Name of the cookie that a paired browser carries.
pub const COOKIE: &str = "brick-pairing";
/// Signs of a code; those that look alike are left out.
const SIGNS: &[u8] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
const CODE_LENGTH: usize = 8;
/// Wrong codes that are heard in one minute from one peer: 40 bits outlast a thousand guessers, and none of them
/// keeps the owner of the code out.
const TRIES: usize = 10;
const TRIES_WITHIN: Duration = Duration::from_secs(60);
/// Letters of a browser's own description that are kept.
const BROWSER_LENGTH: usize = 160;

/// Why a browser was not paired.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Refused {
    /// Not the code.
    WrongCode,
    /// Too many wrong codes lately from there.
    TooManyTries,
}

/// A browser that was paired since the start.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct PairedBrowser {
    /// Id, to put it out by.
    pub id: Uuid,
    /// What it says it is.
    pub browser: String,
    /// Address it was paired from.
    pub address: String,
    /// When it was paired.
    pub paired_at: DateTime<Utc>,
    /// When it last asked for something.
    pub seen_at: DateTime<Utc>,
}

/// The code and the browsers it let in. Without a code only this machine is served.
pub struct Pairing {
    code: Option<String>,
    browsers: Mutex<HashMap<String, PairedBrowser>>,
    wrong: Mutex<HashMap<IpAddr, Vec<Instant>>>,
}

impl Pairing {
    /// No one but this machine.
    pub fn closed() -> Self {
        Pairing { code: None, browsers: Mutex::default(), wrong: Mutex::default() }
    }

    /// With a new code.
    pub fn open() -> Self {
        // A random uuid has 122 random bits; 32 signs take five bits of each byte without bias.
        let random = Uuid::new_v4().into_bytes();
        let code = random[8..].iter().zip(&random).map(|(a, b)| a ^ b.rotate_left(3));
        let code = code.take(CODE_LENGTH).map(|byte| char::from(SIGNS[usize::from(byte) % SIGNS.len()])).collect();
        Pairing { code: Some(code), ..Pairing::closed() }
    }

    /// The code, as it is shown: in two halves.
    pub fn code(&self) -> Option<String> {
        self.code.as_ref().map(|code| format!("{}-{}", &code[..CODE_LENGTH / 2], &code[CODE_LENGTH / 2..]))
    }

    /// Takes a code as typed at a peer and gives a token for its browser.
    pub fn pair(&self, typed: &str, peer: IpAddr, browser: &str, now: Instant) -> Result<String, Refused> {
        let mut wrong = held(&self.wrong);
        wrong.retain(|_, tries| {
            tries.retain(|&at| now.duration_since(at) < TRIES_WITHIN);
            !tries.is_empty()
        });
        let tries = wrong.entry(one_machine(peer)).or_default();
        if tries.len() >= TRIES {
            return Err(Refused::TooManyTries);
        }
        let typed: String = typed.chars().filter(char::is_ascii_alphanumeric).collect::<String>().to_uppercase();
        if self.code.as_deref() != Some(typed.as_str()) {
            tries.push(now);
            return Err(Refused::WrongCode);
        }
        let token = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
        let browser = browser.chars().filter(|c| !c.is_control()).take(BROWSER_LENGTH).collect();
        let at = Utc::now();
        let paired =
            PairedBrowser { id: Uuid::new_v4(), browser, address: peer.to_string(), paired_at: at, seen_at: at };
        held(&self.browsers).insert(token.clone(), paired);
        Ok(token)
    }

    /// Whether a token was given out since the start and not taken back.
    pub fn knows(&self, token: &str) -> bool {
        match held(&self.browsers).get_mut(token) {
            Some(browser) => {
                browser.seen_at = Utc::now();
                true
            }
            None => false,
        }
    }

    /// The browsers that are let in, the latest first.
    pub fn browsers(&self) -> Vec<PairedBrowser> {
        let mut all: Vec<PairedBrowser> = held(&self.browsers).values().cloned().collect();
        all.sort_by(|a, b| b.paired_at.cmp(&a.paired_at).then(a.id.cmp(&b.id)));
        all
    }

    /// Puts a browser out; false if there is none of that id.
    pub fn put_out(&self, id: Uuid) -> bool {
        let mut browsers = held(&self.browsers);
        let before = browsers.len();
        browsers.retain(|_, browser| browser.id != id);
        browsers.len() < before
    }
}

/// One machine may have many addresses of the newer internet protocol: its first half is the network's.
fn one_machine(peer: IpAddr) -> IpAddr {
    match peer.to_canonical() {
        IpAddr::V6(address) => {
            let [a, b, c, d, ..] = address.segments();
            IpAddr::V6(Ipv6Addr::new(a, b, c, d, 0, 0, 0, 0))
        }
        address @ IpAddr::V4(_) => address,
    }
}

/// A poisoned lock holds what it held before: nothing here is ever half changed.
fn held<T>(lock: &Mutex<T>) -> MutexGuard<'_, T> {
    lock.lock().unwrap_or_else(PoisonError::into_inner)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(peer: &str) -> IpAddr {
        peer.parse().unwrap()
    }

    #[test]
    fn the_code_lets_in_however_it_is_typed_and_nothing_else_does() {
        let pairing = Pairing::open();
        let code = pairing.code().unwrap();
        assert_eq!(code.len(), CODE_LENGTH + 1);
        let (phone, now) = (at("192.168.7.9"), Instant::now());
        let token =
            pairing.pair(&format!(" {} ", code.to_lowercase().replace('-', " ")), phone, "a phone", now).unwrap();
        assert!(pairing.knows(&token));
        assert!(!pairing.knows(""));
        assert_eq!(pairing.pair("", phone, "", now), Err(Refused::WrongCode));
        assert_eq!(Pairing::closed().pair("", phone, "", now), Err(Refused::WrongCode));
        assert_ne!(Pairing::open().code(), Pairing::open().code());
    }

    #[test]
    fn guessing_is_ended_for_a_minute_at_that_peer_and_at_no_other() {
        let pairing = Pairing::open();
        let (code, now) = (pairing.code().unwrap(), Instant::now());
        for (guesser, owner) in [("192.168.7.9", "192.168.7.10"), ("fe80:0:0:7::1", "fe80:0:0:8::1")] {
            for i in 0..TRIES {
                // Another address of the same machine counts as the same.
                let from = if guesser.contains(':') { format!("fe80:0:0:7::{i}") } else { guesser.to_owned() };
                assert_eq!(pairing.pair("AAAA-AAAA", at(&from), "", now), Err(Refused::WrongCode));
            }
            assert_eq!(pairing.pair(&code, at(guesser), "", now), Err(Refused::TooManyTries));
            assert!(pairing.pair(&code, at(owner), "", now).is_ok());
            assert!(pairing.pair(&code, at(guesser), "", now + TRIES_WITHIN).is_ok());
        }
    }

    #[test]
    fn a_browser_that_is_put_out_is_out() {
        let pairing = Pairing::open();
        let code = pairing.code().unwrap();
        let now = Instant::now();
        let first = pairing.pair(&code, at("192.168.7.9"), "a phone\r\nof the shed", now).unwrap();
        let second = pairing.pair(&code, at("192.168.7.10"), "a tablet", now).unwrap();
        let listed = pairing.browsers();
        let phone = listed.iter().find(|b| b.browser == "a phoneof the shed").unwrap();
        assert_eq!((listed.len(), phone.address.as_str()), (2, "192.168.7.9"));
        assert!(pairing.put_out(phone.id) && !pairing.put_out(phone.id));
        assert!(!pairing.knows(&first) && pairing.knows(&second));
    }
}
