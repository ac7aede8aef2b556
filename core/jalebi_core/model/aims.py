"""Aims: the bands that a kitchen or a mix sets in the place of a style's usual ones."""

from __future__ import annotations

from collections.abc import Mapping
from math import isfinite
from typing import Any, Final

from jalebi_core.model.errors import MixError
from jalebi_core.model.figures import quantities
from jalebi_core.model.styles import Band, styles

_OTHERS: Final = {"overrun_pct": (0.0, 300.0), "serve_c": (-32.0, 0.0)}
"""Aims that are no figures of the mix, and their limits; figures go from 0 to 100."""


def aim_keys() -> list[str]:
    """Return the quantities that an aim may be set for."""
    return [key for key, quantity in quantities().items() if quantity.aim] + list(_OTHERS)


def checked_aims(data: object) -> dict[str, Band]:
    """Return aims as bands by quantity; raises MixError naming the one that cannot be."""
    if not isinstance(data, Mapping):
        raise MixError("aims-malformed")
    return {key: _checked(key, band) for key, band in data.items()}


def _checked(key: object, band: object) -> Band:
    if not isinstance(key, str) or key not in aim_keys():
        raise MixError("unknown-aim", key=str(key)[:40], aim_keys=tuple(aim_keys()))
    name = quantities()[key].name if key in quantities() else key
    if not isinstance(band, list | tuple) or len(band) != 2 or not all(_is_number(value) for value in band):
        raise MixError("aim-malformed", name=name)
    low, high = float(band[0]), float(band[1])
    least, most = _OTHERS.get(key, (0.0, 100.0))
    if low > high:
        raise MixError("target-ends-reversed", name=name, low=low, high=high)
    if low < least or high > most:
        raise MixError("aim-impossible", name=name, low=low, high=high, least=least, most=most)
    return low, high


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and isfinite(value)


def read_aims(data: object) -> dict[str, Band]:
    """Return the aims of a mix file, a list of ``{of, min, max}``, one end of which may be missing, as bands."""
    if not isinstance(data, list):
        raise MixError("target-list-malformed")
    read: dict[str, object] = {}
    for aim in data:
        if not isinstance(aim, Mapping) or not aim.keys() <= {"of", "min", "max"} or not {"min", "max"} & aim.keys():
            raise MixError("target-entry-malformed")
        of = str(aim.get("of"))
        if of in read:
            raise MixError("aim-twice", of=of[:40])
        least, most = _OTHERS.get(of, (0.0, 100.0))
        read[of] = (aim.get("min", least), aim.get("max", most))
    return checked_aims(read)


def write_aims(aims: Mapping[str, Band]) -> list[dict[str, Any]]:
    """Return aims as a mix file has them."""
    return [{"of": key, "min": low, "max": high} for key, (low, high) in aims.items()]


def bands_for(style: str | None, *aims: Mapping[str, Band]) -> dict[str, Band]:
    """Return the bands that hold: a style's own, each replaced by an aim of its name, the last aims first."""
    found = styles().get(style or "")
    bands = dict(found.bands) if found else {}
    for more in aims:
        bands |= more
    return bands
