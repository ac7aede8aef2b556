"""Every endpoint there is, with an address and a body that it takes: for tests that walk them all."""

from __future__ import annotations

import re
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from api.description import operations_of
from config.api import PREFIX, api
from jobs.models import Job
from kitchens.models import Person
from mixes.models import Mix
from testing.kitchen_case import LINES, PICTURE, KitchenCase
from trials.models import TrialTest
from trials.trial_tests import design_of

MIX_FILE = b'{"format": "jalebi.mix", "version": 1, "name": "Ice", "lines": [{"ingredient": "water", "amount": 9}]}'
PLAN_FILE = (
    b'{"format": "jalebi.plan", "version": 1, "origin": "2030-01-05T00:00", "horizon_min": 60, "products":'
    b' [{"id": "ice"}], "steps": [{"id": "ice.serve", "product": "ice", "kind": "serve", "due": 30,'
    b' "options": [{"minutes": [0, 0]}]}]}'
)
ALWAYS = [{"days": [0, 1, 2, 3, 4, 5, 6], "start": 0, "end": 1440}]
GUEST = {("GET", "/api/v1/guest/{secret}"), ("POST", "/api/v1/guest/{secret}/answers")}
"""What whoever has the link may ask, and nobody else: its secret stands for session and token."""
OPEN = {("GET", "/api/v1/health"), ("POST", "/api/v1/session"), *GUEST}
PLACE = "/api/v1/kitchens/{kitchen}"


def ladder() -> dict[str, Any]:
    """Return a trial of our mix against itself."""
    mix = Mix.objects.of_all_kitchens().filter(kitchen__slug="ours").earliest("pk")
    return {"name": "Twice the same", "sides": [{"mix": mix.pk}, {"mix": mix.pk}]}


def pick() -> dict[str, Any]:
    """Return a cup of the second serving of our open test."""
    test = TrialTest.objects.of_all_kitchens().filter(kitchen__slug="ours", closed_at=None).earliest("pk")
    return {"serving": 1, "picked": [design_of(test).servings[1].cups[0]]}


