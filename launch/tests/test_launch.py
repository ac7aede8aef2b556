"""Starting: ports, left-over files and secrets."""

from __future__ import annotations

import contextlib
import io
import json
import os
import socket
import stat
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase, mock

from launch import secrets_file
from launch.analyse import main as analyse
from launch.cold import main as cold
from launch.command import main as run_command
from launch.database import Cluster, free_port
from launch.find import main as find
from launch.places import ROOT, LaunchError, digest
from launch.read import main as read


class PortTest(TestCase):
    """A taken port is stepped over."""

    def test_the_next_free_port_is_taken(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            self.assertGreater(free_port(port), port)

    def test_no_free_port_is_said(self) -> None:
        with mock.patch("socket.socket.bind", side_effect=OSError), self.assertRaises(LaunchError):
            free_port(8000)


class LeftOverTest(TestCase):
    """A pid file counts only while its own server lives."""

    def running_port(self, pid: int) -> int | None:
        with tempfile.TemporaryDirectory() as folder:
            Path(folder, "postmaster.pid").write_text(f"{pid}\n{folder}\n0\n54321\n")
            return Cluster("unused")._running_port(Path(folder))

    def test_a_dead_or_foreign_process_is_not_our_server(self) -> None:
        ended = subprocess.Popen([sys.executable, "-c", ""])
        ended.wait()
        self.assertIsNone(self.running_port(ended.pid))
        self.assertIsNone(self.running_port(os.getpid()))

    def test_an_unreadable_pid_file_is_not_our_server(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            Path(folder, "postmaster.pid").write_text("nonsense")
            self.assertIsNone(Cluster("unused")._running_port(Path(folder)))


class ElsewhereTest(TestCase):
    """Where root's database lies when the user postgres cannot enter the clone."""

    def folder(self, installation: str) -> Path:
        with (
            mock.patch("launch.database.os.geteuid", return_value=0),
            mock.patch("launch.database._may_enter", return_value=False),
            mock.patch("launch.database.load_secrets", return_value={"installation": installation}),
        ):
            return Cluster("kitchens").folder

    def test_a_new_clone_in_an_old_ones_place_has_a_database_of_its_own(self) -> None:
        self.assertNotEqual(self.folder("old"), self.folder("new"))
        self.assertEqual(self.folder("old"), self.folder("old"))


class SecretsTest(TestCase):
    """Secrets are made once, for this user's eyes."""

    def test_secrets_stay_and_nobody_else_reads_them(self) -> None:
        with tempfile.TemporaryDirectory() as folder, mock.patch.object(secrets_file, "VAR", Path(folder)):
            first = secrets_file.load_secrets()
            self.assertEqual(secrets_file.load_secrets(), first)
            mode = Path(folder, "secrets.json").stat().st_mode
            self.assertEqual(stat.S_IMODE(mode), 0o600)


class CommandTest(TestCase):
    """The one command, misused."""

    def test_misuse_is_one_line_and_exit_code_two(self) -> None:
        for arguments in (
            ["frob"],
            ["start", "now"],
            ["start", "--speed", "60"],
            ["start", "--with-devices", "--speed", "fast"],
            ["start", "--with-devices", "--speed", "1e9"],
            ["demo"],
            ["test", "nothing"],
            ["analyse"],
            ["balance", "a", "b"],
            ["cold"],
            ["cold", "/no/such/question"],
            ["find"],
            ["find", "\x07"],
            ["read"],
            ["read", "/no/such/recipe"],
            ["kitchen", "Mine"],
        ):
            with self.subTest(arguments=arguments):
                done = subprocess.run([ROOT / "jalebi", *arguments], capture_output=True, text=True)
                self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1))

    def test_a_first_start_does_not_speak_where_a_program_reads_errors(self) -> None:
        def install(*_: str) -> Path:
            print("installing", file=sys.stderr)
            return Path("python")

        with (
            mock.patch("launch.command.ready_python", return_value=None),
            mock.patch("launch.environments.ensure_python", install),
            mock.patch("launch.command.os.execve") as command,
            contextlib.redirect_stderr(io.StringIO()) as errors,
        ):
            run_command(["analyse"])
        self.assertEqual(errors.getvalue(), "")
        command.assert_called_once()

    def test_finding_and_reading_say_what_is_sure(self) -> None:
        printed = io.StringIO()
        with contextlib.redirect_stdout(printed):
            self.assertEqual(find(["mixed", "berries", "--json"]), 0)
        matches = json.loads(printed.getvalue())["matches"]
        self.assertEqual({match["sure"] for match in matches}, {False})
        with tempfile.NamedTemporaryFile("w", suffix=".txt") as file:
            file.write("Tea ice\n2 cups heavy cream\nmixed berries\nHeat the cream to 170 °F and churn.")
            file.flush()
            printed = io.StringIO()
            with contextlib.redirect_stdout(printed):
                self.assertEqual(read([file.name, "--json"]), 0)
        recipe = json.loads(printed.getvalue())
        cream, berries = recipe["lines"]
        self.assertEqual((cream["ingredient"], cream["sure"], cream["stage"]), ("cream-36", True, "pot"))
        self.assertAlmostEqual(cream["grams"], 470.4, delta=1)
        self.assertFalse(berries["sure"])
        self.assertIn("mixed berries", " ".join(recipe["questions"]))

    def test_a_question_about_cold_is_answered_in_words_and_as_data(self) -> None:
        question = {"format": "jalebi.cold", "version": 1, "ask": {"kind": "bath", "ice_g": 1000, "salt_g": 300}}
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            json.dump(question, file)
            file.flush()
            printed = {}
            for options in ((), ("--json",)):
                with contextlib.redirect_stdout(io.StringIO()) as output:
                    self.assertEqual(cold([file.name, *options]), 0)
                printed[options] = output.getvalue()
        found = json.loads(printed["--json",])
        self.assertAlmostEqual(found["t_c"], -21.1, delta=0.1)
        self.assertGreaterEqual(found["seconds"], 0)
        self.assertTrue(printed[()].startswith(found["said"]))
        self.assertIn("gloves", printed[()])

    def test_the_readable_analysis_tells_what_stands_beside_the_mix(self) -> None:
        lines = [
            {"ingredient": "whole-milk", "amount": 600, "unit": "g"},
            {"ingredient": "sugar", "amount": 120, "unit": "g"},
            {"ingredient": "honeycomb", "amount": 80, "unit": "g", "stage": "mix-in"},
        ]
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            json.dump({"format": "jalebi.mix", "version": 1, "name": "Milk ice", "lines": lines}, file)
            file.flush()
            printed = io.StringIO()
            with contextlib.redirect_stdout(printed):
                self.assertEqual(analyse([file.name]), 0)
        self.assertIn("the whole tub: 800 g", printed.getvalue())
        self.assertRegex(
            printed.getvalue(), r"Honeycomb, sugar and soda, 10 %: Too dry to freeze at −18 °C\. 100 g of it can draw"
        )

    def test_help_lists_every_command(self) -> None:
        done = subprocess.run([ROOT / "jalebi", "help"], capture_output=True, text=True)
        for command in ("start", "test", "analyse", "bench", "endure", "kitchen", "demo", "types", "pictures"):
            self.assertRegex(done.stdout, rf"(?m)^ +{command} ")

    def test_a_build_is_known_by_its_sources(self) -> None:
        paths = [ROOT / "jalebi", ROOT / "README.md"]
        self.assertEqual(digest(paths), digest(reversed(paths)))
        self.assertNotEqual(digest(paths), digest(paths[:1]))
