"""What a one-press job is asked for, and what the requests of all jobs have in common."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from jalebi_core.advice.additions import MOST_SHARE_PCT, ingredients_to_try, restrictions_in
from jalebi_core.balance.pulls import GOVERNED, HELD, bound, centred, half_step, held
from jalebi_core.balance.quantities import FLAVOUR, quantity_of
from jalebi_core.balance.request import Aim, BalanceRequest, Limits
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import fat, msnf, protein, total_solids
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.sweetness import sweetness_pod

_BIG: Final = 0.2
_A_LITTLE: Final = 0.1
_MOST_MSNF: Final = 11.5
_SOUR_PCT: Final = 2.5

_FIGURES: Final = {"fat": fat, "total_solids": total_solids, "sweetness": sweetness_pod, "protein": protein}

_STAYS: Final = frozenset(
    ("flavour", "infusion", "mineral", "acid", "spirit", "cocoa", "nut", "egg", "sweetener", "mix-in")
)
"""Kinds that carry taste or custom: a job leaves them as they are."""


_TASTED: Final = frozenset(("honey", "molasses", "muscovado"))
"""Sweeteners that are there for their taste."""


@dataclass(frozen=True, slots=True)
class JobContext:
    """What a job is asked for: the mix, the freezer, the shelf, and its line, ingredients or grams where it needs them.

    ``stock_g`` is what is in the house, by slug; ``wanted`` are those that a kitchen lets come in, by slug, the common
    ones where it names none; ``like`` is the mix that the first press began with.
    """

    mix: Mix
    freezer_c: float
    shelf: Mapping[str, Ingredient]
    restrictions: Sequence[str] = ()
    line: int | None = None
    ingredient: Ingredient | None = None
    grams: float | None = None
    stock_g: Mapping[str, float] | None = None
    wanted: Sequence[str] = ()
    like: Mix | None = None
    fine_scale_g: float = 0.01

    @property
    def anchor(self) -> Mix:
        """The mix that is to eat the same: the one that the first of several presses began with."""
        return self.like or self.mix

    def the_line(self) -> int:
        if (
            self.line is None
            or not 0 <= self.line < len(self.mix.lines)
            or self.mix.lines[self.line].stage in MIX_IN_STAGES
        ):
            raise BalanceError("line-missing")
        return self.line

    def common(self) -> tuple[Ingredient, ...]:
        """Return the common ingredients that may come in: none that offends, brings an allergen or alcohol anew.

        Water never comes in, nor inulin into milk: nobody stretches a mix with them.
        """
        usual = [slug for slug in MOST_SHARE_PCT if slug not in _NOT_IN_JOBS]
        wanted = self.wanted or [*usual, *_OF_STYLE.get(self.mix.style or "", ())]
        slugs = ingredients_to_try(self.mix, self.shelf, restrictions_in(self.mix, self.restrictions), wanted)
        here = {line.ingredient.slug for line in self.mix.lines}
        milky = any("milk" in line.ingredient.allergens for line in self.mix.base)
        left_out = here | {"water", *(("inulin",) if milky and self.mix.style != "low-sugar" else ())}
        return tuple(self.shelf[slug] for slug in slugs if slug not in left_out)


_OF_STYLE: Final = {
    "low-sugar": ("xylitol", "allulose", "maltitol", "inulin", "glycerol"),
    "dairy-free": ("coconut-oil",),
}
"""What may come in beside the common ingredients, as the style is built of it."""

_NOT_IN_JOBS: Final = frozenset(("neutral-spirit-40", "guar-gum", "locust-bean-gum", "glycerol"))


def figure(mix: Mix, of: str) -> float:
    """Return what a job's aim is now."""
    if of == "scoop_c":
        return quantity_of(of, None, mix, ()).of_mix(mix)
    return float(_FIGURES[of](mix.row()))


def as_now(mix: Mix, *keys: str) -> tuple[Aim, ...]:
    """Return aims that keep figures as they are, as far as nobody would notice."""
    found = ((key, figure(mix, key)) for key in keys)
    return tuple(Aim(key, value - half_step(key, value), value + half_step(key, value)) for key, value in found)


