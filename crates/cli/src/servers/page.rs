//! One page and its sockets, on the loopback address: for a browser on this machine, and nobody else.
//!
//! Guarantees: nothing is told to who does not know the secret, comes by another host's name or from another page;
//! what comes in is bounded; a client that is stuck holds nobody up.
//!
//! Sources: RFC 9112 (HTTP/1.1), RFC 6455 (WebSocket), RFC 6454 (origins).

use crate::failure::Failure;
use std::io::{self, ErrorKind, Read, Write};
use std::net::{Ipv4Addr, SocketAddr, TcpListener, TcpStream};
use std::sync::mpsc::{self, Receiver, SyncSender, TrySendError};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread;
use std::time::{Duration, Instant};
use tungstenite::handshake::derive_accept_key;
use tungstenite::protocol::{Role, WebSocketConfig};
use tungstenite::{Error, Message, WebSocket};

/// A request's head has no more bytes than this.
const LONGEST_HEAD: usize = 16 * 1024;

/// No message that comes in has more.
const LONGEST_MESSAGE: usize = 256 * 1024;

/// Nobody may take longer to ask, or to take what is told.
const PATIENCE: Duration = Duration::from_secs(5);

/// A socket is looked at so often to see whether there is something to tell.
const LOOKS_UP: Duration = Duration::from_millis(4);

/// So many sockets there are at once.
const MOST_SOCKETS: usize = 8;

/// So many connections, sockets among them.
const MOST_CONNECTIONS: usize = 64;

/// Where nobody more can be served, one waits before the next is.
const PAUSE: Duration = Duration::from_millis(50);

/// So much is told to a client that has not taken it yet.
const WAITING: usize = 4;

/// What a client says.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Said {
    Joined(u64),
    Text(u64, String),
    Left(u64),
    /// Something that the person ought to know.
    Words(String),
}

/// The sockets there are, and the way to each.
type Clients = Arc<Mutex<Vec<(u64, SyncSender<Arc<str>>)>>>;

/// The page at work.
pub struct PageServer {
    port: u16,
    secret: String,
    clients: Clients,
}

/// What every connection needs.
#[derive(Clone)]
struct Shared {
    secret: Arc<str>,
    page: Arc<str>,
    tell: mpsc::Sender<Said>,
    clients: Clients,
}

impl PageServer {
    /// Serves at a port, or at one that is free; `page` makes the page for a secret. What clients say comes through
    /// the channel.
    ///
    /// # Errors
    /// When the port is in use.
    pub fn open(
        port: Option<u16>,
        page: impl FnOnce(&str) -> Result<String, Failure>,
    ) -> Result<(Self, Receiver<Said>), Failure> {
        let asked = port.unwrap_or(0);
        let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, asked)).map_err(|error| {
            let (message, help) = match error.kind() {
                ErrorKind::AddrInUse => (
                    format!("port {asked} is in use"),
                    "name another one, or leave `--port` out: a free one is taken",
                ),
                ErrorKind::PermissionDenied => (
                    format!("port {asked} may not be used"),
                    "name one from 1024 on, or leave `--port` out: a free one is taken",
                ),
                _ => (format!("cannot serve at port {asked}: {error}"), "name another port"),
            };
            Failure::new(message, help)
        })?;
        let io = |error: io::Error| Failure::new(format!("cannot serve: {error}"), "try again");
        let port = listener.local_addr().map_err(io)?.port();
        let secret = secret()?;
        let page = page(&secret)?;
        let (tell, said) = mpsc::channel();
        let clients = Arc::new(Mutex::new(Vec::new()));
        let shared = Shared {
            secret: secret.as_str().into(),
            page: page.into(),
            tell,
            clients: Arc::clone(&clients),
        };
        thread::spawn(move || {
            let served = Arc::new(());
            for (number, stream) in listener.incoming().enumerate() {
                let Ok(stream) = stream else {
                    // Out of handles, most likely: they come back as others leave.
                    thread::sleep(PAUSE);
                    continue;
                };
                // Each holds one, and the first is this thread's.
                if Arc::strong_count(&served) > MOST_CONNECTIONS {
                    continue;
                }
                let (shared, place) = (shared.clone(), Arc::clone(&served));
                let serve = move || {
                    // Whoever does not speak the protocol is let go.
                    let _ = shared.serve(stream, number as u64);
                    drop(place);
                };
                if thread::Builder::new().spawn(serve).is_err() {
                    thread::sleep(PAUSE);
                }
            }
        });
        Ok((Self { port, secret, clients }, said))
    }

    /// The address of the page.
    pub fn address(&self) -> String {
        format!("http://127.0.0.1:{}/{}/", self.port, self.secret)
    }

    /// Whether anybody is there.
    pub fn is_watched(&self) -> bool {
        !self.clients.lock().unwrap_or_else(PoisonError::into_inner).is_empty()
    }

    /// Tells all clients; who has not taken what was told before misses this.
    pub fn tell(&self, text: &Arc<str>) {
        let mut clients = self.clients.lock().unwrap_or_else(PoisonError::into_inner);
        clients.retain(|(_, client)| {
            !matches!(client.try_send(Arc::clone(text)), Err(TrySendError::Disconnected(_)))
        });
    }
}

