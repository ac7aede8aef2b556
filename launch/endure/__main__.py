"""Run what is asked for, all by default, and print the figures."""

from __future__ import annotations

import sys

from launch.places import LaunchError

from . import attack, kills, memory

_PARTS = {"attack": attack.figures, "kills": kills.figures, "memory": memory.figures}


def main(arguments: list[str]) -> int:
    """Print the figures; exit code 2 for a call that makes no sense, 1 where something was lost or grew."""
    if unknown := [name for name in arguments if name not in _PARTS]:
        print(f"jalebi: endure knows {', '.join(_PARTS)}, not “{unknown[0][:40]}”.", file=sys.stderr)
        return 2
    short = False
    try:
        for name in arguments or _PARTS:
            for figure in _PARTS[name]():
                print(figure.line(), flush=True)
                short = short or not figure.good
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    return int(short)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
