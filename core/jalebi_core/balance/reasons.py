"""Reasons: why an aim cannot be met, and which single relaxations would do it, each proved by solving again."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.balance.ceilings import usual_most_pct
from jalebi_core.balance.job_context import is_dosed
from jalebi_core.balance.programme import Problem, tangent_of
from jalebi_core.balance.pulls import BOUND
from jalebi_core.balance.quantities import FREE_GLUCOSE, Quantity
from jalebi_core.balance.request import Aim, BalanceRequest, Limits
from jalebi_core.balance.solving import Balanced, solved
from jalebi_core.balance.watching import Watch, unwatched
from jalebi_core.model.components import FloatArray
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import STAGES
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_MOST_HELP: Final = 4
_AT_LIMIT_G: Final = 0.05
_NO_WORSE: Final = 0.02
_AT_EDGE: Final = 0.05
_MOST_BOUNDS: Final = 2
_MOST_REASONS: Final = 3
_BY_RULE: Final = Limits(by_rule=True)


@dataclass(frozen=True, slots=True)
class Relaxation:
    """One thing to let go. ``kind`` is unpin, allow, drop or widen; ``what`` a line's number, ingredients or an aim."""

    kind: str
    what: str
    message: Message


@dataclass(frozen=True, slots=True)
class Unmet:
    """An aim that is not met: the nearest value that was reached, why, and what would do it."""

    aim: Aim
    nearest: float
    because: Message
    would_help: tuple[Relaxation, ...]


def reasons_for(found: Balanced, common: Mapping[str, Ingredient], watch: Watch = unwatched) -> tuple[Unmet, ...]:
    """Return the unmet aims of a balance with their reasons.

    Parameters
    ----------
    common : ingredients that might come in and are not in the request, by slug
    """
    return tuple(_unmet(found, index, common, watch) for index, is_fine in enumerate(found.met) if not is_fine)


def _unmet(found: Balanced, index: int, common: Mapping[str, Ingredient], watch: Watch) -> Unmet:
    aim, quantity = found.problem.request.aims[index], found.problem.quantities[index]
    nearest = float(found.after[index])
    helps: list[Relaxation] = []
    pulling: list[str] = []
    for relaxation, request in _relaxed(found, index, common):
        watch(1.0, lambda: found)
        if relaxation.kind in {one.kind for one in helps} and relaxation.kind != "unpin":
            continue
        grams = _proved(found, request, index, relaxation)
        if grams is not None and not _beyond_dose(found, relaxation, grams):
            helps.append(_with_amount(found, relaxation, grams))
            pulling += [relaxation.what] * (relaxation.kind == "drop")
        if len(helps) == _MOST_HELP:
            break
    helps.append(Relaxation("widen", aim.of, _widening(quantity, nearest, "most" if nearest > aim.high else "least")))
    return Unmet(aim, nearest, _because(found, index, pulling), tuple(helps))


def _beyond_dose(found: Balanced, relaxation: Relaxation, grams: FloatArray) -> bool:
    """Tell whether a line would hold more than anybody takes of it."""
    if relaxation.kind != "unpin":
        return False
    problem = found.problem
    column = problem.numbers.index(int(relaxation.what))
    ingredient = problem.request.mix.lines[int(relaxation.what)].ingredient
    most = usual_most_pct(ingredient) / 100 * problem.mass_g
    return bool(grams[column] > max(most, problem.now[column]) + _AT_LIMIT_G)


def _with_amount(found: Balanced, relaxation: Relaxation, grams: FloatArray) -> Relaxation:
    """Return a relaxation that says to how many g the line would go."""
    if relaxation.kind != "unpin":
        return relaxation
    amount = grams[found.problem.numbers.index(int(relaxation.what))]
    said = {**relaxation.message.facts, "grams": float(amount), "whole_g": found.problem.mass_g}
    return replace(relaxation, message=Message(f"{relaxation.message.code}-to", said))


def _widening(quantity: Quantity, nearest: float, end: str) -> Message:
    name = in_sentence(quantity.name)
    if quantity.unit == "°C":
        return Message(f"help-widen-{end}-c", {"nearest": nearest, "name": name})
    return Message(f"help-widen-{end}", {"nearest": _shown(quantity, nearest), "unit": _unit(quantity), "name": name})


