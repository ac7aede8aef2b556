"""What is said of a run, a tub and a pot: one plain sentence each, and what to mind."""

from __future__ import annotations

from collections.abc import Sequence
from math import isnan
from typing import Final

import numpy as np

from jalebi_core.heat.churn import Churned, Churner, Conditions, fill_of
from jalebi_core.heat.enthalpy import Thermal
from jalebi_core.heat.ice_bath import IceBath
from jalebi_core.heat.pot import STAGES_C, Cooling
from jalebi_core.heat.probe_log import CoolingClock
from jalebi_core.heat.reduction import Reduction, microwave_intervals_s
from jalebi_core.heat.remedies import Remedy
from jalebi_core.heat.tub import Filling, Place, TubRun, Vessel, wall_melts_pct
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.physics.boiling import HOTTEST_C
from jalebi_core.wording.message import Message

GLOVES_BELOW_C: Final = -15.0
_FRACTIONS: Final = (
    (4.0, "hardly any"),
    (15.0, "a tenth"),
    (22.0, "a fifth"),
    (29.0, "a quarter"),
    (41.0, "a third"),
    (58.0, "half"),
    (71.0, "two thirds"),
    (83.0, "three quarters"),
)
_BLADE_STANDS_G: Final = 40.0
_SOON_TOO_HARD_K: Final = 1.0
_SPENT_PCT: Final = 1.0
_AT_ONCE_MIN: Final = 0.01
_QUICK_MIN: Final = 4.0
_LONG_MIN: Final = 120.0
_MINUTES_FROM: Final = 2.0
_SOME_ALCOHOL_G: Final = 0.5
_SHOCKS: Final = ((10.0, "shock-hardly"), (20.0, "shock-some"), (40.0, "shock-coarser"), (80.0, "shock-icy"))
"""What melted ice does once it has frozen again on what was left, by the % of it; working conventions."""


def say_churned(run: Churned, conditions: Conditions, found: Sequence[Remedy] | None = None) -> Message:
    """Say how a run ends that began so, and where it stalls what would help, if that was looked for."""
    at = {"minutes": run.minutes, "t_c": run.t_c, "frozen_pct": run.frozen_pct}
    if run.drawn and run.minutes < _AT_ONCE_MIN:
        return Message("churn-at-once", at)
    if run.drawn:
        if isnan(run.left_frozen_pct):
            return Message("churn-drawn", at)
        return Message("churn-drawn-cold-left", {**at, "left": fraction(run.left_frozen_pct)})
    stalls = Message("churn-stalls", {**at, "why": _why(run, conditions.bath)})
    if found is None:
        return stalls
    return Message("churn-stalls-help", {"stalls": stalls, "help": say_remedies(found)})


def say_remedies(found: Sequence[Remedy]) -> Message:
    """Say the first one or two changes that would help."""
    if not found:
        return Message("help-none")
    first = Message(f"help-{found[0].kind}", _facts(found[0]))
    if len(found) == 1:
        return Message("help-one", {"first": first})
    return Message("help-two", {"first": first, "second": Message(f"then-{found[1].kind}", _facts(found[1]))})


def why_churned(run: Churned, start_c: float) -> Message:
    """Say what a run's forecast rests on: the heat that has to go."""
    said = {"start_c": start_c, "t_c": run.t_c, "given_kj": run.given_kj, "brought_kj": run.brought_kj}
    return Message("churn-why", said)


def say_remedy(remedy: Remedy) -> Message:
    """Say one change that would help, as a command."""
    return Message(f"help-{remedy.kind}", _facts(remedy))


def _facts(remedy: Remedy) -> dict[str, object]:
    ice = {"ice_g": _weighed(remedy.ice.ice_g), "salt_g": _weighed(remedy.ice.salt_g)} if remedy.ice else {}
    return {"hours": remedy.to, "grams": remedy.to, "t_c": remedy.to, "runs": round(remedy.to), **ice}


def _weighed(grams: float) -> float:
    """Return ice or salt as somebody weighs it who is in a hurry."""
    return round(grams, -1)


def _why(run: Churned, bath: IceBath | None) -> Message:
    if bath is not None:
        return Message("why-bath-warm" if bath.heated(run.taken_kj).takes_kj > 0 else "why-ice-melted")
    if not isnan(run.begins_frozen_pct):
        if run.begins_frozen_pct <= _SPENT_PCT:
            return Message("why-never-frozen")
        if run.left_frozen_pct <= _SPENT_PCT:
            return Message("why-spent")
    slow = run.seen[-1][1] < run.seen[max(0, len(run.seen) - 3)][1] - 0.01
    return Message("why-slow", {"minutes": run.minutes}) if slow else Message("why-soft")


