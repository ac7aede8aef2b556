"""`cost FILE [--json]`: what a batch of a mix file costs, without database or browser."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.cost_file import cost_report

from .arguments import run
from .reports import print_report


def main(arguments: list[str]) -> int:
    """Print the cost and return 0, or one sentence on standard error and 2."""
    return print_report("cost", "Cost a batch of a mix file.", cost_report, _text, arguments)


def _text(found: dict[str, Any]) -> str:
    currency = found["currency"]

    def money(value: float | None) -> str:
        return "not known" if value is None else f"{value:.2f} {currency}"

    rows = [f"  {line['name']:<32}{line['bought_g']:>9.0f} g{money(line['cost']):>14}" for line in found["lines"]]
    sold = [
        f"  {one['name']:<24}{one['count']:>5} portions, cost {money(one['cost'])}, price {money(one['price'])}, "
        f"profit {money(one['profit'])}"
        for one in found["sold"]
    ]
    changes = [f"  {_change(one['what'], found)}: {money(one['per_litre'])} a litre" for one in found["what_if"]]
    missing = found["not_priced"]
    return "\n".join(
        (
            f"{found['name']}: a batch costs {money(found['batch'])}, a litre {money(found['per_litre'])}.",
            *([f"Not priced: {', '.join(missing)}; at least {money(found['at_least'])}."] if missing else []),
            "",
            *rows,
            f"  ingredients {money(found['ingredients'])}, labour {money(found['labour'])}, "
            f"energy {money(found['energy'])}; {found['yield']['kg']:.2f} kg, {found['yield']['litres']:.2f} L",
            *(["", *sold] if sold else []),
            *(["", *changes] if changes else []),
        )
    )


def _change(what: dict[str, float], found: dict[str, Any]) -> str:
    if "overrun_pct" in what:
        return f"with {what['overrun_pct']:g} % air"
    return f"{found['lines'][int(what['line'])]['name']} {what['price_pct']:+g} %"


if __name__ == "__main__":
    run(main)
