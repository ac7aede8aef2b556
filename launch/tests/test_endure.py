"""What endures: a call that makes no sense, a figure that is short, and what counts as lost."""

from __future__ import annotations

import contextlib
import io
import json
import os
import subprocess
import sys
import time
from typing import Any
from unittest import TestCase, mock

from launch.bench.figure import Figure
from launch.bench.server_speed import Client
from launch.endure import kills, memory, patience
from launch.endure.__main__ import _PARTS, main
from launch.endure.editor import Editor


class EndureTest(TestCase):
    """The command itself, without the minutes that it takes."""

    def run_with(self, *figures: Figure, arguments: tuple[str, ...] = ()) -> tuple[int, str]:
        parts = {name: lambda: list(figures) for name in _PARTS}
        with mock.patch.dict(_PARTS, parts), contextlib.redirect_stdout(io.StringIO()) as message:
            return main(list(arguments)), message.getvalue()

    def test_an_unknown_part_is_named_with_those_there_are(self) -> None:
        with contextlib.redirect_stderr(io.StringIO()) as message:
            self.assertEqual(main(["sleep"]), 2)
        self.assertEqual(message.getvalue(), "jalebi: endure knows attack, kills, memory, not “sleep”.\n")

    def test_a_figure_that_is_short_makes_it_fail(self) -> None:
        good, short = Figure("lost", 0.0, 0.0, ""), Figure("lost", 1.0, 0.0, "")
        self.assertEqual(self.run_with(good)[0], 0)
        code, message = self.run_with(good, short, arguments=("kills",))
        self.assertEqual(code, 1)
        self.assertEqual([line.rsplit(maxsplit=1)[-1] for line in message.splitlines()], ["good", "SHORT"])

    def test_a_limit_from_below_is_one_too(self) -> None:
        self.assertTrue(Figure("edits", 51, 50, "", at_least=True).good)
        self.assertFalse(Figure("edits", 49, 50, "", at_least=True).good)


class EditorTest(TestCase):
    """What the editor finds after a kill."""

    def editor(self, *answers: bytes | Exception) -> Editor:
        found = json.dumps({"items": [{"id": 7}], "total": 1}).encode()
        self.client = mock.Mock(spec=Client, call=mock.Mock(side_effect=[found, *answers]))
        self.client.in_kitchen = str
        patched = mock.patch.multiple(patience, Client=mock.Mock(return_value=self.client), PATIENCE_S=0.0)
        patched.start()
        self.addCleanup(patched.stop)
        return Editor(mock.Mock(port=1, person="x", password="x"), 0)

    def mix(self, typed: str) -> dict[str, Any]:
        return {"version": 3, "lines": [{"typed": typed}]}

    def test_the_acknowledged_edit_or_the_one_on_its_way_may_be_there(self) -> None:
        editor = self.editor()
        editor.check(self.mix("1001"), acknowledged="1001", in_flight="1002")
        editor.check(self.mix("1002"), acknowledged="1001", in_flight="1002")
        self.assertEqual(editor.lost, [])

    def test_anything_older_is_lost(self) -> None:
        editor = self.editor()
        editor.check(self.mix("1000"), acknowledged="1001", in_flight="1002")
        self.assertEqual(editor.lost, ["LOST: mix 7: acknowledged 1001, there is 1000"])

    def test_the_last_edit_is_looked_up_in_the_end(self) -> None:
        editor = self.editor(json.dumps(self.mix("1")).encode(), b'{"version": 4}', json.dumps(self.mix("1")).encode())
        saving = editor._save

        def save_and_end(*args: Any) -> bytes:
            editor._ended.set()
            return saving(*args)

        with mock.patch.object(editor, "_save", save_and_end):
            editor.run()
        self.assertEqual(editor.lost, ["LOST: mix 7: acknowledged 1001, there is 1"])

    def test_an_editor_that_dies_says_so(self) -> None:
        editor = self.editor(OSError("away"), KeyError("lines"))
        editor.run()
        self.assertEqual(len(editor.broken), 1)

    def test_before_the_first_acknowledgement_nothing_can_be_lost(self) -> None:
        editor = self.editor()
        editor.check(self.mix("145"), acknowledged="", in_flight="1001")
        self.assertEqual(editor.lost, [])


class ProcessesTest(TestCase):
    """Reading /proc: children, and what a process holds."""

    def test_children_are_found_while_they_live(self) -> None:
        child = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(30)"])
        try:
            self.assertIn(child.pid, kills.children(os.getpid()))
            time.sleep(0.2)
            self.assertGreater(memory._own_bytes(child.pid), 1_000_000)
        finally:
            child.kill()
            child.wait()
        self.assertNotIn(child.pid, kills.children(os.getpid()))
