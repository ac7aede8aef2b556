"""Runs tests on both processors, and says at the end which were the slowest."""

from __future__ import annotations

import pickle
import time
import traceback
import unittest
from types import TracebackType
from typing import Any, Final

from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

_SLOWEST_SHOWN: Final = 10
ErrorInfo = tuple[type[BaseException], BaseException, TracebackType]


class _TimedRemoteResult(RemoteTestResult):
    """What came of tests in a process of their own, with how long each took.

    An exception that cannot be handed on to the process that counts would leave that waiting for ever: it is handed on
    as the text that it prints.
    """

    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self._began = time.monotonic()

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        self.events.append(("addDuration", self.test_index, time.monotonic() - self._began))

    def addError(self, test: Any, err: Any) -> None:
        super().addError(test, _portable(err))

    def addFailure(self, test: Any, err: Any) -> None:
        super().addFailure(test, _portable(err))

    def addSubTest(self, test: Any, subtest: Any, err: Any) -> None:
        super().addSubTest(test, subtest, None if err is None else _portable(err))


def _portable(err: ErrorInfo) -> ErrorInfo:
    try:
        pickle.loads(pickle.dumps(err[1]))
    except Exception:
        return AssertionError, AssertionError("".join(traceback.format_exception(*err))), err[2]
    return err


class _TimedRemoteRunner(RemoteTestRunner):
    resultclass = _TimedRemoteResult


class _Suite(ParallelTestSuite):
    """Tests shared among processors: whole classes where they share data, the rest one by one."""

    runner_class = _TimedRemoteRunner

    def __init__(self, subsuites: list[unittest.TestSuite], *args: Any, **kwargs: Any) -> None:
        super().__init__([part for suite in subsuites for part in _parts(suite)], *args, **kwargs)


def _parts(suite: unittest.TestSuite) -> list[unittest.TestSuite]:
    """Return a class of tests as it is, or one by one where it prepares nothing that they share."""
    tests = list(suite)
    if tests and all(getattr(test, "alone", False) for test in tests):
        return [unittest.TestSuite([test]) for test in tests]
    return [suite]


class _TimedResult(unittest.TextTestResult):
    """What came of all tests, with how long each took."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.durations: list[tuple[float, str]] = []

    def addDuration(self, test: unittest.TestCase, seconds: float) -> None:
        self.durations.append((seconds, test.id()))


class Runner(DiscoverRunner):
    """Django's runner, which prints the slowest tests of a parallel run."""

    parallel_test_suite = _Suite

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return _TimedResult

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        for seconds, name in sorted(result.durations, reverse=True)[:_SLOWEST_SHOWN]:
            print(f"{seconds:6.1f} s  {name}")
        return super().suite_result(suite, result, **kwargs)
