"""Fifty times the server or the database is killed without warning; every edit that was acknowledged must be there."""

from __future__ import annotations

import http.client
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import threading
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

from launch.bench.figure import Figure
from launch.bench.server_speed import Client
from launch.database import Cluster, free_port
from launch.environments import ensure_interface
from launch.places import ROOT, VAR
from launch.progress import run_quietly, step
from launch.serve import GUNICORN, PERSON, settings_environment, wait_until_healthy

_CLUSTER = Cluster("postgres-endure")
_KILLS = 50
_LONGEST_S = 1.5
_LONGEST_START_S = 120.0
_PATIENCE_S = 150.0
_AWAY = (OSError, http.client.HTTPException, RuntimeError)


class Served:
    """The application on a durable cluster of its own, to be killed and started again on the same port."""

    def __init__(self) -> None:
        self._log = VAR / "endure.log"
        self._interface = ensure_interface()
        self.port = free_port()
        self.env = settings_environment(_CLUSTER, _CLUSTER.start(), self._interface)
        with step("a fresh demo kitchen"):
            run_quietly([sys.executable, "-m", "config.manage", "prepare", "--fresh-demo"], cwd=ROOT, env=self.env)
        self._serve()

    def _serve(self) -> None:
        with self._log.open("a") as output:
            self._server = subprocess.Popen(
                [sys.executable, *GUNICORN, "--bind", f"127.0.0.1:{self.port}"],
                cwd=ROOT, env=self.env, stdout=output, stderr=output, start_new_session=True,
            )  # fmt: skip
        wait_until_healthy(f"http://127.0.0.1:{self.port}/", self._server, self._log, _LONGEST_START_S)

    def kill_server(self) -> None:
        """Kill the server with all its workers, and start it again."""
        os.killpg(self._server.pid, signal.SIGKILL)
        self._server.wait()
        self._serve()

    def kill_database(self) -> None:
        """Kill the database with all its processes, start it again, and the server with it: its port is another."""
        data = _CLUSTER.folder / "data"
        postmaster = int((data / "postmaster.pid").read_text().splitlines()[0])
        for pid in (postmaster, *_children(postmaster)):
            os.kill(pid, signal.SIGKILL)
        while Path(f"/proc/{postmaster}").exists():
            time.sleep(0.05)
        os.killpg(self._server.pid, signal.SIGKILL)
        self._server.wait()
        self.env = settings_environment(_CLUSTER, _CLUSTER.start(), self._interface)
        self._serve()

    def stop(self) -> None:
        """Stop both and remove the cluster."""
        with suppress(ProcessLookupError):
            os.killpg(self._server.pid, signal.SIGTERM)
        self._server.wait()
        _CLUSTER.stop()
        shutil.rmtree(_CLUSTER.folder, ignore_errors=True)


def _children(pid: int) -> list[int]:
    """Return the processes that a process has begun, from /proc."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = stat.read_text().rpartition(")")[2].split()
        except OSError:
            continue
        if int(fields[1]) == pid:
            found.append(int(stat.parent.name))
    return found


class Editor(threading.Thread):
    """Edits one mix without pause and remembers what was acknowledged; what was not is looked up before going on."""

    def __init__(self, served: Served) -> None:
        super().__init__(daemon=True)
        self._served = served
        self._ended = threading.Event()
        self.acknowledged = 0
        self.lost: list[str] = []
        client = self._client()
        self._mix_id = json.loads(client.call("GET", client.in_kitchen("/mixes?find=quince")))["items"][0]["id"]

    def _client(self) -> Client:
        return Client(self._served.port, PERSON, self._served.env["JALEBI_DEMO_PASSWORD"])

    def _patiently(self, job: Any) -> Any:
        """Do a job with a client, a new one each time it fails, until the server is back."""
        until = time.monotonic() + _PATIENCE_S
        while True:
            try:
                return job(self._client())
            except _AWAY:
                if time.monotonic() > until:
                    raise
                time.sleep(0.1)

    def run(self) -> None:
        number, sent_before = 1000, ""
        mix = self._patiently(self._read)
        while not self._ended.is_set():
            number += 1
            draft = {**mix, "lines": [{**mix["lines"][0], "typed": str(number)}, *mix["lines"][1:]]}
            try:
                saved = json.loads(self._save(self._kept_client(), draft))
            except _AWAY:
                self._kept = None
                mix = self._patiently(self._read)
                self._check(mix, sent_before, str(number))
            else:
                mix = {**draft, "version": saved["version"]}
                self.acknowledged += 1
                sent_before = str(number)

    _kept: Client | None = None

    def _kept_client(self) -> Client:
        if self._kept is None:
            self._kept = self._client()
        return self._kept

    def _read(self, client: Client) -> Any:
        return json.loads(client.call("GET", client.in_kitchen(f"/mixes/{self._mix_id}")))

    def _save(self, client: Client, draft: Any) -> bytes:
        return client.call("PUT", client.in_kitchen(f"/mixes/{self._mix_id}"), draft, draft["version"])

    def _check(self, mix: Any, acknowledged: str, in_flight: str) -> None:
        """What is there must be the last acknowledged edit, or the one that was on its way."""
        there = mix["lines"][0]["typed"]
        if acknowledged and there not in (acknowledged, in_flight):
            self.lost.append(f"acknowledged {acknowledged}, there is {there}")

    def finish(self) -> None:
        """Stop, and check once more that the last acknowledged edit is there."""
        self._ended.set()
        self.join()


def _wait_for_edits(editor: Editor) -> None:
    """Wait until edits are acknowledged again, so that each kill falls among them."""
    before, until = editor.acknowledged, time.monotonic() + _PATIENCE_S
    while editor.acknowledged < before + 2 and editor.is_alive() and time.monotonic() < until:
        time.sleep(0.02)


def figures() -> list[Figure]:
    """Kill, restart and count."""
    chance = random.Random()
    served = Served()
    try:
        editor = Editor(served)
        editor.start()
        for kill in range(_KILLS):
            _wait_for_edits(editor)
            time.sleep(chance.uniform(0.05, _LONGEST_S))
            chance.choice((served.kill_server, served.kill_database))()
            print(f"\r  killed {kill + 1} times, {editor.acknowledged} edits acknowledged", end="", flush=True)
        time.sleep(1)
        editor.finish()
        print()
        for sentence in editor.lost:
            print(f"  LOST: {sentence}")
        return [
            Figure(f"acknowledged edits lost in {_KILLS} kill -9", len(editor.lost), 0.0, ""),
            Figure("edits acknowledged meanwhile", editor.acknowledged, _KILLS, "", at_least=True),
        ]
    finally:
        served.stop()
