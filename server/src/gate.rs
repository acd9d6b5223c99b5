//! The gate before the server: it bounds what one peer may hold open and how long nothing may happen, encrypts what
//! goes over the workshop's network, and knows for each connection of the server whose it is.
//!
//! The server itself listens on loopback only, at a port of its own. The gate passes bytes on and reads none of them
//! but the first: who a peer is cannot be written into a request.

use std::collections::HashMap;
use std::io;
use std::net::{IpAddr, Ipv4Addr};
use std::sync::atomic::{AtomicU64, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use tokio::io::{AsyncRead, AsyncReadExt, AsyncWrite, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::time::timeout;
use tokio_rustls::TlsAcceptor;

/// Largest head of a request.
const HEAD_BYTES: usize = 64 << 10;
/// First byte of an encrypted connection: a handshake record, RFC 8446, section 5.1.
const HANDSHAKE: u8 = 22;

/// What the gate allows.
#[derive(Debug, Clone, Copy)]
pub struct Limits {
    /// How long a peer may take until its first request has its head.
    pub head_within: Duration,
    /// How long nothing may come from either side, unless the server said that it is at work. Events that are watched
    /// are sent twice within it.
    pub idle: Duration,
    /// Connections that one peer of the network may hold: a browser takes six, and one for each event it watches.
    pub of_one_peer: usize,
    /// Connections of all peers of the network.
    pub of_all_peers: usize,
    /// Connections of this machine. Each takes three files; all together stay under the usual limit of 1024.
    pub of_this_machine: usize,
}

impl Default for Limits {
    fn default() -> Self {
        Limits {
            head_within: Duration::from_secs(10),
            idle: Duration::from_secs(75),
            of_one_peer: 24,
            of_all_peers: 120,
            of_this_machine: 120,
        }
    }
}

/// Connections at work.
#[derive(Debug, Default)]
pub struct Gate {
    limits: Limits,
    /// Connections to the server by the port that the gate's side of each has.
    passing: Mutex<HashMap<u16, Passing>>,
    open: Mutex<HashMap<IpAddr, usize>>,
}

/// A connection that goes through.
#[derive(Debug)]
struct Passing {
    peer: IpAddr,
    clock: Arc<Clock>,
}

/// While it is held, silence on its connection is the server's work, not a peer that went away.
#[derive(Debug)]
pub struct AtWork(Option<Arc<Clock>>);

impl Drop for AtWork {
    fn drop(&mut self) {
        if let Some(clock) = &self.0 {
            // Touched first: the silence that follows is counted from now.
            clock.touch();
            clock.at_work.fetch_sub(1, Ordering::Relaxed);
        }
    }
}

/// A poisoned lock holds what it held before: nothing here is ever half changed.
fn held<T>(lock: &Mutex<T>) -> MutexGuard<'_, T> {
    lock.lock().unwrap_or_else(PoisonError::into_inner)
}

/// A connection's place among those that are open, given back with it.
struct Place<'g>(&'g Gate, IpAddr);

impl Drop for Place<'_> {
    fn drop(&mut self) {
        let mut open = held(&self.0.open);
        if let Some(count) = open.get_mut(&self.1) {
            *count -= 1;
            if *count == 0 {
                open.remove(&self.1);
            }
        }
    }
}

/// A name for a connection of the server, taken back with it.
struct Named<'g>(&'g Gate, u16);

impl Drop for Named<'_> {
    fn drop(&mut self) {
        held(&self.0.passing).remove(&self.1);
    }
}

impl Gate {
    /// With other limits than the usual ones.
    pub fn with(limits: Limits) -> Self {
        Gate { limits, ..Gate::default() }
    }

    /// Whose a connection is that the server has from this machine at this port; none if it came past the gate.
    pub fn peer_at(&self, port: u16) -> Option<IpAddr> {
        held(&self.passing).get(&port).map(|passing| passing.peer)
    }

    /// Says that the server is at work for the connection it has from this machine at this port.
    pub fn at_work(&self, port: u16) -> AtWork {
        let clock = held(&self.passing).get(&port).map(|passing| passing.clock.clone());
        if let Some(clock) = &clock {
            clock.at_work.fetch_add(1, Ordering::Relaxed);
        }
        AtWork(clock)
    }

    /// Passes on what comes to a listener, without end. With a certificate, nothing is taken unencrypted.
    pub async fn open(self: Arc<Self>, listener: TcpListener, tls: Option<TlsAcceptor>, server_port: u16) {
        loop {
            let Ok((stream, address)) = listener.accept().await else {
                // Too many open files, most likely: some will be closed in a moment.
                tokio::time::sleep(Duration::from_millis(100)).await;
                continue;
            };
            let (gate, tls, peer) = (self.clone(), tls.clone(), address.ip().to_canonical());
            tokio::spawn(async move {
                let Some(_place) = gate.place(peer) else { return };
                // Peers go away and break off at any time: nothing is to be done about that.
                let _ = gate.admit(stream, peer, tls, server_port).await;
            });
        }
    }

