"""Days go by the kitchen's own clock, wherever a day is meant."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, Final
from unittest import mock

from django.utils import timezone

from kitchens.models import Kitchen
from kitchens.zones import zone_of_this_machine
from testing.kitchen_case import KitchenCase

EVENING: Final = datetime(2026, 12, 1, 23, 30, tzinfo=UTC)
"""In Auckland it is the second already, half past twelve."""


class ZonesTest(KitchenCase):
    """A kitchen that is ahead of the server, and one that is behind."""

    def at(self, zone: str, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        Kitchen.objects.filter(pk=self.ours.kitchen_id).update(zone=zone)
        with mock.patch("django.utils.timezone.now", return_value=EVENING):
            return self.send(method, path, body)

    def test_todays_goods_are_taken_in_in_its_morning(self) -> None:
        lot = {"ingredient": "whole-milk", "typed": "1 l", "came_on": "2026-12-02"}
        self.assertEqual(self.at("Pacific/Auckland", "POST", "/lots", lot)[0], 201)
        self.assertEqual(self.at("America/Denver", "POST", "/lots", lot)[0], 422)
        _, made = self.at("Pacific/Auckland", "POST", "/lots", {"ingredient": "whole-milk", "typed": "1 l"})
        self.assertEqual(made["came_on"], "2026-12-02")

    def test_a_day_is_past_when_it_is_there(self) -> None:
        lot = {"ingredient": "whole-milk", "typed": "1 l", "came_on": "2026-11-30", "use_by": "2026-12-01"}
        _, made = self.at("Pacific/Auckland", "POST", "/lots", lot)
        self.assertEqual((made["blocked"], made["days_left"]), (True, -1))
        _, made = self.at("America/Denver", "GET", f"/lots/{made['id']}")
        self.assertEqual((made["blocked"], made["days_left"]), (False, 0))

    def test_a_plan_goes_by_it(self) -> None:
        _, made = self.at("Pacific/Auckland", "POST", "/plans", {"name": "Ours"})
        self.assertEqual(made["zone"], "Pacific/Auckland")

    def test_no_request_goes_by_the_zone_of_the_one_before(self) -> None:
        self.at("Pacific/Auckland", "GET", "")
        self.client.get("/api/v1/health")
        self.assertEqual(str(timezone.get_current_timezone()), "UTC")

    def test_it_is_chosen_by_its_name(self) -> None:
        status, kitchen = self.send("PATCH", "", {"version": 1, "zone": "Europe/Vienna"})
        self.assertEqual((status, kitchen["zone"]), (200, "Europe/Vienna"))
        for zone in ("Europe/Atlantis", "../etc/passwd", "UTC\x00", "🌍"):
            with self.subTest(zone=zone):
                status, _ = self.send("PATCH", "", {"version": 2, "zone": zone})
                self.assertEqual(status, 422)

    def test_the_machines_own_is_one_that_is_known(self) -> None:
        self.assertIn("/" if zone_of_this_machine() != "UTC" else "UTC", zone_of_this_machine())
