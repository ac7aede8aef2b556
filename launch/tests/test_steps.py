"""Steps outside the code: commands that fail, programs that are missing, servers that outlived their launcher."""

from __future__ import annotations

import io
import os
import signal
import subprocess
import sys
import tempfile
import time
from contextlib import redirect_stderr
from pathlib import Path
from unittest import TestCase, mock

from launch import debian, environments, progress
from launch.application import end_left_over
from launch.checks import Check, Outcome, _run
from launch.places import LaunchError


class StepTest(TestCase):
    """Slow steps and their failures."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_a_step_says_how_it_went(self) -> None:
        with redirect_stderr(io.StringIO()) as message, progress.step("something slow"):
            pass
        self.assertRegex(message.getvalue(), r"something slow … done \([0-9.]+ s\)")
        with redirect_stderr(io.StringIO()) as message, self.assertRaises(ValueError), progress.step("something slow"):
            raise ValueError
        self.assertIn("failed", message.getvalue())

    def test_a_command_that_fails_shows_its_last_words_and_keeps_them_all(self) -> None:
        with mock.patch.object(progress, "VAR", self.folder), self.assertRaises(LaunchError) as failed:
            progress.run_quietly([sys.executable, "-c", "print('x' * 3); raise SystemExit('no disk left')"])
        self.assertIn("no disk left", str(failed.exception))
        self.assertIn("xxx", (self.folder / "last-failure.log").read_text())

    def test_a_program_that_is_not_there_is_named(self) -> None:
        with self.assertRaisesRegex(LaunchError, "no-such-program"):
            progress.run_quietly(["no-such-program"])

    def test_without_debian_the_packages_are_named_instead(self) -> None:
        with mock.patch("shutil.which", return_value=None), self.assertRaisesRegex(LaunchError, "postgresql"):
            debian.install("postgresql")

    def test_without_node_the_interface_says_what_it_needs(self) -> None:
        with mock.patch("shutil.which", return_value=None), self.assertRaisesRegex(LaunchError, "Node 20"):
            environments.ensure_node_packages()

    def test_only_the_newest_builds_are_kept(self) -> None:
        for age, name in enumerate(("newest", "newer", "new", "old", "oldest")):
            build = self.folder / name
            build.mkdir()
            os.utime(build, (1_000_000 - age, 1_000_000 - age))
        environments._forget_old_builds(self.folder, keep=3)
        self.assertEqual({path.name for path in self.folder.iterdir()}, {"newest", "newer", "new"})


class LeftOverTest(TestCase):
    """A pid file of a program that is gone, or whose number somebody else has now."""

    def test_a_foreign_process_is_left_alone_and_the_file_goes(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            pid_file = Path(folder, "server.pid")
            pid_file.write_text(str(os.getpid()))
            with mock.patch("os.killpg") as kill:
                end_left_over(pid_file, ("-m", "gunicorn"))
            kill.assert_not_called()
            self.assertFalse(pid_file.exists())

    def test_what_outlived_its_launcher_is_ended(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            pid_file = Path(folder, "worker.pid")
            command = ("-c", "import time; time.sleep(60)", "left over")
            left = subprocess.Popen([sys.executable, *command], start_new_session=True)
            self.addCleanup(left.kill)
            while b"left over" not in Path(f"/proc/{left.pid}/cmdline").read_bytes():
                time.sleep(0.01)
            pid_file.write_text(str(left.pid))
            with mock.patch("launch.application.VAR", Path(sys.executable).parent):
                end_left_over(pid_file, command)
            self.assertEqual(left.wait(5), -signal.SIGTERM)

    def test_no_file_is_no_trouble(self) -> None:
        with mock.patch("launch.application.os.killpg") as kill:
            end_left_over(Path("/nowhere/server.pid"), ("-m", "gunicorn"))
        kill.assert_not_called()


class CheckTest(TestCase):
    """How the checks are counted."""

    def count(self, prints: str, code: int) -> tuple[int, int]:
        script = f"print({prints!r}); raise SystemExit({code})"
        with mock.patch("builtins.print"):
            outcome = _run(Check("core", "a check", [sys.executable, "-c", script]), dict(os.environ))
        return outcome.passed, outcome.failed

    def test_a_part_that_takes_longer_than_its_budget_says_so_without_failing(self) -> None:
        tests = Check("server", "server", [], is_tests=True)
        self.assertEqual(Outcome(tests, 5, 0, 149.0).line, "server: 5 passed, 0 failed, 149 s")
        self.assertIn("300 s, over its budget of 150 s", Outcome(tests, 5, 0, 300.0).line)
        self.assertNotIn("budget", Outcome(Check("server", "mypy", []), 1, 0, 300.0).line)

    def test_tests_are_counted_and_a_failing_check_never_passes(self) -> None:
        self.assertEqual(self.count("Ran 12 tests in 3 s\n\nOK", 0), (12, 0))
        self.assertEqual(self.count("30 passed in 2.1s", 0), (30, 0))
        self.assertEqual(self.count("Ran 12 tests in 3 s\n\nFAILED (failures=2, errors=1)", 1), (9, 3))
        self.assertEqual(self.count("2 failed, 30 passed in 2.1s", 1)[1], 2)
        self.assertEqual(self.count(" Test Files  3 passed (3)\n      Tests  81 passed (81)\n", 0), (81, 0))
        self.assertEqual(self.count("      Tests  1 failed | 80 passed (81)\n", 1), (80, 1))
        self.assertEqual(self.count("no tests, just broken", 2), (0, 1))
        self.assertEqual(self.count("All checks passed!", 0), (1, 0))
