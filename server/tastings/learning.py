"""What a kitchen has learnt, as everything that computes uses it, and as people look at it."""

from __future__ import annotations

from collections.abc import Iterable

from jalebi_core.tasting.freezers import as_cold_as
from jalebi_core.tasting.log import Freezer
from jalebi_core.tasting.parameters import Parameter, learn
from jalebi_core.wording.message import words
from kitchens.learnt import Learnt, Mark
from kitchens.models import Kitchen, Machine, notation_of
from tastings.kitchen_log import OWN_FREEZER, log_of, pinned
from tastings.models import Choice


def learnt_of(kitchen: Kitchen) -> Learnt:
    """Return what is used in the place of a kitchen's settings: what is known well enough and is not pinned."""
    log = log_of(kitchen)
    used = list(used_of(kitchen, learn(log)))
    values = {(one.key, one.of): one.posterior.value for one in used}
    numbers = dict(Machine.objects.of(kitchen).values_list("name", "pk"))
    notation = notation_of(kitchen)
    scoop = values.get(("scoop_firmness", None))
    freezer_c, firmer = values.get(("freezer_c", OWN_FREEZER)), values.get(("freezer_firmness", OWN_FREEZER))
    if freezer_c is not None:
        used = [one for one in used if one.key != "freezer_firmness"]
    elif firmer is not None and ("freezer_c", OWN_FREEZER) not in pinned(Choice.objects.of(kitchen)):
        freezer_c = as_cold_as(log, Freezer(OWN_FREEZER, kitchen.freezer_c), firmer)
    return Learnt(
        freezer_c=freezer_c,
        **({} if scoop is None else {"scoop_firmness": scoop}),
        loss_pct=values.get(("loss_pct", None)),
        sweetness={of: value for (key, of), value in values.items() if key == "sweetness_ideal" and of},
        overrun_pct={
            numbers[of]: value for (key, of), value in values.items() if key == "overrun_pct" and of in numbers
        },
        marks=tuple(
            Mark(one.key, one.of, one.posterior.n, words(one.said, notation))
            for one in used
            if one.key not in ("freezer_c", "freezer_firmness") or one.of == OWN_FREEZER
        ),
    )


def used_of(kitchen: Kitchen, found: Iterable[Parameter]) -> Iterable[Parameter]:
    """Return the parameters that are in use and that nobody pinned to the setting."""
    kept = pinned(Choice.objects.of(kitchen))
    return (one for one in found if one.in_use and (one.key, one.of or "") not in kept)
