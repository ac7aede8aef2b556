"""Somebody who sends one thing after the other by a key, again until it is acknowledged, and counts what is there."""

from __future__ import annotations

import json
import threading
import time
from collections import Counter
from collections.abc import Callable
from functools import partial
from typing import Final, Protocol
from uuid import uuid4

from launch.bench.server_speed import Client
from launch.demo_server import DemoServer

from .patience import PatientClient

_GUEST_PAUSE_S: Final = 1.5
_GUESTS: Final = 200
"""Of one test."""


class Send(Protocol):
    """Sends one thing under its key, which makes it one of a kind."""

    def __call__(self, client: Client, key: str) -> None: ...


class Sender(threading.Thread):
    """Sends by keys of its own; at the end each that was acknowledged must be there once, and none twice.

    Parameters
    ----------
    keys : names everything that is there, by the key under which it was sent
    """

    def __init__(self, server: DemoServer, what: str, send: Send, keys: Callable[[Client], list[str]]) -> None:
        super().__init__(daemon=True)
        self._patient = PatientClient(server)
        self._what = what
        self._send = send
        self._keys = keys
        self._ended = threading.Event()
        self._sent: list[str] = []
        self.lost: list[str] = []
        self.broken: list[str] = []

    @property
    def acknowledged(self) -> int:
        """How many things were acknowledged."""
        return len(self._sent)

    def run(self) -> None:
        try:
            while not self._ended.is_set():
                key = str(uuid4())
                self._patient.insist(partial(self._send, key=key))
                self._sent.append(key)
        except Exception as error:
            self.broken.append(f"GAVE UP: {self._what}: {error!r}")

    def finish(self) -> None:
        """Stop, and count."""
        self._ended.set()
        self.join()
        there = Counter(self._patient.insist(self._keys))
        self.lost += [f"LOST: {self._what} {key}" for key in self._sent if not there[key]]
        self.lost += [f"DOUBLED: {self._what} {key}" for key, times in there.items() if times > 1]


def presses(server: DemoServer) -> Sender:
    """Note something beside the lines of a batch again and again."""
    client = Client(server.port, server.person, server.password)
    mix = json.loads(client.call("GET", client.in_kitchen("/mixes")))["items"][0]["id"]
    batch = json.loads(client.call("POST", client.in_kitchen(f"/mixes/{mix}/batches")))["id"]

    def press(client: Client, key: str) -> None:
        said = {
            "kind": "added",
            "name": "water",
            "text": "1 g",
            "more": key,
            "device": "endure",
            "counter": time.time_ns() // 1000,
        }
        answer = json.loads(
            client.call("POST", client.in_kitchen(f"/batches/{batch}/events"), {"events": [{**said, "key": key}]})
        )
        if answer["refused"]:
            raise ValueError(answer["refused"])

    def there(client: Client) -> list[str]:
        return [one["why"] for one in json.loads(client.call("GET", client.in_kitchen(f"/batches/{batch}")))["added"]]

    return Sender(server, "press", press, there)


def deliveries(server: DemoServer) -> Sender:
    """Take a delivery list of one lot in again and again, each under a lot code of its own."""

    def take(client: Client, key: str) -> None:
        rows = f"ingredient,amount,lot\nsugar,1 kg,{key}\n".encode()
        answer = client.send_file(client.in_kitchen("/deliveries?apply=true"), rows, {"Idempotency-Key": key})
        if not json.loads(answer)["done"]:
            raise ValueError(answer)

    def there(client: Client) -> list[str]:
        found: list[str] = []
        while True:
            page = json.loads(client.call("GET", client.in_kitchen(f"/lots?limit=100&offset={len(found)}")))
            found += [one["code"] or str(one["id"]) for one in page["items"]]
            if len(found) >= page["total"] or not page["items"]:
                return found

    return Sender(server, "delivery", take, there)


def jobs(server: DemoServer) -> Sender:
    """Ask for a balance that is a job, and wait for what it comes to; one that never ends is lost."""
    ended: list[str] = []

    def ask(client: Client, key: str) -> None:
        mix = json.loads(client.call("GET", client.in_kitchen("/mixes")))["items"][0]
        lines = json.loads(client.call("GET", client.in_kitchen(f"/mixes/{mix['id']}")))["lines"]
        typed = [{name: line[name] for name in ("ingredient", "typed", "unit", "stage")} for line in lines]
        question = {"lines": typed, "style": mix["style"], "job": "less-sweet", "sure": True}
        answer = client.call("POST", client.in_kitchen("/proposals"), question)
        client.finished("/proposals", answer)
        ended.append(key)

    return Sender(server, "job", ask, lambda _client: ended)


def guests(server: DemoServer) -> Sender:
    """Let the guests of one test after the other answer, each by a link of their own, serving after serving."""
    client = Client(server.port, server.person, server.password)
    mixes = json.loads(client.call("GET", client.in_kitchen("/mixes")))["items"]
    sides = [{"mix": one["id"]} for one in mixes[:2]]
    trial = json.loads(client.call("POST", client.in_kitchen("/trials"), {"name": "Endured", "sides": sides}))
    links: dict[str, str] = {}
    waiting: list[tuple[int, str]] = []

    def invite(client: Client) -> tuple[int, str]:
        if not waiting:
            names = [f"Guest {at}" for at in range(_GUESTS)]
            asked = {"kind": "preference", "variants": ["A", "B"], "tasters": names}
            made = json.loads(client.call("POST", client.in_kitchen(f"/trials/{trial['id']}/tests"), asked))
            waiting.extend((made["id"], name) for name in names)
        return waiting.pop()

    def say(client: Client, key: str) -> None:
        if key not in links:
            time.sleep(_GUEST_PAUSE_S)
            test, name = invite(client)
            sitting = client.call("POST", client.in_kitchen(f"/trial-tests/{test}/sittings"), {"taster": name})
            links[key] = json.loads(sitting)["path"]
        page = f"/api/v1{links[key]}"
        open_ones = json.loads(client.call("GET", page))["servings"]
        if open_ones:
            (serving, *_) = open_ones
            said = {"key": key, "serving": serving["number"], "picked": [serving["cups"][0]["code"]]}
            answer = json.loads(client.call("POST", f"{page}/answers", {"answers": [said]}))
            if answer["refused"]:
                raise ValueError(answer["refused"])

    def there(client: Client) -> list[str]:
        left = [key for key, path in links.items() if json.loads(client.call("GET", f"/api/v1{path}"))["servings"]]
        return [key for key in links if key not in left]

    return Sender(server, "guest", say, there)


SENDERS: Final = (presses, deliveries, jobs, guests)
