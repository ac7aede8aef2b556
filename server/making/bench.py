"""How a batch is made: its steps as they were shown, or built of what its kitchen has and kept from then on."""

from __future__ import annotations

import logging
from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass
from typing import Any, Final

from batches.models import Batch
from batches.replay import MACHINE_STEP, WITH_EVENTS, BatchState, machine_number, replay
from forecasts.runs import is_churned
from ingredients.shelf_cache import machines_of
from jalebi_core.formats.snapshot import read_ingredient, read_mix_snapshot
from jalebi_core.formats.steps_snapshot import read_steps, steps_snapshot
from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.tub import PLACES, vessel
from jalebi_core.heat.tub import Place as CorePlace
from jalebi_core.heat.tub import Vessel as CoreVessel
from jalebi_core.model.errors import JalebiError
from jalebi_core.model.mix import Mix
from jalebi_core.production.machines import fill_of
from jalebi_core.production.making.method import make, steps_of
from jalebi_core.production.making.steps import MakingBench, MakingStep, Preparation, own_step
from jalebi_core.production.runs import NEEDS_ICE, RunForecast, forecast_run
from jalebi_core.production.scaling import Piece
from jalebi_core.regulation.allergens import allergens_together
from kitchens.models import Kitchen, Place, Vessel, constants_of
from making.models import ShownSteps
from plans.ways import Preparations
from plans.workplace import workplace_of

_log = logging.getLogger("jalebi.making")

OWN_STEP: Final = "own."
"""How the ids of steps begin that a cook has added."""
_HARDENING: Final = ("blast", "fan-freezer", "still-freezer")
_PREPARED: Final = ("steep", "reduce", "macerate")
_MOST_RUNS: Final = 12


@dataclass(frozen=True, slots=True)
class PlannedRun:
    """How a run was forecast when its steps were shown: of how many g, in how many minutes, None where it stalls.

    fill_pct : of the machine's bowl, as it comes out
    """

    mass_g: float
    minutes: float | None
    fill_pct: float


@dataclass(frozen=True, slots=True)
class Making:
    """A batch as it is made: its mix, its steps, the machine and how a run in it was forecast."""

    mix: Mix
    steps: tuple[MakingStep, ...]
    machine: int | None
    machine_name: str
    run: PlannedRun | None
    runs: int
    faults: tuple[str, ...]
    """What the checker found of its steps, as they were built; nothing, as it should be."""


def making_of(kitchen: Kitchen, batch: Batch, state: BatchState) -> Making:
    """Return how a batch is made, as it was shown first; raises MixError for one of which nothing weighs anything."""
    shown = keep_steps(kitchen, batch, _chosen(state))
    run = shown["run"]
    return Making(
        read_mix_snapshot(batch.content),
        (*read_steps(shown), *_own_steps(state)),
        shown["machine"],
        shown["machine_name"],
        None if run is None else PlannedRun(**run),
        shown["runs"],
        tuple(shown.get("faults", ())),
    )


def keep_steps(kitchen: Kitchen, batch: Batch, chosen: str = "", *, both_stages: bool = True) -> dict[str, Any]:
    """Return the steps of a batch in a machine as they were shown; what was never shown is built and kept.

    ``both_stages`` is whether cooling is judged by both its stages, as it was not in batches from before that.
    """
    found = batch.shown_steps.filter(chosen=chosen).first()
    if found is None:
        content = _build(kitchen, batch, machine_number(chosen))
        if not both_stages:
            content["steps"] = [{**step, "stages": []} for step in content["steps"]]
        found, _ = ShownSteps.objects.get_or_create(batch=batch, chosen=chosen, defaults={"content": content})
    shown: dict[str, Any] = found.content
    return shown


def keep_steps_if_any(batch: Batch) -> None:
    """Keep the steps of a batch that is being begun; one of which nothing weighs anything has none."""
    with suppress(JalebiError):
        keep_steps(batch.kitchen, batch)


def keep_earlier_steps() -> None:
    """Keep the steps of batches that were begun before steps were kept, in each machine that was taken for them."""
    rows = Batch.objects.of_all_kitchens().filter(shown_steps=None).select_related("kitchen", "revision")
    for batch in rows.prefetch_related(WITH_EVENTS):
        with suppress(JalebiError):
            for chosen in dict.fromkeys(("", _chosen(replay(batch.events.all())))):
                keep_steps(batch.kitchen, batch, chosen, both_stages=False)


def _chosen(state: BatchState) -> str:
    """Return the number of the machine that was taken instead, empty where none was."""
    chosen = state.steps[MACHINE_STEP].chosen if MACHINE_STEP in state.steps else None
    number = machine_number(chosen)
    return "" if number is None else str(number)


