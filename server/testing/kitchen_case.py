"""Two kitchens to test with: ours, signed in, and theirs."""

from __future__ import annotations

import json
from base64 import b64decode
from datetime import timedelta
from typing import Any, ClassVar, Final

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client, TestCase
from django.utils import timezone

from batches.models import Batch, Photo, Tub
from batches.record import begin_batch
from batches.tub_schemas import NewTubs
from batches.tubs import pack_tubs
from ingredients.preparations import add_preparation
from ingredients.schemas import Preparation, PrepLine
from ingredients.shipped import stock_shelf
from instruments.models import Instrument
from kitchens.learnt import forget_learnt
from kitchens.models import Kitchen, Machine, Person, Place, Vessel
from making.photos import keep_photo
from mixes.drafts import new_mix, save_draft
from mixes.models import Mix, Note
from mixes.schemas import DraftToSave
from plans.models import Plan
from stock.lots import receive_lot
from stock.models import Lot
from stock.schemas import NewLot
from testing.described import misfits
from trials.models import Trial
from trials.schemas import FactorIn, NewTest, NewTrial, SaidIn
from trials.trial_tests import begin_test, close_test, design_of, keep_answers
from trials.variants import build

PASSWORD: Final = "correct horse"
LINES: list[dict[str, Any]] = [
    {"ingredient": "whole-milk", "typed": "550", "unit": "g", "stage": "pot"},
    {"ingredient": "cream-36", "typed": "110", "unit": "g", "stage": "pot"},
    {"ingredient": "cream-36", "typed": "110", "unit": "g", "stage": "off-heat"},
    {"ingredient": "skim-milk-powder", "typed": "40", "unit": "g", "stage": "pot"},
    {"ingredient": "sugar", "typed": "160", "unit": "g", "stage": "pot"},
]

PICTURE = b64decode("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR42mM4wcAAAAJcAMl9NcHqAAAAAElFTkSuQmCC")
"""A red PNG of one pixel."""


def filled_kitchen(slug: str) -> tuple[Person, Mix, Batch]:
    """Make a kitchen with a person, a mix and a batch of it."""
    kitchen = Kitchen.objects.create(slug=slug, name=slug.title())
    person = Person.objects.create_user(slug, kitchen, PASSWORD)
    stock_shelf(kitchen)
    mix = new_mix(kitchen, f"{slug} milk ice", "ice-cream", None)
    draft = {"name": mix.name, "style": "ice-cream", "overrun_pct": 30, "lines": LINES}
    save_draft(kitchen, mix.pk, 1, DraftToSave.model_validate(draft))
    mix.refresh_from_db()
    Machine.objects.create(kitchen=kitchen, name=f"{slug} churn", kind="canister", bowl_l=1.5)
    return person, mix, begin_batch(person, mix.pk)


def own_syrup(person: Person) -> Lot:
    """Put a preparation of the kitchen's own on its shelf, called by its kitchen, and some of it in the house."""
    preparation = Preparation(
        name=f"{person.name} syrup",
        lines=[PrepLine(ingredient="sugar", typed="300"), PrepLine(ingredient="water", typed="200")],
    )
    syrup = add_preparation(person, preparation)
    person.kitchen.refresh_from_db()
    return receive_lot(person, NewLot(ingredient=syrup.slug, typed="500 g"))


