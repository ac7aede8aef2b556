"""What comes of a trial: its variants as mixes of their own, and the winner in the mix it was made of."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from analysis.schemas import DraftLine
from jalebi_core.model.errors import TastingError
from jalebi_core.model.mix import Mix as CoreMix
from kitchens.models import Person
from mixes.drafts import draft_of, new_mix, put_lines, save_draft
from mixes.models import Mix
from mixes.revisions import keep_revision
from mixes.schemas import DraftToSave
from trials.models import Trial
from trials.variants import variants_of


@transaction.atomic
def make_mixes(person: Person, trial: Trial) -> dict[str, int]:
    """Return the mixes that hold the variants, made now where there are none yet."""
    locked: Trial = Trial.objects.of(person.kitchen).select_for_update(of=("self",)).get(pk=trial.pk)
    found: dict[str, int] = {}
    known = set(Mix.objects.of(person.kitchen).values_list("pk", flat=True))
    for one in variants_of(locked):
        number = one.mix_id
        if number is None or number not in known:
            mix = new_mix(person.kitchen, f"{locked.name}: {one.key}, {one.name}"[:200], one.mix.style, None)
            mix.overrun_pct = one.mix.overrun_pct
            mix.tags = ["trial"]
            mix.save()
            put_lines(mix, _lines(one.mix))
            number = mix.pk
        found[one.key] = number
    locked.mixes = found
    locked.save(update_fields=["mixes"])
    return found


@transaction.atomic
def decide(person: Person, trial: Trial, keys: list[str]) -> tuple[int, int]:
    """Put a variant, or what lies between two, into the mix of a ladder, and return the mix and the revision before.

    What was there is kept as a revision first. Raises TastingError where there is no such variant or no mix.
    """
    locked: Trial = Trial.objects.of(person.kitchen).select_for_update(of=("self",)).get(pk=trial.pk)
    known = {one.key: one.mix for one in variants_of(locked)}
    unknown = next((key for key in keys if key not in known), None)
    if unknown is not None:
        raise TastingError("trial-key-unknown", key=unknown)
    if locked.mix is None:
        raise TastingError("trial-no-mix")
    mix = locked.mix
    before = keep_revision(person, mix.pk, f"before {locked.name}"[:80])
    mix.refresh_from_db()
    lines = _between(known[keys[0]], known[keys[1]]) if len(keys) == 2 else _lines(known[keys[0]])
    draft = draft_of(mix).model_dump() | {"lines": lines, "name": mix.name, "based_on": before.number}
    save_draft(person.kitchen, mix.pk, mix.version, DraftToSave.model_validate(draft))
    locked.decided = {"keys": keys, "at": timezone.now().isoformat(), "mix": mix.pk}
    locked.save(update_fields=["decided"])
    return mix.pk, before.number


def _lines(mix: CoreMix) -> list[DraftLine]:
    return [_line(line.ingredient.slug, line.grams, line.stage) for line in mix.lines]


def _between(one: CoreMix, other: CoreMix) -> list[DraftLine]:
    """Return the lines half way between two mixes."""
    halves: dict[tuple[str, str | None], float] = {}
    for mix in (one, other):
        for line in mix.lines:
            key = (line.ingredient.slug, line.stage)
            halves[key] = halves.get(key, 0.0) + line.grams / 2
    return [_line(slug, grams, stage) for (slug, stage), grams in halves.items()]


def _line(slug: str, grams: float, stage: str | None) -> DraftLine:
    return DraftLine(ingredient=slug, typed=f"{round(grams, 2):g}", unit="g", stage=stage)


def said_of(decided: dict[str, Any] | None) -> str:
    """Return what was decided, in words."""
    if decided is None:
        return ""
    keys = decided["keys"]
    return (
        f"{keys[0]} went into the mix."
        if len(keys) == 1
        else f"Half way between {keys[0]} and {keys[1]} went into the mix."
    )