def _build(kitchen: Kitchen, batch: Batch, chosen: int | None) -> dict[str, Any]:
    """Return the steps of a batch in what its kitchen has now, as they are kept."""
    content = batch.content
    mix = read_mix_snapshot(content)
    machines = machines_of(kitchen)
    number = chosen if chosen in machines else batch.machine_id
    if number is None:
        number = _usual_machine(kitchen, mix)
    machine = machines.get(number) if number is not None else None
    if machine is not None and not is_churned(mix, machine):
        machine, number = None, None
    run, runs = None, batch.runs or 1
    if machine is not None:
        runs = batch.runs if batch.runs and number == batch.machine_id else min(fill_of(mix, machine).runs, _MOST_RUNS)
        run = forecast_run(mix, machine, Conditions(freezer_c=kitchen.used_freezer_c), runs)
    workplace = workplace_of(kitchen)
    before, allergens = _ran_before(kitchen, batch, number, mix)
    bench = MakingBench(
        constants=constants_of(kitchen),
        region=kitchen.region,
        freezer_c=kitchen.used_freezer_c,
        machine=machine,
        run=run,
        runs=runs,
        cool="ice-bath" if workplace.ice_baths else "fridge",
        hardens_in=_hardens_in(kitchen),
        tub=_tub(kitchen),
        keeps_min=round(1440 * workplace.base_days.days) if workplace.base_days else None,
        fresh=batch.fresh,
        preparations=_preparations(kitchen, content, mix),
        ran_before=before,
        left_allergens=allergens,
        pieces=_pieces(content),
        method=_method(content),
    )
    made = make(mix, bench)
    faults = [str(one.message) for one in made.checks if not one.ok]
    if faults:
        _log.error("batch %s: steps that need an eye: %s", batch.pk, " ".join(faults))
    return {
        **steps_snapshot(steps_of(made)),
        "faults": faults,
        "machine": number if machine is not None else None,
        "machine_name": machine.name if machine is not None else "",
        "runs": runs,
        "run": None if run is None else asdict(_planned(run, runs)),
    }


def _planned(run: RunForecast, runs: int) -> PlannedRun:
    minutes = run.run.minutes if run.run.drawn else None
    return PlannedRun(run.mass_g, minutes, run.fill.out_pct * run.fill.runs / runs)


def forecast_of(kitchen: Kitchen, making: Making) -> RunForecast | None:
    """Return how a run of a batch goes in its machine as that is now; None where it is churned in none."""
    machine = machines_of(kitchen).get(making.machine) if making.machine is not None else None
    if machine is None:
        return None
    return forecast_run(making.mix, machine, Conditions(freezer_c=kitchen.used_freezer_c), making.runs)


def _own_steps(state: BatchState) -> Iterator[MakingStep]:
    """Yield the steps that somebody has added to this batch."""
    for name, step in state.steps.items():
        if name.startswith(OWN_STEP) and step.chosen:
            yield own_step(name, step.chosen)


def _usual_machine(kitchen: Kitchen, mix: Mix) -> int | None:
    """Return the machine that needs the fewest runs, without ice and salt where there is another."""
    stirring = {number: one for number, one in machines_of(kitchen).items() if is_churned(mix, one)}
    ranked = [(one.kind.key in NEEDS_ICE, fill_of(mix, one).runs, number) for number, one in stirring.items()]
    return min(ranked)[2] if ranked else None


def _ran_before(kitchen: Kitchen, batch: Batch, machine: int | None, mix: Mix) -> tuple[str, tuple[str, ...]]:
    """Return what a machine was used for last, and which allergens of that this mix does not hold."""
    if machine is None:
        return "", ()
    earlier = Batch.objects.of(kitchen).filter(machine_id=machine, begun_at__lt=batch.begun_at).exclude(pk=batch.pk)
    last = earlier.select_related("revision").order_by("-begun_at").first()
    if last is None:
        return "", ()
    held = allergens_together(line.ingredient for line in read_mix_snapshot(last.content).lines).contains
    own = allergens_together(line.ingredient for line in mix.lines).contains
    return last.content["name"], tuple(one for one in held if one not in own)


def _hardens_in(kitchen: Kitchen) -> CorePlace:
    places = {place.kind: place for place in reversed(Place.objects.of(kitchen).filter(put_away=False))}
    row = next((places[kind] for kind in _HARDENING if kind in places), None)
    if row is None:
        usual = PLACES["still-freezer"]
        return CorePlace(usual.name, kitchen.used_freezer_c, usual.h_w_m2k)
    return CorePlace(f"in {row.name}", row.air_c, PLACES[row.kind].h_w_m2k)


def _tub(kitchen: Kitchen) -> CoreVessel | None:
    row = Vessel.objects.of(kitchen).first()
    if row is None:
        return None
    return vessel(row.shape, row.height_mm, row.diameter_mm, row.length_mm, row.width_mm, row.wall, row.lid)


def _preparations(kitchen: Kitchen, content: Mapping[str, Any], mix: Mix) -> tuple[Preparation, ...]:
    """Return what has to be prepared because there is not enough of it in the house."""
    needed: dict[str, float] = {}
    for line in content["lines"]:
        needed[line["slug"]] = needed.get(line["slug"], 0.0) + line["grams"]
    known = Preparations.of(kitchen)
    names = {line.ingredient.slug: line.ingredient.name for line in mix.lines}
    found = []
    for slug in known.to_make(needed):
        kinds = tuple("reduce" if step.kind == "cook" else step.kind for step in known.rows[slug].steps)
        found.append(Preparation(names.get(slug, slug), tuple(kind for kind in kinds if kind in _PREPARED)))
    return tuple(found)


def _pieces(content: Mapping[str, Any]) -> dict[int, Piece]:
    found = {}
    for number, line in enumerate(content["lines"]):
        pieces = read_ingredient(line["ingredient"], line["slug"]).measures.pieces
        name = line["unit"] if line["unit"] in pieces else line.get("whole")
        if name in pieces:
            found[number] = Piece(name, pieces[name])
    return found


def _method(content: Mapping[str, Any]) -> dict[str | None, tuple[str, ...]]:
    found: dict[str | None, tuple[str, ...]] = {}
    for sentence in content.get("recipe", {}).get("method", ()):
        stage = sentence.get("stage")
        found[stage] = (*found.get(stage, ()), sentence["text"])
    return found
