//! How a loss grows along time or along cycles. When the rate changes, it goes on from the same loss on the new way.

/// What a loss grows along.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Axis {
    /// Days.
    Days,
    /// Equivalent full cycles.
    FullCycles,
}

/// The way a loss takes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Trajectory {
    /// k x^p.
    Power {
        /// Rate; below zero is a gain.
        k: f64,
        /// Power.
        p: f64,
    },
    /// 2 y (1/2 − 1/(1 + e^((k x)^p))): towards an end `y`.
    Towards {
        /// The end.
        y: f64,
        /// Rate.
        k: f64,
        /// Power.
        p: f64,
    },
}

impl Trajectory {
    fn at(self, x: f64) -> f64 {
        match self {
            Trajectory::Power { k, p } => k * x.powf(p),
            Trajectory::Towards { y, k, p } => 2.0 * y * (0.5 - 1.0 / (1.0 + (k * x).powf(p).exp())),
        }
    }

    /// Where the way has come to that loss; `None` where it never does.
    fn where_lost(self, lost: f64) -> Option<f64> {
        let x = match self {
            Trajectory::Power { k, p } => (lost / k).powf(1.0 / p),
            Trajectory::Towards { y, k, p } => {
                // 1 + e^z = 1 / (1/2 − lost / 2y)
                let rest = 0.5 - lost / (2.0 * y);
                (rest > 0.0).then(|| (1.0 / rest - 1.0).ln().max(0.0).powf(1.0 / p) / k)?
            }
        };
        x.is_finite().then_some(x)
    }

    /// The loss so much further along. It never becomes less, but for a gain: on a way that ends below it, it stays.
    pub(super) fn further(self, lost: f64, along: f64) -> f64 {
        if along <= 0.0 {
            return lost;
        }
        let is_gain = matches!(self, Trajectory::Power { k, .. } if k < 0.0);
        let further = self.where_lost(lost).map(|x| self.at(x + along));
        further.map_or(lost, |further| if is_gain { further } else { further.max(lost) })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const WAYS: [Trajectory; 2] =
        [Trajectory::Power { k: 0.003, p: 0.6 }, Trajectory::Towards { y: 0.3, k: 0.001, p: 0.8 }];

    #[test]
    fn many_steps_come_to_where_one_comes() {
        for way in WAYS {
            let lost = (0..100).fold(0.0, |lost, _| way.further(lost, 3.0));
            assert!((lost - way.at(300.0)).abs() < 1e-12, "{way:?}: {lost}");
        }
    }

    #[test]
    fn a_loss_is_never_given_back() {
        let short = Trajectory::Towards { y: 0.05, k: 0.01, p: 1.0 };
        assert_eq!(short.further(0.2, 50.0), 0.2);
        assert_eq!(WAYS[0].further(0.1, 0.0), 0.1);
        let gain = Trajectory::Power { k: -0.001, p: 0.5 };
        assert!((gain.further(gain.further(0.0, 50.0), 50.0) - gain.at(100.0)).abs() < 1e-12);
        assert_eq!(Trajectory::Power { k: 0.0, p: 0.5 }.further(0.1, 10.0), 0.1);
    }
}
