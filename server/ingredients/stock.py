"""What is in the house."""

from __future__ import annotations

from django.db.models import Sum

from ingredients.models import Stock
from kitchens.models import Kitchen


def stock_by_slug(kitchen: Kitchen) -> dict[str, float]:
    """Return the g of each ingredient that are in the house."""
    rows = Stock.objects.of(kitchen).values_list("ingredient__slug").annotate(Sum("grams"))
    return {slug: float(grams) for slug, grams in rows}
