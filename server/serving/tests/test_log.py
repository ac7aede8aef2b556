"""What stands in the log when something fails, and what does not."""

from __future__ import annotations

import json
import logging
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from django.db import IntegrityError, transaction

from ingredients.models import Ingredient
from serving.log import JsonFormatter, PrivateFileHandler
from testing.kitchen_case import KitchenCase


def logged(error: BaseException) -> str:
    record = logging.LogRecord("api", logging.ERROR, "x.py", 1, "%s failed", ("PUT /x",), None)
    record.exc_info = (type(error), error, error.__traceback__)
    return JsonFormatter().format(record)


class LogTest(KitchenCase):
    """One line of JSON, without rows."""

    def test_a_row_that_cannot_be_kept_is_not_quoted(self) -> None:
        try:
            with transaction.atomic():
                Ingredient.objects.create(kitchen=self.ours.kitchen, slug="sugar", name="secret ripple")
        except IntegrityError as error:
            line = logged(error)
        self.assertNotIn("secret ripple", line)
        self.assertNotIn("\n", line)
        said = json.loads(line)
        self.assertEqual(said["message"], "PUT /x failed")
        self.assertEqual(said["failed"][1]["state"], "23502")
        self.assertTrue(said["failed"][0]["where"])

    def test_a_value_that_does_not_fit_is_not_quoted(self) -> None:
        try:
            float("secret ripple")
        except ValueError:
            line = logged(sys.exc_info()[1] or ValueError())
        self.assertNotIn("secret", line)
        self.assertIn("ValueError", line)


class PrivateFileTest(TestCase):
    """The file itself."""

    def test_it_is_for_this_user_alone_and_begun_anew_when_it_was_set_aside(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder, "server.log")
            handler = PrivateFileHandler(str(path), delay=True)
            handler.setFormatter(JsonFormatter())
            for number in (1, 2):
                handler.handle(logging.LogRecord("x", logging.ERROR, "x.py", 1, "failed %s", (number,), None))
                self.assertEqual(path.stat().st_mode & 0o777, 0o600)
                self.assertEqual(json.loads(path.read_text())["message"], f"failed {number}")
                path.rename(path.with_name("server.log.1"))
            handler.close()
