"""The variants of a trial: made of a ladder or of mixes side by side, and drawn with only what differs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import isfinite
from typing import Any, Final

from analysis.kitchen_drafts import read_in_kitchen
from ingredients.serialize import parts_by_stratum
from ingredients.shelf_cache import ingredients_of
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.formats.snapshot import SCHEMA, ingredient_snapshot, read_mix_snapshot
from jalebi_core.formats.trial_file import amounts_of
from jalebi_core.model.errors import TastingError
from jalebi_core.model.mix import Mix as CoreMix
from jalebi_core.physics.firmness import firmness_word
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.shelf.catalogue import find_among
from jalebi_core.tasting.factors import ByAim, ByGrams, ByShare, Factor
from jalebi_core.tasting.ladder import LETTERS, ladder
from jalebi_core.tasting.split import split
from jalebi_core.tasting.telling_apart import felt_between, figures_as_tasted, proposed, steps_between
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from mixes.drafts import draft_of, mix_by_id
from mixes.models import Mix
from trials.models import Trial
from trials.schemas import (
    AddOut,
    BetweenOut,
    DifferingLine,
    FactorIn,
    FeltOut,
    NewTrial,
    PortionOut,
    ProposalOut,
    SplitOut,
    TastedFigure,
    TrialOut,
    VariantOut,
)

MOST_VARIANTS: Final = 6
_DIFFERS_G: Final = 0.005
_ALPHA: Final = 0.05
_POWER: Final = 0.8

Content = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Variant:
    """A variant as it is kept, and its mix as the core knows it."""

    key: str
    name: str
    mix_id: int | None
    mix: CoreMix


def build(kitchen: Kitchen, new: NewTrial) -> Trial:
    """Return a trial that is not kept yet; raises TastingError and JalebiError for what makes none."""
    name = _plain(new.name)
    if new.mix is not None:
        source = mix_by_id(kitchen, new.mix)
        mix = _read(kitchen, source)
        made = ladder(mix, [_factor(kitchen, one) for one in new.factors], new.serve_c)
        notation = notation_of(kitchen)
        return Trial(
            kitchen=kitchen,
            name=name,
            mix=source,
            factors=[one.model_dump(exclude_none=True) for one in new.factors],
            variants=_kept([(words(rung.name, notation), None, rung.mix) for rung in made.rungs]),
            changes=[words(one, notation) for one in made.changes],
            held=[words(one, notation) for one in made.held],
            serve_c=new.serve_c,
            spare_pct=new.spare_pct,
        )
    sides = [_side(kitchen, one.mix, one.revision) for one in new.sides]
    return Trial(kitchen=kitchen, name=name, variants=_kept(sides), serve_c=new.serve_c, spare_pct=new.spare_pct)


def _plain(name: str) -> str:
    if not name.strip() or not name.isprintable():
        raise TastingError("trial-name-hidden")
    return name.strip()


def _kept(sides: Sequence[tuple[str, int | None, CoreMix]]) -> list[Content]:
    if not 2 <= len(sides) <= MOST_VARIANTS:
        raise TastingError("trial-size", count=len(sides))
    return [
        {"key": key, "name": name, "mix": number, "content": content_of(mix)}
        for key, (name, number, mix) in zip(LETTERS, sides, strict=False)
    ]


def _side(kitchen: Kitchen, number: int, revision: int | None) -> tuple[str, int | None, CoreMix]:
    mix = mix_by_id(kitchen, number)
    if revision is None:
        return mix.name, mix.pk, _read(kitchen, mix)
    kept = mix.revisions.get(number=revision)
    return f"{kept.content['name']}, revision {revision}", None, read_mix_snapshot(kept.content)


def _read(kitchen: Kitchen, mix: Mix) -> CoreMix:
    """Return a mix as it is now; raises MixError for one that weighs nothing."""
    found = read_in_kitchen(kitchen, draft_of(mix)).mix
    if found is None:
        raise TastingError("trial-mix-empty", name=mix.name)
    return replace(found, name=mix.name)


def content_of(mix: CoreMix) -> Content:
    """Return a mix as a snapshot."""
    return {
        "schema": SCHEMA,
        "name": mix.name,
        "style": mix.style,
        "overrun_pct": mix.overrun_pct,
        "aims": {key: list(band) for key, band in mix.aims.items()},
        "lines": [
            {
                "slug": line.ingredient.slug,
                "ingredient": ingredient_snapshot(line.ingredient),
                "typed": f"{line.grams:.4g}",
                "unit": "g",
                "grams": line.grams,
                "stage": line.stage,
            }
            for line in mix.lines
        ],
    }


def _factor(kitchen: Kitchen, one: FactorIn) -> Factor:
    if one.aim is not None:
        return ByAim(one.aim, tuple(one.values or ()), tuple(one.moving), tuple(one.hold))
    if one.line is None:
        raise TastingError("ladder-factor", where="A factor")
    if one.by is not None:
        return ByShare(one.line, find_among(ingredients_of(kitchen), one.by), tuple(one.share_pct or ()))
    return ByGrams(one.line, tuple(one.grams or ()), one.take_up)


def variants_of(trial: Trial) -> list[Variant]:
    """Return the variants of a trial."""
    return [
        Variant(one["key"], one["name"], trial.mixes.get(one["key"], one["mix"]), read_mix_snapshot(one["content"]))
        for one in trial.variants
    ]


def serialize_variants(trial: Trial, kitchen: Kitchen) -> TrialOut:
    """Return a trial with its variants, without its tests."""
    found = [replace(one, mix=kitchen.learnt.as_eaten(one.mix)) for one in variants_of(trial)]
    figures = {one.key: figures_as_tasted(one.mix, trial.serve_c) for one in found}
    notation = notation_of(kitchen)
    return TrialOut(
        id=trial.pk,
        name=trial.name,
        mix=trial.mix_id,
        mix_name=trial.mix.name if trial.mix else "",
        changes=trial.changes,
        held=trial.held,
        serve_c=trial.serve_c,
        variants=[_variant(one, trial, kitchen, figures[one.key]) for one in found],
        lines=_differing(found),
        between=[
            BetweenOut(
                a=a.key,
                b=b.key,
                felt=[
                    FeltOut(figure=one.figure, word=one.word, steps=one.steps, told_by=one.told_by)
                    for one in felt_between(figures[a.key], figures[b.key])
                ],
            )
            for a, b in pairwise(found)
        ],
        split=_split(found, trial.spare_pct),
        proposal=_proposal(found, figures, notation),
        tests=[],
        decided="",
        begun_at=trial.begun_at if trial.pk else None,
    )


def _variant(one: Variant, trial: Trial, kitchen: Kitchen, figures: Mapping[str, float]) -> VariantOut:
    at_c = kitchen.used_freezer_c
    analysed = analyse_mix(one.mix, freezer_c=at_c)
    drawn_c = at_c if trial.serve_c is None else trial.serve_c
    firm = float(analysed.firmness)
    return VariantOut(
        key=one.key,
        name=one.name,
        mix=one.mix_id,
        mass_g=one.mix.mass_g,
        strata=parts_by_stratum(analysed.row),
        ice_pct=float(frozen_at(analysed.row, drawn_c)),
        scoop_c=float(analysed.scoop_c) if isfinite(float(analysed.scoop_c)) else None,
        word=firmness_word(firm, one.mix.scoop_firmness),
        firmness=firm,
        figures=[TastedFigure(key=key, value=value) for key, value in figures.items()],
    )


def _differing(found: Sequence[Variant]) -> list[DifferingLine]:
    grams = {one.key: _by_name(one.mix) for one in found}
    names = list(dict.fromkeys(name for own in grams.values() for name in own))
    rows = [DifferingLine(name=name, grams={key: own.get(name, 0.0) for key, own in grams.items()}) for name in names]
    scales = {one.key: _scale(grams[found[0].key], grams[one.key]) for one in found}
    return [row for row in rows if not _only_scaled(row, found[0].key, scales)]


def _scale(first: Mapping[str, float], own: Mapping[str, float]) -> float:
    """Return by how much most lines of a variant are those of the first: 1, or less where all give way alike."""
    ratios = sorted(own.get(name, 0.0) / grams for name, grams in first.items() if grams > 0)
    return ratios[len(ratios) // 2] if ratios else 1.0


def _only_scaled(row: DifferingLine, first: str, scales: Mapping[str, float]) -> bool:
    """Tell whether a line weighs in every variant what the common scale makes of it."""
    return all(abs(grams - scales[key] * row.grams[first]) <= _DIFFERS_G for key, grams in row.grams.items())


def _by_name(mix: CoreMix) -> dict[str, float]:
    grams: dict[str, float] = {}
    for line in mix.lines:
        grams[line.ingredient.name] = grams.get(line.ingredient.name, 0.0) + line.grams
    return grams


def _split(found: Sequence[Variant], spare_pct: float) -> SplitOut:
    names = {
        (line.ingredient.slug or line.ingredient.name): line.ingredient.name for one in found for line in one.mix.lines
    }
    made = split([(one.key, amounts_of(one.mix)) for one in found], spare_pct)
    return SplitOut(
        at=made.at,
        base_g=made.base_g,
        base=[AddOut(name=names[line.ingredient], grams=line.grams) for line in made.base],
        portions=[
            PortionOut(
                key=one.key,
                base_g=one.base_g,
                add=[AddOut(name=names[line.ingredient], grams=line.grams) for line in one.add],
                total_g=one.total_g,
            )
            for one in made.portions
        ],
    )


def _proposal(
    found: Sequence[Variant], figures: Mapping[str, Mapping[str, float]], notation: Notation
) -> ProposalOut | None:
    """Return the test to begin with: of the first variant and the last."""
    steps = steps_between(figures[found[0].key], figures[found[-1].key])
    if not any(steps.values()):
        return None
    kind, asked, tastings = proposed(steps, _ALPHA, _POWER)
    if asked is not None:
        felt = felt_between(figures[found[0].key], figures[found[-1].key])[0]
        facts = {
            "a": found[0].key,
            "b": found[-1].key,
            "word": felt.word,
            "steps": abs(felt.steps),
            "count": tastings or 0,
        }
        said = Message("propose-named" if tastings else "propose-named-many", facts)
    else:
        said = Message("propose-tetrad", {"a": found[0].key, "b": found[-1].key, "count": tastings or 0})
    return ProposalOut(kind=kind, attribute=asked or "", tastings=tastings, said=words(said, notation))
