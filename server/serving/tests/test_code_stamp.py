"""A server whose folder was moved to newer code says so instead of breaking."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django.http import HttpResponse
from django.test import RequestFactory, SimpleTestCase, override_settings

from serving import code_stamp as stamps
from serving.code_stamp import code_stamp, moved_middleware


class CodeStampTest(SimpleTestCase):
    """Files that change, and what is answered then."""

    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        (self.folder / "rule.py").write_text("A = 1\n")

    def test_it_changes_with_any_file_of_the_code_and_with_no_other(self) -> None:
        stamp = code_stamp([self.folder])
        (self.folder / "note.txt").write_text("nothing")
        self.assertEqual(code_stamp([self.folder]), stamp)
        for change in ("A = 2 # longer", None):
            before = code_stamp([self.folder])
            if change:
                (self.folder / "rule.py").write_text(change)
            else:
                (self.folder / "new.toml").write_text("")
            self.assertNotEqual(code_stamp([self.folder]), before)

    def answers(self, stamps_read: list[str], prepared: str) -> list[int]:
        """Return what requests are answered as the code's stamp is read, one request later each time."""
        file = self.folder / "prepared"
        file.write_text(prepared)
        with (
            override_settings(PREPARED=file),
            mock.patch.object(stamps, "code_stamp", side_effect=stamps_read),
            mock.patch.object(stamps, "_LOOK_EVERY_S", -1.0),
        ):
            answer = moved_middleware(lambda _request: HttpResponse("well"))
            return [answer(RequestFactory().get("/")).status_code for _ in stamps_read[1:]]

    def test_newer_code_is_said_and_never_run_on_an_older_database(self) -> None:
        self.assertEqual(self.answers(["old", "old", "new"], "old"), [200, 503])
        self.assertEqual(self.answers(["new", "new"], "old"), [503])
        self.assertEqual(self.answers(["old", "new"], "new"), [503])
