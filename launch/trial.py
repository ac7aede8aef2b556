"""`trial FILE [--json]`: a trial's ladder, split, servings and what its answers show, without database or browser."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.trial_file import trial_report

from .arguments import run
from .reports import print_report


def main(arguments: list[str]) -> int:
    """Print the trial and return 0, or one sentence on standard error and 2."""
    return print_report("trial", "Design a trial, or read its answers.", trial_report, _text, arguments, "a trial file")


def _text(found: dict[str, Any]) -> str:
    lines = [*found["changes"], *found["held"]]
    lines += [f"  {one['key']}  {one['name']}" for one in found["variants"]]
    lines += [_expected(one) for one in found["expect"]]
    split, design = found["split"], found["design"]
    if split is not None:
        lines += ["", f"One base of {split['base_g']:.0f} g; the variants part at: {split['at'] or 'nothing differs'}."]
        lines += [f"  {_portion(one)}" for one in split["portions"]]
    if design is not None:
        lines += ["", *design["warnings"]]
        lines += [f"  {one['taster']:<16} {' '.join(one['cups'])}" for one in design["servings"]]
    if found["plan"] is not None:
        lines += ["", _plan(found["plan"])]
    if found["analysis"] is not None:
        lines += ["", found["analysis"]["said"]]
    return "\n".join(lines)


def _expected(one: dict[str, Any]) -> str:
    by = ", ".join(f"{figure} {steps:+.1f}" for figure, steps in one["by"] if abs(steps) >= 0.05)
    needs = f"; {one['needs']} tastings show it" if one["needs"] else ""
    return f"  {one['a']} to {one['b']}: d′ {one['d_prime']:.2f}{needs}. Steps: {by or 'none'}."


def _portion(one: dict[str, Any]) -> str:
    add = ", ".join(f"{line['grams']:.1f} g {line['ingredient']}" for line in one["add"])
    return f"{one['key']}: {one['base_g']:.0f} g of the base{f', {add}' if add else ''}"


def _plan(plan: dict[str, Any]) -> str:
    if plan["tastings"] is None:
        return f"A difference of d′ {plan['d_prime']:g} would take more than 400 tastings."
    return f"A difference of d′ {plan['d_prime']:g} takes {plan['tastings']} tastings, {plan['correct']} of them right."


if __name__ == "__main__":
    run(main)