/// Sixteen bytes that nobody can guess, in hexadecimal digits.
fn secret() -> Result<String, Failure> {
    let mut bytes = [0; 16];
    getrandom::fill(&mut bytes).map_err(|error| {
        Failure::new(format!("the system gives no random numbers: {error}"), "try again")
    })?;
    Ok(bytes.iter().map(|byte| format!("{byte:02x}")).collect())
}

/// What a request asks for.
#[derive(Clone, Debug, PartialEq, Eq)]
enum Asks {
    Page,
    /// The socket, by its key.
    Socket(String),
    /// It is refused: with that status, and why.
    Refused(&'static str, &'static str),
}

/// Reads what a request asks for; nothing while it is not complete.
fn asks(head: &[u8], secret: &str) -> Option<Asks> {
    let mut headers = [httparse::EMPTY_HEADER; 64];
    let mut request = httparse::Request::new(&mut headers);
    match request.parse(head) {
        Ok(httparse::Status::Complete(_)) => {}
        Ok(httparse::Status::Partial) => return None,
        Err(_) => return Some(Asks::Refused("400 Bad Request", "this is no request")),
    }
    let header = |name: &str| {
        let mut all = request.headers.iter();
        let found = all.find(|header| header.name.eq_ignore_ascii_case(name));
        found.and_then(|header| std::str::from_utf8(header.value).ok())
    };
    let hosts = request.headers.iter().filter(|header| header.name.eq_ignore_ascii_case("host"));
    if hosts.count() > 1 {
        // RFC 9112, section 3.2.
        return Some(Asks::Refused("400 Bad Request", "a request has one host"));
    }
    let Some(host) = header("host").filter(|host| is_local(host)) else {
        return Some(Asks::Refused("403 Forbidden", "this page is for this machine alone"));
    };
    if request.method != Some("GET") {
        return Some(Asks::Refused("405 Method Not Allowed", "there is nothing to write to"));
    }
    let path = request.path.unwrap_or_default();
    let Some((given, rest)) = path.strip_prefix('/').and_then(|path| path.split_once('/')) else {
        return Some(Asks::Refused("404 Not Found", "open the address that harmonym page printed"));
    };
    if !is_same(given.as_bytes(), secret.as_bytes()) {
        return Some(Asks::Refused("404 Not Found", "open the address that harmonym page printed"));
    }
    match rest {
        "" => Some(Asks::Page),
        "socket" => {
            let own = format!("http://{host}");
            if header("origin").is_none_or(|origin| origin != own) {
                return Some(Asks::Refused("403 Forbidden", "another page may not listen here"));
            }
            let upgrades = header("upgrade").is_some_and(|to| to.eq_ignore_ascii_case("websocket"));
            let version = header("sec-websocket-version") == Some("13");
            match header("sec-websocket-key").filter(|_| upgrades && version) {
                Some(key) => Some(Asks::Socket(key.to_owned())),
                None => Some(Asks::Refused("400 Bad Request", "this is a WebSocket")),
            }
        }
        _ => Some(Asks::Refused("404 Not Found", "there is one page here")),
    }
}

