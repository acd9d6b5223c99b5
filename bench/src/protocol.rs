//! The lines between this program and a cell tester: plain text over TCP on loopback, one message a line.
//!
//! The tester greets; then each request is answered before the next is sent. Blanks and `%` in a label are written
//! `%20` and `%25`. Figures have a decimal point and no unit: volts, ohms, amperes, ampere-hours.
//!
//! ```text
//! tester   BRICK-TESTER 1 <name>
//! program  VOLTS <label>                        tester   VALUE VOLTS <label> 3.712
//! program  OHMS <label>                         tester   VALUE OHMS <label> 0.0452 AC1KHZ
//! program  CAPACITY <label> <amperes> <volts>   tester   PROGRESS <label> 0.35      (again and again)
//!                                               tester   VALUE CAPACITY <label> 2.143
//! program  STOP                                 tester   STOPPED
//! tester   FAULT <label> <words>                in the place of any value
//! ```

use std::fmt;

use thiserror::Error;

/// Longest line either side takes.
pub const LINE_MAX: usize = 400;
/// What a greeting begins with.
const GREETING: &str = "BRICK-TESTER 1 ";

/// What the program asks.
#[derive(Debug, Clone, PartialEq)]
pub enum Request {
    /// Volts of a cell at rest.
    Volts {
        /// Label of the cell.
        label: String,
    },
    /// Resistance of a cell.
    Ohms {
        /// Label of the cell.
        label: String,
    },
    /// Capacity of a cell at a current, down to a cut-off.
    Capacity {
        /// Label of the cell.
        label: String,
        /// Discharge current.
        rate_a: f64,
        /// Volts at which it ends.
        cutoff_v: f64,
    },
    /// End whatever runs.
    Stop,
}

/// How a tester measures resistance.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OhmsBy {
    /// Alternating current at 1 kHz.
    Ac1khz,
    /// A load.
    DcPulse,
}

/// What the tester says.
#[derive(Debug, Clone, PartialEq)]
pub enum Reply {
    /// Who it is, once at the begin.
    Greeting {
        /// Its name.
        name: String,
    },
    /// Volts.
    Volts {
        /// Label of the cell.
        label: String,
        /// Value.
        value_v: f64,
    },
    /// Resistance.
    Ohms {
        /// Label of the cell.
        label: String,
        /// Value.
        value_ohm: f64,
        /// How it was measured.
        by: OhmsBy,
    },
    /// Capacity.
    Capacity {
        /// Label of the cell.
        label: String,
        /// Value.
        value_ah: f64,
    },
    /// How far a capacity test is.
    Progress {
        /// Label of the cell.
        label: String,
        /// Share done.
        done_share: f64,
    },
    /// It ended what ran.
    Stopped,
    /// It could not measure.
    Fault {
        /// Label of the cell.
        label: String,
        /// Why, in words.
        words: String,
    },
}

/// A line that is none of the protocol's.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("“{0}” is no line of the protocol")]
pub struct Nonsense(pub String);

fn nonsense(line: &str) -> Nonsense {
    Nonsense(line.chars().filter(|c| !c.is_control()).take(60).collect())
}

fn encoded(label: &str) -> String {
    label.replace('%', "%25").replace(' ', "%20")
}

fn decoded(label: &str) -> String {
    label.replace("%20", " ").replace("%25", "%")
}

/// A figure that can be one: finite and not negative.
fn figure(text: &str) -> Option<f64> {
    text.parse::<f64>().ok().filter(|v| v.is_finite() && *v >= 0.0)
}

impl fmt::Display for Request {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Request::Volts { label } => write!(f, "VOLTS {}", encoded(label)),
            Request::Ohms { label } => write!(f, "OHMS {}", encoded(label)),
            Request::Capacity { label, rate_a, cutoff_v } => {
                write!(f, "CAPACITY {} {rate_a} {cutoff_v}", encoded(label))
            }
            Request::Stop => write!(f, "STOP"),
        }
    }
}

impl Request {
    /// Reads a line without its end.
    pub fn read(line: &str) -> Result<Request, Nonsense> {
        let words: Vec<&str> = line.split_whitespace().collect();
        let found = match words[..] {
            ["VOLTS", label] => Some(Request::Volts { label: decoded(label) }),
            ["OHMS", label] => Some(Request::Ohms { label: decoded(label) }),
            ["CAPACITY", label, rate, cutoff] => match (figure(rate), figure(cutoff)) {
                (Some(rate_a), Some(cutoff_v)) if rate_a > 0.0 => {
                    Some(Request::Capacity { label: decoded(label), rate_a, cutoff_v })
                }
                _ => None,
            },
            ["STOP"] => Some(Request::Stop),
            _ => None,
        };
        found.ok_or_else(|| nonsense(line))
    }
}