def _proved(found: Balanced, request: BalanceRequest, index: int, relaxation: Relaxation) -> FloatArray | None:
    """Solve with one thing let go; return the amounts where the aim is met then and no other is missed by more."""
    result = solved(request)
    if result is None:
        return None
    problem, grams = result
    met = problem.met_by(problem.values(grams))
    misses = problem.misses(grams)[: problem.aims]
    before = found.problem.missed_by(found.after)
    if relaxation.kind == "drop":
        kept = [at for at, aim in enumerate(found.problem.request.aims) if aim.of != relaxation.what or at == index]
        position = kept.index(index)
        others = [at for at in kept if at != index]
        now = np.delete(misses, position)
    else:
        position, others = index, [at for at in range(len(before)) if at != index]
        now = np.delete(misses, index)
    good = bool(met[position]) and bool((now <= before[others] + _NO_WORSE).all())
    return grams if good else None


def _relaxed(
    found: Balanced, index: int, common: Mapping[str, Ingredient]
) -> Iterator[tuple[Relaxation, BalanceRequest]]:
    """Yield requests with one thing let go: limits of a line first, then other aims, then what may come in."""
    request, problem = found.asked, found.problem
    slopes = tangent_of(problem, found.grams).slopes[index]
    wanted = slopes if found.after[index] < request.aims[index].low else -slopes
    for column in np.argsort(-np.abs(wanted[: problem.lines]), kind="stable"):
        number = problem.numbers[int(column)]
        limits = request.limits.get(number, _BY_RULE)
        if limits.by_rule or is_dosed(request.mix.lines[number], request.aims[index].of):
            continue
        if _binds(limits, float(found.grams[column]), float(wanted[column])):
            name = _name_of(request.mix, number)
            message = Message("help-unpin" if limits.is_pin else "help-room", {"name": name})
            freed = {at: one for at, one in request.limits.items() if at != number}
            yield Relaxation("unpin", str(number), message), replace(request, limits=freed)
    for other in request.aims:
        if other is not request.aims[index] and other.of != request.aims[index].of:
            name = in_sentence(request.quantity(other).name)
            kept = tuple(aim for aim in request.aims if aim.of != other.of)
            yield Relaxation("drop", other.of, Message("help-drop", {"name": name})), replace(request, aims=kept)
    for slug, ingredient in common.items():
        wider = replace(request, may_add=(*request.may_add, ingredient), max_new=request.max_new + 1)
        yield Relaxation("allow", slug, Message("help-allow", {"name": in_sentence(ingredient.name)})), wider


def _name_of(mix: Mix, number: int) -> str:
    """Return a line's name, with its stage where another line has the same name."""
    line = mix.lines[number]
    name = line.ingredient.name
    twice = sum(other.ingredient.name == name for other in mix.lines) > 1
    return f"{name} ({STAGES[line.stage].lower()})" if twice and line.stage else name


def _binds(limits: Limits, grams: float, wanted: float) -> bool:
    """Tell whether limits keep a line from moving the way the aim wants it; a pin always does."""
    if limits.is_pin or limits.step_g is not None:
        return True
    return grams >= limits.high_g - _AT_LIMIT_G if wanted > 0 else grams <= limits.low_g + _AT_LIMIT_G


def _because(found: Balanced, index: int, pulling: Sequence[str]) -> Message:
    """Return what stands in the way: a line at its limit, what is bound, or another target, each proved."""
    request, problem = found.asked, found.problem
    aim, quantity = request.aims[index], problem.quantities[index]
    low = bool(found.after[index] < aim.low)
    reasons: list[Message] = []
    if (limited := _limited(found, index, rising=low)) is not None:
        reasons.append(limited)
    reasons += _of_bounds(found, index)
    if pulling:
        others = [
            in_sentence(request.quantity(next(one for one in request.aims if one.of == of)).name) for of in pulling
        ]
        reasons.append(Message("pull-against", {"name": in_sentence(quantity.name), "others": others}))
    said = {"cannot": _cannot(quantity, aim, low), "reasons": reasons[:_MOST_REASONS] or [Message("no-amounts-reach")]}
    return Message("unmet-because", said)


def _of_bounds(found: Balanced, index: int) -> list[Message]:
    """Return which bounds are in the way, or that more than a quarter of the mix would have to move."""
    request, problem = found.problem.request, found.problem
    edges = [request.goals[at] for at in np.flatnonzero(_at_their_edge(problem, found.grams))]
    alone = next((goal for goal in edges if _meets(_without(request, [goal]), index)), None)
    if alone is not None:
        return [_bound_message(found, alone)]
    moved = [Message("too-much-moves")] if request.most_moved is not None else []
    if moved and _meets(replace(request, most_moved=None), index):
        return moved
    if edges and _meets(replace(request, pulls=(), firm=(), most_moved=None), index):
        return [*(_bound_message(found, goal) for goal in edges[:_MOST_BOUNDS]), *moved]
    return []


