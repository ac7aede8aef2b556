"""A worker that gathers a request before a thread begins on it, so that slow or endless senders hold nobody up.

gunicorn's own gives a thread to whoever has sent a first byte; as many slow connections as there are threads stop it.
"""

from __future__ import annotations

import selectors
import socket
import struct
import time
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from typing import Any, Final

from gunicorn.http.parser import RequestParser
from gunicorn.http.unreader import IterUnreader
from gunicorn.workers.gthread import TConn, ThreadWorker

from api.problems import plain_problem
from serving.request_head import RequestSize, UnmeasuredError, request_size

LONGEST_HEAD: Final = 32_000
"""Bytes of a request line and headers; a browser sends under 2 000."""
MOST_HELD: Final = 64_000_000
"""Bytes that may be gathered at once in one worker: five of the largest files of ingredients."""
HEAD_SECONDS: Final = 10.0
"""From the first byte to the end of the headers; a browser sends them at once."""
BODY_SECONDS: Final = 30.0
"""From there to the end of the body: 12 MB over a house network."""
FIRST_BYTE_SECONDS: Final = 15.0
"""Browsers open connections ahead of need; one that stays empty this long is closed."""
SEND_SECONDS: Final = 20
"""Without taking a single byte of an answer, after which a reader is given up."""
MOST_GATHERING: Final = 400
"""Connections that may be gathered at once; the oldest gives way."""
_CHUNK: Final = 65_536


@dataclass(eq=False, slots=True)
class _Gathering:
    """A connection whose request is not whole yet."""

    conn: TConn
    until: float
    held: bytearray
    size: RequestSize | None = None


class GatheringWorker(ThreadWorker):
    """Reads requests in the main loop without waiting for any, and hands whole ones to the threads."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._gathering: dict[TConn, _Gathering] = {}

    def accept(self, listener: socket.socket) -> None:
        """Take a connection and begin to gather its first request."""
        try:
            client, address = listener.accept()
        except OSError:
            return  # another worker was quicker, or the sender has gone
        client.setsockopt(socket.SOL_SOCKET, socket.SO_SNDTIMEO, struct.pack("ll", SEND_SECONDS, 0))
        self.nr_conns += 1
        self._gather(TConn(self.cfg, client, address, listener.getsockname()), FIRST_BYTE_SECONDS)

    def on_client_socket_readable(self, conn: TConn, client: socket.socket) -> None:
        """Gather the next request of a connection that was kept."""
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self._gather(conn, HEAD_SECONDS)

    def murder_pending(self) -> None:
        """Close connections whose time is up; gunicorn calls this between its events, and while it stops."""
        super().murder_pending()
        now = time.monotonic()
        for gathering in list(self._gathering.values()):
            if gathering.until < now or not (self.alive or gathering.held):
                self._refuse(gathering, 408 if gathering.held else None)

    def _gather(self, conn: TConn, seconds: float) -> None:
        while len(self._gathering) >= MOST_GATHERING:
            self._refuse(next(iter(self._gathering.values())), None)
        conn.sock.setblocking(False)
        gathering = _Gathering(conn, time.monotonic() + seconds, bytearray())
        self._gathering[conn] = gathering
        self.poller.register(conn.sock, selectors.EVENT_READ, partial(self._on_bytes, gathering))
        self._on_bytes(gathering, conn.sock)

    def _on_bytes(self, gathering: _Gathering, client: socket.socket) -> None:
        try:
            chunk = client.recv(_CHUNK)
        except BlockingIOError:
            return
        except OSError:
            chunk = b""
        if not chunk:
            self._refuse(gathering, None)
            return
        if not gathering.held:
            gathering.until = time.monotonic() + HEAD_SECONDS
        gathering.held += chunk
        refused = self._look_at(gathering)
        if refused is not None:
            self._refuse(gathering, refused)
        elif gathering.size is not None and len(gathering.held) >= gathering.size.whole:
            self._hand_over(gathering)

    def _look_at(self, gathering: _Gathering) -> int | None:
        """Measure a request once its head is whole; return the status to refuse it with, if any."""
        if gathering.size is None:
            try:
                gathering.size = request_size(gathering.held)
            except UnmeasuredError:
                return 411
            if len(gathering.held if gathering.size is None else gathering.held[: gathering.size.head]) > LONGEST_HEAD:
                return 431
            if gathering.size is None:
                return None
            gathering.until = time.monotonic() + BODY_SECONDS
        if gathering.size.is_too_large:
            return 413
        if len(gathering.held) > gathering.size.whole:
            return 400  # a second request before the answer to the first; no browser sends one
        return 503 if sum(len(one.held) for one in self._gathering.values()) > MOST_HELD else None

    def _hand_over(self, gathering: _Gathering) -> None:
        conn = gathering.conn
        self.poller.unregister(conn.sock)
        del self._gathering[conn]
        conn.data_ready = True
        conn.init()
        held = bytes(gathering.held)
        assert isinstance(conn.parser, RequestParser)  # HTTP/1 is all that is spoken here
        conn.parser.unreader = IterUnreader(held[at : at + _CHUNK] for at in range(0, len(held), _CHUNK))
        self.enqueue_req(conn)

    def _refuse(self, gathering: _Gathering, status: int | None) -> None:
        """Close a connection, with an answer where there is somebody to read one."""
        conn = gathering.conn
        with suppress(OSError, KeyError, ValueError):
            self.poller.unregister(conn.sock)
        self._gathering.pop(conn, None)
        self.nr_conns -= 1
        if status is not None:
            with suppress(OSError):
                conn.sock.send(_refusal(status))
        conn.close()


def _refusal(status: int) -> bytes:
    answer = plain_problem(status)
    head = (
        f"HTTP/1.1 {status} {answer.reason_phrase}\r\nContent-Type: {answer.headers['Content-Type']}\r\n"
        f"Content-Length: {len(answer.content)}\r\nCache-Control: no-store\r\nConnection: close\r\n\r\n"
    )
    return head.encode() + answer.content
