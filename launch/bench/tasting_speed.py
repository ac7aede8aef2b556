"""Trials, tastings and learning in the core, and what the page of guests weighs."""

from __future__ import annotations

import statistics
import subprocess
import tempfile
import time
from collections.abc import Iterator, Sequence
from datetime import date
from json import dumps
from pathlib import Path
from typing import Any

import numpy as np

from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import find
from jalebi_core.tasting import ranking
from jalebi_core.tasting.log import Batch, Facts, Freezer, Log, LogMachine, Made, Reading, Tasting
from jalebi_core.tasting.parameters import learn
from jalebi_core.tasting.serving import design
from jalebi_core.tasting.trial import Answer, TastingTest, analyse
from launch.places import ROOT

from .figure import Figure, median_ms

_TASTERS = [f"P{at}" for at in range(12)]
_WORDS = ("soft scoop", "scoops", "stiff")
_RUNS = 7
_TRIAL = {
    "format": "jalebi.trial", "version": 1, "kind": "triangle", "tasters": _TASTERS,
    "variants": [{"key": "A", "name": "A"}, {"key": "B", "name": "B"}],
    "results": [{"taster": name, "correct": at % 3 > 0} for at, name in enumerate(_TASTERS)],
}  # fmt: skip
_LOG = {
    "format": "jalebi.log", "version": 1, "machines": [{"name": "bowl", "kind": "compressor"}],
    "batches": [
        {"id": f"b{at}", "at": "2026-04-01", "machine": "bowl", "made": {"overrun_pct": 20 + at},
         "facts": {"frozen": [{"t_c": 0, "frozen_pct": 0}, {"t_c": -18, "frozen_pct": 78}]}}
        for at in range(9)
    ],
}  # fmt: skip


def figures() -> Iterator[Figure]:
    """Measure learning from 200 batches, a design, statistics of twelve tasters, and the whole commands."""
    log = _log()
    learn(log)
    yield Figure("learning from 200 batches, a card each", median_ms(lambda: learn(log), 15), 50, "ms")
    yield Figure(
        "the design of a ranking of six for twelve",
        median_ms(lambda: design("ranking", list("ABCDEF"), _TASTERS, 2, 1), 15),
        20,
        "ms",
    )
    yield Figure(
        "statistics of twelve tasters, the slowest kind but ranking", max(map(_statistics_ms, _answers())), 30, "ms"
    )
    yield Figure("a ranking of five by six, counted out", median_ms(_rank_five, 7), 500, "ms")
    with tempfile.TemporaryDirectory() as folder:
        for command, content in (("trial", _TRIAL), ("learn", _LOG)):
            yield Figure(f"./jalebi {command}, the whole command", _command_s(command, content, Path(folder)), 1.5, "s")


def _log() -> Log:
    mix = Mix("milk ice", (Line(find("whole-milk"), 600.0), Line(find("sugar"), 120.0)), "gelato", 30.0)
    facts, day = Facts.of_mix(mix, 25.0), date(2026, 4, 1)
    return Log(
        freezers=(Freezer("chest", -18.0),),
        ice_water_c=0.0,
        machines=(LogMachine("bowl", (15.0, 35.0)),),
        readings=(Reading("r", day, "chest", -16.0, True),),
        batches=tuple(
            Batch(
                f"b{at}", day, facts, "bowl", "gelato", Made(20.0 + at % 9, None, 24.0, 1000.0, 950.0),
                (Tasting(f"t{at}", day, "A", "chest", None, _WORDS[at % 3], at % 3 - 1),),
            )
            for at in range(200)
        ),
    )  # fmt: skip


def _answers() -> Iterator[tuple[TastingTest, Sequence[Answer]]]:
    two = ("A", "B")
    yield TastingTest("triangle", two), [Answer(name, at % 3 > 0) for at, name in enumerate(_TASTERS)]
    yield TastingTest("preference", two), [Answer(name, picked=two[at % 2]) for at, name in enumerate(_TASTERS)]
    liked = [Answer(name, variant=key, liking=1 + (at * 7) % 9) for at, name in enumerate(_TASTERS) for key in "ABCD"]
    yield TastingTest("liking", tuple("ABCD")), liked
    pairs = [Answer(name, a="A", b="B", picked=two[at % 2]) for at, name in enumerate(_TASTERS)]
    yield TastingTest("pairs", two), pairs


def _statistics_ms(asked: tuple[TastingTest, Sequence[Answer]]) -> float:
    return median_ms(lambda: analyse(*asked), 15)


def _rank_five() -> object:
    ranking._squares.cache_clear()
    return ranking.rank(np.array([np.roll(np.arange(1.0, 6.0), at) for at in range(6)]))


def _command_s(command: str, content: dict[str, Any], folder: Path) -> float:
    file = folder / f"{command}.json"
    file.write_text(dumps(content), encoding="utf-8")
    seconds = []
    for _ in range(_RUNS + 1):
        began = time.perf_counter()
        subprocess.run([ROOT / "jalebi", command, file, "--json"], cwd=ROOT, check=True, stdout=subprocess.DEVNULL)
        seconds.append(time.perf_counter() - began)
    return statistics.median(seconds[1:])
