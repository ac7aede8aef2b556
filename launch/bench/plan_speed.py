"""Plans: twenty random kitchens of eight mixes over two days, one product with one bowl, and a delay planned around."""

from __future__ import annotations

import json
import random
import statistics
import subprocess
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from jalebi_core.formats.plan_answers import plan_data
from jalebi_core.formats.plan_file import read_plan
from jalebi_core.production.schedule.list_schedule import list_schedule
from jalebi_core.production.schedule.solving import Solved, solve
from launch.places import ROOT

from .figure import Figure

_KITCHENS = 20
_REPLANNED = 8
_LIMIT_S = 8
_STYLES = ("gelato", "frozen-custard", "sorbet", "sherbet", "ice-cream")
_HAS = {"sorbet": [], "frozen-custard": ["milk", "egg"]}


def figures() -> list[Figure]:
    """Plan them all, and look how far each is proved."""
    kitchens = [_kitchen(seed) for seed in range(_KITCHENS)]
    solved = [_solve(kitchen) for kitchen in kitchens]
    on_time = sum(one.status in ("optimal", "feasible") for one in solved)
    washes = sum(one.status != "unknown" and all(level.proved for level in one.levels[:2]) for one in solved)
    replanned = [_replan_s(kitchen, one) for kitchen, one in zip(kitchens[:_REPLANNED], solved, strict=False)]
    said = f"of {_KITCHENS} kitchens, 8 mixes over 2 days,"
    return [
        Figure("one product and one bowl, planned and proved", _solve(_dinner()).seconds, 1.0, "s"),
        Figure("the same by the command, with the process", _command_s(_dinner()), 3.0, "s"),
        Figure(f"{said} on time in {_LIMIT_S} s", float(on_time), 20, "", at_least=True),
        Figure(f"{said} washes proved", float(washes), 17, "", at_least=True),
        Figure(f"{said} all proved", float(sum(one.status == "optimal" for one in solved)), 10, "", at_least=True),
        Figure(f"{said} on time by a backward list", float(_listed(kitchens)), 8, "", at_least=True),
        Figure("a churn that takes 15 min longer, planned around", statistics.median(replanned), 3.0, "s"),
    ]


def _listed(kitchens: list[dict[str, Any]]) -> int:
    """Return for how many kitchens a plan is found step by step, backwards, which is what the search begins from."""
    return sum(list_schedule(read_plan(json.dumps(kitchen).encode())) is not None for kitchen in kitchens)


def _solve(content: dict[str, Any]) -> Solved:
    return solve(read_plan(json.dumps(content).encode()))


def _replan_s(kitchen: dict[str, Any], solved: Solved) -> float:
    """Return how long it takes to plan around a run in the middle that takes longer."""
    if solved.plan is None:
        return float("inf")
    runs = sorted((step for step in solved.plan.steps if ".churn" in step.id), key=lambda run: run.start)
    longer = runs[len(runs) // 3]
    actual = [{"id": longer.id, "end": longer.end + 15}]
    before = plan_data(solved.plan)
    return _solve({**kitchen, "now": longer.start + 20, "previous": before, "actual": actual}).seconds


def _command_s(content: dict[str, Any]) -> float:
    with TemporaryDirectory() as folder:
        file = Path(folder) / "dinner.json"
        file.write_text(json.dumps(content), encoding="utf-8")
        began = time.perf_counter()
        subprocess.run([ROOT / "jalebi", "plan", file, "--json"], cwd=ROOT, check=True, stdout=subprocess.DEVNULL)
        return time.perf_counter() - began


def _dinner() -> dict[str, Any]:
    kitchen = _kitchen(0)
    bowl = [machine for machine in kitchen["machines"] if machine["id"] == "bowl-a"]
    one = {"id": "tea", "style": "frozen-custard", "grams": 900, "has": ["milk", "egg"], "serve": "2026-05-03T19:30"}
    return {**kitchen, "machines": bowl, "mixes": [one]}


def _kitchen(seed: int) -> dict[str, Any]:
    """Return a plan file of eight mixes for two people, a compressor and two bowls."""
    draw = random.Random(seed)
    bowls = [
        {
            "id": f"bowl-{name}", "churn_min": 25, "wash_min": 10, "dirty_max_min": 240, "wash_always": True,
            "ready_min": 720, "ready_hands_min": 5, "ready_uses": [{"place": "freezer", "units": 20}],
            "ready_since": since, "run_uses": [{"place": "motor", "units": 1}],
        }
        for name, since in (("a", -1440), ("b", None))
    ]  # fmt: skip
    compressor = {
        "id": "compressor", "churn_min": 35, "wash_min": 15, "dirty_max_min": 240, "wash_always": False,
        "ready_min": 15, "ready_hands_min": 5,
    }  # fmt: skip
    places = {"burner": 2, "ice-bath": 1, "fridge": 300, "freezer": 250, "blast": 60, "motor": 1}
    return {
        "format": "jalebi.plan", "version": 1, "origin": "2026-05-02T00:00", "horizon_min": 2880,
        "time_limit_s": _LIMIT_S,
        "people": [
            {"id": "ada", "shifts": [[360, 900], [1800, 2340]]}, {"id": "ben", "shifts": [[600, 1260], [2040, 2700]]},
        ],
        "places": [{"id": place, "capacity": units} for place, units in places.items()],
        "machines": [compressor, *bowls],
        "mixes": [_mix(draw, number) for number in range(8)],
    }  # fmt: skip


def _mix(draw: random.Random, number: int) -> dict[str, Any]:
    style = draw.choice(_STYLES)
    has = [*_HAS.get(style, ["milk"]), *draw.sample(["nuts", "gluten", "sesame", "dark"], draw.choice([0, 0, 1]))]
    has += ["alcohol"] * (draw.random() < 0.15) + ["gums"] * (draw.random() < 0.5)
    day = draw.choice([0, 1, 1])
    hour = draw.choice([11, 12, 14, 17, 18, 19, 20] if day else [15, 17, 18, 19, 20])
    return {
        "id": f"m{number}", "style": style, "grams": draw.choice([800, 1000, 1500, 2000]), "has": has,
        "serve": f"2026-05-0{2 + day}T{hour}:{draw.choice(['00', '30'])}",
        "machines": ["compressor"] if draw.random() < 0.5 else [],
        "mix_in": draw.random() < 0.2, "fresh": draw.random() < 0.1,
    }  # fmt: skip
