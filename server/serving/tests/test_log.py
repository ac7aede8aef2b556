"""What stands in the log when something fails, and what does not."""

from __future__ import annotations

import json
import logging
import sys

from django.db import IntegrityError, transaction

from ingredients.models import Ingredient
from serving.log import JsonFormatter
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