def _without(request: BalanceRequest, goals: Sequence[Aim]) -> BalanceRequest:
    """Return a request with some of its bounds let go."""
    pulls, firm = (tuple(one for one in ones if one not in goals) for ones in (request.pulls, request.firm))
    return replace(request, pulls=pulls, firm=firm)


def _meets(request: BalanceRequest, index: int) -> bool:
    result = solved(request)
    return result is not None and bool(result[0].met_by(result[0].values(result[1]))[index])


def _at_their_edge(problem: Problem, grams: FloatArray) -> NDArray[np.bool_]:
    """Tell which goals are bounds that amounts lie at, shape (goals,)."""
    goals, values = problem.request.goals, problem.values(grams)
    scale = np.array([quantity.scale for quantity in problem.quantities])
    ends = np.array([[goal.low, goal.high] for goal in goals])
    near = (np.abs(ends - values[:, None]) < _AT_EDGE * scale[:, None]).any(axis=1)
    return np.asarray(near & np.array([goal.weight >= BOUND and goal.low < goal.high for goal in goals]))


def _bound_message(found: Balanced, goal: Aim) -> Message:
    problem = found.problem
    at = problem.request.goals.index(goal)
    quantity, value = problem.quantities[at], float(problem.values(found.grams)[at])
    if goal.of.startswith(FREE_GLUCOSE):
        return Message("bound-glucose")
    most = abs(value - goal.high) < abs(value - goal.low)
    end = goal.high if most else goal.low
    code = "bound-most" if most else "bound-least"
    if quantity.unit == "°C":
        return Message(f"{code}-c", {"name": in_sentence(quantity.name), "end_c": end})
    return Message(code, {"name": in_sentence(quantity.name), "end": _shown(quantity, end), "unit": _unit(quantity)})


def _shown(quantity: Quantity, value: float) -> float:
    """Return a value as it is shown: to its last digit, a tenth or a hundredth."""
    return round(value, 2 if quantity.shown_to < 0.1 else 1)


def _unit(quantity: Quantity) -> str:
    return f" {quantity.unit}" if quantity.unit else ""


def _cannot(quantity: Quantity, aim: Aim, low: bool) -> Message:
    code = "cannot-be-least" if low else "cannot-be-most"
    said = {"name": quantity.name, "end": _shown(quantity, aim.low if low else aim.high)}
    return Message(f"{code}-c", said) if quantity.unit == "°C" else Message(code, {**said, "unit": _unit(quantity)})


def _limited(found: Balanced, index: int, *, rising: bool) -> Message | None:
    """Return the limit of the line that would move the aim furthest the way it is wanted; None where it is at none.

    What counts is how strongly it works, and how much more of it a mix bears or how much of it could go; salt and gums
    are for no such thing.
    """
    problem = found.problem
    grams = found.grams[: problem.lines]
    slopes = tangent_of(problem, found.grams).slopes[index][: problem.lines]
    wanted = slopes if rising else -slopes
    lines = [problem.request.mix.lines[number] for number in problem.numbers]
    most = np.array([usual_most_pct(line.ingredient) for line in lines]) / 100 * problem.mass_g
    of = problem.request.aims[index].of
    serves = np.array([not is_dosed(line, of) for line in lines])
    room = np.maximum(np.where(wanted > 0, most - grams, grams), _AT_LIMIT_G)
    reach = np.abs(wanted) * room * serves
    column = int(np.argmax(reach))
    return _of_line(found, column, more=bool(wanted[column] > 0)) if reach[column] > 0 else None


def _of_line(found: Balanced, column: int, *, more: bool) -> Message | None:
    """Return the limit that keeps a line from becoming more or less; None where it is at none."""
    problem = found.problem
    number = problem.numbers[column]
    name = problem.request.mix.lines[number].ingredient.name
    grams, limits = float(found.grams[column]), found.asked.limits.get(number, Limits())
    if limits.is_pin and limits.by_rule:
        code = "pulls-stays" if limits.low_g > 0 else "pulls-out"
        return Message(code, {"name": name, "grams": limits.low_g})
    if limits.is_pin:
        return Message("pulls-pinned", {"name": name, "grams": limits.low_g})
    if not more:
        at_least = limits.low_g > 0 and grams <= limits.low_g + _AT_LIMIT_G
        return Message("pulls-at-least", {"name": name, "grams": limits.low_g}) if at_least else None
    if limits.high_g < inf and grams >= limits.high_g - _AT_LIMIT_G:
        return Message("pulls-at-most", {"name": name, "grams": limits.high_g})
    if grams >= problem.high[column] - _AT_LIMIT_G:
        return Message("pulls-at-taste", {"name": name, "grams": grams})
    return None
