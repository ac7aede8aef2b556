"""What is in the house: lots, and every gram that came into them or went out again."""

from __future__ import annotations

from datetime import date
from typing import Final

from django.conf import settings
from django.db import models
from django.db.models import OuterRef, Q, QuerySet, Subquery, Sum
from django.db.models.functions import Coalesce, Least

from ingredients.models import Ingredient
from jalebi_core.production.lots import LEAST_G
from kitchens.models import Kitchen
from kitchens.owned import AppendOnly, KitchenOwned

_LONGEST: Final = 200
_ORDER: Final = (Least("use_by", "best_before").asc(nulls_last=True), "id")


class Lot(KitchenOwned):
    """What came in under one code on one day, or what was made here at once.

    What is on hand is the sum of its movements. ``ingredient`` is None for the base of a batch that was put aside;
    ``batch`` is then the batch that made it.
    """

    ingredient = models.ForeignKey(Ingredient, null=True, on_delete=models.PROTECT, related_name="lots")
    batch = models.ForeignKey("batches.Batch", null=True, on_delete=models.PROTECT, related_name="lots")
    name = models.CharField(max_length=_LONGEST)
    """What it is, as it was called when it came."""
    supplier = models.CharField(max_length=80, blank=True)
    origin = models.CharField(max_length=80, blank=True)
    """Where it grew or was made."""
    code = models.CharField(max_length=60, blank=True)
    """As it stands on the pack."""
    typed = models.CharField(max_length=60)
    came_on = models.DateField()
    use_by = models.DateField(null=True)
    best_before = models.DateField(null=True)
    opened_on = models.DateField(null=True)
    thawed_at = models.DateTimeField(null=True)
    price = models.FloatField(null=True)
    """Of all that came, in the kitchen's currency."""
    arrived_c = models.FloatField(null=True)
    brix = models.FloatField(null=True)
    state = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=_LONGEST, blank=True)
    version = models.PositiveIntegerField(default=1)
    noted_at = models.DateTimeField(auto_now_add=True)
    noted_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.typed} {self.name}"


class Movement(AppendOnly, KitchenOwned):
    """Grams that came into a lot or went out of it; what was noted wrongly is set right by another that names it.

    ``grams`` are what the lot has more of. A count holds beside them what was counted. What was used went into a
    batch, or ``into`` the lot of a preparation.
    """

    class Kind(models.TextChoices):
        """What happened."""

        RECEIVED = "received"
        USED = "used"
        WASTED = "wasted"
        COUNTED = "counted"
        RETURNED = "returned"
        DISPOSED = "disposed"

    lot = models.ForeignKey(Lot, on_delete=models.CASCADE, related_name="movements")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    grams = models.FloatField()
    counted_g = models.FloatField(null=True)
    batch = models.ForeignKey("batches.Batch", null=True, on_delete=models.PROTECT, related_name="movements")
    line = models.PositiveSmallIntegerField(null=True)
    """The line of the batch that it went into."""
    into = models.ForeignKey(Lot, null=True, on_delete=models.PROTECT, related_name="made_of")
    corrects = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="corrections")
    why = models.CharField(max_length=_LONGEST, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.kind} {self.grams:g}"


def lots_on_hand(kitchen: Kitchen) -> QuerySet[Lot]:
    """Return the lots that there is something of, with ``on_hand_g``, what must be used first on top."""
    return (
        Lot.objects.of(kitchen).annotate(on_hand_g=_on_hand(kitchen)).filter(on_hand_g__gte=LEAST_G).order_by(*_ORDER)
    )


def with_on_hand(kitchen: Kitchen) -> QuerySet[Lot]:
    """Return all lots, those used up too, with ``on_hand_g``, what is left of each."""
    return Lot.objects.of(kitchen).annotate(on_hand_g=_on_hand(kitchen)).order_by(*_ORDER)


def _on_hand(kitchen: Kitchen) -> Coalesce:
    """Return what is left of a lot, as a query of its own: grouping lots by all that they say takes longer."""
    moved = Movement.objects.of(kitchen).filter(lot=OuterRef("pk")).order_by().values("lot")
    return Coalesce(Subquery(moved.annotate(sum=Sum("grams")).values("sum")), 0.0)


def stock_by_slug(kitchen: Kitchen, today: date) -> dict[str, float]:
    """Return the g of each ingredient that are in the house and may still be used."""
    moved = Movement.objects.of(kitchen).filter(lot__ingredient__isnull=False)
    usable = moved.filter(Q(lot__use_by=None) | Q(lot__use_by__gte=today)).order_by()
    rows = usable.values_list("lot__ingredient__slug").annotate(sum=Sum("grams"))
    return {slug: float(grams) for slug, grams in rows if grams >= LEAST_G}
