"""How much of the code is tests."""

from __future__ import annotations

import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

from launch.code_share import CodeShare, code_share, is_test


class CodeShareTest(TestCase):
    """Lines are counted by what their file is there for."""

    def test_files_are_told_apart_by_their_names(self) -> None:
        for name in ("core/tests/test_pot.py", "e2e/test_make.py", "web/tests/making.test.ts", "browser/pages.py"):
            self.assertTrue(is_test(name), name)
        for name in ("core/jalebi_core/tasting/trial.py", "launch/endure/attack.py", "web/src/ui/contest.tsx"):
            self.assertFalse(is_test(name), name)

    def test_empty_lines_migrations_and_what_is_generated_do_not_count(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            root = Path(folder)
            subprocess.run(["git", "init", "-q", folder], check=True)
            for name, text in (
                ("rule.py", "a = 1\n\n\nb = 2\nc = 3\n"),
                ("tests/test_rule.py", "assert True\n"),
                ("app/migrations/0001.py", "x = 1\n" * 50),
                ("web/schema.d.ts", "type A = 1;\n" * 50),
                ("notes.txt", "words\n" * 50),
            ):
                (root / name).parent.mkdir(parents=True, exist_ok=True)
                (root / name).write_text(text)
            found = code_share(root)
        self.assertEqual(found, CodeShare(tests=1, all=4))
        self.assertEqual(found.line, "25.0 % of 4 lines of code are tests")

    def test_no_code_is_no_trouble(self) -> None:
        self.assertEqual(CodeShare(0, 0).line, "0.0 % of 0 lines of code are tests")
