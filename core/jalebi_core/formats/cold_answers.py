"""The answer to a question about cold and heat, as plain data: figures, one sentence that says them, and cautions."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict
from math import isnan
from typing import Any, Final

import numpy as np

from jalebi_core.formats.cold_file import NOT_STIRRED, Question
from jalebi_core.heat.churn import Churner, Conditions, churn, churner, constants_of
from jalebi_core.heat.churn_watch import expect, say_untold, say_watched, watch
from jalebi_core.heat.conduction import Faces
from jalebi_core.heat.enthalpy import Thermal, melted_pct, thermal
from jalebi_core.heat.ice_bath import IceBath, ice_for
from jalebi_core.heat.pot import HOLDS, POTS, Cooling, conductance_w_k, cool, credit, mixed_c
from jalebi_core.heat.reduction import HOBS, microwave_intervals_s, reduce, target_g
from jalebi_core.heat.remedies import remedies
from jalebi_core.heat.sentences import (
    mind_bath,
    mind_churning,
    mind_cooling,
    mind_reduction,
    mind_shock,
    mind_vessel,
    say_bath,
    say_churned,
    say_cooling,
    say_reduction,
    say_shock,
    say_tub,
)
from jalebi_core.heat.tub import PLACES, Place, Vessel, emptied, filling_of, follow, vessel, wall_melts_pct
from jalebi_core.model.errors import HeatError
from jalebi_core.model.mix import Mix
from jalebi_core.physics.boiling import HOTTEST_C
from jalebi_core.production.machines import Tuning
from jalebi_core.wording.message import Message

_IN_BRINE: Final = ("brine", "ice-bath")
_TUB_SEEN: Final = 9


def answer(question: Question) -> dict[str, Any]:
    """Return the answer as plain data; raises HeatError for what cannot be."""
    found = _ANSWERS[question.kind](question)
    cautions = [str(one) for one in found.get("cautions", [])]
    return {"kind": question.kind, **found, "said": str(found["said"]), "cautions": cautions}


def _asked_mix(question: Question) -> tuple[Mix, Thermal]:
    assert question.mix is not None
    return question.mix, thermal(question.mix.row(), question.mix.overrun_used_pct)


def _enthalpy(question: Question) -> dict[str, Any]:
    mix, table = _asked_mix(question)
    celsius = np.array(question.of["t_c"])
    h = table.h_at(celsius)
    warm, cold = float(celsius.max()), float(celsius.min())
    frozen = float(table.frozen_at(np.array(cold)))
    said = {"warm_c": warm, "cold_c": cold, "name": mix.name, "kj": float(h.max() - h.min()), "frozen_pct": frozen}
    return {
        "t_c": celsius.tolist(),
        "h_kj_kg": h.tolist(),
        "frozen_pct": table.frozen_at(celsius).tolist(),
        "k_w_mk": table.k_at(celsius).tolist(),
        "density_kg_m3": table.density_kg_m3,
        "said": Message("gives-off-ice" if frozen > 0 else "gives-off", said),
    }


def _ice_bath(of: Mapping[str, Any]) -> IceBath:
    if of["ice_g"] + of["water_g"] <= 0:
        raise HeatError("ask-nothing-put-in")
    return IceBath.of(**{key: of[key] for key in ("ice_g", "ice_c", "salt_g", "salt_c", "water_g", "water_c")})


def _bath(question: Question) -> dict[str, Any]:
    of = question.of
    bath = _ice_bath(of).heated(of["heat_kj"]).left_standing(of["hours"], of["leak_w_k"], of["room_c"])
    return {
        **asdict(bath.state()),
        "takes_kj": bath.takes_kj,
        "ends_at_c": bath.ends_at_c,
        "said": say_bath(bath),
        "cautions": mind_bath(bath),
    }


def _ice(question: Question) -> dict[str, Any]:
    mix, table = _asked_mix(question)
    of = question.of
    if of["to_c"] >= of["from_c"]:
        raise HeatError("ask-not-colder", from_c=of["from_c"], to_c=of["to_c"])
    if of["bath_c"] > of["to_c"]:
        raise HeatError("ask-bath-too-warm", bath_c=of["bath_c"], to_c=of["to_c"])
    warm, cold = table.h_at(np.array([of["from_c"], of["to_c"]]))
    load = ice_for(float(warm - cold) * of["mass_g"] / 1000 * of["loss"], of["bath_c"])
    said = {**of, **asdict(load), "name": mix.name}
    return {
        **asdict(load),
        "said": Message("ice-load-salt" if load.salt_g >= 0.5 else "ice-load", said),
        "cautions": mind_bath(IceBath.of(load.ice_g, salt_g=load.salt_g)),
    }


def _shock(question: Question) -> dict[str, Any]:
    _, table = _asked_mix(question)
    from_c, to_c = question.of["from_c"], question.of["to_c"]
    melted = melted_pct(table, from_c, to_c)
    return {"melted_pct": melted, "said": say_shock(from_c, to_c, melted), "cautions": mind_shock(melted)}


def _machine_of(question: Question) -> Churner:
    of = question.of["machine"]
    kind = of["kind"]
    if kind is None:
        raise HeatError("ask-key-missing", key="machine.kind")
    assert question.mix is not None
    if kind in NOT_STIRRED or question.mix.style in NOT_STIRRED:
        raise HeatError("churn-not-stirred", name=kind if kind in NOT_STIRRED else question.mix.style)
    own = {key: value for key, value in of.items() if value is not None and key not in ("kind", "bowl_l")}
    strange = sorted(own.keys() - {"factor", *constants_of(kind)})
    if strange:
        raise HeatError("constant-not-of-kind", key=strange[0], kind=kind, known=", ".join(constants_of(kind)))
    told = {key: question.of[key] for key in ("precool_min", "draw_ice_g", "max_min") if question.of[key] is not None}
    return churner(kind, of["bowl_l"], **own, **told)


def _churn(question: Question) -> dict[str, Any]:
    _, table = _asked_mix(question)
    of, machine = question.of, _machine_of(question)
    conditions = _conditions(of, machine)
    run = churn(table, of["mass_g"], machine, conditions)
    gel = {"gel_frozen_pct": run.begins_frozen_pct, "gel_left_pct": run.left_frozen_pct}
    return {
        "drawn": run.drawn,
        "minutes": run.minutes if run.drawn else None,
        "t_c": run.t_c,
        "ice_g": run.ice_g,
        "frozen_pct": run.frozen_pct,
        "wall_c": run.wall_c,
        **{key: value for key, value in gel.items() if not isnan(value)},
        "said": say_churned(run, conditions, None if run.drawn else remedies(table, of["mass_g"], machine, conditions)),
        "cautions": mind_churning(table, of["mass_g"], machine, conditions, run),
    }


def _conditions(of: Mapping[str, Any], machine: Churner) -> Conditions:
    bath = _ice_bath(of["bath"]) if of["bath"] else None
    if machine.kind in ("ice-and-salt", "bag") and bath is None:
        raise HeatError("ask-key-missing", key="bath")
    told = {key: of[key] for key in ("start_c", "room_c", "freezer_c", "prefreeze_h", "gel_frozen_pct", "draw_c")}
    return Conditions(bath=bath, **told)


def _watch(question: Question) -> dict[str, Any]:
    _, table = _asked_mix(question)
    of, machine = question.of, _machine_of(question)
    expected = expect(table, of["mass_g"], machine, _conditions(of, machine), Tuning().sd)
    found = watch(table, expected, of["readings"])
    minutes = {"low": found.earliest_min, "mid": found.left_min, "high": found.latest_min}
    return {
        "can_tell": found.can_tell,
        "minutes_left": minutes if found.can_tell and found.left_min is not None else None,
        "will_stall": found.stalls_c is not None,
        "stalls_at_c": found.stalls_c,
        "said": say_watched(found, machine.kind) if found.can_tell else say_untold(found),
    }


def _vessel(of: Mapping[str, Any]) -> Vessel:
    sizes = ("shape", "height_mm", "diameter_mm", "length_mm", "width_mm")
    walls = ("lid", "wall_kg", "wall_kj_kgk", "wall_start_c")
    wall = of["wall"] or ("steel" if of["place"] in _IN_BRINE else "plastic")
    return vessel(**{key: of[key] for key in (*sizes, *walls)}, wall=wall)


def _tub_place(of: Mapping[str, Any]) -> Place:
    known = PLACES.get(of["place"] or "")
    air_c = of["air_c"] if of["air_c"] is not None else known.air_c if known else None
    if air_c is None:
        raise HeatError("ask-key-missing", key="place")
    h = of["h_w_m2k"] if of["h_w_m2k"] is not None else known.h_w_m2k if known else None
    if h is None and None in (of["r_top_m2k_w"], of["r_side_m2k_w"], of["r_bottom_m2k_w"]):
        raise HeatError("ask-key-missing", key="h_w_m2k")
    name = known.name if known and of["air_c"] is None else str(Message("place-at", {"t_c": air_c}))
    return Place(name, air_c, h or 1.0)


def _faces(of: Mapping[str, Any], vessel: Vessel, place: Place) -> Faces:
    usual = vessel.faces(place.h_w_m2k)
    own = {key: of[f"r_{key}_m2k_w"] for key in ("top", "side", "bottom")}
    return Faces(**{key: getattr(usual, key) if value is None else value for key, value in own.items()})


def _tub(question: Question) -> dict[str, Any]:
    mix, _ = _asked_mix(question)
    of, filling = question.of, filling_of(mix)
    tub, place = _vessel(of), _tub_place(of)
    if of["place"] == "brine" and of["bath"] is None:
        raise HeatError("ask-key-missing", key="bath")
    bath = _ice_bath(of["bath"]) if of["bath"] and of["place"] == "brine" else None
    if bath is not None:
        place = Place(place.name, bath.state().t_c, place.h_w_m2k)
    start_c = emptied(filling, tub, of["start_c"], of["emptying_min"], of["emptying_room_c"])
    hours = max(of["hours"], max(of["minutes"], default=0.0) / 60)
    run = follow(filling, tub, place, start_c, hours, _faces(of, tub, place), bath)
    minutes = list(of["minutes"]) or np.linspace(0.0, 60 * hours, _TUB_SEEN).tolist()
    melted = melted_pct(filling.mix, of["start_c"], start_c)
    minded = mind_vessel(filling, tub, start_c)
    if of["emptying_min"] > 0:
        minded.append(Message("emptied", {"minutes": of["emptying_min"], "melted_pct": melted}))
    return {
        "minutes": minutes,
        "core_c": run.at(minutes, run.core_c),
        "rim_c": run.at(minutes, run.rim_c),
        "mean_firmness": run.at(minutes, run.mean_firmness),
        "when": {
            "core_at_target": run.core_reaches(of["target_core_c"]),
            "mean_scoops": run.scoops_from,
            "rim_soft": run.rim_soft,
            "rim_melts": run.rim_melts,
        },
        "emptying_melted_pct": melted,
        "wall_melted_pct": wall_melts_pct(filling, tub, start_c),
        "said": say_tub(run, place, of["target_core_c"]),
        "cautions": minded,
    }


def _pot_place(of: Mapping[str, Any]) -> tuple[str, float | IceBath]:
    """Return the place of a pot, ``own`` where it is none of the usual ones, and what surrounds it."""
    if of["place"] is None and (of["ua_w_k"] is None or (of["air_c"] is None and of["bath"] is None)):
        raise HeatError("ask-key-missing", key="place")
    place = of["place"] or "own"
    if of["bath"] is not None:
        return place, _ice_bath(of["bath"])
    if place == "salt-bath":
        raise HeatError("ask-key-missing", key="bath")
    return place, POTS[place][1] if of["air_c"] is None else of["air_c"]


def _pot(question: Question) -> dict[str, Any]:
    assert question.mix is not None
    of, table = question.of, thermal(question.mix.row(), 0.0)
    place, around = _pot_place(of)
    start_c = of["start_c"]
    if of["cold"]:
        if of["cold"]["mass_g"] >= of["mass_g"]:
            raise HeatError("cold-part-too-large", cold_g=of["cold"]["mass_g"], mass_g=of["mass_g"])
        parts = ((of["mass_g"] - of["cold"]["mass_g"], start_c), (of["cold"]["mass_g"], of["cold"]["c"]))
        start_c = mixed_c(table, parts)
    ua = of["ua_w_k"] or conductance_w_k(
        table, of["mass_g"], place, of["diameter_mm"], of["stirred"], of["stir_every_min"]
    )
    run = cool(table, of["mass_g"], start_c, ua, around)
    worth = {region: _credit(of["before"], run, region, bool(of["cold"])) for region in HOLDS}
    minded = mind_cooling(run, place, bool(of["cold"]))
    if any(worth.values()):
        minded.append(Message("mind-credit"))
    return {
        "start_c": start_c,
        **dict(zip(("to_57_min", "to_21_min", "to_5_min"), run.reached_min, strict=True)),
        "two_stage_ok": run.two_stage_ok,
        "coldest_c": run.coldest_c,
        "credit": worth,
        "said": say_cooling(run, place),
        "cautions": minded,
    }


def _credit(before: Sequence[tuple[float, float]], run: Cooling, region: str, held_back: bool) -> float:
    return credit(before, region) + (0.0 if held_back else credit(run.seen, region))


def _reduce(question: Question) -> dict[str, Any]:
    assert question.mix is not None
    of, row = question.of, question.mix.row()
    aims = {key: of[key] for key in ("to_g", "to_c", "to_depth_mm", "diameter_mm")}
    to_g = target_g(row, of["mass_g"], **aims)
    watts = of["watts"] * (of["efficiency"] or HOBS[of["hob"] or "gas"])
    found = reduce(row, of["mass_g"], to_g, of["start_c"], watts, of["diameter_mm"])
    depths = {"depth_from_mm": found.depth_from_mm, "depth_to_mm": found.depth_to_mm}
    microwave = of["hob"] == "microwave"
    return {
        "minutes": found.minutes,
        "boil_after_min": found.boil_after_min,
        "watch_from_min": found.watch_from_min,
        "g_per_min": found.g_per_min,
        "to_g": to_g,
        "pot_reads_g": to_g + of["tare_g"],
        "boils_at_c": found.boils_at_c,
        "ends_at_c": found.ends_at_c if found.ends_at_c <= HOTTEST_C else None,
        "end_solids_pct": found.end_solids_pct,
        **{key: value for key, value in depths.items() if value is not None},
        **({"intervals_s": microwave_intervals_s(found.minutes)} if microwave else {}),
        "said": say_reduction(found, of["tare_g"]),
        "cautions": mind_reduction(found, row, microwave=microwave),
    }


_ANSWERS: Final[Mapping[str, Callable[[Question], dict[str, Any]]]] = {
    "enthalpy": _enthalpy,
    "churn": _churn,
    "watch": _watch,
    "bath": _bath,
    "ice": _ice,
    "tub": _tub,
    "pot": _pot,
    "reduce": _reduce,
    "shock": _shock,
}
