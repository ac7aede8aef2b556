"""The kernel of the tub against exact series with constant properties, and what conduction never does."""

from __future__ import annotations

import re
from math import inf

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import heat_table, reference_rows
from jalebi_core.heat.conduction import Cylinder, Faces, Material, Moment, Wall
from jalebi_core.model.components import FloatArray

EXACT = reference_rows("heat/analytic.csv")
WARM_C, COLD_C = 60.0, -40.0


def plain(k: float = 0.5, rho: float = 800.0, c: float = 2500.0) -> Material:
    celsius = np.array([-60.0, 120.0])
    return Material(celsius, celsius * rho * c, np.full(2, k))


def last(cylinder: Cylinder, seconds: float, most_moved_k: float = 2.0) -> Moment:
    *_, moment = cylinder.moments(WARM_C, lambda _: COLD_C, seconds, most_moved_k)
    return moment


def share_left(celsius: float) -> float:
    return (celsius - COLD_C) / (WARM_C - COLD_C)


def on_axis(cylinder: Cylinder, layer: FloatArray) -> float:
    first, second = cylinder.r_m[:2] ** 2
    return float(layer[0] - (layer[1] - layer[0]) * first / (second - first))


def middle(celsius: FloatArray) -> FloatArray:
    half = celsius.shape[0] // 2
    mean: FloatArray = (celsius[half - 1] + celsius[half]) / 2
    return mean


def numbers(what: str) -> list[float]:
    return [float(number) for number in re.findall(r"\d[\d.e+]*", what)]


@pytest.mark.parametrize(("layers", "rings", "moved_k", "within"), [(10, 8, 2.0, 0.01), (40, 30, 0.5, 0.0012)])
@pytest.mark.parametrize(
    "row",
    [row for row in EXACT if row["case"] in ("slab", "cylinder", "finite cylinder")],
    ids=lambda row: str(row["value"]),
)
def test_constant_properties_give_the_exact_series(
    row: dict[str, str], layers: int, rings: int, moved_k: float, within: float
) -> None:
    sizes, value = numbers(row["what"]), float(row["value"])
    if row["case"] == "slab":
        half_m, h = sizes
        faces = Faces(1 / h, inf, 1 / h)
        cylinder = Cylinder(plain(), 1.0, 2 * half_m, faces, layers=layers, rings=2)
    elif row["case"] == "cylinder":
        radius_m, h = sizes
        faces = Faces(inf, 1 / h, inf)
        cylinder = Cylinder(plain(), radius_m, 1.0, faces, layers=2, rings=rings)
    else:
        radius_m, height_m, h = sizes
        faces = Faces(1 / h, 1 / h, 1 / h)
        cylinder = Cylinder(plain(), radius_m, height_m, faces, layers=layers, rings=rings)
    found = last(cylinder, float(row["t_s"]), moved_k)
    if float(row["x"]) == 0:
        assert share_left(on_axis(cylinder, middle(found.t_c))) == pytest.approx(value, abs=within)
        return
    edge = found.t_c[-1, 0] if row["case"] == "slab" else found.t_c[0, -1]
    depth = cylinder.height_m - cylinder.z_m[-1] if row["case"] == "slab" else cylinder.radius_m - cylinder.r_m[-1]
    at_face = edge - (edge - COLD_C) * depth / 0.5 / (1 / h + depth / 0.5)
    assert share_left(float(at_face)) == pytest.approx(value, abs=within)


@pytest.mark.parametrize(
    "row", [row for row in EXACT if row["case"] == "neumann front"], ids=lambda row: str(row["t_s"])
)
def test_a_front_of_ice_moves_as_neumann_has_it(row: dict[str, str]) -> None:
    celsius = np.array([-40.0, -0.2, 0.0, 20.0])
    heat = np.array([-39.8 * 2050 - 333600, -333600, 0.0, 4180 * 20]) * 917
    slab = Cylinder(Material(celsius, heat, np.full(4, 2.2)), 1.0, 0.1, Faces(inf, inf, 1e-9), layers=120, rings=2)
    *_, found = slab.moments(0.0, lambda _: -20.0, float(row["t_s"]), 0.5)
    frozen = 1 - np.clip((slab.material.heat_at(found.t_c[:, 0]) + 333600 * 917) / (333600 * 917), 0, 1)
    front_m = float((frozen * slab.volume_m3[:, 0]).sum() / slab.volume_m3[:, 0].sum() * 0.1)
    assert front_m == pytest.approx(float(row["value"]), rel=0.02)


@pytest.mark.parametrize("row", [row for row in EXACT if row["case"] == "plank"], ids=lambda row: str(row["value"]))
def test_water_freezes_through_in_the_time_of_plank(row: dict[str, str]) -> None:
    size_m, h = numbers(row["what"])[:2]
    celsius = np.array([-40.0, -0.02, 0.0, 20.0])
    heat = np.array([-39.98 * 2050 - 333600, -333600, 0.0, 4180 * 20]) * 917
    water = Material(celsius, heat, np.full(4, 2.2))
    if "slab" in row["what"]:
        body = Cylinder(water, 1.0, size_m, Faces(1 / h, inf, 1 / h), layers=16, rings=2)
    else:
        body = Cylinder(water, size_m / 2, 1.0, Faces(inf, 1 / h, inf), layers=2, rings=16)
    moments = body.moments(0.0, lambda _: -2.0, 1.5 * float(row["value"]))
    frozen_s = next(moment.seconds for moment in moments if moment.t_c.max() <= -0.02)
    assert frozen_s == pytest.approx(float(row["value"]), rel=0.04)


PLAIN = heat_table("plain 12/10/16")
MIX = Material(PLAIN.t_c, 1000 * PLAIN.density_kg_m3 * PLAIN.h_kj_kg, PLAIN.k_w_mk)
BODIES = st.tuples(
    st.floats(0.01, 0.2), st.floats(0.005, 0.3), st.floats(2, 400), st.floats(-35, 30), st.floats(-35, 30)
)


@given(BODIES, st.sampled_from([None, Wall(0.5, 20.0), Wall(0.05, -18.0)]))
@settings(max_examples=25)
def test_what_comes_in_is_what_is_stored_and_nothing_overshoots(
    body: tuple[float, float, float, float, float], wall: Wall | None
) -> None:
    radius_m, height_m, h, start_c, air_c = body
    faces = Faces(1 / h + 0.1, 1 / h, 2 / h)
    cylinder = Cylinder(MIX, radius_m, height_m, faces, wall)
    around = [start_c, air_c] + ([wall.start_c] if wall else [])
    for moment in cylinder.moments(start_c, lambda _: air_c, 7200):
        assert moment.stored_j == pytest.approx(moment.came_in_j, rel=1e-9, abs=1e-6)
        assert min(around) - 0.25 <= moment.t_c.min()
        assert moment.t_c.max() <= max(around) + 0.25


def test_air_as_cold_as_the_filling_changes_nothing() -> None:
    cylinder = Cylinder(MIX, 0.055, 0.085, Faces(0.2, 0.1, 0.2))
    *_, found = cylinder.moments(-18.0, lambda _: -18.0, 86400)
    assert np.abs(found.t_c + 18).max() < 1e-9
