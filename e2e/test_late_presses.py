"""What another device noted arrives after a batch was closed: it is seen, and accepted or left out."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from playwright.sync_api import Page, expect

from batches.models import Batch, Event
from batches.record import begin_batch, keep_events
from batches.schemas import NewEvent
from browser.browser_case import BrowserCase
from browser.pages import to_station
from demo.kitchen import PERSON
from kitchens.models import Person
from mixes.models import Mix


def pressed(device: str, counter: int, **said: Any) -> NewEvent:
    return NewEvent.model_validate({"key": uuid4(), "device": device, "counter": counter, **said})


class LatePressesTest(BrowserCase):
    """A tablet closes a batch while a phone without a connection still holds two weights."""

    def setUp(self) -> None:
        super().setUp()
        keeper = Person.objects.get(name=PERSON)
        self.batch: Batch = begin_batch(keeper, Mix.objects.of(self.kitchen).get(name="Quince sorbet").pk)
        keep_events(
            keeper,
            self.batch,
            [
                pressed("tablet", 1, kind="weighed", line=0, text="210"),
                pressed("tablet", 2, kind="finished"),
                pressed("phone", 1, kind="weighed", line=0, text="180", ago_ms=60_000),
                pressed("phone", 2, kind="weighed", line=1, text="170", ago_ms=50_000),
            ],
        )

    def test_one_is_accepted_and_the_other_left_out(self) -> None:
        self.browse(self.settle)
        kinds = self.batch.events.values_list("kind", flat=True)
        self.assertEqual((list(kinds).count("accepted"), list(kinds).count("declined")), (1, 1))
        self.assertFalse(Event.objects.filter(batch=self.batch, kind="gap").exists())

    def settle(self, page: Page) -> None:
        page.goto(f"{self.live_server_url}/make/{self.batch.pk}")
        late = page.get_by_role("region", name="Arrived after closing")
        expect(late.get_by_role("listitem")).to_have_count(2)
        late.get_by_role("button", name="Accept Water: 180 g").click()
        expect(late.get_by_role("listitem")).to_have_count(1)
        page.get_by_role("link", name="Sheet").click()
        expect(page.get_by_role("textbox", name="Water")).to_have_value("180")
        late.get_by_role("button", name="Leave out").click()
        expect(late).to_have_count(0)
        expect(page.get_by_role("textbox", name="Table sugar")).to_have_value("")
        to_station(page, "Batches")
