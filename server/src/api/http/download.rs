//! A file to keep.

use rocket::Request;
use rocket::http::{ContentType, Header};
use rocket::response::{self, Responder, Response};

/// JSON text under a file name.
pub struct Download {
    /// Name the browser saves it under: letters, digits, dots and hyphens.
    pub name: String,
    /// The text.
    pub text: String,
}

impl<'r> Responder<'r, 'static> for Download {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        Response::build_from(self.text.respond_to(request)?)
            .header(ContentType::JSON)
            .header(Header::new("Content-Disposition", format!("attachment; filename=\"{}\"", self.name)))
            .ok()
    }
}

/// A table under a file name.
pub struct Csv {
    /// Name the browser saves it under: letters, digits, dots and hyphens.
    pub name: String,
    /// The text.
    pub text: String,
}

impl<'r> Responder<'r, 'static> for Csv {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        Response::build_from(self.text.respond_to(request)?)
            .header(ContentType::CSV)
            .header(Header::new("Content-Disposition", format!("attachment; filename=\"{}\"", self.name)))
            .ok()
    }
}

/// Any bytes under a file name.
pub struct Bytes {
    /// Name the browser saves it under: letters, digits, dots and hyphens.
    pub name: String,
    /// What they are.
    pub kind: ContentType,
    /// The bytes.
    pub bytes: Vec<u8>,
}

impl<'r> Responder<'r, 'static> for Bytes {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        Response::build_from(self.bytes.respond_to(request)?)
            .header(self.kind)
            .header(Header::new("Content-Disposition", format!("attachment; filename=\"{}\"", self.name)))
            .ok()
    }
}

/// A drawing under a file name, shown by the browser.
pub struct Svg {
    /// Name the browser saves it under: letters, digits, dots and hyphens.
    pub name: String,
    /// The text.
    pub text: String,
}

impl<'r> Responder<'r, 'static> for Svg {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        Response::build_from(self.text.respond_to(request)?)
            .header(ContentType::SVG)
            .header(Header::new("Content-Disposition", format!("inline; filename=\"{}\"", self.name)))
            .ok()
    }
}

/// A name as part of a file name: letters and digits, the rest hyphens.
pub fn file_stem(name: &str) -> String {
    let plain: String = name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let stem = plain.split('-').filter(|part| !part.is_empty()).collect::<Vec<_>>().join("-");
    if stem.is_empty() { "plan".to_owned() } else { stem.chars().take(60).collect() }
}

#[cfg(test)]
mod tests {
    use super::file_stem;

    #[test]
    fn any_name_becomes_a_file_name() {
        for (name, stem) in [
            ("Hedge shears", "hedge-shears"),
            ("../../etc", "etc"),
            ("Säge 12 V", "s-ge-12-v"),
            ("…", "plan"),
            ("a\"b\r\nc", "a-b-c"),
        ] {
            assert_eq!(file_stem(name), stem);
        }
    }
}
