"""The strata in which a mix is drawn: what a cook sees a thing bring."""

from __future__ import annotations

from typing import Final

STRATA: Final = {
    "gums": "Gums",
    "other": "Other solids",
    "spirit": "Spirit",
    "milk-fat": "Milk fat",
    "egg": "Egg",
    "sugars": "Sugars",
    "milk-solids": "Milk solids",
    "water": "Water",
}
"""Names by key, from the top of the tub down; `components.csv` says which component is in which."""
