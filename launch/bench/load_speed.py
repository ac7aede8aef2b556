"""What holds under load and after harm: saving, many who edit, memory over many changes, coming back, stopping."""

from __future__ import annotations

import json
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any, Final

from launch.demo_server import DemoServer
from launch.endure.kills import WAYS, children

from .figure import Figure, p95
from .materials_speed import ingredient_rows
from .server_speed import Client

_SAVES: Final = 200
_CROWD: Final = 50
_CROWD_SECONDS: Final = 12
_PRICES: Final = 40
_GOODS: Final = 5_000


def figures(server: DemoServer) -> list[Figure]:
    """Measure on a served demo kitchen; what is killed comes last."""
    client = Client(server.port, server.person, server.password)
    mixes = json.loads(client.call("GET", client.in_kitchen("/mixes?limit=50")))["items"]
    ids = [mix["id"] for mix in mixes]
    saves = _Edits(server, ids[0])
    alone = [saves.save() for _ in range(_SAVES)]
    crowd = _crowd(server, ids)
    grown, slowest = _price_changes(server, client)
    stop = _stop(server, client)
    return [
        Figure("saving a draft, HTTP, p95", p95(alone), 40.0, "ms"),
        Figure(f"saving, {_CROWD} clients with an edit a second each, p95", p95(crowd), 250.0, "ms"),
        Figure(f"a server worker grows in {_PRICES} prices of {_GOODS} goods", grown, 30.0, "MB"),
        Figure("first answer after such a change, slowest", slowest, 300.0, "ms"),
        Figure("stopping a balance that runs", stop, 0.5, "s"),
        Figure("first answer after any kill, slowest", max(_after(server, way) for way in WAYS), 10.0, "s"),
    ]


class _Edits:
    """One client that saves one mix over and over; of two on the same mix, one is refused and looks again."""

    def __init__(self, server: DemoServer, mix_id: int) -> None:
        self.client = Client(server.port, server.person, server.password)
        self._path = self.client.in_kitchen(f"/mixes/{mix_id}")
        self._mix: Any = json.loads(self.client.call("GET", self._path))
        self._number = 100

    def save(self) -> float:
        """Save another amount and return the ms that took."""
        self._number += 1
        first = {**self._mix["lines"][0], "typed": str(self._number)}
        self._mix["lines"][0] = first
        began = time.perf_counter()
        saved = json.loads(self.client.call("PUT", self._path, self._mix, self._mix["version"]))
        spent = 1000 * (time.perf_counter() - began)
        self._mix["version"] = saved["version"]
        return spent


def _crowd(server: DemoServer, ids: list[int]) -> list[float]:
    client = Client(server.port, server.person, server.password)
    while len(ids) < _CROWD:
        copy = json.loads(
            client.call("POST", client.in_kitchen("/mixes"), {"name": f"Copy {len(ids)}", "copy_of": ids[0]})
        )
        ids = [*ids, copy["id"]]
    editors = [_Edits(server, mix_id) for mix_id in ids[:_CROWD]]
    spent: list[float] = []

    def edit(editor: _Edits, begin: float) -> None:
        for second in range(_CROWD_SECONDS):
            time.sleep(max(0.0, begin + second - time.monotonic()))
            spent.append(editor.save())

    now = time.monotonic() + 0.5
    threads = [threading.Thread(target=edit, args=(editor, now + at / _CROWD)) for at, editor in enumerate(editors)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return spent


def _price_changes(server: DemoServer, client: Client) -> tuple[float, float]:
    """Return by how much the worker that grew most has grown, in MB, and the slowest first answer, in ms."""
    client.finished(
        "/ingredient-files",
        client.send_file(client.in_kitchen("/ingredient-files?apply=true"), ingredient_rows(_GOODS)),
    )
    path = client.in_kitchen("/ingredients/sugar")
    draft = {"lines": [{"ingredient": "sugar", "typed": "50", "unit": "g", "stage": "pot"}]}
    clients = [Client(server.port, server.person, server.password) for _ in range(6)]
    _answers(clients, draft)
    before = _private_mb(server)
    slowest = 0.0
    for number in range(_PRICES):
        version = json.loads(client.call("GET", path))["version"]
        client.call("PATCH", path, {"price": 1 + number / 100, "pack_g": 1000}, version)
        slowest = max(slowest, _answers(clients, draft))
    after = _private_mb(server)
    return max(after[pid] - before[pid] for pid in before if pid in after), slowest


def _answers(clients: list[Client], draft: Any) -> float:
    slowest = 0.0
    for client in clients:
        began = time.perf_counter()
        client.call("POST", client.in_kitchen("/analyses"), draft)
        slowest = max(slowest, 1000 * (time.perf_counter() - began))
    return slowest


def _private_mb(server: DemoServer) -> dict[int, float]:
    master = int(server.application.pid_file("server").read_text())
    return {pid: _private_bytes(pid) / 1e6 for pid in children(master)}


def _private_bytes(pid: int) -> int:
    lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
    return sum(int(line.split()[1]) * 1024 for line in lines if line.startswith(("Private_Dirty:", "Private_Clean:")))


def _stop(server: DemoServer, client: Client) -> float:
    """Return how long the process of a running balance lives on after it was stopped, in s."""
    lines = [
        {"ingredient": slug, "typed": "50", "unit": "g", "stage": "pot", "step_g": 0.7}
        for slug in ("whole-milk", "cream-36", "skim-milk-powder", "sugar", "dextrose", "egg-yolk", "honey", "water")
        * 4
    ]
    targets = [{"of": "fat", "min": 9.1, "max": 9.2}, {"of": "scoop_c", "min": -13.1, "max": -13}]
    question = {"lines": lines, "style": "ice-cream", "targets": targets, "sure": True}
    job = json.loads(client.call("POST", client.in_kitchen("/proposals"), question))
    path = client.in_kitchen(f"/proposals/{job['id']}")
    while (state := json.loads(client.call("GET", path))["state"]) == "waiting" or not _at_work(server):
        if state not in ("waiting", "running"):
            raise RuntimeError("the balance that was to be stopped had ended by itself")
        time.sleep(0.01)
    began = time.perf_counter()
    client.call("DELETE", path)
    while _at_work(server):
        time.sleep(0.005)
    return time.perf_counter() - began


def _at_work(server: DemoServer) -> list[int]:
    """Return the processes that do jobs: children of the one that they are forked from."""
    worker = int(server.application.pid_file("worker").read_text())
    return [job for helper in children(worker) for job in children(helper)]


def _after(server: DemoServer, way: Any) -> float:
    """Harm the application in a way, and return how long it takes until it answers well again, in s."""
    time.sleep(1)
    began = time.perf_counter()
    way(server.application)
    time.sleep(0.05)
    while True:
        try:
            with urllib.request.urlopen(f"{server.address}api/v1/health", timeout=30):
                return time.perf_counter() - began
        except OSError:
            time.sleep(0.02)
