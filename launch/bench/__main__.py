"""Measure everything, or the parts that are named, and print it."""

from __future__ import annotations

import sys
import traceback
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from importlib import import_module
from typing import Any, Final

from launch.application import StandIns
from launch.demo_server import DemoServer, demo_server
from launch.places import LaunchError

from .figure import Figure

_ALONE: Final = {
    "core": "core_speed.figures",
    "heat": "heat_speed.figures",
    "label": "label_speed.figures",
    "balance": "balance_speed.figures",
    "proof": "balance_proof.figures",
    "plan": "plan_speed.figures",
    "tasting": "tasting_speed.figures",
    "watch": "instruments_speed.watch_figures",
    "command": "command_speed.figures",
}
"""Parts that need nothing but the core and the command."""
_SERVED: Final = {
    "server": "server_speed.figures",
    "interface": "interface_speed.figures",
    "materials": "materials_speed.figures",
    "mixes": "mixes_speed.figures",
    "stock": "stock_speed.figures",
    "making": "making_speed.figures",
    "calls": "generated_calls.figures",
    "load": "load_speed.figures",  # last, because it kills what the others measure
}
"""Parts that are measured on a served demo kitchen."""
_WITH_STAND_INS: Final = {"instruments": "instruments_speed.figures"}
PARTS: Final = (*_ALONE, *_SERVED, *_WITH_STAND_INS)


def main(arguments: list[str]) -> int:
    """Print the figures; exit code 1 where a part breaks, 2 for a call that makes no sense."""
    unknown = [name for name in arguments if name not in PARTS]
    if unknown:
        print(f"jalebi: bench knows {', '.join(PARTS)}, not “{unknown[0]}”.", file=sys.stderr)
        return 2
    wanted = arguments or list(PARTS)
    print("Figures are medians unless said; “SHORT” is short of what is asked.")
    try:
        broken = [
            *_measure(_ALONE, wanted),
            *_measure_served(_SERVED, wanted, None),
            *_measure_served(_WITH_STAND_INS, wanted, StandIns()),
        ]
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    if broken:
        print(f"jalebi: these parts broke: {', '.join(broken)}.", file=sys.stderr)
    return 1 if broken else 0


def _measure_served(parts: dict[str, str], wanted: Sequence[str], stand_ins: StandIns | None) -> list[str]:
    """Measure parts on one served kitchen, which is only started where one of them is wanted."""
    if not any(name in wanted for name in parts):
        return []
    with demo_server(stand_ins=stand_ins) as server:
        return _measure(parts, wanted, server)


def _measure(parts: dict[str, str], wanted: Sequence[str], *about: DemoServer) -> list[str]:
    """Print the figures of the parts that are wanted, and return those that broke: the others go on."""
    broken: list[str] = []
    for name, path in parts.items():
        if name in wanted:
            with _noting(name, broken):
                for figure in _figures_of(path)(*about):
                    print(figure.line(), flush=True)
    return broken


def _figures_of(path: str) -> Callable[..., Iterable[Figure]]:
    module, _, function = path.rpartition(".")
    found: Any = getattr(import_module(f"launch.bench.{module}"), function)
    return found  # type: ignore[no-any-return]


@contextmanager
def _noting(name: str, broken: list[str]) -> Iterator[None]:
    try:
        yield
    except Exception as error:
        traceback.print_exception(error, limit=3)
        print(f"{name} broke: {type(error).__name__}: {error}", flush=True)
        broken.append(name)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
