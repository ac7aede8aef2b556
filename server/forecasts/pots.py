"""A draft in its pot: cooled in each of the usual ways, the credit of a record, and boiled down."""

from __future__ import annotations

from typing import Final

from analysis.kitchen_drafts import read_in_kitchen
from forecasts.schemas import CreditOut, PotOut, PotQuestion, PotWay, ReductionOut, ReductionQuestion
from jalebi_core.heat.enthalpy import Thermal, thermal
from jalebi_core.heat.ice_bath import IceBath
from jalebi_core.heat.pot import HOLDS, POTS, Cooling, conductance_w_k, cool, credit, mixed_c
from jalebi_core.heat.record import read_record
from jalebi_core.heat.reduction import HOBS, reduce, target_g
from jalebi_core.heat.sentences import mind_cooling, mind_reduction, say_cooling, say_reduction
from jalebi_core.model.errors import HeatError
from jalebi_core.wording.message import Message, words
from kitchens.models import Kitchen, notation_of

_ICE_PER_MIX: Final = 1.5
_SALT_PER_ICE: Final = 0.2
_WATER_PER_ICE: Final = 0.7
_REGIONS: Final = {"us": "United States", "uk": "United Kingdom"}


def pot_forecast(kitchen: Kitchen, question: PotQuestion) -> PotOut | None:
    """Return a pot of a draft in each way to cool it; None for a draft with nothing in it."""
    mix, notation = read_in_kitchen(kitchen, question).mix, notation_of(kitchen)
    if mix is None:
        return None
    record = read_record(question.record, fahrenheit=notation.temperature == "F")
    table, mass_g = thermal(mix.row(), 0.0), question.mass_g or mix.mass_g
    start_c = question.start_c
    if question.cold_g > 0:
        if question.cold_g >= mass_g:
            raise HeatError("cold-part-too-large", cold_g=question.cold_g, mass_g=mass_g)
        start_c = mixed_c(table, ((mass_g - question.cold_g, start_c), (question.cold_g, question.cold_c)))
    ways = []
    for kind in POTS:
        run = _cooled(table, mass_g, start_c, kind, question)
        minded = mind_cooling(run, kind, held_back=question.cold_g > 0)
        ways.append(
            PotWay(
                kind=kind,
                name=words(Message(f"pot-in-{kind}"), notation),
                to_57_min=run.reached_min[0],
                to_21_min=run.reached_min[1],
                to_5_min=run.reached_min[2],
                safe=run.two_stage_ok,
                said=words(say_cooling(run, kind), notation),
                mind=[words(one, notation) for one in minded],
            )
        )
    ways.sort(key=lambda way: way.to_5_min if way.to_5_min is not None else float("inf"))
    worth = [CreditOut(region=key, name=_REGIONS[key], worth=credit(record, key)) for key in HOLDS] if record else []
    return PotOut(
        start_c=start_c,
        mass_g=mass_g,
        ways=ways,
        credit=worth,
        credit_said=words(Message("mind-credit"), notation) if record else "",
    )


def _cooled(table: Thermal, mass_g: float, start_c: float, kind: str, question: PotQuestion) -> Cooling:
    """Return a pot in one place; a bath is the ice that is said, or renewed, or as much as is usual with salt."""
    ua = conductance_w_k(table, mass_g, kind, question.diameter_mm, question.stirred)
    around: float | IceBath = POTS[kind][1]
    ice = question.ice
    if kind == "ice-bath" and ice is not None:
        around = IceBath.of(ice.ice_g, water_g=ice.water_g, water_c=ice.water_c)
    elif kind == "salt-bath":
        grams = ice.ice_g if ice else _ICE_PER_MIX * mass_g
        water = ice.water_g if ice else _WATER_PER_ICE * grams
        around = IceBath.of(grams, salt_g=_SALT_PER_ICE * grams, water_g=water)
    return cool(table, mass_g, start_c, ua, around)


def reduction_forecast(kitchen: Kitchen, question: ReductionQuestion) -> ReductionOut | None:
    """Return how a draft is boiled down; None for a draft with nothing in it."""
    mix, notation = read_in_kitchen(kitchen, question).mix, notation_of(kitchen)
    if mix is None:
        return None
    row, mass_g = mix.row(), question.mass_g or mix.mass_g
    to_g = target_g(row, mass_g, question.to_g, question.to_c, question.to_depth_mm, question.diameter_mm)
    found = reduce(row, mass_g, to_g, question.start_c, question.watts * HOBS[question.hob], question.diameter_mm)
    minded = mind_reduction(found, row, microwave=question.hob == "microwave")
    return ReductionOut(
        minutes=found.minutes,
        boil_after_min=found.boil_after_min,
        watch_from_min=found.watch_from_min,
        to_g=to_g,
        pot_reads_g=to_g + question.tare_g,
        depth_from_mm=found.depth_from_mm,
        depth_to_mm=found.depth_to_mm,
        end_solids_pct=found.end_solids_pct,
        said=words(say_reduction(found, question.tare_g), notation),
        mind=[words(one, notation) for one in minded],
    )
