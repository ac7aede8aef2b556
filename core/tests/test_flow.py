"""Steps that are right for any mix: the flow of its material is followed by a checker that was built apart from it."""

from __future__ import annotations

import json
import os
from dataclasses import replace
from functools import cache
from pathlib import Path
from tomllib import loads
from typing import Any

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from jalebi_core.formats.mix_file import read_mix
from jalebi_core.formats.steps_file import COOLING, steps_bench, steps_report
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import STAGES, styles
from jalebi_core.production.machines import machine_kinds
from jalebi_core.production.making.builder import step
from jalebi_core.production.making.checker import checks_of
from jalebi_core.production.making.flow import Pour, Removal, Work
from jalebi_core.production.making.layout import lay_out, making_way
from jalebi_core.production.making.method import Made, make, making_steps
from jalebi_core.production.making.steps import MakingBench, MakingStep, say
from jalebi_core.shelf.catalogue import find, ingredients

DATA = Path(__file__).parent / "data"
SCHEMA = Draft202012Validator(
    json.loads((Path(__file__).parents[2] / "docs/steps.schema.json").read_text(encoding="utf-8"))
)
GOLDEN = sorted((Path(__file__).parent / "golden" / "mixes").glob("*.json"))
SLUGS = sorted(slug for slug, one in ingredients().items() if one.kind not in ("mix-in", "sweetener"))


def mix_of_lines(style: str | None, *lines: tuple[str, float, str | None]) -> Mix:
    return Mix("Test", tuple(Line(find(slug), grams, stage) for slug, grams, stage in lines), style, 30.0)


def made_of(mix: Mix, kind: str | None = None, litres: float | None = None) -> Made:
    return make(mix, steps_bench(mix, kind, litres))


def broken(made: Made) -> list[str]:
    return [str(one.message) for one in made.checks if not one.ok]


def by_id(made: Made) -> dict[str, MakingStep]:
    return {one.id: one for one in made.steps}


UNLIKE: dict[str, tuple[str, Mix]] = {
    name: (one["way"], mix_of_lines(one["style"], *((slug, g, stage or None) for slug, g, stage in one["lines"])))
    for name, one in loads((DATA / "unlike_mixes.toml").read_text(encoding="utf-8")).items()
}


@cache
def unlike(case: str) -> Made:
    return made_of(UNLIKE[case][1])


@pytest.mark.parametrize("case", UNLIKE)
def test_unlike_mixes_are_made_their_own_way_and_every_rule_holds(case: str) -> None:
    way, mix = UNLIKE[case]
    made = unlike(case)
    assert (making_way(mix), made.refused, broken(made)) == (way, (), [])
    assert made.steps[0].kind == "hands"
    assert made.steps[-1].kind == "wash"


EACH = 1 if os.environ.get("JALEBI_THOROUGH") == "1" else 3
"""Each machine makes every third of the golden mixes, the next one begins with the next."""


@pytest.mark.parametrize("at", range(len(machine_kinds())), ids=machine_kinds())
def test_every_machine_and_every_golden_mix(at: int) -> None:
    kind = list(machine_kinds())[at]
    for path in GOLDEN[at % EACH :: EACH]:
        mix = read_mix(path.read_bytes())
        made = made_of(mix, kind)
        assert (made.refused, broken(made)) == ((), []), path.stem


def mixes() -> st.SearchStrategy[Mix]:
    line = st.tuples(
        st.sampled_from(SLUGS),
        st.floats(0.3, 900.0).map(lambda grams: round(grams, 1)),
        st.sampled_from([None, *STAGES]),
    )
    lines = st.lists(line, min_size=1, max_size=9).filter(
        lambda found: any(stage not in ("mix-in", "layer") for _, _, stage in found)
    )
    return st.builds(lambda style, found: mix_of_lines(style, *found), st.sampled_from(list(styles())), lines)


@settings(max_examples=60, deadline=None, phases=(Phase.explicit, Phase.reuse, Phase.generate))
@given(mixes())
def test_any_mix_of_the_shelf_is_made_by_the_rules_or_refused_by_name(mix: Mix) -> None:
    layout = lay_out(mix)
    for one in layout.refused:
        assert mix.lines[one.line].grams > 0
        assert str(one.message)
    made = make(mix, MakingBench())
    assert bool(made.refused) == bool(layout.refused)
    assert broken(made) == [], [(line.ingredient.slug, line.grams, line.stage) for line in mix.lines]


def checked(made: Made, mix: Mix, steps: list[MakingStep]) -> set[str]:
    return {one.rule for one in checks_of(mix, made.vessels, steps) if not one.ok}


def changed(made: Made, name: str, **work: Any) -> list[MakingStep]:
    return [replace(one, work=replace(one.work, **work)) if one.id == name else one for one in made.steps]