/// Whether a host's name is this machine's own, at whatever port: a tunnel of the person's may end at another.
fn is_local(host: &str) -> bool {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.parse::<u16>().is_ok() => name,
        _ => host,
    };
    matches!(name, "127.0.0.1" | "localhost" | "[::1]")
}

/// The same bytes, in a time that tells nothing of where they differ.
fn is_same(a: &[u8], b: &[u8]) -> bool {
    a.len() == b.len() && a.iter().zip(b).fold(0, |differs, (a, b)| differs | (a ^ b)) == 0
}

/// What every answer says besides: nothing of it is kept, framed or taken for something else.
const GUARDS: &str = "Cache-Control: no-store\r\nX-Content-Type-Options: nosniff\r\nX-Frame-Options: DENY\r\n\
                      Referrer-Policy: no-referrer\r\nCross-Origin-Opener-Policy: same-origin\r\n\
                      Cross-Origin-Resource-Policy: same-origin\r\nConnection: close\r\n";

impl Shared {
    /// Answers one connection.
    fn serve(&self, mut stream: TcpStream, number: u64) -> io::Result<()> {
        let until = Instant::now() + PATIENCE;
        stream.set_write_timeout(Some(PATIENCE))?;
        stream.set_nodelay(true)?;
        if !stream.peer_addr().is_ok_and(|peer: SocketAddr| peer.ip().is_loopback()) {
            return Ok(());
        }
        let mut head = Vec::new();
        let asked = loop {
            let mut piece = [0; 2048];
            // All of it has to come in that time, not each piece.
            stream.set_read_timeout(Some(left(until)?))?;
            let count = stream.read(&mut piece)?;
            head.extend_from_slice(&piece[..count]);
            match asks(&head, &self.secret) {
                Some(asked) => break asked,
                None if count == 0 => return Ok(()),
                None if head.len() > LONGEST_HEAD => {
                    break Asks::Refused(
                        "431 Request Header Fields Too Large",
                        "the request is too long",
                    );
                }
                None => {}
            }
        };
        match asked {
            Asks::Page => answer(&mut stream, "200 OK", ("text/html", &self.page)),
            Asks::Refused(status, why) => {
                answer(&mut stream, status, ("text/plain", &format!("{why}\n")))
            }
            Asks::Socket(key) => {
                let accept = derive_accept_key(key.as_bytes());
                write!(
                    stream,
                    "HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n\
                     Sec-WebSocket-Accept: {accept}\r\n\r\n"
                )?;
                self.talk(stream, number)
            }
        }
    }

    /// Hears a client, and tells it what there is.
    fn talk(&self, stream: TcpStream, number: u64) -> io::Result<()> {
        stream.set_read_timeout(Some(LOOKS_UP))?;
        let config = WebSocketConfig::default()
            .max_message_size(Some(LONGEST_MESSAGE))
            .max_frame_size(Some(LONGEST_MESSAGE));
        let mut socket = WebSocket::from_raw_socket(stream, Role::Server, Some(config));
        let (client, told) = mpsc::sync_channel::<Arc<str>>(WAITING);
        {
            let mut clients = self.clients.lock().unwrap_or_else(PoisonError::into_inner);
            if clients.len() >= MOST_SOCKETS {
                let _ = self.tell.send(Said::Words(format!(
                    "{MOST_SOCKETS} pages are open: another one is not served"
                )));
                return Ok(());
            }
            clients.push((number, client));
        }
        let _ = self.tell.send(Said::Joined(number));
        let why = self.exchange(&mut socket, &told, number);
        let mut clients = self.clients.lock().unwrap_or_else(PoisonError::into_inner);
        clients.retain(|(own, _)| *own != number);
        drop(clients);
        let _ = self.tell.send(Said::Left(number));
        if let Some(words) = why {
            let _ = self.tell.send(Said::Words(words));
        }
        Ok(())
    }

