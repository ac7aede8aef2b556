"""Mise en place of a plan: what goes into the freezer, ice and salt, what is weighed, and what is short for it."""

from __future__ import annotations

from django.utils import timezone

from ingredients.shelf_cache import ingredients_of
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, Machine, notation_of
from plans.building import Built
from plans.models import Plan
from plans.schemas import Needed, Preparing, WeighedFor
from stock.models import stock_by_slug

_LEAST_G = 0.5


def preparing(kitchen: Kitchen, plan: Plan, built: Built) -> Preparing:
    """Return what must be at hand before a plan begins."""
    there, shelf = stock_by_slug(kitchen, timezone.localdate()), ingredients_of(kitchen)
    lots = {one["id"] for one in plan.services if one.get("lot")}
    needed: dict[str, float] = {}
    for number, sized in built.sized.items():
        for slug, grams in sized.needed.items() if number not in lots else ():
            needed[slug] = needed.get(slug, 0.0) + grams
    to_make = built.ahead.to_make(needed)
    names = {one["id"]: one["name"] for one in plan.services}
    rows = [
        Needed(
            slug=slug,
            name=shelf[slug].name if slug in shelf else slug,
            needed_g=grams,
            there_g=there.get(slug, 0.0),
            short_g=max(grams - there.get(slug, 0.0), 0.0) if slug != "water" else 0.0,
        )
        for slug, grams in needed.items()
        if slug not in to_make
    ]
    return Preparing(
        freezer=_into_freezer(plan),
        made=[f"{mass_of(kitchen, grams)} {built.ahead.rows[slug].name}" for slug, grams in to_make.items()],
        ice=_ice(kitchen, plan, built, notation_of(kitchen)),
        weighed=[
            WeighedFor(
                service=number,
                name=names[number],
                lines=[f"{line.typed}\N{NO-BREAK SPACE}{line.unit} {line.name}" for line in sized.lines],
            )
            for number, sized in built.sized.items()
            if number not in lots
        ],
        needed=sorted(rows, key=lambda row: (row.short_g < _LEAST_G, -row.short_g, row.name)),
    )


def mass_of(kitchen: Kitchen, grams: float) -> str:
    """Return a mass as the kitchen writes it."""
    return notation_of(kitchen).mass_of(grams, ".0f")


def _into_freezer(plan: Plan) -> list[str]:
    """Return which bowls a plan wants in the freezer."""
    setups = plan.answer["setups"] if plan.answer else []
    bowls = {one["machine"]: one for one in setups if one["kind"] == "ready" and "freezer" in one["uses"]}
    return [f"{machine}{'' if one['people'] else ', in there already'}" for machine, one in bowls.items()]


def _ice(kitchen: Kitchen, plan: Plan, built: Built, notation: Notation) -> list[str]:
    """Return the ice and salt to get for runs in a bucket that the plan has chosen."""
    chosen = {one["product"]: one["machine"] for one in (plan.answer["steps"] if plan.answer else []) if one["machine"]}
    machines = {machine.pk: machine.name for machine in Machine.objects.of(kitchen)}
    found = []
    for number, sized in built.sized.items():
        for one in sized.churning:
            if one.ice_g and machines.get(one.machine) == chosen.get(number):
                ice, salt = (f"{grams / 1000:.1f}".replace(".", notation.decimal) for grams in (one.ice_g, one.salt_g))
                found.append(f"{ice} kg of ice and {salt} kg of salt for {machines[one.machine]}")
    return found
