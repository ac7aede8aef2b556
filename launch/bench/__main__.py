"""Measure everything and print it."""

from __future__ import annotations

import sys

from launch.application import StandIns
from launch.demo_server import demo_server
from launch.places import LaunchError

from . import (
    balance_proof,
    balance_speed,
    command_speed,
    core_speed,
    heat_speed,
    instruments_speed,
    label_speed,
    plan_speed,
    tasting_speed,
)


def main(arguments: list[str]) -> int:
    """Print the figures; exit code 2 for a call that makes no sense."""
    if arguments:
        print("jalebi: bench takes nothing after it.", file=sys.stderr)
        return 2
    print("Figures are medians unless said; “SHORT” is short of what is asked.")
    for figures in (
        core_speed.figures,
        heat_speed.figures,
        label_speed.figures,
        balance_speed.figures,
        balance_proof.figures,
        plan_speed.figures,
        tasting_speed.figures,
        instruments_speed.watch_figures,
        command_speed.figures,
    ):
        for figure in figures():
            print(figure.line(), flush=True)
    try:
        with demo_server() as server:
            from . import (
                generated_calls,
                interface_speed,
                load_speed,
                making_speed,
                materials_speed,
                mixes_speed,
                server_speed,
                stock_speed,
            )

            measurements = (
                server_speed.figures,
                interface_speed.figures,
                materials_speed.figures,
                mixes_speed.figures,
                stock_speed.figures,
                making_speed.figures,
                generated_calls.figures,
                load_speed.figures,  # last, because it kills what the others measure
            )
            for figure in (figure for figures in measurements for figure in figures(server)):
                print(figure.line(), flush=True)
        with demo_server(stand_ins=StandIns()) as server:
            for figure in instruments_speed.figures(server):
                print(figure.line(), flush=True)
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