def fraction(pct: float) -> str:
    """Return a share in words."""
    return next((words for below, words in _FRACTIONS if pct < below), "most")


def mind_churning(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions, run: Churned) -> list[Message]:
    """Say what to mind of a run."""
    minded = []
    fill = fill_of(mix, mass_g, machine)
    if fill > 1:
        minded.append(Message("mind-overfull", {"fill_pct": 100 * fill}))
    stands_c = float(np.interp(_BLADE_STANDS_G, mix.ice_g[::-1], mix.t_c[::-1]))
    if run.drawn and run.t_c - stands_c < _SOON_TOO_HARD_K and float(mix.ice_g.max()) > _BLADE_STANDS_G:
        minded.append(Message("mind-stop-at-once", {"apart_c": run.t_c - stands_c}))
    if run.drawn and run.minutes < _QUICK_MIN:
        minded.append(Message("mind-first-minutes"))
    if conditions.bath is not None:
        minded += mind_bath(conditions.bath)
    return minded


def say_bath(bath: IceBath) -> Message:
    """Say how cold a bath is and how much it takes up."""
    state = bath.state()
    if bath.takes_kj <= 0:
        return Message("bath-spent", {"t_c": state.t_c})
    return Message("bath-takes", {"t_c": state.t_c, "takes_kj": bath.takes_kj, "ends_at_c": bath.ends_at_c})


def mind_bath(bath: IceBath) -> list[Message]:
    """Say what to mind of a bath: cold skin, brine in the food, and salt that is wasted."""
    minded = []
    if bath.salt_kg > 0 and bath.state().t_c < GLOVES_BELOW_C:
        minded.append(Message("mind-salt-ice"))
    if bath.salt_kg > 0:
        minded.append(Message("mind-brine"))
    wasted = 1000 * (bath.salt_kg - bath.dissolves_kg)
    if wasted >= 1:
        minded.append(Message("salt-wasted", {"salt_g": wasted}))
    return minded


def say_shock(from_c: float, to_c: float, melted_pct: float) -> Message:
    """Say what a thaw and a refreeze do."""
    return Message("shock", {"from_c": from_c, "to_c": to_c, "melted_pct": melted_pct, "what": _what(melted_pct)})


def say_melted(melted_pct: float) -> Message:
    """Say what the ice of a rim that melted does to it once it freezes again."""
    return Message("rim-melted", {"melted_pct": melted_pct, "what": _what(melted_pct)})


def _what(melted_pct: float) -> Message:
    return Message(next((code for most, code in _SHOCKS if melted_pct <= most), "shock-beyond"))


def mind_shock(melted_pct: float) -> list[Message]:
    """Say what must not be done with what has melted."""
    return [Message("mind-melted")] if melted_pct > _SHOCKS[-1][0] else []


def say_tub(run: TubRun, place: Place, target_c: float) -> Message:
    """Say of a tub in the cold when its core has a temperature, and of one in the warm from when to when it scoops."""
    where = {"place": place.name, "air_c": place.air_c, "hours": float(run.minutes[-1]) / 60}
    if place.air_c < float(run.core_c[0]):
        return _say_hardening(run, where, target_c)
    begins, ends, rim = run.scoops_from, run.scoops_to, run.rim_soft
    if begins is None:
        return Message("tub-never-scoops", {**where, "firmness": float(run.mean_firmness[-1])})
    if begins == 0:
        return (
            Message("tub-scoops-stays", where) if rim is None else Message("tub-scoops-now", {**where, "rim_min": rim})
        )
    said = {**where, "from_min": begins, "to_min": ends, "rim_min": rim}
    if rim is not None and rim >= begins:
        return Message("tub-scoops-rim", said)
    return Message("tub-scoops", said)


def _say_hardening(run: TubRun, where: dict[str, object], target_c: float) -> Message:
    minute = run.core_reaches(target_c)
    if minute is not None:
        return Message("tub-hard", {**where, "t_c": target_c, "time": say_time(minute)})
    if isinstance(air_c := where["air_c"], float) and air_c >= target_c:
        return Message("tub-never-hard", {**where, "t_c": target_c})
    return Message("tub-not-yet", {**where, "core_c": float(run.core_c[-1])})


def say_time(minutes: float) -> Message:
    """Say how long something takes, in minutes or from two hours on in hours."""
    if minutes < _LONG_MIN:
        return Message("minutes", {"minutes": minutes})
    return Message("hours", {"hours": minutes / 60})