def without(made: Made, name: str) -> list[MakingStep]:
    return [one for one in made.steps if one.id != name]


def test_the_checker_finds_what_is_wrong() -> None:
    custard = mix_of_lines(
        "frozen-custard", ("raw-milk", 500, "pot"), ("sugar", 140, "pot"), ("locust-bean-gum", 1, "dry"),
        ("egg-yolk", 80, "yolks"), ("cream-36", 150, "off-heat"), ("rum-40", 20, "off-heat"),
        ("lemon-juice", 10, "cold"), ("tea-leaves", 10, "pot"),
    )  # fmt: skip
    made = made_of(custard, "canister", 1.0)
    steps = by_id(made)
    assert broken(made) == []
    for faults, with_it in (
        ({"once", "there"}, without(made, "warm")),
        ({"once"}, without(made, "weigh.1")),
        ({"pasteurised", "egg"}, changed(made, "cook", reaches_c=60.0)),
        ({"egg"}, changed(made, "cook", reaches_c=92.0)),
        ({"gum"}, changed(made, "warm", reaches_c=60.0)),
        ({"late"}, [one for one in changed(made, "cold", not_above_c=None) if one.id != "cool"]),
        ({"steep"}, changed(made, "steep", hold_min=30.0)),
        ({"steep"}, changed(made, "sieve", removes=(Removal(7, 4.0),))),
        ({"draw"}, changed(made, "churn.1", cools_to_c=-24.0)),
        ({"there"}, changed(made, "off-heat", pours=(Pour("box", "pot"),))),
        ({"critical"}, [replace(one, critical=None) if one.id == "cook" else one for one in made.steps]),
        ({"clean"}, without(made, "wash")),
        ({"machine"}, without(made, "clean")),
    ):
        assert faults <= checked(made, custard, with_it), faults
    small = tuple(replace(one, litres=0.2) for one in made.vessels)
    assert "room" in {one.rule for one in checks_of(custard, small, made.steps) if not one.ok}
    if "prefreeze.2" in steps:
        assert "runs" in checked(made, custard, without(made, "prefreeze.2"))


def test_two_runs_of_a_frozen_bowl_have_a_night_between_them_and_share_what_is_stirred_in() -> None:
    made = made_of(UNLIKE["two runs of a canister"][1], "canister", 1.5)
    steps = by_id(made)
    kinds = [one.kind for one in made.steps]
    assert kinds.index("clean") < kinds.index("prefreeze") < kinds.index("bowl-out") < kinds.index("churn")
    assert steps["prefreeze.2"].least_min == 720
    assert list(steps).index("churn.1") < list(steps).index("prefreeze.2") < list(steps).index("churn.2")
    first = {pour.source: pour.grams for pour in steps["churn.1"].work.pours}
    runs = sum(one.kind == "churn" for one in made.steps)
    assert first == {"pot": pytest.approx(2350 / runs), "box": pytest.approx(170 / runs)}


def test_what_must_not_be_raw_is_refused_with_what_may_stand_in_its_place() -> None:
    mix = mix_of_lines("no-churn", ("cream-36", 400, None), ("sugar", 80, None), ("egg-yolk", 60, None))
    (refused,) = lay_out(mix).refused
    assert (refused.rule, refused.line, refused.instead) == ("pasteurised", 2, ("pasteurised-egg-yolk",))
    with pytest.raises(MixError, match="egg yolk is raw"):
        making_steps(mix, steps_bench(mix))
    (no_cream,) = lay_out(mix_of_lines("no-churn", ("water", 400, None), ("sugar", 80, None))).refused
    assert (no_cream.rule, no_cream.instead) == ("whip", ("cream-36", "coconut-cream"))


def test_gelatin_never_swells_in_raw_milk_which_would_join_after_the_heat() -> None:
    lines = [("raw-milk", 500.0, None), ("sugar", 120.0, None), ("gelatin", 4.0, None)]
    (refused,) = lay_out(mix_of_lines("gelato", *lines)).refused
    assert (refused.rule, refused.line) == ("gum", 2)
    made = made_of(mix_of_lines("gelato", *lines, ("water", 60.0, None)))
    assert {take.line for one in made.steps for take in one.work.takes if take.vessel == "bloom"} == {2, 3}
    milk = by_id(made)["weigh.0"].work.takes
    parted = (replace(milk[0], grams=450.0), replace(milk[0], grams=50.0, vessel="bloom"))
    mix = mix_of_lines("gelato", *lines, ("water", 60.0, None))
    assert checked(made, mix, changed(made, "weigh.0", takes=parted)) == {"pasteurised"}


