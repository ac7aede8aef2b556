"""The runner of the tests: what came of a test reaches the process that counts, whatever was raised."""

from __future__ import annotations

import pickle
import sys
import threading
import unittest
from unittest import TestCase

from testing.runner import ErrorInfo, _parts, _portable


class HoldsALockError(Exception):
    """Holds something that cannot be handed on to another process, as the failures of some packages do."""

    def __init__(self, what: str) -> None:
        super().__init__(what)
        self.lock = threading.Lock()


def raised(error: Exception) -> ErrorInfo:
    try:
        raise error
    except Exception:
        kind, value, trace = sys.exc_info()
        assert kind is not None and value is not None and trace is not None
        return kind, value, trace


class PortableTest(TestCase):
    """Exceptions on their way to another process."""

    def test_one_that_cannot_be_handed_on_is_told_as_text(self) -> None:
        kind, value, _ = _portable(raised(HoldsALockError("the answer is not as described")))
        self.assertIs(kind, AssertionError)
        self.assertIn("HoldsALockError: the answer is not as described", str(value))
        self.assertEqual(str(pickle.loads(pickle.dumps(value))), str(value))

    def test_any_other_stays_what_it_is(self) -> None:
        before = raised(ValueError("plain"))
        self.assertIs(_portable(before), before)


class PartsTest(TestCase):
    """What is handed to a processor at once."""

    def test_tests_that_share_nothing_are_handed_out_one_by_one(self) -> None:
        class Shared(TestCase):
            def test_one(self) -> None: ...

            def test_two(self) -> None: ...

        class Alone(Shared):
            alone = True

        loaded = unittest.defaultTestLoader.loadTestsFromTestCase
        self.assertEqual([len(list(part)) for part in _parts(loaded(Shared))], [2])
        self.assertEqual([len(list(part)) for part in _parts(loaded(Alone))], [1, 1])
