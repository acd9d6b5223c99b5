//! Which finding follows from which: one cause is one finding, and what comes of it is folded under it.

use super::finding::Finding;
use super::rule;

/// Ties every finding to the one it follows from, if that is there too. None is tied to one that follows from itself.
pub fn tie(found: &mut [Finding]) {
    let causes: Vec<Option<String>> = found.iter().map(|f| cause(found, f)).collect();
    for (finding, cause) in found.iter_mut().zip(causes) {
        finding.follows = cause;
    }
}

fn cause(found: &[Finding], finding: &Finding) -> Option<String> {
    let causes = rule::entry(finding.rule)?.follows;
    let suits = |cause: &Finding| {
        let (own, its) = (finding.subject(), cause.subject());
        own.is_empty() || its.is_empty() || own == its
    };
    // What is worse than its cause, or accepted where that is not, stands by itself.
    let stands = |cause: &Finding| cause.severity >= finding.severity && cause.accepted.is_none();
    causes
        .iter()
        .find_map(|rule| found.iter().find(|f| f.rule == *rule && suits(f) && stands(f)))
        .map(|cause| cause.key.clone())
}
