"""Snapshots of designs: which cups a test served to whom in which order, under which codes.

A snapshot is read for ever and never rewritten; ``schema`` counts its shape.

- 1: codes by variant, and servings with the variants and codes of their cups.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from jalebi_core.tasting.serving import Design, Serving
from jalebi_core.wording.record import message_data, read_message

SCHEMA: Final = 1


def design_snapshot(design: Design) -> dict[str, Any]:
    """Return a design as the plain data that `read_design` reads back."""
    return {
        "schema": SCHEMA,
        "codes": {key: list(codes) for key, codes in design.codes.items()},
        "servings": [
            {
                "taster": one.taster,
                "replicate": one.replicate,
                "variants": list(one.variants),
                "cups": list(one.cups),
            }
            for one in design.servings
        ],
        "cups_a_taster": design.cups_a_taster,
        "sittings": design.sittings,
        "warnings": [message_data(one) for one in design.warnings],
    }


def read_design(data: Mapping[str, Any]) -> Design:
    """Read a design as it was served."""
    return Design(
        {key: tuple(codes) for key, codes in data["codes"].items()},
        tuple(
            Serving(one["taster"], one["replicate"], tuple(one["variants"]), tuple(one["cups"]))
            for one in data["servings"]
        ),
        data["cups_a_taster"],
        data["sittings"],
        tuple(read_message(one) for one in data["warnings"]),
    )