BODIES: dict[tuple[str, str], Any] = {
    ("POST", "/api/v1/session"): {"name": "ours", "password": "correct horse"},
    ("POST", "/api/v1/guest/{secret}/answers"): {"answers": [{"serving": 0, "picked": ["417"]}]},
    ("PATCH", ""): {"version": 1, "freezer_c": -20},
    ("POST", "/analyses"): {"lines": LINES},
    ("POST", "/mixes"): {"name": "New"},
    ("PUT", "/mixes/{mix_id}"): {"name": "Mine now", "version": 2, "lines": LINES},
    ("POST", "/mixes/{mix_id}/revisions"): {"name": "Point"},
    ("POST", "/batches/{batch_id}/events"): {"events": [{"kind": "note", "text": "ours"}]},
    ("POST", "/custom-ingredients"): {
        "way": "label", "name": "Thick milk", "like": "whole-milk", "label": {"fat": 5},
    },
    ("POST", "/label-readings"): {"text": "Fat 9.1 g"},
    ("POST", "/custom-ingredients/preview"): {"way": "brix", "name": "Ripe", "of": "strawberry-puree", "brix": 9},
    ("PATCH", "/ingredients/{slug}"): {"version": 1, "price": 2.5},
    ("PUT", "/ingredients/{slug}/merged"): {"into": "golden-syrup"},
    ("PUT", "/ingredients/{slug}/correction"): {"version": 2, "take": False},
    ("POST", "/preparations"): {"name": "New syrup", "lines": [{"ingredient": "sugar", "typed": "10"}]},
    ("POST", "/preparations/preview"): {"name": "x", "lines": [{"ingredient": "sugar", "typed": "10"}]},
    ("PUT", "/preparations/{slug}"): {
        "name": "Other syrup", "version": 2, "lines": [{"ingredient": "sugar", "typed": "10"}],
    },
    ("POST", "/lots"): {"ingredient": "whole-milk", "typed": "2 l"},
    ("PATCH", "/lots/{lot_id}"): {"version": 1, "code": "A 7"},
    ("POST", "/lots/{lot_id}/movements"): {"kind": "wasted", "typed": "5 g"},
    ("POST", "/movements/{movement_id}/corrections"): {"typed": "501 g", "why": "read it wrongly"},
    ("POST", "/gluts"): {"ingredient": "whole-milk", "grams": 6000},
    ("POST", "/deliveries"): SimpleUploadedFile("list.csv", b"ingredient,amount\nwhole milk,2 l\n"),
    ("POST", "/batches/{batch_id}/photos"): SimpleUploadedFile("cup.png", PICTURE),
    ("POST", "/plans/{plan_id}/batches"): {"product": "s1"},
    ("POST", "/batches/{batch_id}/lots"): {"lines": []},
    ("POST", "/batches/{batch_id}/bases"): {"typed": "100 g"},
    ("POST", "/batches/{batch_id}/tubs"): {"ml": 500},
    ("POST", "/tubs/{tub_id}/events"): {"kind": "opened"},
    ("PATCH", "/people/{person_id}"): {"sees_prices": False},
    ("POST", "/ingredient-files"): SimpleUploadedFile("goods.csv", b"name,water\nPlain ice,100\n"),
    ("POST", "/mixes/files"): SimpleUploadedFile("mix.json", MIX_FILE),
    ("POST", "/adjustments"): {"lines": LINES},
    ("POST", "/details"): {"lines": LINES},
    ("POST", "/tolerances"): {"lines": LINES},
    ("POST", "/proposals"): {"lines": LINES, "job": "less-sweet"},
    ("POST", "/line-insights"): {"lines": LINES, "line": 1},
    ("POST", "/machines"): {"name": "Bucket", "kind": "ice-and-salt", "bowl_l": 4},
    ("PATCH", "/machines/{machine_id}"): {"version": 1, "name": "Other"},
    ("POST", "/places"): {"name": "The car", "kind": "still-freezer", "air_c": -12},
    ("PATCH", "/places/{place_id}"): {"version": 1, "air_c": -16},
    ("POST", "/vessels"): {"name": "Pan", "shape": "box", "length_mm": 360, "width_mm": 165, "height_mm": 120},
    ("PUT", "/vessels/{vessel_id}"): {"version": 1, "name": "Cup", "diameter_mm": 90, "height_mm": 60},
    ("POST", "/run-forecasts"): {"lines": LINES},
    ("POST", "/machine-comparisons"): {"lines": LINES},
    ("POST", "/tub-forecasts"): {
        "lines": LINES, "vessel": {"diameter_mm": 110, "height_mm": 85}, "stays": [{"kind": "room", "minutes": 30}],
    },
    ("POST", "/bath-forecasts"): {"ice": {"ice_g": 1000, "salt_g": 200}},
    ("POST", "/label-drafts"): {"lines": LINES},
    ("POST", "/cost-sheets"): {"lines": LINES},
    ("POST", "/ice-loads"): {"lines": LINES},
    ("POST", "/pot-forecasts"): {"lines": LINES},
    ("POST", "/reduction-forecasts"): {"lines": LINES, "to_g": 800},
    ("POST", "/composition-tables"): {"lines": LINES},
    ("POST", "/scalings"): {"lines": LINES, "by": "mass", "amount": "2 kg"},
    ("PATCH", "/mixes/{mix_id}"): {"starred": True},
    ("POST", "/mixes/{mix_id}/differences"): {"lines": LINES},
    ("PUT", "/workplace"): {"version": 0, "people": [{"name": "ours", "hours": ALWAYS}]},
    ("POST", "/plans"): {"name": "Sunday"},
    ("POST", "/plan-files"): SimpleUploadedFile("plan.json", PLAN_FILE),
    ("PATCH", "/plans/{plan_id}"): {"version": 1, "name": "Another day"},
    ("POST", "/plans/{plan_id}/services"): {"text": "1 L ours milk ice by tomorrow 19:30"},
    ("POST", "/plans/{plan_id}/remedies"): {
        "change": {"kind": "more_hands", "like": "ours", "id": "somebody"},
    },
    ("POST", "/plans/{plan_id}/mishaps"): {"kind": "gone", "of": "ours"},
    ("POST", "/plans/{plan_id}/events"): {"kind": "longer", "step": "s1.weigh", "minutes": 5},
    ("POST", "/plans/{plan_id}/copies"): {"day": "2030-01-05"},
    ("POST", "/plans/{plan_id}/readiness"): {"at": "2030-01-05T18:00:00"},
    ("POST", "/people"): {"name": "somebody new"},
    ("POST", "/notes"): {"text": "Goes fast on Sundays."},
    ("POST", "/recipe-readings"): {"text": "100 g sugar"},
    ("POST", "/batches/{batch_id}/cards"): {"taster": "Ada", "marks": {"sweetness": 1}},
    ("POST", "/batches/{batch_id}/melt-tests"): {
        "ball_g": 60, "room_c": 22, "drips": [{"minute": 5, "grams": 0}, {"minute": 20, "grams": 9}],
    },
    ("POST", "/batches/{batch_id}/diagnosis"): {"symptoms": ["too_hard"]},
    ("POST", "/readings"): {"where": "tub", "t_c": -17},
    ("POST", "/piece-weighings"): {"ingredient": "egg-yolk", "piece": "yolk", "pieces": 6, "grams": 108},
    ("POST", "/doses"): {"ingredient": "vanilla-extract", "form": "extract", "dose": 6, "mark": 0},
    ("POST", "/learnt/choices"): {"kind": "forget", "parameter": "loss_pct"},
    ("POST", "/batches/{batch_id}/steps/{step}/stand-in"): {"act": "ice-bath"},
    ("POST", "/trials"): ladder,
    ("POST", "/trials/preview"): ladder,
    ("POST", "/trials/{trial_id}/tests"): {"kind": "preference", "variants": ["A", "B"], "tasters": ["Ada", "Bo"]},
    ("POST", "/trials/{trial_id}/decision"): {"keys": ["B"]},
    ("POST", "/trial-tests/{test_id}/answers"): pick,
    ("POST", "/trial-tests/{test_id}/sittings"): {"taster": "Ada"},
    ("POST", "/mixes/recipes"): {"name": "Pasted", "lines": [{"ingredient": "sugar", "typed": "100"}]},
}  # fmt: skip


