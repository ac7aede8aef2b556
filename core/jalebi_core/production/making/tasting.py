"""Tasting the base: what of which would be noticed, for this batch, and what it does in the cold."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Final

from jalebi_core.advice.comparison import effects_of
from jalebi_core.assessment.flavour import flavourings_of
from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import noticeable
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.production.making.builder import step
from jalebi_core.production.making.steps import MakingStep, Reading, say
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_PINCH_SHARE: Final = 0.0005
_SHARP_G: Final = 1.0
_SALT_PCT: Final = 50.0
_BASES: Final = frozenset(("fruit", "dairy", "nut"))


def taste_step(mix: Mix, plan_step: str, part: str = "pot", name: str = "") -> MakingStep:
    """Return the tasting of a base, with doses for its size."""
    return step(
        "taste",
        name=name,
        part=part,
        plan=plan_step,
        do=[say("taste", "do"), *_doses(mix)],
        readings=[Reading("added", "text")],
    )


def _doses(mix: Mix) -> Iterator[Message]:
    """Say how much more of what is in it already one would notice."""
    base = [at for at, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES and line.grams > 0]
    sugars = [at for at in base if mix.lines[at].ingredient.kind == "sugar"]
    if sugars:
        most = max(sugars, key=lambda at: mix.lines[at].grams)
        grams = _sweeter_g(mix, most)
        if grams is not None:
            yield _dose(mix, most, grams, "do-sweeter", "sweetness_pod")
    sharp = [at for at in base if mix.lines[at].ingredient.row[INDEX["acids"]] > _SHARP_G]
    if sharp:
        most = max(sharp, key=lambda at: mix.lines[at].ingredient.row[INDEX["acids"]])
        acids = float(mix.row()[INDEX["acids"]]) * mix.mass_g
        share = noticeable()["acid_sweetness"].ratio or 0.0
        yield _dose(
            mix, most, share * acids / float(mix.lines[most].ingredient.row[INDEX["acids"]]), "do-sharper", "tartness"
        )
    salts = [at for at in base if mix.lines[at].ingredient.row[INDEX["sodium_chloride"]] > _SALT_PCT]
    if salts:
        name = in_sentence(mix.lines[salts[0]].ingredient.name)
        yield say("taste", "do-saltier", grams=_PINCH_SHARE * mix.mass_g, name=name)
    flavours = [at for at in base if flavourings_of(mix.lines[at].ingredient)]
    flavours = [at for at in flavours if mix.lines[at].ingredient.kind not in _BASES and at not in sharp]
    if flavours:
        share = noticeable()["flavour_g_kg"].ratio or 0.0
        yield _dose(mix, flavours[0], share * mix.lines[flavours[0]].grams, "do-flavour", "flavour")


def _sweeter_g(mix: Mix, at: int) -> float | None:
    """Return the g more of a line that make a mix sweeter by one step; None where it hardly sweetens."""
    wanted = float(sweetness_pod(mix.row())) * (1 + (noticeable()["sweetness"].ratio or 0.0))
    each = float(sweetness_pod(mix.lines[at].ingredient.row))
    if each <= wanted:
        return None
    return mix.mass_g * (wanted - float(sweetness_pod(mix.row()))) / (each - wanted)


def _dose(mix: Mix, at: int, grams: float, part: str, silent: str) -> Message:
    line = mix.lines[at]
    more = mix.replacing(at, replace(line, grams=line.grams + grams))
    effect = effects_of(mix, [more], [(silent,)])[0].message
    return say("taste", part, grams=grams, name=in_sentence(line.ingredient.name), effect=effect)
