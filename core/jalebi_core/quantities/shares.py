"""Lines that are shares of the whole mix, ``0.3 %`` or ``200 ppm``, weighed once the others are."""

from __future__ import annotations

from collections.abc import Sequence

from jalebi_core.model.errors import AmountError


def whole_with_shares(grams: Sequence[float], shares: Sequence[float]) -> float:
    """Return the g of a whole of which some lines weigh so many g and others are shares of it, 0 to 1 each.

    whole = Σ grams / (1 − Σ shares)

    Raises
    ------
    AmountError : the shares leave no room for anything else
    """
    total = sum(shares)
    if total >= 1:
        raise AmountError("shares-leave-no-room", total=100 * total)
    return sum(grams) / (1 - total)
