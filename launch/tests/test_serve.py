"""Starting when something stands in the way: another start, a disk that refuses, somebody who works in the demo."""

from __future__ import annotations

import contextlib
import io
import os
import signal
import subprocess
import sys
import tempfile
import time
from errno import EDQUOT, ENOSPC, EROFS
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from threading import Thread
from unittest import TestCase, mock

from launch import serve
from launch.application import end_left_over, listen
from launch.command import main
from launch.database import Cluster
from launch.debian import ensure_postgres
from launch.places import LaunchError
from launch.progress import run_quietly
from launch.secrets_file import load_secrets


class SecondStartTest(TestCase):
    """Somebody starts again while it runs."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.address = Path(folder.name, "address")
        patched = mock.patch.multiple(serve, _ADDRESS=self.address, _HEALTHY_AGAIN_S=0.0)
        patched.start()
        self.addCleanup(patched.stop)

    def told(self) -> str:
        with contextlib.redirect_stdout(io.StringIO()) as said:
            self.assertEqual(serve._tell_of_running(), 0)
        return said.getvalue()

    def test_before_it_has_an_address_it_is_said_to_get_ready(self) -> None:
        self.assertIn("getting ready already", self.told())

    def test_its_address_is_told_when_it_is_well(self) -> None:
        self.address.write_text("http://127.0.0.1:8000/\n")
        with mock.patch.object(serve, "is_healthy", return_value=True):
            self.assertIn("already running here: http://127.0.0.1:8000/", self.told())

    def test_nobody_is_told_that_all_is_well_when_it_is_not(self) -> None:
        with listen() as silent:
            self.address.write_text(f"http://127.0.0.1:{silent.getsockname()[1]}/")
            with (
                mock.patch.object(serve, "is_healthy", return_value=False),
                self.assertRaisesRegex(LaunchError, r"does not answer well at http://127\.0\.0\.1.*Stop it there"),
            ):
                serve._tell_of_running()


class StorageTest(TestCase):
    """A disk that refuses is one sentence."""

    def test_each_refusal_says_what_to_do(self) -> None:
        for number, said in ((ENOSPC, "the disk is full"), (EDQUOT, "share of the disk"), (EROFS, "read-only")):
            with (
                self.subTest(said=said),
                mock.patch("launch.serve.start", side_effect=OSError(number, os.strerror(number), "/x/var")),
                contextlib.redirect_stderr(io.StringIO()) as errors,
            ):
                self.assertEqual(main(["start"]), 1)
                self.assertEqual(len(errors.getvalue().splitlines()), 1)
                self.assertIn(said, errors.getvalue())
                self.assertIn("/x/var", errors.getvalue())


class ResetTest(TestCase):
    """The demo kitchen is put back only when nobody minds."""

    def reset(self, sure: bool, in_use: str, answer: str) -> list[str]:
        asked: list[str] = []

        def manage(*command: str) -> str:
            asked.append(command[0])
            return in_use if command[0] == "demo_in_use" else ""

        with (
            mock.patch.object(serve, "_manage", manage),
            mock.patch("builtins.input", return_value=answer),
            contextlib.redirect_stderr(io.StringIO()),
        ):
            serve.reset_demo(sure)
        return asked

    def test_it_asks_where_somebody_works_there(self) -> None:
        self.assertEqual(self.reset(False, "keeper signed in 3 minutes ago.", "y"), ["demo_in_use", "prepare"])
        with self.assertRaisesRegex(LaunchError, "stays as it is"):
            self.reset(False, "keeper signed in 3 minutes ago.", "")

    def test_it_does_not_ask_where_nobody_does_or_with_yes(self) -> None:
        self.assertEqual(self.reset(False, "", ""), ["demo_in_use", "prepare"])
        self.assertEqual(self.reset(True, "keeper signed in 3 minutes ago.", ""), ["prepare"])


class RoleTest(TestCase):
    """What an older version made as the database's administrator is handed over to a role that is none."""

    def setUp(self) -> None:
        self.cluster = Cluster("postgres-of-a-test", durable=False)
        self.addCleanup(run_quietly, ["rm", "-rf", self.cluster.folder])
        self.addCleanup(self.cluster.stop)
        with contextlib.redirect_stderr(io.StringIO()):
            self.port = self.cluster.start()

    def ask(self, sql: str, user: str = "jalebi", database: str = "jalebi") -> str:
        secrets = load_secrets()
        kept_as = {"jalebi": "database_password", "jalebi_owner": "owner_password", "jalebi_app": "role_password"}
        password = secrets[kept_as[user]]  # type: ignore[literal-required]
        connect = ["-h", "127.0.0.1", "-p", str(self.port), "-U", user, "-d", database, "-Atq", "-v", "ON_ERROR_STOP=1"]
        return run_quietly(
            [ensure_postgres() / "psql", *connect], env={**os.environ, "PGPASSWORD": password}, given=sql
        ).strip()

    def test_tables_functions_and_the_database_change_hands_once(self) -> None:
        self.ask("CREATE DATABASE jalebi", database="postgres")
        self.ask("CREATE TABLE mixes (id bigserial, name text); INSERT INTO mixes (name) VALUES ('ice')")
        self.ask("CREATE SEQUENCE changes; CREATE FUNCTION one() RETURNS int LANGUAGE sql AS 'SELECT 1'")
        self.assertEqual(self.cluster.start(), self.port)
        owners = self.ask("SELECT DISTINCT pg_get_userbyid(relowner) FROM pg_class WHERE relkind IN ('r', 'S')"
                          " AND relnamespace = 'public'::regnamespace")  # fmt: skip
        self.assertEqual(owners, "jalebi_owner")
        self.ask("ALTER TABLE mixes ADD price float", "jalebi_owner")
        self.ask("CREATE OR REPLACE FUNCTION one() RETURNS int LANGUAGE sql AS 'SELECT 2'", "jalebi_owner")
        self.assertEqual(self.ask("SELECT name, one() FROM mixes", "jalebi_owner"), "ice|2")
        self.assertEqual(self.ask("SELECT count(*) FROM pg_roles WHERE rolname ~ 'jalebi_' AND rolsuper"), "0")
        with self.assertRaises(LaunchError):
            self.ask("CREATE TABLE more (id int)", "jalebi_app")


