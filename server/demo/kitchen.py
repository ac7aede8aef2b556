"""The demo kitchen, Sluice No. 9: its mixes are mix files, its batches are played through the record."""

from __future__ import annotations

import json
from datetime import timedelta
from pathlib import Path
from typing import Any, Final

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from analysis.schemas import DraftLine
from batches.batch_lots import lots_of_batch, take_for_batch
from batches.models import Batch
from batches.record import add_event, begin_batch
from batches.schemas import NewEvent
from batches.tub_schemas import NewTubEvent, NewTubs, Taken, TakenForLine
from batches.tubs import note_tub_event, pack_tubs
from demo.tasted import taste_batch, taste_demo
from ingredients.models import Ingredient
from ingredients.preparations import add_preparation
from ingredients.schemas import Preparation
from ingredients.shipped import stock_shelf
from kitchens.models import Kitchen, Machine, Person, Place, Vessel
from kitchens.removal import remove_kitchen
from kitchens.zones import zone_of_this_machine
from mixes.drafts import draft_lines, save_draft
from mixes.files import mix_from_file
from mixes.list_schemas import Marks
from mixes.listing import set_marks
from mixes.models import Mix, Note
from mixes.revisions import keep_revision
from mixes.schemas import DraftToSave
from plans.actions import add_service, begin_plan
from plans.models import Plan
from plans.planning_job import plan_at_once
from plans.schemas import NewPlan, WorkplaceIn
from plans.workplace import save_workplace
from stock.lots import receive_lot
from stock.schemas import LotShare, NewLot

SLUG: Final = "sluice-no-9"
PERSON: Final = "keeper"
_FILES: Final = Path(__file__).parent / "data"


def demo_exists() -> bool:
    """Say whether the demo kitchen is there."""
    return Kitchen.objects.filter(slug=SLUG).exists()


@transaction.atomic
def make_demo(*, tasted: bool = True) -> Kitchen:
    """Make the demo kitchen anew; what was in it before is gone, other kitchens are not touched.

    ``tasted`` is whether a month of tasting is played too, which teaches the kitchen how warm its freezer is.
    """
    for former in Kitchen.objects.filter(slug=SLUG):
        remove_kitchen(former)
    kitchen = Kitchen.objects.create(slug=SLUG, name="Sluice No. 9", zone=zone_of_this_machine())
    with timezone.override(kitchen.zone):
        _fill(kitchen, tasted=tasted)
    return kitchen


def _fill(kitchen: Kitchen, *, tasted: bool) -> None:
    keeper = Person.objects.create_user(PERSON, kitchen, settings.DEMO_PASSWORD)
    stock_shelf(kitchen)
    equipment = json.loads((_FILES / "shelf" / "equipment.json").read_text(encoding="utf-8"))
    Machine.objects.bulk_create(Machine(kitchen=kitchen, **machine) for machine in equipment["machines"])
    Place.objects.bulk_create(Place(kitchen=kitchen, **place) for place in equipment["places"])
    Vessel.objects.bulk_create(Vessel(kitchen=kitchen, **vessel) for vessel in equipment["vessels"])
    _fill_shelf(keeper, json.loads((_FILES / "shelf" / "shelf.json").read_text(encoding="utf-8")))
    mixes = {path.stem: mix_from_file(kitchen, path.read_bytes()) for path in sorted(_FILES.glob("*.json"))}
    for mixed, points in json.loads((_FILES / "batches" / "revisions.json").read_text(encoding="utf-8")).items():
        _past(keeper, mixes[mixed], points)
    month = json.loads((_FILES / "tasting" / "tasted.json").read_text(encoding="utf-8")) if tasted else {}
    for played in _in_order(json.loads((_FILES / "batches" / "batches.json").read_text(encoding="utf-8")), month):
        batch = _batch(keeper, mixes[played["mix"]], played["days_ago"], played.get("entries", []))
        taste_batch(keeper, batch, played)
        if tubs := played.get("tubs"):
            _fill_tubs(keeper, batch, tubs)
    for mixed, marks in json.loads((_FILES / "shelf" / "marks.json").read_text(encoding="utf-8")).items():
        set_marks(mixes[mixed], Marks.model_validate(marks["marks"]))
        for text in marks["notes"]:
            Note.objects.create(kitchen=kitchen, mix=mixes[mixed], text=text, written_by=keeper)
    if tasted:
        taste_demo(keeper, mixes, month)
    _plan(keeper, json.loads((_FILES / "shelf" / "plans.json").read_text(encoding="utf-8")))


def _in_order(batches: list[dict[str, Any]], month: dict[str, Any]) -> list[dict[str, Any]]:
    """Return the batches as they were made, the oldest first, those of a month of tasting among them."""
    cards = {(one["mix"], one["days_ago"]): one["cards"] for one in month.get("cards_of_older", ())}
    older = [{**one, "cards": cards.get((one["mix"], one["days_ago"]), [])} for one in batches]
    return sorted([*older, *month.get("batches", ())], key=lambda one: -int(one["days_ago"]))


