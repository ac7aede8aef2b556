"""`balance FILE [--job KEY] [--json]`: a mix file with aims, or with a job, to a balanced mix; without database."""

from __future__ import annotations

import json
import time
from argparse import Namespace

from jalebi_core.balance.jobs import JOBS
from jalebi_core.balance.request import BalanceRequest, checked
from jalebi_core.balance.solving import balance
from jalebi_core.formats.balance_file import read_job, read_request
from jalebi_core.formats.balance_report import balance_report
from jalebi_core.model.errors import JalebiError
from jalebi_core.shelf.catalogue import ingredients

from .analyse import read_file
from .arguments import file_parser, refuse, run


def main(arguments: list[str]) -> int:
    """Print the balance and return 0, or one sentence on standard error and 2."""
    parser = file_parser("balance", "Balance a mix file with aims, or do a job on one without.")
    parser.add_argument("--job", metavar="KEY", help=f"one of {', '.join(JOBS)}")
    parser.add_argument("--line", metavar="N", type=int, help="the line that a job is about, counted from 0")
    parser.add_argument("--with", metavar="SLUG", dest="ingredient", help="what is to stand in the place of that line")
    parser.add_argument("--grams", metavar="G", type=float, help="how many g of that line there are")
    asked = parser.parse_args(arguments)
    if asked.job is None and (asked.line, asked.ingredient, asked.grams) != (None, None, None):
        parser.error("--line, --with and --grams are what a job is about: say which with --job")
    try:
        request = checked(_request(asked))
        began = time.perf_counter()
        found = balance(request)
    except JalebiError as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{asked.file[:200]} cannot be read: {error.strerror}")
    seconds = time.perf_counter() - began
    data = balance_report(found, ingredients(), seconds)
    if asked.json:
        print(json.dumps(data, ensure_ascii=False, indent=2))
        return 0
    print(request.mix.name, data["said"], "", sep="\n")
    for line in data["lines"]:
        print(f"  {line['grams']:>9.6g} g  {line['ingredient']}")
    print()
    for aim in data["aims"]:
        print(
            f"  {aim['of']:<18}{aim['before']:>9.2f} → {aim['after']:.2f}{'' if aim['met'] else '  not met'}".replace(
                "-", "−"
            )
        )
    for one in data["unmet"]:
        print(f"\n  {one['because']} Would help: {'; or '.join(one['would_help'])}.")
    return 0


def _request(asked: Namespace) -> BalanceRequest:
    data = read_file(asked.file)
    if asked.job is None:
        return read_request(data)
    return read_job(data, asked.job, ingredients(), asked.line, asked.ingredient, asked.grams)


if __name__ == "__main__":
    run(main)
