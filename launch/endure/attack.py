"""What somebody would try who wants to stop the application: bounded, on loopback, on a demo kitchen of its own."""

from __future__ import annotations

import http.client
import json
import shutil
import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from typing import Any, Final

from launch.bench.figure import Figure
from launch.bench.hostile_texts import hostile_texts
from launch.bench.materials_speed import ingredient_rows
from launch.bench.server_speed import Client
from launch.database import Cluster
from launch.demo_server import DemoServer, demo_server

from .bent_records import bent_records
from .kills import WAYS
from .prying import prying

_CLUSTER: Final = Cluster("postgres-attack")
_LONGEST_ANSWER_S: Final = 2.0
"""For somebody who only wants to see a mix while all this goes on."""
_COMES_BACK_S: Final = 10.0
_SLOW_CONNECTIONS: Final = 100
_GUESSES: Final = 12
_SENT_BEFORE_REFUSED: Final = 1_000_000


def figures() -> list[Figure]:
    """Try everything, and say what held."""
    try:
        with demo_server(_CLUSTER) as server:
            client = Client(server.port, server.person, server.password)
            return [figure for attack in _ATTACKS for figure in attack(server, client)]
    finally:
        shutil.rmtree(_CLUSTER.folder, ignore_errors=True)


def hostile_recipes(server: DemoServer, client: Client) -> Iterator[Figure]:
    """Paste the worst texts, several at once."""
    path = client.in_kitchen("/recipe-readings")

    def paste(part: int) -> None:
        mine = Client(server.port, server.person, server.password)
        for text in list(hostile_texts(300_000).values())[part::3]:
            with suppress(RuntimeError):  # most hold no recipe, which is said
                mine.call("POST", path, {"text": text})

    with _looking_at_a_mix(server) as slowest:
        _at_once(*(lambda part=part: paste(part) for part in range(3)))
    yield Figure("hostile recipes: slowest answer to others", slowest[0], _LONGEST_ANSWER_S, "s")


def slow_connections(server: DemoServer, _client: Client) -> Iterator[Figure]:
    """Open many connections that say nothing, half a head, or half a body."""
    begins = (b"", b"GET / HTTP/1.1\r\nHost: x\r\n", b"POST / HTTP/1.1\r\nContent-Length: 99\r\n\r\na")
    opened = [socket.create_connection(("127.0.0.1", server.port)) for _ in range(_SLOW_CONNECTIONS)]
    try:
        for number, connection in enumerate(opened):
            connection.sendall(begins[number % len(begins)])
        with _looking_at_a_mix(server) as slowest:
            time.sleep(2)
    finally:
        for connection in opened:
            connection.close()
    yield Figure(f"{_SLOW_CONNECTIONS} slow connections: slowest answer to others", slowest[0], _LONGEST_ANSWER_S, "s")


