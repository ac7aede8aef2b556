"""Bodies of many items that are kept one by one: an item that cannot be read holds up none of the others."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Final
from uuid import UUID

from pydantic import ValidationError, ValidatorFunctionWrapHandler

from api.problems import Problem, faults_problem

_KEY: Final = "key"


@dataclass(frozen=True, slots=True)
class Unreadable:
    """An item that makes no sense by itself: its key, where it says one, and what is wrong with it."""

    key: UUID | None
    problem: Problem


def read_item(item: Any, read: ValidatorFunctionWrapHandler) -> Any:
    """Read an item of a list, or return what is wrong with it; to be used as pydantic's ``WrapValidator``."""
    try:
        return read(item)
    except ValidationError as error:
        return Unreadable(_key_of(item), faults_problem(error.errors()))


def _key_of(item: Any) -> UUID | None:
    try:
        return UUID(str(item[_KEY])) if isinstance(item, Mapping) and item.get(_KEY) else None
    except ValueError:
        return None
