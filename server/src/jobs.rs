//! Long work: started, watched, ended. A job lives in memory; what it measured is in the store.

use std::collections::HashMap;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use brick_core::advise::propose::Proposals;
use brick_core::base::progress::Progress;
use brick_core::plan::Layout;
use rocket::tokio::sync::watch;
use rocket::tokio::task::{JoinHandle, spawn_blocking};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::cells::grouping::Grouped;

/// Most jobs at work at once: more would only slow each other on a small machine.
const AT_WORK_MAX: usize = 4;
/// How long a job that has ended can still be asked about.
const REMEMBERED: Duration = Duration::from_secs(600);
/// Lines of a job's report that are kept.
const LINES_MAX: usize = 200;

/// How a job stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum JobStage {
    /// At work.
    Working,
    /// Done; the result is there.
    Done,
    /// Ended before it was done, by whoever watched it.
    Stopped,
    /// Failed; the problem says why.
    Failed,
}

/// What a job tells.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct JobState {
    /// Its id.
    pub id: Uuid,
    /// How it stands.
    pub stage: JobStage,
    /// Share done.
    pub done_share: f64,
    /// What it does now, in words.
    pub doing: String,
    /// What happened, line by line, the newest last.
    pub lines: Vec<String>,
    /// Why it failed.
    pub problem: Option<Problem>,
    /// The result of a grouping.
    pub grouped: Option<Box<Grouped>>,
    /// The result of looking for a better layout.
    pub layout: Option<Box<Layout>>,
    /// Whole plans that were proposed.
    pub proposals: Option<Box<Proposals>>,
}

/// A job.
#[derive(Debug)]
pub struct Job {
    state: watch::Sender<JobState>,
    stop: AtomicBool,
    ended: Mutex<Option<Instant>>,
}

impl Job {
    /// Does its work beside everything else. Work that panics is told as failed, and its place is free again.
    pub fn runs(self: Arc<Self>, work: impl FnOnce(&Job) + Send + 'static) {
        let job = self.clone();
        self.ends_with(spawn_blocking(move || work(&job)));
    }

    /// Tells it as failed if its task ended by a panic.
    pub fn ends_with(self: Arc<Self>, task: JoinHandle<()>) {
        rocket::tokio::spawn(async move {
            if let Err(error) = task.await {
                let problem = Problem::fault(&error);
                self.end(JobStage::Failed, |s| s.problem = Some(problem));
            }
        });
    }

    /// How it stands.
    pub fn state(&self) -> JobState {
        self.state.borrow().clone()
    }

    /// Told of every change.
    pub fn watch(&self) -> watch::Receiver<JobState> {
        self.state.subscribe()
    }

    /// Asks it to end; it does at its next step.
    pub fn stop(&self) {
        self.stop.store(true, Ordering::Relaxed);
    }

    /// Whether it was asked to end.
    pub fn is_stopped(&self) -> bool {
        self.stop.load(Ordering::Relaxed)
    }

    /// Tells what it does now.
    pub fn doing(&self, done_share: f64, doing: &str) {
        self.state.send_modify(|s| {
            s.done_share = done_share;
            doing.clone_into(&mut s.doing);
        });
    }

    /// Adds a line to its report.
    pub fn line(&self, line: impl Into<String>) {
        self.state.send_modify(|s| {
            if s.lines.len() == LINES_MAX {
                s.lines.remove(0);
            }
            s.lines.push(line.into());
        });
    }

    /// Shows what it has so far.
    pub fn shows(&self, change: impl FnOnce(&mut JobState)) {
        self.state.send_modify(change);
    }

    /// Ends it.
    pub fn end(&self, stage: JobStage, change: impl FnOnce(&mut JobState)) {
        *self.ended.lock().unwrap_or_else(PoisonError::into_inner) = Some(Instant::now());
        self.state.send_modify(|s| {
            s.stage = stage;
            if stage == JobStage::Done {
                s.done_share = 1.0;
            }
            change(s);
        });
    }

    fn is_ended(&self) -> bool {
        self.ended.lock().unwrap_or_else(PoisonError::into_inner).is_some()
    }

    fn is_forgotten(&self) -> bool {
        self.ended.lock().unwrap_or_else(PoisonError::into_inner).is_some_and(|at| at.elapsed() > REMEMBERED)
    }
}

impl Progress for Job {
    fn step(&self, done_share: f64) -> bool {
        self.state.send_modify(|s| s.done_share = done_share);
        !self.is_stopped()
    }
}

/// Every job that is remembered.
#[derive(Debug, Default)]
pub struct Jobs(Mutex<HashMap<Uuid, Arc<Job>>>);

impl Jobs {
    /// Opens a job; refused when too many are at work.
    pub fn open(&self, doing: &str) -> Result<Arc<Job>, Problem> {
        let mut jobs = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        jobs.retain(|_, job| !job.is_forgotten());
        if jobs.values().filter(|job| !job.is_ended()).count() >= AT_WORK_MAX {
            return Err(Problem::new(
                rocket::http::Status::TooManyRequests,
                "Too much at once",
                format!("{AT_WORK_MAX} jobs are running already; wait for one, or stop one."),
            ));
        }
        let id = Uuid::now_v7();
        let state = JobState {
            id,
            stage: JobStage::Working,
            done_share: 0.0,
            doing: doing.to_owned(),
            lines: vec![],
            problem: None,
            grouped: None,
            layout: None,
            proposals: None,
        };
        let job =
            Arc::new(Job { state: watch::Sender::new(state), stop: AtomicBool::new(false), ended: Mutex::default() });
        jobs.insert(id, job.clone());
        Ok(job)
    }

    /// A job by its id.
    pub fn get(&self, id: Uuid) -> Option<Arc<Job>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).get(&id).cloned()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn so_many_jobs_and_no_more_work_at_once() {
        let jobs = Jobs::default();
        let open: Vec<_> = (0..AT_WORK_MAX).map(|_| jobs.open("grouping").unwrap()).collect();
        assert_eq!(jobs.open("grouping").unwrap_err().status, 429);
        open[0].end(JobStage::Done, |_| {});
        let next = jobs.open("grouping").unwrap();
        assert!(jobs.get(next.state().id).is_some());
        assert!((open[0].state().done_share - 1.0).abs() < 1e-12);
    }

    #[rocket::async_test]
    async fn a_job_that_panics_has_failed_and_frees_its_place() {
        let jobs = Jobs::default();
        for _ in 0..AT_WORK_MAX + 2 {
            let job = jobs.open("grouping").unwrap();
            let mut told = job.watch();
            job.clone().runs(|_| panic!("on purpose"));
            told.wait_for(|s| s.stage != JobStage::Working).await.unwrap();
            assert_eq!(job.state().stage, JobStage::Failed);
            assert!(job.state().problem.unwrap().id.is_some());
        }
    }

    #[test]
    fn a_job_that_is_asked_to_end_says_so_at_its_next_step() {
        let jobs = Jobs::default();
        let job = jobs.open("grouping").unwrap();
        assert!(job.step(0.4));
        job.stop();
        assert!(!job.step(0.5));
        for i in 0..LINES_MAX + 5 {
            job.line(format!("line {i}"));
        }
        let state = job.state();
        assert_eq!((state.lines.len(), state.lines[0].as_str()), (LINES_MAX, "line 5"));
    }
}
