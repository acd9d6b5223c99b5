//! Values behind the question mark of an address. One that cannot be read is refused by its name, never taken as absent.

use std::str::FromStr;

use brick_core::plan::FieldError;
use rocket::form::{self, FromFormField, ValueField};
use rocket::route::{Handler, Outcome};
use rocket::{Data, Request, Route};

use crate::Problem;

/// A value as it was asked for, readable or not.
#[derive(Debug, Clone, PartialEq)]
pub struct Asked<T>(Result<T, String>);

impl<'v, T: FromStr + Send> FromFormField<'v> for Asked<T> {
    fn from_value(field: ValueField<'v>) -> form::Result<'v, Self> {
        Ok(Asked(field.value.parse().map_err(|_| field.value.chars().take(40).collect())))
    }
}

/// The value of a parameter, if it was given.
pub fn given<T>(name: &str, asked: Option<Asked<T>>, what: &str) -> Result<Option<T>, Problem> {
    let Some(Asked(value)) = asked else { return Ok(None) };
    value.map(Some).map_err(|text| refuse(name, &format!("“{text}” is not {what}")))
}

/// A whole number of a parameter within its bounds.
pub fn within(name: &str, asked: Option<Asked<i64>>, usual: i64, least: i64, most: i64) -> Result<i64, Problem> {
    let what = format!("a whole number from {least} to {most}");
    match given(name, asked, &what)?.unwrap_or(usual) {
        value if (least..=most).contains(&value) => Ok(value),
        value => Err(refuse(name, &format!("{value} is not {what}"))),
    }
}

/// A route's handler that first refuses a name given twice: which of both is meant it is not known.
#[derive(Clone)]
struct Once(Box<dyn Handler>);

#[rocket::async_trait]
impl Handler for Once {
    async fn handle<'r>(&self, request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r> {
        match twice(request) {
            Some(name) => Outcome::from(request, refuse(name, "is given twice; give it once")),
            None => self.0.handle(request, data).await,
        }
    }
}

fn twice<'r>(request: &'r Request<'_>) -> Option<&'r str> {
    let names: Vec<&str> = request.query_fields().map(|field| field.name.source().as_str()).collect();
    names.iter().enumerate().find(|(i, name)| names[..*i].contains(name)).map(|(_, name)| *name)
}

/// The routes, each value behind the question mark given once at most.
pub fn once(routes: Vec<Route>) -> Vec<Route> {
    let wrap = |mut route: Route| {
        route.handler = Box::new(Once(route.handler));
        route
    };
    routes.into_iter().map(wrap).collect()
}

fn refuse(name: &str, message: &str) -> Problem {
    Problem::fields(vec![FieldError { field: format!("/{name}"), message: message.to_owned() }])
}