def mind_vessel(filling: Filling, vessel: Vessel, start_c: float) -> list[Message]:
    """Say what a dish does to the rim where it is warmer or colder than what goes in."""
    melts = wall_melts_pct(filling, vessel, start_c)
    if melts >= 0.5:
        return [Message("wall-melts", {"melted_pct": melts})]
    return [Message("wall-freezes")] if melts <= -0.5 else []


def say_cooling(run: Cooling, place: str) -> Message:
    """Say how long a pot takes to be cold."""
    to_c = STAGES_C[-1]
    where = Message(f"pot-in-{place}")
    if run.start_c <= to_c:
        return Message("pot-cold", {"start_c": run.start_c})
    cold = run.reached_min[-1]
    if cold is None:
        return Message("pot-never", {"to_c": to_c, "place": where, "coldest_c": run.coldest_c})
    return Message("pot-cools", {"start_c": run.start_c, "to_c": to_c, "time": say_time(cold), "place": where})


def mind_cooling(run: Cooling, place: str, held_back: bool) -> list[Message]:
    """Say what to mind of a pot that cools."""
    minded = []
    if run.start_c > STAGES_C[-1] and not run.two_stage_ok:
        minded.append(Message("mind-too-slow" if run.start_c >= STAGES_C[0] else "mind-stays-warm"))
    if place == "fridge" and run.start_c > STAGES_C[1]:
        minded.append(Message("mind-hot-into-fridge"))
    if held_back:
        minded.append(Message("mind-cream-cold"))
    return minded


def say_reduction(found: Reduction, tare_g: float) -> Message:
    """Say how long a reduction takes and what the scale reads then."""
    said = {
        "boil_min": found.boil_after_min,
        "minutes": found.minutes,
        "to_g": found.to_g,
        "reads_g": found.to_g + tare_g,
        "watch_min": found.watch_from_min,
    }
    return Message("reduced-to-with-pot" if tare_g > 0 else "reduced-to", said)


def mind_reduction(found: Reduction, row: FloatArray, *, microwave: bool) -> list[Message]:
    """Say what to mind as a row is boiled down."""
    minded = [Message("mind-loses", {"lost_pct": found.lost_pct_per_min})]
    if found.scorches:
        minded.append(Message("mind-scorches"))
    if found.ends_at_c > HOTTEST_C:
        minded.append(Message("mind-sugar-work", {"hottest_c": HOTTEST_C}))
    if row[INDEX["ethanol"]] > _SOME_ALCOHOL_G:
        minded.append(Message("mind-alcohol-boils"))
    if microwave:
        minded.append(Message("mind-intervals", {"seconds": microwave_intervals_s(found.minutes)}))
    return minded


def say_pot(
    now_c: float, goes_on_c: float | None, low: float | None, high: float | None, hold_min: float | None, *, cooks: bool
) -> Message | None:
    """Say of a pot that it is hot enough, and of one that is cooked to a point when to take it off; None before that.

    Parameters
    ----------
    hold_min : how long it has to stay so
    cooks : it has to stay below ``high``, and is taken off before it is there, because it goes on by itself
    """
    if cooks and high is not None and now_c > high:
        return Message("pot-too-hot", {"t_c": high})
    if low is not None and now_c >= low:
        if hold_min is None:
            return Message("pot-there", {"t_c": now_c})
        seconds = Message("seconds", {"seconds": 60 * hold_min})
        time = Message("minutes", {"minutes": hold_min}) if hold_min >= _MINUTES_FROM else seconds
        return Message("pot-there-hold", {"t_c": now_c, "time": time})
    if not cooks or goes_on_c is None or low is None:
        return None
    return Message("pot-off-now" if goes_on_c >= low else "pot-goes-on", {"t_c": goes_on_c, "low": low})


def say_cooling_now(clock: CoolingClock, now_min: float) -> tuple[Message | None, Message | None]:
    """Say when a pot passes the next stage, and that it is too slow where it is."""
    _, warm, cold = clock.passes_min
    alarm = Message("cooling-late") if clock.is_late else None
    if clock.reached[2]:
        return Message("cooling-done", {"t_c": STAGES_C[2]}), alarm
    stage, at = (STAGES_C[2], cold) if clock.reached[1] else (STAGES_C[1], warm)
    return None if at is None else Message("cooling-passes", {"t_c": stage, "minutes": max(at - now_min, 0.0)}), alarm


def say_quiet(minutes: float) -> Message:
    """Say that an instrument has logged nothing for a while."""
    return Message("log-quiet", {"minutes": minutes})


def say_warm_freezer(minutes: float) -> Message:
    """Say that a freezer is too warm, and what is to be done with what is in it."""
    return Message("freezer-warm", {"minutes": minutes})
