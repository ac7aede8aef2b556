"""`analyse FILE [--json] [--advice]`: a mix file to its analysis, without database or browser."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path
from typing import Any, BinaryIO

from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.verdict import verdict
from jalebi_core.formats.mix_file import MOST_BYTES, MixFile, read_mix_file
from jalebi_core.formats.report import report
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix

from .arguments import file_parser, refuse, run

_BAR_WIDTH = 40
_MINUS = re.compile(r"(?<![\w-])-(?=\d)")
_SHOWN_DEGREES = (-5, -10, -15, -18, -20, -25, -30)


def main(arguments: list[str]) -> int:
    """Print the analysis and return 0, or one sentence on standard error and 2."""
    parser = file_parser("analyse", "Analyse a mix file.")
    parser.add_argument("--advice", action="store_true", help="say too what a cook would try against its faults")
    asked = parser.parse_args(arguments)
    try:
        read = read_mix_file(read_file(asked.file))
    except MixError as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{asked.file[:200]} cannot be read: {error.strerror}")
    figures = report(read.mix)
    if asked.advice:
        figures["adjustments"] = _advice(read)
    print(json.dumps(figures, ensure_ascii=False, indent=2) if asked.json else _table(read.mix, figures))
    return 0


def _advice(read: MixFile) -> list[dict[str, Any]]:
    from jalebi_core.formats.advice_report import advice_report

    return advice_report(read.mix, read.restrictions)


def read_file(name: str) -> bytes:
    """Read no more than shows that a file is too big, whatever its size."""

    def head(source: BinaryIO) -> bytes:
        return source.read(MOST_BYTES + 1)

    if name == "-":
        return head(sys.stdin.buffer)
    with Path(name).open("rb") as source:
        return head(source)


def _table(mix: Mix, figures: dict[str, Any]) -> str:
    per_100g, freezing, firmness = figures["per_100g"], figures["freezing"], figures["firmness"]
    at = {point["t_c"]: point["frozen_pct"] for point in freezing["curve"]}
    rows = [
        ("mass", _figure(figures["mass_g"], "g", 0)),
        ("volume with air", _figure(figures["volume_l"], f"L at {figures['overrun_pct']:g} % overrun", 2)),
        ("density", _figure(figures["density_kg_l"], "kg/L", 3)),
        ("fat", _figure(per_100g["fat"], "%", 1)),
        ("MSNF", _figure(per_100g["msnf"], "%", 1)),
        ("sugars", _figure(per_100g["sugars"], "% without lactose", 1)),
        ("total solids", _figure(per_100g["total_solids"], "%", 1)),
        ("sweetness (POD)", _figure(figures["sweetness_pod"], "g sucrose equivalents per 100 g", 1)),
        ("freezing power (PAC)", _figure(figures["freezing_power_pac"], "per 100 g mix", 1)),
        ("", _figure(figures["freezing_power_per_100g_water"], "per 100 g water", 1)),
        ("first ice", _figure(freezing["initial_c"], "°C", 1)),
        ("scoops at", _figure(freezing["scoop_c"], f"°C, ± {figures['cabinet']['scooping_uncertainty_c']:.1f}", 1)),
        ("firmness at −18 °C", f"{firmness['value']:.1f}, {firmness['word']}"),
    ]
    bars = {t: "█" * round(at[t] / 100 * _BAR_WIDTH) for t in _SHOWN_DEGREES}
    curve = [f"  {t:>4} °C  {bar:<{_BAR_WIDTH}}  {at[t]:5.1f} % ice" for t, bar in bars.items()]
    lines = [mix.name, str(verdict(analyse_mix(mix), firmness["at_c"])), ""]
    lines += [f"  {label:<22}{value}" for label, value in rows]
    lines += [
        "",
        *curve,
        *_eating(figures),
        *_gums(figures),
        *_beside(figures),
        *(f"\n  {caution}" for caution in figures["cautions"]),
        *(line for help in figures.get("adjustments", ()) for line in _help(help)),
    ]
    return "\n".join(_MINUS.sub("−", line) for line in lines)


def _eating(figures: dict[str, Any]) -> list[str]:
    """Return how it eats from the freezer, with reasons, and how firm it is where it is kept and served."""
    outcomes = [f"  {key:<12}{found['reason']}" for key, found in figures["outcomes"].items()]
    cabinet = figures["cabinet"]
    places = [f"  {place['name'].lower()}, {place['t_c']:g} °C: {place['word']}" for place in cabinet["places"]]
    sums = [f"  freezing power, {found['counted']}: {found['said']}" for found in cabinet["serving_sums"]]
    names = [f"  may be called {name['name']} ({name['region']})" for name in figures["names"] if name["fits"]]
    return ["", *outcomes, "", *places, *sums, *names]


def _help(help: dict[str, Any]) -> list[str]:
    """Return what would help against one fault."""
    tried = [f"    {one['said']}" for one in help["found"]] or [f"    {help['none']}"]
    return ["", f"  {help['fault']}, would help:", *tried]


def _gums(figures: dict[str, Any]) -> list[str]:
    gums = figures["gums"]
    message = [f"  {gum['name']}, {gum['dose_pct']:.2f} %: {' '.join(gum['said'])}" for gum in gums["lines"]]
    return ["", *message, *(f"  {pair}" for pair in gums["pairs"])] if message else []


def _beside(figures: dict[str, Any]) -> list[str]:
    """Return what stands beside the mix, each with its share of the tub, and what the whole tub is."""
    if not figures["beside"]:
        return []
    product = figures["product"]
    whole = f"{product['mass_g']:.0f} g, {product['volume_l']:.2f} L, {product['energy_kcal']:.0f} kcal per 100 g"
    parts = [
        f"  {part['name']}, {part['share_pct']:.0f} %: {part['said']} {part['advice']}" for part in figures["beside"]
    ]
    return ["", f"  the whole tub: {whole}", *parts]


def _figure(value: float | None, unit: str, digits: int) -> str:
    return "none" if value is None else f"{value:.{digits}f} {unit}"


if __name__ == "__main__":
    run(main)