def test_cream_that_is_held_back_stays_cold_until_the_heat_is_over() -> None:
    lines = [("whole-milk", 500.0, None), ("cream-36", 250.0, None), ("sugar", 130.0, None), ("egg-yolk", 80.0, None)]
    mix = mix_of_lines("frozen-custard", *lines)
    made = make(mix, steps_bench(mix, cool="cold-cream-then-fridge"))
    assert broken(made) == []
    kinds = [one.kind for one in made.steps]
    assert kinds.index("cook") < kinds.index("off-heat") < kinds.index("cool")
    assert [(one.line, one.vessel) for one in by_id(made)["weigh.1"].work.takes] == [(1, "cold")]
    only_cream = mix_of_lines("ice-cream", ("cream-36", 400.0, None), ("sugar", 60.0, None))
    assert "off-heat" not in by_id(make(only_cream, steps_bench(only_cream, cool="cold-cream-then-fridge")))


def test_what_may_bring_stones_or_shell_is_looked_through() -> None:
    seen = {
        "egg": ("whole-milk", 500.0, None),
        "fruit": ("banana", 300.0, None),
        "nuts": ("walnut-kernels", 40.0, "mix-in"),
    }
    for what, line in seen.items():
        raw_egg = [("egg-yolk", 60.0, None)] if what == "egg" else []
        mix = mix_of_lines("ice-cream", ("cream-36", 300.0, None), ("sugar", 100.0, None), line, *raw_egg)
        assert by_id(made_of(mix))["look-through"].critical == "foreign_bodies", what
    assert "look-through" not in by_id(made_of(mix_of_lines("sorbet", ("water", 500.0, None), ("sugar", 120.0, None))))


def test_a_mix_that_stays_soft_is_drawn_where_its_machine_works() -> None:
    soft = mix_of_lines(
        "sorbet", ("sugar", 330, None), ("dextrose", 120, None), ("water", 450, None), ("rum-40", 60, None)
    )
    for kind, coldest in (("compressor", -11), ("canister", -9), ("ice-and-salt", -10)):
        run = by_id(made_of(soft, kind))
        assert run["churn.1"].work.cools_to_c is not None
        assert run["churn.1"].work.cools_to_c >= coldest
        assert "stays soft" in " ".join(map(str, run["churn.1"].do))


def test_sentences_speak_of_what_is_there() -> None:
    for case, (_, mix) in UNLIKE.items():
        allergens = {one for line in mix.lines for one in line.ingredient.allergens}
        said = " ".join(
            str(text) for one in unlike(case).steps if one.kind != "wash" for text in (*one.do, *one.mind) if text
        )
        assert " 0 min" not in said
        assert "1 g to 1 g" not in said
        if "milk" not in allergens:
            assert "Milk foams" not in said


def test_a_step_refuses_what_it_cannot_be() -> None:
    for wrong in ({"kind": "juggle", "do": []}, {"kind": "scrape", "do": [], "least_min": 9.0, "most_min": 3.0}):
        with pytest.raises(ValueError, match=r"no kind|at least"):
            step(**wrong)  # type: ignore[arg-type]
    with pytest.raises(KeyError, match="t_c"):
        step("cook", do=[])
    assert step("scrape", do=[say("scrape", "do")], work=Work("tray")).part == "churn"


def test_the_report_says_all_of_it() -> None:
    for name, (_, mix) in UNLIKE.items():
        found = steps_report(mix, steps_bench(mix))
        assert json.loads(json.dumps(found)) == found, name
        assert list(SCHEMA.iter_errors(found)) == []
        taken = [take for one in found["steps"] for take in one["takes"] if take["from"] == "store"]
        assert sum(take["grams"] for take in taken) == pytest.approx(sum(line.grams for line in mix.lines))
        assert all(one["ok"] for one in found["checks"])
        assert {"once", "there", "weigh", "clean"} <= {one["rule"] for one in found["checks"]}
        removed = sum(one["grams"] for part in found["steps"] for one in part["removes"])
        assert found["base_g"] == pytest.approx(mix.mass_g - removed)


def test_what_is_refused_has_no_steps() -> None:
    mix = mix_of_lines("no-churn", ("cream-36", 400, None), ("egg-yolk", 60, None))
    found = steps_report(mix, steps_bench(mix))
    assert (found["steps"], found["checks"], found["machine"]) == ([], [], None)
    assert list(SCHEMA.iter_errors(found)) == []


def test_a_bench_that_is_not_known_is_named() -> None:
    _, mix = UNLIKE["tea"]
    for said in ({"kind": "sledge"}, {"cool": "snow"}):
        with pytest.raises(MixError, match=r"sledge|snow"):
            steps_bench(mix, **said)
    assert [steps_bench(mix, cool=how).cool for how in COOLING] == ["ice-bath", "fridge", "fridge"]
    assert steps_bench(UNLIKE["granita"][1]).machine is None
