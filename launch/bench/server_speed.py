"""The analyse call over HTTP against a served demo kitchen, for one client and for twenty at once."""

from __future__ import annotations

import http.client
import json
import re
import socket
import threading
import time
from collections.abc import Mapping
from typing import Any

from jalebi_core.shelf.catalogue import catalogue
from launch.demo_server import DemoServer

from .figure import Figure, p95


class Client:
    """A signed-in client with one kept connection."""

    def __init__(self, port: int, name: str, password: str) -> None:
        self.port = port
        self._connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
        self._cookies: dict[str, str] = {}
        self.call("GET", "/")
        session = json.loads(self.call("POST", "/api/v1/session", {"name": name, "password": password}))
        self.kitchen: str = session["kitchens"][0]["slug"]

    def call(self, method: str, path: str, body: Any = None, version: int | None = None) -> bytes:
        """Make a call with a JSON body and return the answer's body."""
        content = None if body is None else json.dumps(body).encode()
        return self._send(method, path, content, "application/json", version)

    def close(self) -> None:
        """Let go of the connection; the next call opens another within the same session."""
        self._connection.close()

    def in_kitchen(self, path: str) -> str:
        """Return the address of something in the client's kitchen."""
        return f"/api/v1/kitchens/{self.kitchen}{path}"

    def headers(self) -> dict[str, str]:
        """Return the headers by which the server knows the client."""
        return {
            "Cookie": "; ".join(f"{name}={value}" for name, value in self._cookies.items()),
            "X-CSRFToken": next((value for name, value in self._cookies.items() if "csrf" in name), ""),
        }

    def send_file(self, path: str, data: bytes, more: Mapping[str, str] | None = None) -> bytes:
        """Send a file as a form does, with more headers, and return the answer's body."""
        head = b'--cut\r\nContent-Disposition: form-data; name="file"; filename="goods.csv"\r\n\r\n'
        return self._send(
            "POST", path, head + data + b"\r\n--cut--\r\n", "multipart/form-data; boundary=cut", more=more
        )

    def finished(self, path: str, answer: bytes) -> Any:
        """Return what a request came to: its answer, or that of the job that it became."""
        found = json.loads(answer)
        while found.get("state") in ("waiting", "running"):
            time.sleep(0.02)
            found = json.loads(self.call("GET", self.in_kitchen(f"{path}/{found['id']}")))
        return found.get("answer", found)

    def _send(
        self,
        method: str,
        path: str,
        content: bytes | None,
        content_type: str,
        version: int | None = None,
        more: Mapping[str, str] | None = None,
    ) -> bytes:
        headers = {
            "Content-Type": content_type,
            **(more or {}),
            **self.headers(),
            **({} if version is None else {"If-Match": f'"{version}"'}),
        }
        self._connection.request(method, path, content, headers)
        response = self._connection.getresponse()
        answer = response.read()
        if response.status >= 400:
            raise RuntimeError(f"{method} {path}: {response.status} {answer[:200]!r}")
        for key, value in response.getheaders():
            if key.lower() == "set-cookie":
                name, _, rest = value.partition("=")
                self._cookies[name] = rest.partition(";")[0]
        return answer

    def raw(self, path: str, body: Any) -> tuple[socket.socket, bytes]:
        """Return a connection of its own and the bytes of a call, so that the load costs next to nothing."""
        content = json.dumps(body).encode()
        head = (
            f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
            f"Content-Length: {len(content)}\r\n"
            + "".join(f"{name}: {value}\r\n" for name, value in self.headers().items())
            + "\r\n"
        )
        connection = socket.create_connection(("127.0.0.1", self.port))
        return connection, head.encode() + content


def figures(server: DemoServer) -> list[Figure]:
    """Measure the analyse call of a 20-line draft."""
    draft = {
        "lines": [{"ingredient": slug, "typed": "50", "unit": "g", "stage": "pot"} for slug in list(catalogue())[:20]],
        "overrun_pct": 30,
    }
    clients = [Client(server.port, server.person, server.password) for _ in range(20)]
    for client in clients:
        client.call("POST", client.in_kitchen("/analyses"), draft)
    calls = [client.raw(client.in_kitchen("/analyses"), draft) for client in clients]
    alone = _durations(calls[:1], times=300)
    crowd = _durations(calls, times=60)
    return [
        Figure("analyse call, one client, p95", p95(alone), 12.0, "ms"),
        Figure("analyse call, 20 clients without pause, p95", p95(crowd), 120.0, "ms"),
    ]


def _durations(calls: list[tuple[socket.socket, bytes]], times: int) -> list[float]:
    durations: list[float] = []

    def work(connection: socket.socket, request: bytes) -> None:
        mine = []
        for _ in range(times):
            began = time.perf_counter()
            connection.sendall(request)
            _read_answer(connection)
            mine.append(1000 * (time.perf_counter() - began))
        durations.extend(mine)

    threads = [threading.Thread(target=work, args=call) for call in calls]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return durations


def _read_answer(connection: socket.socket) -> None:
    answer = connection.recv(65536)
    while b"\r\n\r\n" not in answer:
        answer += connection.recv(65536)
    head, _, body = answer.partition(b"\r\n\r\n")
    if b" 200 " not in head[:20]:
        raise RuntimeError(f"the analyse call failed: {head[:80]!r}")
    match = re.search(rb"content-length: (\d+)", head, re.IGNORECASE)
    missing = int(match[1] if match else 0) - len(body)
    while missing > 0:
        missing -= len(connection.recv(65536))
