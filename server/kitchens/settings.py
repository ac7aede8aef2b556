"""A kitchen's settings: only what is changed is written, and nobody's change is overwritten unseen."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from django.db import transaction

from api.problems import ConflictError
from jalebi_core.model.aims import checked_aims
from jalebi_core.model.errors import MixError
from jalebi_core.model.styles import checked_style
from jalebi_core.regulation.cautions import checked_region
from jalebi_core.regulation.restrictions import checked_restriction
from kitchens.models import Kitchen
from kitchens.zones import checked_zone

Changes = Mapping[str, Any]
"""Settings by name; ``aims`` holds bands by style and quantity, None where one is taken back."""


@transaction.atomic
def change_settings(kitchen: Kitchen, version: int, changes: Changes) -> None:
    """Change some of a kitchen's settings; the others stay as they are.

    Parameters
    ----------
    version : at which the kitchen was read; what others changed since is no conflict unless it is the same setting

    Raises
    ------
    ConflictError : somebody changed one of these settings meanwhile; nothing is changed then
    MixError : a style, aim or restriction that cannot be
    """
    _check(changes)
    now = Kitchen.objects.select_for_update().get(pk=kitchen.pk)
    names = list(setting_names(changes))
    if any(now.changed_in.get(name, 0) > version for name in names):
        raise ConflictError("Somebody else changed the same setting meanwhile. Look at it again.", version=now.version)
    kitchen.version = now.version + 1
    kitchen.changed_in = {**now.changed_in, **dict.fromkeys(names, kitchen.version)}
    kitchen.aims = _with_aims(now.aims, changes.get("aims", {}))
    for name, value in changes.items():
        if name != "aims":
            setattr(kitchen, name, value)
    kitchen.save(update_fields=["version", "changed_in", "aims", *(name for name in changes if name != "aims")])


def setting_names(changes: Changes) -> Iterator[str]:
    """Return the names of the settings that changes touch: an aim by its style and quantity, the others as they are."""
    for name, value in changes.items():
        if name == "aims":
            yield from (f"aims/{style}/{quantity}" for style, bands in value.items() for quantity in bands)
        else:
            yield name


def _check(changes: Changes) -> None:
    if not all(text.isprintable() for text in (changes.get("currency", "€"), *changes.get("may_come_in", []))):
        raise MixError("settings-hidden-characters")
    if "zone" in changes:
        checked_zone(changes["zone"])
    if "region" in changes:
        checked_region(changes["region"])
    for restriction in changes.get("restrictions", []):
        checked_restriction(restriction)
    for style, bands in changes.get("aims", {}).items():
        checked_style(style)
        checked_aims({quantity: band for quantity, band in bands.items() if band is not None})


def _with_aims(aims: Mapping[str, Any], changes: Mapping[str, Any]) -> dict[str, Any]:
    changed = {style: {**aims.get(style, {}), **bands} for style, bands in changes.items()}
    kept = {style: {of: band for of, band in bands.items() if band is not None} for style, bands in changed.items()}
    return {style: bands for style, bands in {**aims, **kept}.items() if bands}
