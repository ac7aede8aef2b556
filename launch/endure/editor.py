"""Somebody who edits one mix without pause and remembers what was acknowledged."""

from __future__ import annotations

import json
import threading
from typing import Any

from launch.bench.server_speed import Client
from launch.demo_server import DemoServer

from .patience import AWAY, PatientClient


class Editor(threading.Thread):
    """Types one amount after the other into a mix; what was not acknowledged is looked up before going on."""

    def __init__(self, server: DemoServer, place: int) -> None:
        super().__init__(daemon=True)
        self._patient = PatientClient(server)
        self._ended = threading.Event()
        self.acknowledged = 0
        self.lost: list[str] = []
        self.broken: list[str] = []
        """Why it gave up, empty while it goes on."""
        client = self._patient.client
        mixes = json.loads(client.call("GET", client.in_kitchen("/mixes")))["items"]
        self._mix_id = mixes[place % len(mixes)]["id"]

    def run(self) -> None:
        try:
            self._edit()
        except Exception as error:
            self.broken.append(f"GAVE UP: the editor of mix {self._mix_id}: {error!r}")

    def finish(self) -> None:
        """Stop, and check once more that the last acknowledged edit is there."""
        self._ended.set()
        self.join()

    def _edit(self) -> None:
        number, acknowledged = 1000, ""
        mix = self._patient.insist(self._read)
        while not self._ended.is_set():
            number += 1
            draft = {**mix, "lines": [{**mix["lines"][0], "typed": str(number)}, *mix["lines"][1:]]}
            try:
                saved = json.loads(self._save(self._patient.client, draft))
            except AWAY:
                self._patient.client.close()
                mix = self._patient.insist(self._read)
                self.check(mix, acknowledged, str(number))
                acknowledged = mix["lines"][0]["typed"] if acknowledged else ""
            else:
                mix, acknowledged = {**draft, "version": saved["version"]}, str(number)
                self.acknowledged += 1
        self.check(self._patient.insist(self._read), acknowledged, "")

    def check(self, mix: Any, acknowledged: str, in_flight: str) -> None:
        """Note a loss: what is there must be the last acknowledged edit, or the one that was on its way."""
        there = mix["lines"][0]["typed"]
        if acknowledged and there not in (acknowledged, in_flight):
            self.lost.append(f"LOST: mix {self._mix_id}: acknowledged {acknowledged}, there is {there}")

    def _read(self, client: Client) -> Any:
        return json.loads(client.call("GET", client.in_kitchen(f"/mixes/{self._mix_id}")))

    def _save(self, client: Client, draft: Any) -> bytes:
        return client.call("PUT", client.in_kitchen(f"/mixes/{self._mix_id}"), draft, draft["version"])
