"""Doing a transaction once more where the database broke it off for another's sake."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Final, ParamSpec, TypeVar

from django.db import OperationalError, connection

Args = ParamSpec("Args")
Result = TypeVar("Result")

_BROKEN_OFF: Final = frozenset(("40001", "40P01"))
"""PostgreSQL's states of a transaction that could not be brought into an order with others, and of a deadlock."""


def retried(work: Callable[Args, Result]) -> Callable[Args, Result]:
    """Do a whole transaction again, once, when it was broken off; within another it is that which must be repeated."""

    @wraps(work)
    def again(*args: Args.args, **kwargs: Args.kwargs) -> Result:
        try:
            return work(*args, **kwargs)
        except OperationalError as error:
            if connection.in_atomic_block or getattr(error.__cause__, "sqlstate", None) not in _BROKEN_OFF:
                raise
        return work(*args, **kwargs)

    return again