def planned(person: Person, mix: Mix) -> Plan:
    """Make a plan that was started, with its first step and a change that would help."""
    now = timezone.now().replace(tzinfo=None, second=0, microsecond=0)
    origin = now - timedelta(minutes=now.minute % 5)
    service = {
        "id": "s1", "name": mix.name, "mix": mix.pk, "by": "litres", "amount": "1 l", "fresh": False, "lot": None,
        "base": "", "at": (origin + timedelta(hours=30)).isoformat(),
    }  # fmt: skip
    weigh = {
        "id": "s1.weigh", "product": "s1", "kind": "weigh", "title": f"Weigh {mix.name}", "start": 600, "end": 610,
        "option": 0, "machine": None, "people": [{"who": person.name, "start": 600, "end": 610}], "uses": {}, "slip": 0,
        "held_by": "", "waits": [], "safety": False, "pinned": False, "begun": False,
    }  # fmt: skip
    helping = {"change": {"kind": "more_hands", "like": person.name, "id": "somebody"}, "said": "Somebody more"}
    answer = {
        "origin": origin.isoformat(), "horizon": 2880, "now": None, "clock_changes": [], "status": "feasible",
        "verdict": "On time.", "beside": "", "products": {"s1": mix.name},
        "people": {person.name: [{"start": 0, "end": 2880}]}, "machines": [], "places": {},
        "steps": [weigh], "setups": [], "tasks": [], "services": [], "would_help": [helping], "refuted": [],
        "seconds": 0.1,
    }  # fmt: skip
    return Plan.objects.create(
        kitchen=person.kitchen, name=f"{person.name} day", state="started", services=[service], answer=answer
    )


def tried(person: Person, mix: Mix) -> Trial:
    """Make a trial of a mix with a closed test and an open one, of which one serving is answered."""
    factors = [FactorIn(line=4, by="dextrose", share_pct=[0, 30])]
    trial = build(person.kitchen, NewTrial(name=f"{person.name} ladder", mix=mix.pk, factors=factors))
    trial.begun_by = person
    trial.save()
    for closes in (True, False):
        new = NewTest(kind="2-afc", attribute="sweetness", variants=["A", "B"], tasters=["Ada", "Bo", "Cy"])
        test = begin_test(trial, new)
        keep_answers(test, [SaidIn(serving=0, picked=[design_of(test).servings[0].cups[0]])], person)
        if closes:
            close_test(test)
    return trial


OURS: Final = "ours"
THEIRS: Final = "theirs"
_ONE_OF_EACH: Final[dict[str, Any]] = {
    "mix": Mix,
    "batch": Batch,
    "lot": Lot,
    "tub": Tub,
    "machine": Machine,
    "place": Place,
    "vessel": Vessel,
    "plan": Plan,
    "trial": Trial,
    "note": Note,
}


@transaction.atomic
def fill_two_kitchens() -> None:
    """Fill two kitchens with one of each, once for a run: every test works on them and is rolled back."""
    for slug in (OURS, THEIRS):
        person, mix, batch = filled_kitchen(slug)
        own_syrup(person)
        pack_tubs(person, batch, NewTubs(ml=500))
        Place.objects.create(kitchen=person.kitchen, name="Chest", kind="still-freezer", air_c=-20)
        for kind in ("scale", "probe", "batch-freezer"):
            Instrument.objects.create(
                kitchen=person.kitchen, key=f"{person.name}-{kind}", name=kind, kind=kind, step=0.1,
                stand_in=True, connected=True,
            )  # fmt: skip
        Vessel.objects.create(kitchen=person.kitchen, name="Litre tub", diameter_mm=110, height_mm=85)
        planned(person, mix)
        tried(person, mix)
        keep_photo(person, batch, PICTURE, "")
        Note.objects.create(kitchen=person.kitchen, text=f"of {person.name}")
    Person.objects.create_user("colleague", Kitchen.objects.get(slug=OURS), PASSWORD)


