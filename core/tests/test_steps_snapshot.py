"""Steps of a batch as they were shown: read back they say the same, whatever the sentences of today are."""

from __future__ import annotations

import json
from unittest import mock

import pytest

from jalebi_core.formats.steps_snapshot import SCHEMA, read_steps, steps_snapshot
from jalebi_core.heat.churn import Conditions
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.machines import machine
from jalebi_core.production.making.method import making_steps
from jalebi_core.production.making.steps import MakingBench, MakingStep, Preparation
from jalebi_core.production.runs import forecast_run
from jalebi_core.production.scaling import Piece
from jalebi_core.shelf.catalogue import find
from jalebi_core.wording import message
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import METRIC, Notation
from jalebi_core.wording.record import message_data, read_message

IMPERIAL = Notation("F", "oz")
MIXES = {
    "custard": (("whole-milk", 600, "pot"), ("cream-36", 220, "pot"), ("sugar", 150, "pot"), ("egg-yolk", 90, "yolks")),
    "sorbet": (("strawberry-puree", 600, "cold"), ("sugar", 200, "cold"), ("water", 150, "cold")),
    "no-churn": (("cream-36", 600, "cold"), ("condensed-milk", 300, "cold")),
    "starch": (("whole-milk", 700, "pot"), ("sugar", 150, "pot"), ("corn-starch", 25, "dry")),
}
STYLES = {"custard": "frozen-custard", "sorbet": "sorbet", "no-churn": "no-churn", "starch": "gelato"}


def steps_of(name: str, kind: str) -> tuple[MakingStep, ...]:
    mix = Mix(name, tuple(Line(find(slug), grams, stage) for slug, grams, stage in MIXES[name]), STYLES[name], 30.0)
    if name == "no-churn":
        return making_steps(mix, MakingBench())
    of_kind = machine("Machine", kind, 1.5)
    return making_steps(
        mix,
        MakingBench(
            machine=of_kind,
            run=forecast_run(mix, of_kind, Conditions(), 2),
            runs=2,
            preparations=(Preparation("Tea milk", ("steep",)),),
            ran_before="Nut ice",
            left_allergens=("nuts",),
            pieces={0: Piece("yolk", 17.0)},
            method={None: ("Stir.",)},
        ),
    )


def said(step: MakingStep, notation: Notation) -> list[str]:
    spoken = [step.title, *step.do, *step.mind, *(one for one in (step.why, step.cue) if one is not None)]
    return [words(one, notation) for one in spoken]


@pytest.mark.parametrize("kind", ["canister", "compressor", "ice-and-salt"])
@pytest.mark.parametrize("name", list(MIXES))
def test_steps_read_back_are_the_same_in_words_and_limits(name: str, kind: str) -> None:
    shown = steps_of(name, kind)
    kept = json.loads(json.dumps(steps_snapshot(shown)))
    read = read_steps(kept)
    assert kept["schema"] == SCHEMA
    assert len(shown) > 4
    assert [one.id for one in read] == [one.id for one in shown]
    for before, after in zip(shown, read, strict=True):
        for notation in (METRIC, IMPERIAL):
            assert said(after, notation) == said(before, notation)
        for part in ("part", "kind", "plan_step", "lines", "weighing", "readings", "least_min", "most_min", "stages",
                     "critical", "choice", "method"):  # fmt: skip
            assert getattr(after, part) == getattr(before, part), part


def test_a_sentence_that_is_written_anew_later_changes_no_record() -> None:
    shown = Message("critical-cooled", {"t_c": 5.0, "hours": 6.0})
    kept = message_data(shown)
    with mock.patch.object(message, "templates", return_value={"critical-cooled": "Something else"}):
        assert words(shown) == "Something else"
        assert words(read_message(kept)) == "5 °C or colder within 6 h"


def test_messages_within_messages_and_lists_are_kept() -> None:
    inner = Message("critical-reading", {"t_c": 84.0})
    whole = Message("critical-late", {"noted": inner, "hours": 5.0})
    kept = read_message(json.loads(json.dumps(message_data(whole))))
    assert str(kept) == str(whole)
    assert words(kept, IMPERIAL) == words(whole, IMPERIAL)
