"""A balance as plain data: what ``jalebi balance --json`` prints."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import isfinite
from typing import Any

from jalebi_core.assessment.analysis import HOME_FREEZER_C
from jalebi_core.balance.job_context import JobContext
from jalebi_core.balance.reasons import reasons_for
from jalebi_core.balance.request import BalanceRequest
from jalebi_core.balance.solving import Balanced
from jalebi_core.balance.summary import summary
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line


def balance_report(
    found: Balanced, shelf: Mapping[str, Ingredient], seconds: float, restrictions: Sequence[str] = ()
) -> dict[str, Any]:
    """Return a balance as plain data: lines, aims with before and after, what is unmet and would help.

    What would help keeps to ``restrictions``.
    """
    problem, request = found.problem, found.problem.request
    names = [_slug(request.mix.lines[number]) for number in problem.numbers]
    names += [ingredient.slug for ingredient in request.may_add]
    lines = [
        {"ingredient": name, "grams": round(float(grams), 4)}
        for name, grams, column in zip(names, found.grams, range(len(names)), strict=True)
        if grams > 0 or column < problem.lines
    ]
    aims = [
        {
            "of": aim.of,
            "min": aim.low if isfinite(aim.low) else None,
            "max": aim.high if isfinite(aim.high) else None,
            "before": round(float(before), 6),
            "after": round(float(after), 6),
            "met": met,
        }
        for aim, before, after, met in zip(request.aims, found.before, found.after, found.met, strict=True)
    ]
    unmet = [
        {
            "of": one.aim.of,
            "nearest": round(one.nearest, 6),
            "because": str(one.because),
            "would_help": [str(relaxation.message) for relaxation in one.would_help],
        }
        for one in reasons_for(found, _absent(request, shelf, restrictions))
    ]
    return {
        "lines": lines,
        "aims": aims,
        "unmet": unmet,
        "changed": found.changed,
        "said": str(summary(found)),
        "seconds": round(seconds, 4),
    }


def _slug(line: Line) -> str:
    return line.ingredient.slug or line.ingredient.name


def _absent(
    request: BalanceRequest, shelf: Mapping[str, Ingredient], restrictions: Sequence[str]
) -> dict[str, Ingredient]:
    """Return the common ingredients that are neither in the mix nor among those that may come in already."""
    here = {one.slug for one in request.may_add}
    common = JobContext(request.mix, HOME_FREEZER_C, shelf, restrictions).common()
    return {one.slug: one for one in common if one.slug not in here}