class KitchenCase(TestCase):
    """A test case with two filled kitchens; requests are JSON and signed in as ours."""

    ours: ClassVar[Person]
    our_mix: ClassVar[Mix]
    our_batch: ClassVar[Batch]
    theirs: ClassVar[Person]
    colleague: ClassVar[Person]
    their_mix: ClassVar[Mix]
    their_batch: ClassVar[Batch]
    our_lot: ClassVar[Lot]
    their_lot: ClassVar[Lot]
    our_tub: ClassVar[Tub]
    their_tub: ClassVar[Tub]
    our_machine: ClassVar[Machine]
    their_machine: ClassVar[Machine]
    our_place: ClassVar[Place]
    their_place: ClassVar[Place]
    our_vessel: ClassVar[Vessel]
    their_vessel: ClassVar[Vessel]
    our_plan: ClassVar[Plan]
    their_plan: ClassVar[Plan]
    our_photo: ClassVar[Photo]
    their_photo: ClassVar[Photo]
    our_trial: ClassVar[Trial]
    their_trial: ClassVar[Trial]
    our_note: ClassVar[Note]
    their_note: ClassVar[Note]

    @classmethod
    def setUpClass(cls) -> None:
        if not Kitchen.objects.filter(slug=OURS).exists():
            fill_two_kitchens()
        super().setUpClass()

    @classmethod
    def setUpTestData(cls) -> None:
        cls.ours, cls.theirs, cls.colleague = (Person.objects.get(name=name) for name in (OURS, THEIRS, "colleague"))
        for name, person in (("our", cls.ours), ("their", cls.theirs)):
            for kind, model in _ONE_OF_EACH.items():
                setattr(cls, f"{name}_{kind}", model.objects.of(person.kitchen).get())
            setattr(cls, f"{name}_photo", Photo.objects.get(batch__kitchen=person.kitchen))

    def setUp(self) -> None:
        forget_learnt()
        self.sign_in_as(self.ours)

    def sign_in_as(self, person: Person) -> None:
        """Sign somebody in; addresses are those of their kitchen from now on."""
        self.client.force_login(person, backend="kitchens.sign_in.PersonBackend")
        self.place = f"/api/v1/kitchens/{person.kitchen.slug}"

    def send(self, method: str, path: str, body: Any = None, client: Client | None = None) -> tuple[int, Any]:
        """Send a request and return its status and decoded answer.

        An address without ``/api`` is one of the kitchen; a file goes as a form, a body's version as If-Match.
        """
        path = path if path.startswith("/api") else self.place + path
        if isinstance(body, SimpleUploadedFile):
            body.seek(0)
            response = (client or self.client).post(path, {"file": body})
        else:
            headers = {}
            if isinstance(body, dict) and method in ("PUT", "PATCH") and "version" in body:
                headers["If-Match"] = f'"{body["version"]}"'
                body = {key: value for key, value in body.items() if key != "version"}
            data = body if isinstance(body, bytes) else json.dumps(body or {})
            response = (client or self.client).generic(
                method, path, data, content_type="application/json", headers=headers
            )
        kind = response.headers.get("Content-Type", "")
        found = misfits(response.request["REQUEST_METHOD"], path, response.status_code, kind, response.content)
        self.assertEqual(found, [])
        if response.content and "json" in kind:
            return response.status_code, json.loads(response.content)
        return response.status_code, response.content.decode(errors="replace") or None

    def press(self, batch_id: int, event: dict[str, Any]) -> tuple[int, Any]:
        """Send one press of a batch: 200 and the batch as it is then, or status and problem of its refusal."""
        status, taken = self.send("POST", f"/batches/{batch_id}/events", {"events": [event]})
        if status != 200:
            return status, taken
        if taken["refused"]:
            return taken["refused"][0]["problem"]["status"], taken["refused"][0]["problem"]
        return self.send("GET", f"/batches/{batch_id}")

    def change_kitchen(self, changes: dict[str, Any]) -> tuple[int, Any]:
        """Change our kitchen's settings as they are now."""
        version = self.send("GET", "")[1]["version"]
        return self.send("PATCH", "", {"version": version, **changes})

    def draft(self, **changes: Any) -> dict[str, Any]:
        """Return our mix as the Bench would save it."""
        whole = {"name": self.our_mix.name, "style": "ice-cream", "overrun_pct": 30, "lines": LINES}
        return {**whole, "version": self.our_mix.version, **changes}
