"""The command line: what `./jalebi analyse` takes beside the import of numpy, the least that it can take."""

from __future__ import annotations

import statistics
import subprocess
import time
from collections.abc import Sequence

from launch.places import ROOT, VAR

from .figure import Figure

_RUNS = 15
_MIX = "server/demo/data/quince-sorbet.json"


def figures() -> list[Figure]:
    """Measure whole processes in turns, so that what else the machine does meets both alike."""
    analyse = [ROOT / "jalebi", "analyse", _MIX, "--json"]
    numpy = [VAR / "venv/bin/python", "-c", "import numpy"]
    turns = [(_seconds(analyse), _seconds(numpy)) for _ in range(_RUNS + 1)][1:]
    ratio = statistics.median(one / other for one, other in turns)
    return [Figure("analyse, the whole command, by the import of numpy", ratio, 2.0, "×")]


def _seconds(command: Sequence[object]) -> float:
    began = time.perf_counter()
    subprocess.run([str(part) for part in command], cwd=ROOT, check=True, stdout=subprocess.DEVNULL)
    return time.perf_counter() - began
