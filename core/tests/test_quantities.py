"""The figures behind the outcomes: each is computed, explained, and names a function that exists."""

from __future__ import annotations

from importlib import import_module

import numpy as np
import pytest

from conftest import DAIRY, mix_of
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.explanations import explanations
from jalebi_core.assessment.figures import Figure, figures_of
from jalebi_core.model.figures import quantities
from jalebi_core.model.mix import Mix
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.phases import phases_of


def figures(mix: Mix, celsius: float = -18.0) -> dict[str, Figure]:
    found, overrun = analyse_mix(mix), np.array(mix.overrun_used_pct)
    cold = phases_of(found.row, overrun, frozen_at(found.row, celsius), celsius)
    return {figure.quantity.key: figure for figure in figures_of(found, cold, mix.bands)}


def test_every_quantity_is_explained_by_a_function_that_exists() -> None:
    for quantity in quantities().values():
        module, name = quantity.rule.rsplit(".", 1)
        assert callable(getattr(import_module(f"jalebi_core.{module}"), name))
        assert quantity.formula and quantity.source and quantity.note
        assert quantity.scale[0] < quantity.scale[1]


def test_every_explanation_names_a_function_that_exists() -> None:
    assert {"scoop", "firmness", "sand", "gum_dose", "cost", "fill", "names", "cabinet"} <= explanations().keys()
    for explanation in explanations().values():
        module, name = explanation.rule.rsplit(".", 1)
        assert callable(getattr(import_module(f"jalebi_core.{module}"), name))
        assert explanation.formula and explanation.source


def test_figures_are_those_of_the_analysis() -> None:
    mix = mix_of(*DAIRY, style="ice-cream")
    found, shown = analyse_mix(mix), figures(mix)
    assert shown["fat"].value == pytest.approx(float(found.fat))
    assert shown["frozen"].value == pytest.approx(float(found.frozen_pct[18]), abs=0.01)
    assert shown["volume"].value == pytest.approx(float(found.volume_l))
    assert shown["fat"].band == (10, 14)


def test_what_makes_no_sense_is_left_out_and_special_bands_bring_their_figure() -> None:
    assert "first_ice" not in figures(mix_of(("coconut-oil", 100)))
    assert "bulk_sweetener" not in figures(mix_of(*DAIRY, style="ice-cream"))
    assert figures(mix_of(*DAIRY, style="low-sugar"))["bulk_sweetener"].band == (14, 22)
    assert figures(mix_of(("oat-drink", 900), ("sugar", 100), style="dairy-free"))["plant_solids"].value > 0