class LeftOverTest(TestCase):
    """A launcher that is killed while something is prepared."""

    def test_what_it_began_is_known_by_its_file_and_ended(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            pid_file = Path(folder, "prepare.pid")
            code = f"import pathlib; print(pathlib.Path({str(pid_file)!r}).read_text(), input())"
            said = run_quietly([sys.executable, "-c", code], pid_file=pid_file, given="there")
            self.assertRegex(said, r"^\d+ there$")
            self.assertFalse(pid_file.exists())
            sleeping = ("-c", "import time; time.sleep(60)")
            left = subprocess.Popen([sys.executable, *sleeping], start_new_session=True)
            pid_file.write_text(str(left.pid))
            while not Path(f"/proc/{left.pid}/cmdline").read_bytes():
                time.sleep(0.01)  # it has begun, and has no arguments yet
            with mock.patch("launch.application.VAR", Path(sys.executable).parent):
                end_left_over(pid_file, sleeping)
            self.assertEqual(left.wait(5), -signal.SIGTERM)
            self.assertFalse(pid_file.exists())


class UpdatedTest(TestCase):
    """A start beside one that was updated while it ran."""

    def answer(self, body: bytes) -> bool:
        class Refusing(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(503)
                self.end_headers()
                self.wfile.write(body)

            def log_message(self, *_args: object) -> None:
                """Say nothing."""

        with tempfile.TemporaryDirectory() as folder, HTTPServer(("127.0.0.1", 0), Refusing) as server:
            address = Path(folder, "address")
            address.write_text(f"http://127.0.0.1:{server.server_port}/")
            answering = Thread(target=server.handle_request)
            answering.start()
            with mock.patch.object(serve, "_ADDRESS", address):
                found = serve._is_outdated()
            answering.join()
            return found

    def test_it_is_told_from_one_that_only_does_not_answer_well(self) -> None:
        self.assertTrue(self.answer(b'{"type": "/problems/updated"}'))
        self.assertFalse(self.answer(b'{"type": "/problems/busy"}'))
        self.assertFalse(serve._is_outdated())

    def test_the_other_is_ended_and_its_lock_taken(self) -> None:
        with tempfile.TemporaryDirectory() as folder, Path(folder, "lock").open("a+") as lock:
            hold = (
                "import fcntl, sys, time; held = open(sys.argv[1]); fcntl.flock(held, fcntl.LOCK_EX);"
                "print(1, flush=True); time.sleep(60)"
            )
            with subprocess.Popen([sys.executable, "-c", hold, lock.name], stdout=subprocess.PIPE) as other:
                assert other.stdout is not None
                other.stdout.readline()
                lock.write(str(other.pid))
                lock.flush()
                with contextlib.redirect_stdout(io.StringIO()) as said:
                    serve._take_over(lock)
                self.assertEqual(other.wait(5), -signal.SIGTERM)
            self.assertIn("takes its place", said.getvalue())