    /// Until one of both ends it: why, where that is worth a word.
    fn exchange(
        &self,
        socket: &mut WebSocket<TcpStream>,
        told: &Receiver<Arc<str>>,
        number: u64,
    ) -> Option<String> {
        loop {
            match socket.read() {
                Ok(Message::Text(text)) => {
                    self.tell.send(Said::Text(number, text.as_str().to_owned())).ok()?;
                }
                Ok(Message::Close(_)) | Err(Error::ConnectionClosed | Error::AlreadyClosed) => {
                    return None;
                }
                Ok(_) => {}
                Err(Error::Io(error))
                    if matches!(error.kind(), ErrorKind::WouldBlock | ErrorKind::TimedOut) => {}
                Err(Error::Capacity(_)) => {
                    return Some(
                        "a page sent more than a message may have: it was let go".to_owned(),
                    );
                }
                Err(Error::Io(_)) => return None,
                Err(error) => return Some(format!("a page was let go: {error}")),
            }
            // Of what waits, only the last is still so.
            if let Some(text) = told.try_iter().last() {
                match socket.send(Message::text(&*text)) {
                    Ok(()) => {}
                    Err(Error::Io(error)) if error.kind() == ErrorKind::WouldBlock => {
                        return Some("a page takes nothing any more: it was let go".to_owned());
                    }
                    Err(_) => return None,
                }
            }
        }
    }
}

/// Sends an answer; all of it has to be taken in the time that there is for it, not each piece.
fn answer(stream: &mut TcpStream, status: &str, (kind, body): (&str, &str)) -> io::Result<()> {
    let until = Instant::now() + PATIENCE;
    let length = body.len();
    let head = format!(
        "HTTP/1.1 {status}\r\nContent-Type: {kind}; charset=utf-8\r\nContent-Length: {length}\r\n{GUARDS}\r\n"
    );
    for part in [head.as_bytes(), body.as_bytes()] {
        let mut rest = part;
        while !rest.is_empty() {
            stream.set_write_timeout(Some(left(until)?))?;
            match stream.write(rest)? {
                0 => return Err(ErrorKind::WriteZero.into()),
                count => rest = &rest[count..],
            }
        }
    }
    stream.flush()
}