    fn place(&self, peer: IpAddr) -> Option<Place<'_>> {
        let mut open = held(&self.open);
        let of_network: usize = open.iter().filter(|(ip, _)| !ip.is_loopback()).map(|(_, n)| n).sum();
        let count = open.entry(peer).or_default();
        let full = if peer.is_loopback() {
            *count >= self.limits.of_this_machine
        } else {
            *count >= self.limits.of_one_peer || of_network >= self.limits.of_all_peers
        };
        if full {
            return None;
        }
        *count += 1;
        Some(Place(self, peer))
    }

    async fn admit(
        &self,
        stream: TcpStream,
        peer: IpAddr,
        tls: Option<TlsAcceptor>,
        server_port: u16,
    ) -> io::Result<()> {
        stream.set_nodelay(true)?;
        let Some(tls) = tls else { return self.pass(stream, peer, server_port).await };
        let mut first = [0];
        timeout(self.limits.head_within, stream.peek(&mut first)).await??;
        if first[0] != HANDSHAKE {
            return timeout(self.limits.head_within, refuse_plain(stream)).await?;
        }
        let stream = timeout(self.limits.head_within, tls.accept(stream)).await??;
        self.pass(stream, peer, server_port).await
    }

    async fn pass(
        &self,
        mut peer_side: impl AsyncRead + AsyncWrite + Unpin,
        peer: IpAddr,
        server_port: u16,
    ) -> io::Result<()> {
        let head = timeout(self.limits.head_within, head(&mut peer_side)).await??;
        let mut server_side = TcpStream::connect((Ipv4Addr::LOCALHOST, server_port)).await?;
        server_side.set_nodelay(true)?;
        let port = server_side.local_addr()?.port();
        let clock = Arc::new(Clock::start(self.limits.idle));
        held(&self.passing).insert(port, Passing { peer, clock: clock.clone() });
        let _named = Named(self, port);
        server_side.write_all(&head).await?;
        let (from_peer, to_peer) = tokio::io::split(peer_side);
        let (from_server, to_server) = server_side.split();
        tokio::try_join!(one_way(from_peer, to_server, &clock), one_way(from_server, to_peer, &clock))?;
        Ok(())
    }
}

/// The head of a first request. It is not read, only waited for: half of one holds no connection of the server.
async fn head(from: &mut (impl AsyncRead + Unpin)) -> io::Result<Vec<u8>> {
    let mut head = vec![];
    while !head.windows(4).any(|end| end == b"\r\n\r\n") {
        if head.len() > HEAD_BYTES || from.read_buf(&mut head).await? == 0 {
            return Err(io::ErrorKind::UnexpectedEof.into());
        }
    }
    Ok(head)
}

async fn refuse_plain(mut stream: TcpStream) -> io::Result<()> {
    let words = "This address is encrypted: write https:// before it.\n";
    let answer = format!(
        "HTTP/1.1 400 Bad Request\r\nContent-Type: text/plain\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{words}",
        words.len()
    );
    // What came is read first, or the answer would be thrown away with it.
    let mut some = [0; 4096];
    if stream.read(&mut some).await? == 0 {
        return Ok(());
    }
    stream.write_all(answer.as_bytes()).await?;
    stream.shutdown().await
}

/// When something last went either way.
#[derive(Debug)]
struct Clock {
    began: Instant,
    idle: Duration,
    touched_ms: AtomicU64,
    /// Requests that the server is at work for.
    at_work: AtomicUsize,
}

impl Clock {
    fn start(idle: Duration) -> Self {
        Clock { began: Instant::now(), idle, touched_ms: AtomicU64::new(0), at_work: AtomicUsize::new(0) }
    }

    fn now_ms(&self) -> u64 {
        u64::try_from(self.began.elapsed().as_millis()).unwrap_or(u64::MAX)
    }

    fn touch(&self) {
        self.touched_ms.store(self.now_ms(), Ordering::Relaxed);
    }

    fn is_idle(&self) -> bool {
        if self.at_work.load(Ordering::Relaxed) > 0 {
            return false;
        }
        let quiet_ms = self.now_ms().saturating_sub(self.touched_ms.load(Ordering::Relaxed));
        u128::from(quiet_ms) >= self.idle.as_millis()
    }
}

async fn one_way(mut from: impl AsyncRead + Unpin, mut to: impl AsyncWrite + Unpin, clock: &Clock) -> io::Result<()> {
    let mut buffer = vec![0; 16 << 10];
    loop {
        let count = match timeout(clock.idle, from.read(&mut buffer)).await {
            Ok(count) => count?,
            Err(_) if clock.is_idle() => return Err(io::ErrorKind::TimedOut.into()),
            Err(_) => continue,
        };
        if count == 0 {
            return to.shutdown().await;
        }
        clock.touch();
        timeout(clock.idle, to.write_all(&buffer[..count])).await??;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_peer_locks_out_neither_another_nor_this_machine() {
        let limits = Limits { of_one_peer: 3, of_all_peers: 5, of_this_machine: 2, ..Limits::default() };
        let gate = Gate::with(limits);
        let at = |text: &str| text.parse::<IpAddr>().unwrap();
        let greedy: Vec<_> = (0..9).filter_map(|_| gate.place(at("192.168.7.9"))).collect();
        assert_eq!(greedy.len(), 3);
        let second: Vec<_> = (0..9).filter_map(|_| gate.place(at("192.168.7.10"))).collect();
        assert_eq!(second.len(), 2, "all peers together have so many");
        let here: Vec<_> = (0..9).filter_map(|_| gate.place(at("127.0.0.1"))).collect();
        assert_eq!(here.len(), 2);
        drop(greedy);
        assert!(gate.place(at("192.168.7.11")).is_some());
        drop((second, here));
        assert!(held(&gate.open).is_empty(), "every place is given back");
    }
}
