"""How much of the code is tests: lines of Python and TypeScript, without what is generated and without migrations."""

from __future__ import annotations

import re
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Final

_CODE: Final = ("*.py", "*.ts", "*.tsx")
_NOT_WRITTEN: Final = re.compile(r"(^|/)(migrations|node_modules)/|schema\.d\.ts$")
_TESTS: Final = re.compile(r"(^|/)(tests?|e2e|browser|testing)/|(^|/)test_[^/]*$|\.test\.tsx?$")


@dataclass(frozen=True, slots=True)
class CodeShare:
    """Lines that are not empty: of tests, and of all code."""

    tests: int
    all: int

    @property
    def line(self) -> str:
        """What is said of it."""
        return f"{100 * self.tests / max(self.all, 1):.1f} % of {self.all} lines of code are tests"


def is_test(name: str) -> bool:
    """Say whether a file, by its name from the root of the project, is there for tests alone."""
    return _TESTS.search(name) is not None


def code_share(root: Path) -> CodeShare:
    """Count the lines of a project's files, those that are new and not yet committed too."""
    listed = subprocess.run(
        ["git", "ls-files", "--cached", "--others", "--exclude-standard", *_CODE],
        cwd=root,
        text=True,
        capture_output=True,
    )
    names = [name for name in listed.stdout.splitlines() if not _NOT_WRITTEN.search(name) and (root / name).exists()]
    lines = {name: sum(1 for line in (root / name).read_text("utf-8").splitlines() if line.strip()) for name in names}
    return CodeShare(sum(count for name, count in lines.items() if is_test(name)), sum(lines.values()))