/// How long there is until a moment.
fn left(until: Instant) -> io::Result<Duration> {
    let left = until.saturating_duration_since(Instant::now());
    if left.is_zero() { Err(ErrorKind::TimedOut.into()) } else { Ok(left) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn request(path: &str, headers: &str) -> Asks {
        let head = format!("GET {path} HTTP/1.1\r\n{headers}\r\n");
        asks(head.as_bytes(), "5ec2e7").expect("a whole request")
    }

    const SOCKET: &str = "Upgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Version: 13\r\n\
                          Sec-WebSocket-Key: a2V5\r\n";

    #[test]
    fn only_who_knows_the_secret_and_comes_from_here_is_answered() {
        let host = "Host: 127.0.0.1:4000\r\n";
        assert_eq!(request("/5ec2e7/", host), Asks::Page);
        for host in ["Host: localhost\r\n", "host: [::1]:8080\r\n", "HOST: localhost:99\r\n"] {
            assert_eq!(request("/5ec2e7/", host), Asks::Page, "{host}");
        }
        let refused = |asks: Asks| matches!(asks, Asks::Refused(..));
        for host in [
            "",
            "Host: example.org\r\n",
            "Host: 127.0.0.1.example.org\r\n",
            "Host: 10.0.0.1:4000\r\n",
        ] {
            assert!(refused(request("/5ec2e7/", host)), "{host}");
        }
        for path in [
            "/",
            "/5ec2e7",
            "/5ec2e8/",
            "/5ec2e/",
            "/5ec2e77/",
            "/5ec2e7/x",
            "//",
            "/5ec2e7/socket",
        ] {
            assert!(refused(request(path, host)), "{path}");
        }
        let whole = format!("{host}{SOCKET}Origin: http://127.0.0.1:4000\r\n");
        assert_eq!(request("/5ec2e7/socket", &whole), Asks::Socket("a2V5".to_owned()));
        for origin in [
            "",
            "Origin: http://example.org\r\n",
            "Origin: null\r\n",
            "Origin: http://localhost:4000\r\n",
        ] {
            assert!(
                refused(request("/5ec2e7/socket", &format!("{host}{SOCKET}{origin}"))),
                "{origin}"
            );
        }
        let old = whole.replace("Version: 13", "Version: 8");
        assert!(refused(request("/5ec2e7/socket", &old)));
        let post = b"POST /5ec2e7/ HTTP/1.1\r\nHost: localhost\r\n\r\n";
        assert!(refused(asks(post, "5ec2e7").expect("whole")));
        assert!(refused(asks(b"\0\0\0\r\n\r\n", "5ec2e7").expect("whole")));
        assert_eq!(asks(b"GET / HTTP/1.1\r\nHost:", "5ec2e7"), None);
    }

    fn client(server: &PageServer) -> WebSocket<TcpStream> {
        let stream = TcpStream::connect((Ipv4Addr::LOCALHOST, server.port)).expect("the server");
        let uri = format!("ws://127.0.0.1:{}/{}/socket", server.port, server.secret);
        let request = tungstenite::http::Request::builder()
            .uri(&uri)
            .header("Host", format!("127.0.0.1:{}", server.port))
            .header("Origin", format!("http://127.0.0.1:{}", server.port))
            .header("Upgrade", "websocket")
            .header("Connection", "Upgrade")
            .header("Sec-WebSocket-Version", "13")
            .header("Sec-WebSocket-Key", "dGhlIHNhbXBsZSBub25jZQ==")
            .body(())
            .expect("a request");
        tungstenite::client(request, stream).expect("a socket").0
    }

    #[test]
    fn clients_are_heard_and_told_and_one_that_says_too_much_is_let_go() {
        let (server, said) = PageServer::open(None, |_| Ok("page".to_owned())).expect("a server");
        let next = || said.recv_timeout(PATIENCE).expect("something said");
        let mut one = client(&server);
        let Said::Joined(first) = next() else { panic!() };
        one.send(Message::text("hello")).expect("sent");
        assert_eq!(next(), Said::Text(first, "hello".to_owned()));
        assert!(server.is_watched());
        server.tell(&"all".into());
        assert_eq!(one.read().expect("told"), Message::text("all"));
        let mut other = client(&server);
        let Said::Joined(second) = next() else { panic!() };
        other.send(Message::text("x".repeat(LONGEST_MESSAGE))).expect("sent");
        assert!(
            matches!(next(), Said::Text(by, text) if by == second && text.len() == LONGEST_MESSAGE)
        );
        // What comes behind the limit is not read; the other client goes on.
        let _ = other.send(Message::text("x".repeat(LONGEST_MESSAGE + 1)));
        assert_eq!(next(), Said::Left(second));
        assert!(matches!(next(), Said::Words(words) if words.contains("more than a message")));
        server.tell(&"more".into());
        assert_eq!(one.read().expect("told"), Message::text("more"));
        drop(one);
        assert_eq!(next(), Said::Left(first));
        assert!(!server.is_watched());
    }

    fn connect(server: &PageServer) -> TcpStream {
        let stream = TcpStream::connect((Ipv4Addr::LOCALHOST, server.port)).expect("the server");
        stream.set_read_timeout(Some(PATIENCE * 3)).expect("a time");
        stream
    }

    /// What is answered until the end of the connection.
    fn answered(mut stream: TcpStream, head: &str) -> String {
        let _ = stream.write_all(head.as_bytes());
        let mut text = Vec::new();
        let _ = stream.read_to_end(&mut text);
        String::from_utf8_lossy(&text).into_owned()
    }

    #[test]
    fn a_head_that_is_too_long_and_one_with_two_hosts_are_refused() {
        let (server, _said) = PageServer::open(None, |_| Ok("page".to_owned())).expect("a server");
        let head = |length: usize| {
            let begin = format!("GET /{}/ HTTP/1.1\r\nHost: localhost\r\nX: ", server.secret);
            format!("{begin}{}\r\n\r\n", "x".repeat(length - begin.len() - 4))
        };
        let status = |head: &str| answered(connect(&server), head)[9..12].to_owned();
        assert_eq!(status(&head(LONGEST_HEAD)), "200");
        // One that goes on and on is not waited for.
        assert_eq!(status(head(LONGEST_HEAD + 4096).trim_end()), "431");
        let host = "Host: localhost\r\n";
        let two = format!("GET /{}/ HTTP/1.1\r\n{host}{host}\r\n", server.secret);
        assert_eq!(status(&two), "400");
    }

    #[test]
    fn more_pages_and_more_connections_than_there_may_be_are_not_served() {
        let (server, said) = PageServer::open(None, |_| Ok("page".to_owned())).expect("a server");
        let next = || said.recv_timeout(PATIENCE).expect("something said");
        let mut open = Vec::new();
        for _ in 0..MOST_SOCKETS {
            open.push(client(&server));
            assert!(matches!(next(), Said::Joined(_)));
        }
        let mut one_more = client(&server);
        assert!(
            matches!(next(), Said::Words(words) if words.contains("another one is not served"))
        );
        assert!(one_more.read().is_err());
        // The others go on, and when one leaves there is room again.
        server.tell(&"all".into());
        assert_eq!(open[0].read().expect("told"), Message::text("all"));
        drop(open.remove(1));
        assert!(matches!(next(), Said::Left(_)));
        open.push(client(&server));
        assert!(said.iter().any(|one| matches!(one, Said::Joined(_))));
        let idle: Vec<TcpStream> =
            (MOST_SOCKETS..MOST_CONNECTIONS).map(|_| connect(&server)).collect();
        let page = format!("GET /{}/ HTTP/1.1\r\nHost: localhost\r\n\r\n", server.secret);
        assert_eq!(answered(connect(&server), &page), "");
        // Who says nothing is let go after a while, and who says it bit by bit, too.
        let begun = Instant::now();
        let mut slow = &idle[0];
        while slow.write_all(b"G").is_ok() && begun.elapsed() < PATIENCE * 2 {
            thread::sleep(Duration::from_millis(200));
        }
        assert!(begun.elapsed() < PATIENCE * 2);
        assert!(answered(connect(&server), &page).ends_with("page"));
    }

    #[test]
    fn a_client_that_takes_nothing_holds_nobody_up() {
        let (server, said) = PageServer::open(None, |_| Ok("page".to_owned())).expect("a server");
        let _stuck = client(&server);
        assert!(matches!(said.recv_timeout(PATIENCE), Ok(Said::Joined(_))));
        let much: Arc<str> = "x".repeat(1 << 20).into();
        for _ in 0..200 {
            server.tell(&much);
        }
        let mut other = client(&server);
        let mut joined = said.iter().take(3);
        assert!(joined.any(|one| matches!(one, Said::Joined(_))));
        server.tell(&"for both".into());
        let seen =
            std::iter::from_fn(|| other.read().ok()).find(|one| *one == Message::text("for both"));
        assert!(seen.is_some());
    }

    #[test]
    fn a_port_that_is_in_use_is_told() {
        let (server, _said) = PageServer::open(None, |_| Ok(String::new())).expect("a server");
        let again = PageServer::open(Some(server.port), |_| Ok(String::new()));
        let Err(failure) = again else { panic!() };
        assert!(failure.message().contains("in use"), "{}", failure.message());
    }
}
