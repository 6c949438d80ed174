"""The web server: which port, which names, and stopping when told."""

from __future__ import annotations

import gc
import ipaddress
import os
import resource
import signal
import socket
from asyncio import Transport
from collections.abc import Callable, Iterable
from contextlib import suppress
from pathlib import Path
from types import FrameType
from typing import Final

import segno
import uvicorn
from uvicorn.protocols.http.h11_impl import H11Protocol

from ubrex.server.api.app import AppSettings, create_app
from ubrex.server.api.guard import LOOPBACK_NAMES
from ubrex.server.runtime.folder import CannotRun
from ubrex.server.runtime.workshop import OpenWorkshop, Say

PORTS_TRIED: Final = 20
SILENT_S: Final = 20.0
"""How long [s] a new connection may say nothing; a browser that keeps one in store opens another."""

WEB: Final = Path(__file__).resolve().parents[4] / "web" / "dist"


class Stopped(KeyboardInterrupt):
    """Somebody asked to stop, by Ctrl+C, SIGTERM or closing the terminal.

    An event loop lets no other exception out of its callbacks: one that is raised while it begins would be lost.
    """


def stop_on_signals() -> None:
    """Let signals to stop raise ``Stopped``, so that everything started is stopped on the way out."""

    def stop(_number: int, _frame: FrameType | None) -> None:
        ignore_signals()
        raise Stopped

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, stop)
    # The web server takes over the two above while it runs, but not this one.
    signal.signal(signal.SIGHUP, lambda _number, _frame: os.kill(os.getpid(), signal.SIGTERM))


def ignore_signals() -> None:
    """Let stopping be finished in peace."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)


def is_loopback(host: str) -> bool:
    """Whether an address to listen on can be reached from this machine only."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


def require_passphrase(host: str, passphrase_hash: str | None, *, command: str) -> str | None:
    """Hash to ask sign-ins for; None on loopback.

    Raises
    ------
    CannotRun
        If Ubrex would be reachable from elsewhere without a passphrase.
    """
    if is_loopback(host):
        return None
    if passphrase_hash is None:
        raise CannotRun(
            f"Listening on {host} lets other devices in, and this workshop has no passphrase yet. Set one first: {command}"
        )
    return passphrase_hash


def listen(host: str, port: int, say: Say) -> socket.socket:
    """A socket on ``port``, or on the next free one.

    Raises
    ------
    CannotRun
        If the address is not one of this machine, or no port near is free.
    """
    for candidate in range(port, min(port + PORTS_TRIED, 65536)):
        try:
            found = socket.create_server((host, candidate), family=_family(host), backlog=128)
        except OSError as error:
            if error.errno not in {98, 13}:
                raise CannotRun(f"Cannot listen on {host}: {error.strerror}.") from error
            continue
        # Connections inherit it. asyncio sets it only where the protocol is spelt out, and without it each answer waits
        # 40 ms for the browser's acknowledgement of its head.
        found.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        if candidate != port:
            say(f"port {port} is busy, using {candidate}")
        return found
    raise CannotRun(f"No port from {port} on is free. Choose another with --port.")


class Prompt(H11Protocol):
    """A connection that has asked for nothing after a while is closed: a thousand silent ones would be all there are."""

    def connection_made(self, transport: Transport) -> None:  # type: ignore[override]
        """Begin to wait for the first request."""
        super().connection_made(transport)
        self.loop.call_later(SILENT_S, self._close_if_silent)

    def _close_if_silent(self) -> None:
        if self.cycle is None and not self.transport.is_closing():
            self.transport.close()


def allow_connections() -> None:
    """Let as many connections be open as this system lets a process have."""
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))


def settle_memory() -> None:
    """Leave what is loaded for good out of every later sweep for garbage: one of it all holds an answer up for 100 ms."""
    gc.collect()
    gc.freeze()


class Server(uvicorn.Server):
    """A web server that calls ``ready`` once it listens, and hears signals itself."""

    def __init__(self, config: uvicorn.Config, ready: Callable[[], None]) -> None:
        super().__init__(config)
        self.ready = ready

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Begin to listen, and say so."""
        await super().startup(sockets=sockets)
        if not self.should_exit:
            self.ready()


def run(
    workshop: OpenWorkshop,
    *,
    listening: socket.socket,
    host: str,
    passphrase_hash: str | None,
    names: Iterable[str],
    say: Say,
) -> None:
    """Serve until told to stop."""
    port: int = listening.getsockname()[1]
    addresses = ["127.0.0.1"] if is_loopback(host) else own_addresses()
    hosts = LOOPBACK_NAMES | {socket.gethostname().lower()} | {name.lower() for name in names} | set(addresses)
    app = create_app(AppSettings(passphrase_hash=passphrase_hash, hosts=frozenset(hosts), web=WEB))
    shown = [f"http://{f'[{address}]' if ':' in address else address}:{port}" for address in addresses]
    workshop.announce(shown[0])
    config = uvicorn.Config(
        app, http=Prompt, log_level="warning", access_log=False, server_header=False, timeout_graceful_shutdown=5,
        proxy_headers=False,
    )  # fmt: skip
    allow_connections()
    settle_memory()
    Server(config, lambda: _say_addresses(shown, beyond=not is_loopback(host), say=say)).run(sockets=[listening])


def own_addresses() -> list[str]:
    """Addresses of this machine that another device may reach it by; loopback if there is none. Its name may have none."""
    found: set[str] = set()
    with suppress(socket.gaierror):
        found.update(str(row[4][0]) for row in socket.getaddrinfo(socket.gethostname(), None))
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, suppress(OSError):
        # Connecting a datagram socket sends nothing; it only picks the address that would be used.
        probe.connect(("192.0.2.1", 9))
        found.add(probe.getsockname()[0])
    reachable = sorted(address for address in found if not ipaddress.ip_address(address.partition("%")[0]).is_loopback)
    return reachable or ["127.0.0.1"]


def _say_addresses(shown: list[str], *, beyond: bool, say: Callable[[str], None]) -> None:
    if not beyond:
        say(f"ready at {shown[0]}   (Ctrl+C stops it)")
        return
    say("ready; on the phone type one of these, or point its camera at the square")
    for address in shown:
        say(f"  {address}")
    say("  plain HTTP: use it in a network you trust")
    if os.isatty(1):
        segno.make(shown[0], error="m").terminal(compact=True)


def _family(host: str) -> socket.AddressFamily:
    return socket.AF_INET6 if ":" in host else socket.AF_INET
