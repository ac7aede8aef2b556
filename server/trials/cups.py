"""What is in the cups of a test, as it is said before the first of them: allergens and cautions of all variants."""

from __future__ import annotations

from jalebi_core.regulation.allergens import allergens_together
from jalebi_core.regulation.cautions import cautions_of
from kitchens.models import Kitchen, notation_of
from trials.models import TrialTest
from trials.schemas import CupsHold
from trials.variants import variants_of


def cups_hold(test: TrialTest, kitchen: Kitchen) -> CupsHold:
    """Return what somebody who tastes has to know first."""
    mixes = [one.mix for one in variants_of(test.trial) if one.key in test.variants]
    held = allergens_together(line.ingredient for mix in mixes for line in mix.lines)
    notation = notation_of(kitchen)
    said = [notation.text(caution.said) for mix in mixes for caution in cautions_of(mix, kitchen.region)]
    return CupsHold(
        allergens=list(held.contains),
        may_hold=list(held.may_hold),
        not_stated=list(held.not_stated),
        cautions=list(dict.fromkeys(said)),
    )