def pins_of_taste(mix: Mix, *moving: int) -> dict[int, Limits]:
    """Return limits for the lines that a job leaves as they are; big ones that carry flavour may move by a tenth."""
    return {
        number: _little(line.grams) if line.grams > _BIG * mix.mass_g else Limits.pinned(line.grams, by_rule=True)
        for number, line in enumerate(mix.lines)
        if number not in moving and line.stage not in MIX_IN_STAGES and _stays(line)
    }


_BRINGS_PCT: Final = 10.0


def alone(context: JobContext, aims: tuple[Aim, ...]) -> BalanceRequest:
    """Return a request for these aims under which the rest of the mix eats as it does, as far as anyone notices."""
    governed = {key for aim in aims for key in (aim.of, *GOVERNED.get(aim.of, ()))}
    kept = as_now(context.anchor, *(key for key in HELD if key not in governed))
    brought = [quantity_of(aim.of, aim.at_c, context.mix, ()).brought_by(context.mix) for aim in aims]
    moving = (number for number in range(len(context.mix.lines)) if any(one[number] >= _BRINGS_PCT for one in brought))
    limits = {**pins_of_taste(context.mix, *moving), **unasked(context.mix, aims)}
    request = BalanceRequest(context.mix, (*aims, *kept), limits, may_add=context.common())
    return held(replace(request, pulls=centred(kept, context.mix)), context.anchor)


def unasked(mix: Mix, aims: Sequence[Aim]) -> dict[int, Limits]:
    """Return pins for what is dosed or tasted, which nobody means to move unless it is aimed at."""
    return {
        number: Limits.pinned(line.grams, by_rule=True)
        for number, line in enumerate(mix.lines)
        if line.stage not in MIX_IN_STAGES and all(is_dosed(line, aim.of) for aim in aims)
    }


def is_dosed(line: Line, of: str) -> bool:
    """Tell whether a line is a gum, salt, flavour, egg, sour juice or the like, and an aim is about something else."""
    ingredient = line.ingredient
    if of.removeprefix(FLAVOUR) in (ingredient.slug, ingredient.name):
        return False
    if ingredient.kind in _DOSED_FOR:
        return of not in _DOSED_FOR[ingredient.kind]
    return _is_sour(ingredient) and of != "acids"


_DOSED_FOR: Final[Mapping[str, tuple[str, ...]]] = {
    "gum": ("hydrocolloids", "emulsifiers"),
    "starch": ("starch",),
    "mineral": ("sodium_chloride",),
    "acid": ("acids",),
    "flavour": (),
    "infusion": (),
    "sweetener": (),
    "spirit": ("ethanol", "stratum-spirit"),
    "egg": ("yolk_solids", "stratum-egg"),
    "cocoa": ("stratum-other",),
    "nut": ("stratum-other",),
}
"""Kinds that are dosed or that a mix is named after, and what is aimed at for whose sake they move."""


def _is_sour(ingredient: Ingredient) -> bool:
    return float(ingredient.row[INDEX["acids"]]) >= _SOUR_PCT


def _little(grams: float) -> Limits:
    return Limits((1 - _A_LITTLE) * grams, (1 + _A_LITTLE) * grams, by_rule=True)


def _stays(line: Line) -> bool:
    if not line.ingredient.slug or line.ingredient.kind in _STAYS or line.ingredient.slug in _TASTED:
        return True
    facts = line.ingredient.facts
    return _is_sour(line.ingredient) or bool(facts.strength_g_kg or facts.flavourings or facts.dose_pct)


def request_for(
    mix: Mix,
    aims: tuple[Aim, ...],
    same: tuple[Aim, ...],
    context: JobContext,
    limits: Mapping[int, Limits] | None = None,
    bounds: tuple[Aim, ...] = (),
) -> BalanceRequest:
    """Return a request for aims while other figures stay the same, held to their middle, and some within bounds.

    It guards against sand too: no more milk solids than the style has, or than there are now.
    """
    has = float(msnf(mix.row()))
    most = max(has, mix.bands.get("msnf", (0.0, _MOST_MSNF))[1])
    guards = (*bounds, Aim("msnf", high=most)) if has > 0 else bounds
    kept = pins_of_taste(mix) if limits is None else limits
    pulls = (*centred(same, mix), *(bound(aim) for aim in guards))
    request = BalanceRequest(mix, (*aims, *same), kept, may_add=context.common(), pulls=pulls)
    return held(request, context.anchor, [aim.of for aim in same])


def numbers_of(mix: Mix) -> list[int]:
    return [number for number, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES]
