"""The label and cost commands as a user calls them: data, a text, and one line for everything that is wrong."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from launch.places import ROOT

WORKED = ROOT / "core/tests/reference/label/worked-uk.json"


def run(command: str, file: Path, *options: str) -> subprocess.CompletedProcess[str]:
    asked = [sys.executable, "-m", f"launch.{command}", str(file), *options]
    return subprocess.run(asked, cwd=ROOT, capture_output=True, text=True)


class LabelAndCostTest(TestCase):
    """Called in a process of its own."""

    def test_json_and_text_say_the_same(self) -> None:
        for command, key, told in (("label", "litre_g", "903 g a litre"), ("cost", "per_litre", "a litre 14.89 £")):
            with self.subTest(command=command):
                self.assertIn(key, json.loads(run(command, WORKED, "--json").stdout))
                self.assertIn(told, run(command, WORKED).stdout)

    def test_what_is_wrong_is_one_line_and_exit_code_2(self) -> None:
        content = json.loads(WORKED.read_text(encoding="utf-8"))
        content["label"] = {"region": "moon"}
        content["cost"] = {"minutes": "many"}
        with tempfile.TemporaryDirectory() as folder:
            wrong = Path(folder, "mix.json")
            wrong.write_text(json.dumps(content), encoding="utf-8")
            for command in ("label", "cost"):
                with self.subTest(command=command):
                    found = run(command, wrong)
                    self.assertEqual((found.returncode, found.stdout, found.stderr.count("\n")), (2, "", 1))
                    self.assertNotIn("Traceback", found.stderr)
            self.assertEqual(run("label", Path(folder, "none.json")).returncode, 2)
