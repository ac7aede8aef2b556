"""The difference between two states of a mix, as a cook says it."""

from __future__ import annotations

import re

from hypothesis import given

from conftest import mix_of, mixes, staged
from jalebi_core.advice.difference import LineChange, difference
from jalebi_core.model.mix import Mix

BEFORE = mix_of(("strawberry-puree", 500), ("water", 200), ("sugar", 180), ("lemon-juice", 10))


def test_lines_and_what_they_did_are_one_sentence() -> None:
    after = mix_of(("strawberry-puree", 500), ("water", 200), ("sugar", 145), ("lemon-juice", 16), ("dextrose", 20))
    found = difference(BEFORE, after)
    assert [line.name for line in found.lines] == ["Table sugar", "Dextrose, monohydrate", "Lemon juice"]
    assert found.lines[0] == LineChange("Table sugar", 180, 145)
    assert str(found.message).startswith("Table sugar −35 g, Dextrose, monohydrate new, 20 g, Lemon juice +6 g → ")
    assert re.search(r"→ tarter, less sweet \(−\d\.\d\), thinner", str(found.message))


def test_more_sugar_alone_makes_less_tart_and_milk_is_never_called_tart() -> None:
    sweeter = mix_of(("strawberry-puree", 500), ("water", 160), ("sugar", 220), ("lemon-juice", 10))
    assert "→ sweeter (+" in str(difference(BEFORE, sweeter).message)
    milk, sweet_milk = mix_of(("whole-milk", 900), ("sugar", 100)), mix_of(("whole-milk", 900), ("sugar", 160))
    assert "tart" not in str(difference(milk, sweet_milk).message)


def test_two_lines_of_one_thing_count_together_and_moving_between_stages_is_no_change() -> None:
    one = staged(("cream-36", 100, "pot"), ("cream-36", 50, "cold"), ("sugar", 20, "pot"))
    other = staged(("cream-36", 150, "cold"), ("sugar", 20, "dry"))
    assert str(difference(one, other).message) == "Nothing has changed."
    assert difference(one, staged(("sugar", 20, "pot"))).lines[0].after_g == 0


@given(mixes(), mixes())
def test_any_two_mixes_have_a_difference_that_turns_round(one: Mix, other: Mix) -> None:
    there, back = difference(one, other), difference(other, one)
    assert {(line.name, line.before_g, line.after_g) for line in there.lines} == {
        (line.name, line.after_g, line.before_g) for line in back.lines
    }
    assert str(there.message).endswith(".")
    for one_way, other_way in (("warmer", "colder"), (" tarter", " less tart"), ("richer", "leaner")):
        assert (one_way in str(there.message), other_way in str(there.message)) == (
            other_way in str(back.message),
            one_way in str(back.message),
        )
