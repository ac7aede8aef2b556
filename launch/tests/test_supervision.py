"""Keeping parts alive, and logs that do not grow for ever."""

from __future__ import annotations

import os
import signal
import sys
import tempfile
import time
from pathlib import Path
from unittest import TestCase, mock

from launch.logs import rotate
from launch.places import LaunchError
from launch.supervision import Program, Supervisor


class Lamp:
    """A part that can be put out, and that fails to come back as often as asked."""

    def __init__(self, name: str, fails: int = 0) -> None:
        self.name = name
        self.fails = fails
        self.burns = True
        self.done: list[str] = []

    def lives(self) -> bool:
        return self.burns

    def bring_back(self) -> None:
        self.done.append("tried")
        if self.fails:
            self.fails -= 1
            raise LaunchError("no oil")
        self.burns = True

    def stop(self) -> None:
        self.done.append("stopped")


class SupervisorTest(TestCase):
    """Parts that end, once and again and for good."""

    def setUp(self) -> None:
        self.now = 100.0
        patched = mock.patch("launch.supervision.time.monotonic", side_effect=lambda: self.now)
        patched.start()
        self.addCleanup(patched.stop)
        self.told: list[str] = []

    def supervisor(self, *lamps: Lamp) -> Supervisor:
        return Supervisor(lamps, self.told.append, lambda: None)

    def look(self, supervisor: Supervisor, seconds: float) -> None:
        for _ in range(round(seconds / 0.5)):
            for part in supervisor.parts:
                supervisor._look_at(part)
            self.now += 0.5

    def test_what_ends_is_brought_back_and_both_are_told(self) -> None:
        lamp, other = Lamp("lamp"), Lamp("other")
        supervisor = self.supervisor(lamp, other)
        lamp.burns = False
        self.look(supervisor, 1)
        self.assertTrue(lamp.burns)
        self.assertEqual((lamp.done, other.done), (["tried"], []))
        self.assertEqual(self.told, ["The lamp has ended; it is being started again.", "The lamp is back."])

    def test_what_does_not_come_back_is_tried_less_and_less_often_and_never_given_up(self) -> None:
        lamp = Lamp("lamp", fails=9)
        supervisor = self.supervisor(lamp)
        lamp.burns = False
        self.look(supervisor, 10)
        self.assertLessEqual(len(lamp.done), 6)
        self.look(supervisor, 90)
        self.assertTrue(lamp.burns)
        self.assertEqual(len(self.told), 3)
        self.assertIn("does not come back; it is tried every 10 s. no oil", self.told[1])

    def test_what_has_stayed_is_brought_back_at_once_the_next_time(self) -> None:
        lamp = Lamp("lamp", fails=4)
        supervisor = self.supervisor(lamp)
        lamp.burns = False
        self.look(supervisor, 40)
        lamp.burns = False
        self.look(supervisor, 0.5)
        self.assertTrue(lamp.burns)

    def test_the_last_is_stopped_first(self) -> None:
        order: list[str] = []
        lamps = [Lamp("database"), Lamp("server")]
        for lamp in lamps:
            lamp.stop = lambda name=lamp.name: order.append(name)  # type: ignore[method-assign, misc]
        self.supervisor(*lamps).end()
        self.assertEqual(order, ["server", "database"])


class ProgramTest(TestCase):
    """A process with children."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def program(self, code: str) -> Program:
        command = [sys.executable, "-c", code]
        made = Program("lamp", command, dict(os.environ), self.folder / "out", self.folder / "pid")
        self.addCleanup(made.stop)
        return made

    def test_it_comes_back_as_another_process_and_its_children_go_with_it(self) -> None:
        begin = "import subprocess, sys, time; print(subprocess.Popen(['sleep', '60']).pid, flush=True); time.sleep(60)"
        program = self.program(begin)
        program.bring_back()
        while not (child := program.tail().strip()):
            time.sleep(0.02)
        first = int((self.folder / "pid").read_text())
        os.kill(first, signal.SIGKILL)
        while program.lives():
            time.sleep(0.02)
        program.bring_back()
        self.assertNotEqual(int((self.folder / "pid").read_text()), first)
        self.assertFalse(_runs(int(child)))
        program.stop()
        self.assertFalse(program.lives())
        self.assertFalse((self.folder / "pid").exists())

    def test_what_it_prints_is_for_this_user_alone(self) -> None:
        program = self.program("print('hot')")
        program.bring_back()
        while program.lives():
            time.sleep(0.02)
        self.assertEqual(program.tail(), "hot")
        self.assertEqual((self.folder / "out").stat().st_mode & 0o777, 0o600)


class RotationTest(TestCase):
    """A log that has grown is set aside."""

    def test_three_are_kept_and_the_oldest_goes(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            log = Path(folder, "server.log")
            rotate(log)
            for text in ("first", "second", "third", "fourth"):
                log.write_text(text)
                rotate(log, largest=3)
            kept = {path.name: path.read_text() for path in Path(folder).iterdir()}
        self.assertEqual(kept, {"server.log.1": "fourth", "server.log.2": "third", "server.log.3": "second"})

    def test_a_small_one_stays(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            log = Path(folder, "server.log")
            log.write_text("small")
            rotate(log)
            self.assertTrue(log.exists())


def _runs(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes() != b""
    except OSError:
        return False
