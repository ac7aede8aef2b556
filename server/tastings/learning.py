"""What a kitchen has learnt, as everything that computes uses it, and as people look at it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from jalebi_core.production.runs import tuning_of
from jalebi_core.tasting.freezers import as_cold_as
from jalebi_core.tasting.log import Freezer
from jalebi_core.tasting.parameters import Parameter, learn
from jalebi_core.wording.message import words
from kitchens.learnt import OF_INGREDIENTS, Learnt, Mark
from kitchens.models import Kitchen, Machine, notation_of
from stock.models import Lot
from tastings.kitchen_log import OWN_FREEZER, log_of, pinned, read_lots, season_of
from tastings.models import Choice, PieceWeighing
from tastings.own_ladders import used_ladders


def learnt_of(kitchen: Kitchen) -> Learnt:
    """Return what is used in the place of a kitchen's settings: what is known well enough and is not pinned."""
    log = log_of(kitchen)
    slugs = _slugs(kitchen)
    found = learn(log)
    kept = pinned(Choice.objects.of(kitchen))
    used = list(_one_of_each_fruit(kitchen, used_of(kitchen, found), slugs))
    values = {(one.key, one.of): one.posterior.value for one in used}
    ladders = used_ladders(kitchen)
    numbers = dict(Machine.objects.of(kitchen).values_list("name", "pk"))
    notation = notation_of(kitchen)
    scoop = values.get(("scoop_firmness", None))
    freezer_c, firmer = values.get(("freezer_c", OWN_FREEZER)), values.get(("freezer_firmness", OWN_FREEZER))
    if freezer_c is not None:
        used = [one for one in used if one.key != "freezer_firmness"]
    elif firmer is not None and ("freezer_c", OWN_FREEZER) not in kept:
        freezer_c = as_cold_as(log, Freezer(OWN_FREEZER, kitchen.freezer_c), firmer)
    return Learnt(
        freezer_c=freezer_c,
        **({} if scoop is None else {"scoop_firmness": scoop}),
        loss_pct=values.get(("loss_pct", None)),
        sweetness={of: value for (key, of), value in values.items() if key == "sweetness_ideal" and of},
        overrun_pct={
            numbers[of]: value for (key, of), value in values.items() if key == "overrun_pct" and of in numbers
        },
        tuning={
            numbers[one.of]: tuning_of(one.posterior)
            for one in found
            if one.key == "churn_factor" and one.of in numbers and (one.key, one.of) not in kept
        },
        piece_g={
            (slugs[one.of], one.piece): one.posterior.value
            for one in used
            if one.key == "piece_g" and one.of in slugs and one.piece
        },
        strength_g_kg={slug: (one.weakest, one.strongest) for slug, one in ladders.items()},
        brix={slugs[one.of]: one.posterior.value for one in used if one.key == "brix" and one.of in slugs},
        marks=(
            *(Mark("strength_g_kg", slug, one.n, words(one.said, notation)) for slug, one in ladders.items()),
            *(
                Mark(one.key, _about(one, slugs), one.posterior.n, words(one.said, notation))
                for one in used
                if one.key not in ("freezer_c", "freezer_firmness") or one.of == OWN_FREEZER
            ),
        ),
    )


def _about(one: Parameter, slugs: Mapping[str, str]) -> str | None:
    return slugs.get(one.of or "", one.of) if one.key in OF_INGREDIENTS else one.of


def _slugs(kitchen: Kitchen) -> dict[str, str]:
    """Return the slugs of what was weighed by the piece or read with a refractometer, by name."""
    weighed = PieceWeighing.objects.of(kitchen).order_by("at").values_list("name", "slug")
    read = read_lots(kitchen).values_list("ingredient__name", "ingredient__slug")
    return {str(name): str(slug) for name, slug in (*weighed, *read)}


def _one_of_each_fruit(kitchen: Kitchen, used: Iterable[Parameter], slugs: Mapping[str, str]) -> Iterator[Parameter]:
    """Leave of each fruit what goes by the lot that came last: its supplier and season where those are known."""
    found = list(used)
    fruit = [slugs[one.of] for one in found if one.key == "brix" and one.of and one.of in slugs]
    last = {
        lot.ingredient.name: (lot.supplier or None, season_of(lot))
        for lot in Lot.objects.of(kitchen)
        .filter(ingredient__slug__in=fruit)
        .select_related("ingredient")
        .order_by("ingredient_id", "-came_on", "-id")
        .distinct("ingredient_id")
        if lot.ingredient
    }
    known = {(one.of, one.supplier, one.season) for one in found if one.key == "brix"}
    for one in found:
        group = last.get(one.of or "", (None, None))
        if one.key != "brix" or (one.supplier, one.season) == (group if (one.of, *group) in known else (None, None)):
            yield one


def used_of(kitchen: Kitchen, found: Iterable[Parameter]) -> Iterable[Parameter]:
    """Return the parameters that are in use and that nobody pinned to the setting."""
    kept = pinned(Choice.objects.of(kitchen))
    return (one for one in found if one.in_use and (one.key, one.of or "") not in kept)