impl fmt::Display for Reply {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Reply::Greeting { name } => write!(f, "{GREETING}{name}"),
            Reply::Volts { label, value_v } => write!(f, "VALUE VOLTS {} {value_v:.4}", encoded(label)),
            Reply::Ohms { label, value_ohm, by } => {
                let by = match by {
                    OhmsBy::Ac1khz => "AC1KHZ",
                    OhmsBy::DcPulse => "DCPULSE",
                };
                write!(f, "VALUE OHMS {} {value_ohm:.5} {by}", encoded(label))
            }
            Reply::Capacity { label, value_ah } => write!(f, "VALUE CAPACITY {} {value_ah:.4}", encoded(label)),
            Reply::Progress { label, done_share } => write!(f, "PROGRESS {} {done_share:.3}", encoded(label)),
            Reply::Stopped => write!(f, "STOPPED"),
            Reply::Fault { label, words } => write!(f, "FAULT {} {words}", encoded(label)),
        }
    }
}

impl Reply {
    /// Reads a line without its end.
    pub fn read(line: &str) -> Result<Reply, Nonsense> {
        if let Some(name) = line.strip_prefix(GREETING) {
            return Ok(Reply::Greeting { name: name.trim().chars().take(80).collect() });
        }
        let words: Vec<&str> = line.split_whitespace().collect();
        let found = match words[..] {
            ["VALUE", "VOLTS", label, value] => {
                figure(value).map(|value_v| Reply::Volts { label: decoded(label), value_v })
            }
            ["VALUE", "OHMS", label, value, by] => match (figure(value), by) {
                (Some(value_ohm), "AC1KHZ") => {
                    Some(Reply::Ohms { label: decoded(label), value_ohm, by: OhmsBy::Ac1khz })
                }
                (Some(value_ohm), "DCPULSE") => {
                    Some(Reply::Ohms { label: decoded(label), value_ohm, by: OhmsBy::DcPulse })
                }
                _ => None,
            },
            ["VALUE", "CAPACITY", label, value] => {
                figure(value).map(|value_ah| Reply::Capacity { label: decoded(label), value_ah })
            }
            ["PROGRESS", label, share] => figure(share)
                .filter(|s| *s <= 1.0)
                .map(|done_share| Reply::Progress { label: decoded(label), done_share }),
            ["STOPPED"] => Some(Reply::Stopped),
            ["FAULT", label, ..] => Some(Reply::Fault { label: decoded(label), words: words[2..].join(" ") }),
            _ => None,
        };
        found.ok_or_else(|| nonsense(line))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_message_is_read_as_it_was_written() {
        let label = || "pack 3 %".to_owned();
        for request in [
            Request::Volts { label: label() },
            Request::Ohms { label: label() },
            Request::Capacity { label: label(), rate_a: 0.5, cutoff_v: 2.8 },
            Request::Stop,
        ] {
            assert_eq!(Request::read(&request.to_string()), Ok(request));
        }
        for reply in [
            Reply::Greeting { name: "four-slot tester".to_owned() },
            Reply::Volts { label: label(), value_v: 3.7125 },
            Reply::Ohms { label: label(), value_ohm: 0.04521, by: OhmsBy::DcPulse },
            Reply::Ohms { label: label(), value_ohm: 0.04521, by: OhmsBy::Ac1khz },
            Reply::Capacity { label: label(), value_ah: 2.1434 },
            Reply::Progress { label: label(), done_share: 0.25 },
            Reply::Stopped,
            Reply::Fault { label: label(), words: "no contact".to_owned() },
        ] {
            assert_eq!(Reply::read(&reply.to_string()), Ok(reply));
        }
    }

    #[test]
    fn what_is_none_of_the_protocol_is_nonsense() {
        for line in [
            "",
            "VALUE",
            "VALUE VOLTS A1 many",
            "VALUE VOLTS A1 -3",
            "VALUE VOLTS A1 NaN",
            "VALUE OHMS A1 0.05",
            "VALUE OHMS A1 0.05 BY-EYE",
            "PROGRESS A1 1.5",
            "HELLO",
            "BRICK-TESTER 2 later",
            "\u{1b}[2J",
        ] {
            assert!(Reply::read(line).is_err(), "{line}");
        }
        for line in ["", "VOLTS", "VOLTS A 1", "CAPACITY A1 0 2.8", "CAPACITY A1 inf 2.8", "FORMAT"] {
            assert!(Request::read(line).is_err(), "{line}");
        }
        assert_eq!(nonsense(&"\u{7}x".repeat(100)).0, "x".repeat(60));
    }
}