def endpoints() -> list[tuple[str, str]]:
    """Return every method and path of the API from its own description."""
    return list(operations_of(api.get_openapi_schema(path_prefix=PREFIX)["paths"]))


UNDESCRIBED = (f"{PREFIX}openapi.json", f"{PLACE}/trial-tests/{{test_id}}/results.csv")
"""Addresses that stand in no description: that itself, and files which are no JSON."""


def routes() -> set[str]:
    """Return the address of everything that the API answers, from what Django resolves."""
    found = (re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", str(pattern.pattern)) for pattern in api.urls[0])
    return {PREFIX + path for path in found if path}


def body_of(method: str, path: str) -> Any:
    """Return what an endpoint is sent, by its address within a kitchen."""
    body = BODIES.get((method, path.removeprefix(PLACE)))
    return body() if callable(body) else body


class EndpointCase(KitchenCase):
    """A test case that can fill in the address of any endpoint."""

    def filled(self, path: str, *, theirs: bool = False) -> str:
        mix, batch = (self.their_mix, self.their_batch) if theirs else (self.our_mix, self.our_batch)
        lot = self.their_lot if theirs else self.our_lot
        path = path.replace("{kitchen}", "ours")
        if "{job_id}" in path:
            kinds = {"/proposals/": "balance", "/solutions/": "plan", "/readiness/": "readiness"}
            kind = next((kind for part, kind in kinds.items() if part in path), "ingredient-file")
            path = path.replace("{job_id}", str(self.job(self.theirs if theirs else self.ours, kind).pk))
        for name, value in (
            ("mix_id", mix.pk),
            ("batch_id", batch.pk),
            ("lot_id", lot.pk),
            ("movement_id", lot.movements.get(kind="received", corrects=None).pk),
            ("tub_id", (self.their_tub if theirs else self.our_tub).pk),
            ("number", 1),
            ("step", "cool"),
            ("key", "theirs-scale" if theirs else "ours-scale"),
            ("machine_id", (self.their_machine if theirs else self.our_machine).pk),
            ("place_id", (self.their_place if theirs else self.our_place).pk),
            ("vessel_id", (self.their_vessel if theirs else self.our_vessel).pk),
            ("person_id", self.theirs.pk if theirs else self.colleague.pk),
            ("plan_id", (self.their_plan if theirs else self.our_plan).pk),
            ("photo_id", (self.their_photo if theirs else self.our_photo).pk),
            ("trial_id", (self.their_trial if theirs else self.our_trial).pk),
            ("test_id", (self._closed(path, theirs=theirs)).pk),
            ("note_id", (self.their_note if theirs else self.our_note).pk),
            ("taster", "Ada"),
        ):
            path = path.replace(f"{{{name}}}", str(value))
        return path.replace("{slug}", "theirs-syrup" if theirs else "ours-syrup")

    def _closed(self, path: str, *, theirs: bool) -> TrialTest:
        """Return a test: a closed one where the codes are asked for, an open one elsewhere."""
        trial = self.their_trial if theirs else self.our_trial
        return trial.tests.filter(closed_at__isnull=not path.endswith("/file")).earliest("pk")

    def job(self, person: Person, kind: str) -> Job:
        return Job.objects.create(kitchen=person.kitchen, kind=kind, about="x", asked_by=person, asked={}, state="done")