def plan_demo(kitchen: Kitchen) -> None:
    """Look for the plans of the demo kitchen, which takes some seconds and loads the solver."""
    for plan in Plan.objects.of(kitchen).select_related("kitchen"):
        plan_at_once(plan)


@transaction.atomic
def bring_examples(kitchen: Kitchen) -> list[Mix]:
    """Bring the demo's mixes into another kitchen; one of a name that is there already stays out."""
    stock_shelf(kitchen)
    here = set(Mix.objects.of(kitchen).values_list("name", flat=True))
    files = [path.read_bytes() for path in sorted(_FILES.glob("*.json"))]
    return [mix_from_file(kitchen, data) for data in files if json.loads(data)["name"] not in here]


def sync_demo_password() -> None:
    """Let the demo's person in with the password that this installation prints."""
    keeper = Person.objects.filter(name=PERSON, kitchen__slug=SLUG).first()
    if keeper is not None and not keeper.check_password(settings.DEMO_PASSWORD):
        keeper.set_password(settings.DEMO_PASSWORD)
        keeper.save()


def _fill_shelf(keeper: Person, filled: dict[str, Any]) -> None:
    """Give the shelf its prices, preparations and what is in the house."""
    kitchen = keeper.kitchen
    priced = list(Ingredient.objects.of(kitchen).filter(slug__in=filled["prices"]))
    for row in priced:
        row.price, pack_g = filled["prices"][row.slug]
        row.facts = {**row.facts, "pack_g": pack_g}
    Ingredient.objects.of(kitchen).bulk_update(priced, ["price", "facts"])
    for preparation in filled["preparations"]:
        kitchen.refresh_from_db()
        add_preparation(keeper, Preparation.model_validate(preparation))
    kitchen.refresh_from_db()
    today = timezone.localdate()
    for entry in filled["lots"]:
        days = {key: today + timedelta(days=entry[key]) for key in ("use_by", "best_before", "came_on") if key in entry}
        receive_lot(keeper, NewLot.model_validate({**entry, **days}))


def _past(keeper: Person, mix: Mix, points: list[dict[str, Any]]) -> None:
    """Keep earlier points of a mix, each typed and kept as a person would; the mix then is as its file has it."""
    lines, goes_on_from = draft_lines(mix), None
    for point in points:
        typed = [line.model_copy(update={"typed": point["typed"].get(line.ingredient, line.typed)}) for line in lines]
        _save(mix, typed, point["from"])
        kept_at = timezone.now() - timedelta(days=point["days_ago"])
        kept = keep_revision(keeper, mix.pk, point["name"], point["note"], kept_at)
        if typed == lines:
            goes_on_from = kept.number
    _save(mix, lines, goes_on_from)


def _plan(keeper: Person, planned: dict[str, Any]) -> None:
    """Say who works when and with what, and type what is served tomorrow; `plan_demo` looks for the plan."""
    kitchen = keeper.kitchen
    save_workplace(kitchen, 0, WorkplaceIn.model_validate(planned["workplace"]))
    plan = begin_plan(keeper, NewPlan(name=planned["name"]))
    for text in planned["services"]:
        plan = add_service(kitchen, plan.pk, text)


def _save(mix: Mix, lines: list[DraftLine], based_on: int | None) -> None:
    mix.refresh_from_db()
    kept = {key: getattr(mix, key) for key in ("name", "style", "overrun_pct", "aims", "restrictions")}
    draft = DraftToSave(**kept, machine=mix.machine_id, lines=lines, based_on=based_on)
    save_draft(mix.kitchen, mix.pk, mix.version, draft)


def _batch(keeper: Person, mix: Mix, days_ago: int, entries: list[dict[str, Any]]) -> Batch:
    batch = begin_batch(keeper, mix.pk, timezone.now() - timedelta(days=days_ago))
    machines = {machine.name: machine.pk for machine in Machine.objects.of(keeper.kitchen)}
    for entry in entries:
        if run := entry.get("run"):
            entry["run"] = {**run, "machine": machines[run["machine"]]}
        add_event(keeper, batch, NewEvent.model_validate(entry))
    return batch


def _fill_tubs(keeper: Person, batch: Batch, tubs: dict[str, Any]) -> None:
    """Take what went in from the lots in the house, fill tubs, and sell the first of them."""
    taken = [
        TakenForLine(
            line=line.line,
            shares=[LotShare(lot=one.lot, grams=one.grams) for one in line.suggestion.shares if one.grams],
        )
        for line in lots_of_batch(keeper.kitchen, batch).lines
        if any(one.grams for one in line.suggestion.shares)
    ]
    take_for_batch(keeper, batch, Taken(lines=taken))
    place = Place.objects.of(keeper.kitchen).get(name=tubs["place"])
    best_before = timezone.localdate() + timedelta(days=tubs["best_before"])
    packed = pack_tubs(
        keeper, batch, NewTubs(count=tubs["count"], ml=tubs["ml"], place=place.pk, best_before=best_before)
    )
    note_tub_event(keeper, packed[0].pk, NewTubEvent(kind="sold", to=tubs["sold_to"]))
