"""Protected names: the figure that decides, and what chocolate, fruit and nuts relieve."""

from __future__ import annotations

from conftest import mix_of
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.identity_standards import IdentityStandard, identity_standards_of

LEAN = (("whole-milk", 560.0), ("cream-36", 180.0), ("skim-milk-powder", 60.0), ("sugar", 150.0))


def told(mix: Mix) -> dict[tuple[str, str], IdentityStandard]:
    return {(name.region, name.name): name for name in identity_standards_of(mix)}


def test_chocolate_relieves_milk_fat_in_proportion_and_says_so() -> None:
    plain = told(mix_of(*LEAN))["United States", "ice cream"]
    assert not plain.fits
    assert "at least 10 is asked" in plain.because
    chocolate = told(mix_of(*LEAN, ("dark-chocolate-55", 190.0)))["United States", "ice cream"]
    assert not chocolate.fits
    assert (
        chocolate.because
        == "7.4 % milk fat, at least 8 is asked beside 42 % of chocolate, fruit or nuts with their sugar"
    )


def test_relief_ends_at_eight_per_cent_milk_fat_and_sixteen_of_milk_solids() -> None:
    thin = told(mix_of(("whole-milk", 500), ("cream-36", 60), ("sugar", 150), ("strawberry-puree", 400)))
    assert not thin["United States", "ice cream"].fits
    assert "at least 8 is asked" in thin["United States", "ice cream"].because
    assert "16 is asked" in thin["United States", "ice cream"].because


def test_canada_asks_for_eight_and_thirty_three_with_fruit_and_ten_and_thirty_six_without() -> None:
    fruit = told(
        mix_of(("whole-milk", 380), ("cream-36", 230), ("skim-milk-powder", 40), ("sugar", 150), ("mango-puree", 200))
    )
    assert fruit["Canada", "ice cream"].fits
    plain = told(mix_of(("whole-milk", 580), ("cream-36", 180), ("skim-milk-powder", 30), ("sugar", 150)))
    assert not plain["Canada", "ice cream"].fits


def test_what_is_folded_in_relieves_nothing() -> None:
    beside = mix_of(*LEAN)
    chips = mix_of(("dark-chocolate-55", 190.0)).lines[0]
    folded = Mix("m", (*beside.lines, type(chips)(chips.ingredient, 190.0, "mix-in")), None, 30.0)
    assert told(folded)["United States", "ice cream"].because == told(beside)["United States", "ice cream"].because