def endless_bodies(server: DemoServer, _client: Client) -> Iterator[Figure]:
    """Send hundreds of megabytes without being anybody."""
    for what, head in (
        ("400 MB", b"Content-Length: 400000000\r\n"),
        ("chunks without end", b"Transfer-Encoding: chunked\r\n"),
    ):
        sent = 0
        with socket.create_connection(("127.0.0.1", server.port), timeout=10) as connection, suppress(OSError):
            connection.sendall(b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\n" + head + b"\r\n")
            while sent < 50 * _SENT_BEFORE_REFUSED:
                sent += connection.send(b"10000\r\n" + b"x" * 65536 + b"\r\n")
        yield Figure(f"{what} without a session: taken", sent / 1e6, 20 * _SENT_BEFORE_REFUSED / 1e6, "MB")


def too_many_rows(server: DemoServer, client: Client) -> Iterator[Figure]:
    """Bring in ten times as many ingredients as there may be."""
    rows = ingredient_rows(200_000)
    began = time.perf_counter()
    with _looking_at_a_mix(server) as slowest:
        answer = json.loads(client.send_file(client.in_kitchen("/ingredient-files"), rows))
        while answer["state"] in ("waiting", "running"):
            time.sleep(0.05)
            answer = json.loads(client.call("GET", client.in_kitchen(f"/ingredient-files/{answer['id']}")))
    refused = answer["state"] == "failed" and "more than" in answer["problem"]["detail"]
    yield Figure("200 000 rows: until they are refused", time.perf_counter() - began, 8.0, "s")
    yield Figure("200 000 rows: refused with a sentence", float(refused), 1, "", at_least=True)
    yield Figure("200 000 rows: slowest answer to others", slowest[0], _LONGEST_ANSWER_S, "s")


def broken_requests(_server: DemoServer, client: Client) -> Iterator[Figure]:
    """Send what no browser sends, and count what broke."""
    mix = json.loads(client.call("GET", client.in_kitchen("/mixes")))["items"][0]["id"]
    line = '{"ingredient": "sugar", "typed": "9", "stage": "pot"}'
    numbers = ("NaN", "Infinity", "1e999", "1e-320", "-1e308", "9" * 400)
    sent = [
        *(
            ("POST", "/scalings", f'{{"lines": [{line}], "by": "mass", "amount": "1", "overrun_pct": {n}}}')
            for n in numbers
        ),
        *(("POST", "/analyses", f'{{"lines": [{line}], "freezer_c": {number}}}') for number in numbers),
        *(("PUT", f"/mixes/{mix}", f'{{"name": "x", "lines": [], "based_on": {n}}}') for n in (99, 2**31, 2**63, -1)),
        ("POST", "/analyses", "[" * 100_000),
        ("POST", "/analyses", '{"lines": "\\ud800"}'),
        ("GET", "/tubs?code=%00", ""),
        ("GET", "/lots?ingredient=%00", ""),
        ("POST", "/instruments/%00/tare", ""),
        ("POST", "/places", '{"name": "x", "kind": "still-freezer", "air_c": -18, "mark": "\\u0000"}'),
        ("POST", "/recipe-readings", json.dumps({"text": '{"@type": "Recipe", "recipeIngredient": 7}'})),
    ]
    broken = sum(_status(client, *one) >= 500 for one in sent)
    broken += _status(client, "POST", "/ingredient-files", "name,water", "multipart/form-data") >= 500
    yield Figure(f"of {len(sent) + 1} broken requests broke something", broken, 0, "")


def records(_server: DemoServer, client: Client) -> Iterator[Figure]:
    """Bend the records of batches."""
    yield from bent_records(client)


def guesses(server: DemoServer, client: Client) -> Iterator[Figure]:
    """Guess the password without pause; who signed in from their own browser before still gets in."""

    def guess() -> int:
        stranger = http.client.HTTPConnection("127.0.0.1", server.port, timeout=30)
        stranger.request("GET", "/")
        page = stranger.getresponse()
        page.read()
        cookie = page.headers.get("Set-Cookie", "").partition(";")[0]
        headers = {"Cookie": cookie, "X-CSRFToken": cookie.partition("=")[2], "Content-Type": "application/json"}
        stranger.request("POST", "/api/v1/session", json.dumps({"name": server.person, "password": "x"}), headers)
        status = stranger.getresponse().status
        stranger.close()
        return status

    answers = [guess() for _ in range(_GUESSES)]
    yield Figure(f"of {_GUESSES} guesses were looked at", answers.count(401), 6, "")
    known = json.loads(client.call("POST", "/api/v1/session", {"name": server.person, "password": server.password}))
    yield Figure("the owner signs in meanwhile", float(known["name"] == server.person), 1, "", at_least=True)


def files_for_spreadsheets(_server: DemoServer, client: Client) -> Iterator[Figure]:
    """Name things so that a spreadsheet would run them, and take them out again."""
    for name in ("=1+1", "canal;=1+1", "＝1+1", "@x"):
        made = {"way": "brix", "of": "strawberry-puree", "brix": 9, "name": name}
        with suppress(RuntimeError):
            client.call("POST", client.in_kitchen("/custom-ingredients"), made)
    text = client.call("GET", client.in_kitchen("/ingredients.csv")).decode()
    cells = [cell.strip('" ') for row in text.splitlines() for part in row.split(",") for cell in part.split(";")]
    yield Figure(
        "cells that a spreadsheet would run", sum(cell[:1] in tuple("=＝@＠") for cell in cells if cell), 0, ""
    )


def kills(server: DemoServer, client: Client) -> Iterator[Figure]:
    """Kill each part alone, and wait until a mix can be looked at again."""
    for way in WAYS:
        time.sleep(1)
        began = time.perf_counter()
        way(server.application)
        time.sleep(0.05)
        while time.perf_counter() - began < 3 * _COMES_BACK_S:
            with suppress(OSError, RuntimeError, http.client.HTTPException):
                Client(server.port, server.person, server.password).call("GET", client.in_kitchen("/mixes"))
                break
            time.sleep(0.02)
        yield Figure(f"{way.__name__.replace('_', ' ')}: back after", time.perf_counter() - began, _COMES_BACK_S, "s")


_ATTACKS: Final[tuple[Callable[[DemoServer, Client], Iterator[Figure]], ...]] = (
    hostile_recipes,
    slow_connections,
    endless_bodies,
    too_many_rows,
    broken_requests,
    records,
    prying,
    files_for_spreadsheets,
    guesses,
    kills,
)


@contextmanager
def _looking_at_a_mix(server: DemoServer) -> Iterator[list[float]]:
    """Look at a mix ten times a second meanwhile; the slowest answer is in the list at the end."""
    client = Client(server.port, server.person, server.password)
    path = client.in_kitchen("/mixes")
    slowest, ended = [0.0], threading.Event()

    def look() -> None:
        while not ended.wait(0.1):
            began = time.perf_counter()
            try:
                client.call("GET", path)
            except (OSError, RuntimeError, http.client.HTTPException):
                slowest[0] = float("inf")
                return
            slowest[0] = max(slowest[0], time.perf_counter() - began)

    looking = threading.Thread(target=look)
    looking.start()
    try:
        yield slowest
    finally:
        ended.set()
        looking.join()


def _status(client: Client, method: str, path: str, body: str, kind: str = "application/json") -> int:
    connection = http.client.HTTPConnection("127.0.0.1", client.port, timeout=30)
    headers = {**client.headers(), "Content-Type": kind, "If-Match": '"1"'}
    connection.request(method, client.in_kitchen(path), body.encode(), headers)
    status = connection.getresponse().status
    connection.close()
    return status


def _at_once(*jobs: Callable[[], Any]) -> None:
    threads = [threading.Thread(target=job) for job in jobs]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
