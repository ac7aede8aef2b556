"""`label FILE [--json]`: a mix file to the draft of its label, without database or browser."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.label_file import label_report

from .arguments import run
from .reports import print_report

_PLACES = ("per_100g", "per_100ml", "per_serving")


def main(arguments: list[str]) -> int:
    """Print the draft of the label and return 0, or one sentence on standard error and 2."""
    return print_report("label", "Draft the label of a mix file.", label_report, _text, arguments)


def _text(found: dict[str, Any]) -> str:
    serving = found["serving"]
    heads = ("per 100 g", "per 100 ml", serving["text"] if serving else "")
    rows = [f"  {'':<16}" + "".join(f"{head:>18}" for head in heads)]
    for row in found["nutrition"]:
        figures = [row["printed"][place] or "not stated" for place in _PLACES if serving or place != "per_serving"]
        rows.append(f"  {row['key']:<16}" + "".join(f"{figure:>18}" for figure in figures) + f"{row['dv'] or '':>7}")
        if row["missing"]:
            rows.append(f"    not stated by {', '.join(row['missing'])}")
    allergens = found["allergens"]
    said = [
        found["draft"],
        "",
        f"{found['name']} ({found['region']}), {found['finished_g']:.0f} g, {found['litre_g']:.0f} g a litre",
        "",
        *rows,
        "",
        f"Ingredients: {found['ingredients']['text']}",
        *(one for one in (allergens["statement"], allergens["may_contain_statement"]) if one),
        *(one["text"] for one in found["statements"]),
        *([found["net_quantity"]["text"]] if found["net_quantity"] else []),
        *(f"Allergens are not stated for {name}: ask before this is printed." for name in allergens["not_stated"]),
        *found["cautions"],
    ]
    return "\n".join(said)


if __name__ == "__main__":
    run(main)
