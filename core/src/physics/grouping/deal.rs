//! What a random deal of the same cells would give, to see what the grouping gains.

use fastrand::Rng;

use super::items::Pool;

/// Deals that are made.
const DEALS: usize = 200;

/// Median weakest group and median spread of random deals, in units. Bundles and locks are not kept.
pub(super) fn random(pool: &Pool, seed: u64) -> (i64, i64) {
    let mut rng = Rng::with_seed(seed ^ 0x5EA1);
    let mut cells: Vec<i64> = vec![];
    for item in &pool.items {
        let each = item.charge / item.size() as i64;
        cells.extend(std::iter::repeat_n(each, item.size()));
    }
    let mut weakest = vec![];
    let mut spreads = vec![];
    for _ in 0..DEALS {
        let wanted = pool.wanted();
        for i in 0..wanted {
            let j = rng.usize(i..cells.len());
            cells.swap(i, j);
        }
        let sums: Vec<i64> = cells[..wanted].chunks(pool.parallel).map(|g| g.iter().sum()).collect();
        let low = sums.iter().copied().min().unwrap_or(0);
        weakest.push(low);
        spreads.push(sums.iter().copied().max().unwrap_or(0) - low);
    }
    weakest.sort_unstable();
    spreads.sort_unstable();
    (weakest[DEALS / 2], spreads[DEALS / 2])
}
