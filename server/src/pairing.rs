//! Who may use the program over the workshop's network: browsers that were paired with the code shown at the start.

use std::collections::HashSet;
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use uuid::Uuid;

/// Name of the cookie that a paired browser carries.
pub const COOKIE: &str = "brick-pairing";
/// Signs of a code; those that look alike are left out.
const SIGNS: &[u8] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
const CODE_LENGTH: usize = 8;
/// Wrong codes that are heard in one minute, from all browsers together: 40 bits outlast any guesser.
const TRIES: usize = 10;
const TRIES_WITHIN: Duration = Duration::from_secs(60);

/// Why a browser was not paired.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Refused {
    /// Not the code.
    WrongCode,
    /// Too many wrong codes lately.
    TooManyTries,
}

/// The code and the browsers it let in. Without a code only this machine is served.
pub struct Pairing {
    code: Option<String>,
    tokens: Mutex<HashSet<String>>,
    wrong: Mutex<Vec<Instant>>,
}

impl Pairing {
    /// Nobody but this machine.
    pub fn closed() -> Self {
        Pairing { code: None, tokens: Mutex::default(), wrong: Mutex::default() }
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

    /// Takes a code as typed and gives a token for it.
    pub fn pair(&self, typed: &str, now: Instant) -> Result<String, Refused> {
        let mut wrong = held(&self.wrong);
        wrong.retain(|&at| now.duration_since(at) < TRIES_WITHIN);
        if wrong.len() >= TRIES {
            return Err(Refused::TooManyTries);
        }
        let typed: String = typed.chars().filter(char::is_ascii_alphanumeric).collect::<String>().to_uppercase();
        if self.code.as_deref() != Some(typed.as_str()) {
            wrong.push(now);
            return Err(Refused::WrongCode);
        }
        let token = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
        held(&self.tokens).insert(token.clone());
        Ok(token)
    }

    /// Whether a token was given out since the start.
    pub fn knows(&self, token: &str) -> bool {
        held(&self.tokens).contains(token)
    }
}

/// A poisoned lock holds what it held before: nothing here is ever half changed.
fn held<T>(lock: &Mutex<T>) -> MutexGuard<'_, T> {
    lock.lock().unwrap_or_else(PoisonError::into_inner)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_code_lets_in_however_it_is_typed_and_nothing_else_does() {
        let pairing = Pairing::open();
        let code = pairing.code().unwrap();
        assert_eq!(code.len(), CODE_LENGTH + 1);
        let now = Instant::now();
        let token = pairing.pair(&format!(" {} ", code.to_lowercase().replace('-', " ")), now).unwrap();
        assert!(pairing.knows(&token));
        assert!(!pairing.knows(""));
        assert_eq!(pairing.pair("", now), Err(Refused::WrongCode));
        assert_eq!(Pairing::closed().pair("", now), Err(Refused::WrongCode));
        assert_ne!(Pairing::open().code(), Pairing::open().code());
    }

    #[test]
    fn guessing_is_ended_for_a_minute_even_for_the_right_code() {
        let pairing = Pairing::open();
        let (code, now) = (pairing.code().unwrap(), Instant::now());
        for _ in 0..TRIES {
            assert_eq!(pairing.pair("AAAA-AAAA", now), Err(Refused::WrongCode));
        }
        assert_eq!(pairing.pair(&code, now), Err(Refused::TooManyTries));
        assert!(pairing.pair(&code, now + TRIES_WITHIN).is_ok());
    }
}
