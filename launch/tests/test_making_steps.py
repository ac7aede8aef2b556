"""`./jalebi steps` as somebody calls it."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from launch import steps

SHERBET = {
    "format": "jalebi.mix", "version": 1, "name": "Farm sherbet", "style": "sherbet",
    "lines": [{"ingredient": "raw-milk", "amount": 400}, {"ingredient": "sugar", "amount": 150}],
}  # fmt: skip


class StepsTest(TestCase):
    """A file in, sentences or data out, and one line for what cannot be."""

    def call(self, content: Any, *arguments: str) -> tuple[int, str, str]:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "mix.json")
            file.write_text(content if isinstance(content, str) else json.dumps(content), encoding="utf-8")
            with contextlib.redirect_stdout(io.StringIO()) as out, contextlib.redirect_stderr(io.StringIO()) as err:
                try:
                    code = steps.main([str(file), *arguments])
                except SystemExit as left:
                    code = int(str(left.code))
        return code, out.getvalue(), err.getvalue()

    def test_a_mix_is_told_step_by_step(self) -> None:
        code, said, _ = self.call(SHERBET, "--machine", "canister", "--litres", "1.5")
        self.assertEqual(code, 0)
        self.assertIn("Farm sherbet: scald", said)
        self.assertLess(said.index("Bowl into the freezer"), said.index("Scald at 82 °C"))
        self.assertNotIn("CHECK", said)
        found = json.loads(self.call(SHERBET, "--json", "--cool", "stand-then-fridge")[1])
        self.assertEqual((found["way"], found["refused"], found["base_g"]), ("scald", [], 550))

    def test_what_cannot_be_made_says_what_may_stand_in_its_place(self) -> None:
        eggs = {
            **SHERBET,
            "style": "no-churn",
            "lines": [{"ingredient": "cream-36", "amount": 300}, {"ingredient": "egg-yolk", "amount": 60}],
        }
        code, said, _ = self.call(eggs)
        self.assertEqual(code, 0)
        self.assertIn("Instead: pasteurised-egg-yolk.", said)

    def test_what_cannot_be_read_is_one_line(self) -> None:
        for content, *arguments in (
            ("{",),
            ({**SHERBET, "lines": []},),
            (SHERBET, "--machine", "sledge"),
            (SHERBET, "--cool", "snow"),
            (SHERBET, "--litres", "-3"),
            (SHERBET, "--litres", "many"),
            ({**SHERBET, "lines": [{"ingredient": "x" * 99, "amount": 1}]},),
        ):
            with self.subTest(arguments=arguments):
                code, said, wrong = self.call(content, *arguments)
                self.assertEqual((code, said), (2, ""))
                self.assertEqual(wrong.count("\n"), 1, wrong)
