//! Computation that takes more than a moment, off the threads that answer: they stay free for those who save.

use std::sync::{Arc, LazyLock};

use rocket::tokio::sync::Semaphore;
use rocket::tokio::task::spawn_blocking;

use crate::Problem;

/// As many at once as there are cores: more would only slow each other. The others wait in turn.
static PERMITS: LazyLock<Arc<Semaphore>> =
    LazyLock::new(|| Arc::new(Semaphore::new(std::thread::available_parallelism().map_or(2, Into::into))));

/// Does a job when it is its turn. A job that panics is a fault, and its place is free again.
pub async fn work<T: Send + 'static, E: Into<Problem> + Send + 'static>(
    job: impl FnOnce() -> Result<T, E> + Send + 'static,
) -> Result<T, Problem> {
    let permit = PERMITS.clone().acquire_owned().await.map_err(|e| Problem::fault(&e))?;
    let done = spawn_blocking(move || {
        let answer = job();
        drop(permit);
        answer
    });
    done.await.map_err(|e| Problem::fault(&e))?.map_err(Into::into)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[rocket::async_test]
    async fn a_job_that_panics_is_a_fault_and_frees_its_place() {
        let places = PERMITS.available_permits();
        for _ in 0..places + 3 {
            let done = work(|| -> Result<(), Problem> { panic!("on purpose") }).await;
            assert_eq!(done.unwrap_err().status, 500);
        }
        assert_eq!(work(|| Ok::<_, Problem>(7)).await.unwrap(), 7);
    }

    #[rocket::async_test]
    async fn no_more_jobs_run_at_once_than_there_are_places() {
        use std::sync::atomic::{AtomicUsize, Ordering};
        static NOW: AtomicUsize = AtomicUsize::new(0);
        static MOST: AtomicUsize = AtomicUsize::new(0);
        let jobs = (0..24).map(|_| {
            rocket::tokio::spawn(work(|| {
                MOST.fetch_max(NOW.fetch_add(1, Ordering::SeqCst) + 1, Ordering::SeqCst);
                std::thread::sleep(std::time::Duration::from_millis(2));
                NOW.fetch_sub(1, Ordering::SeqCst);
                Ok::<_, Problem>(())
            }))
        });
        for job in jobs.collect::<Vec<_>>() {
            job.await.unwrap().unwrap();
        }
        assert!(MOST.load(Ordering::SeqCst) <= std::thread::available_parallelism().map_or(2, Into::into));
    }
}
