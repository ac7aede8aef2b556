"""The fields of a file's objects: each is taken by its name, and refused by it where it is not what it should be."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping
from datetime import date
from math import isfinite
from typing import Any, Final

from jalebi_core.formats.mix_file import json_object
from jalebi_core.model.errors import MixError, TastingError

_DAY: Final = re.compile(r"\d{4}-\d{2}-\d{2}")
_LONGEST: Final = 120


class Fields:
    """An object of a file: what is read of it, and what nobody knows is refused. All raise TastingError."""

    def __init__(self, data: object, where: str, known: Collection[str]) -> None:
        if not isinstance(data, Mapping):
            raise TastingError("file-not-an-object", where=where)
        unknown = sorted(map(str, data.keys() - set(known)))
        if unknown:
            raise TastingError("file-unknown-key", key=unknown[0][:40], where=where, known=tuple(sorted(known)))
        self._data: Mapping[str, Any] = data
        self.where = where

    def __contains__(self, key: str) -> bool:
        return self._data.get(key) is not None

    def raw(self, key: str) -> Any:
        """Return a field as it stands, None where it is missing."""
        return self._data.get(key)

    def text(self, key: str, usual: str | None = None) -> str:
        """Return a text that can be printed; it must be there where nothing is usual."""
        value = self._data.get(key, usual)
        if not isinstance(value, str) or not value.strip() or not value.isprintable() or len(value) > _LONGEST:
            raise TastingError("file-text", key=key, where=self.where)
        return value

    def text_or_none(self, key: str) -> str | None:
        return self.text(key) if key in self else None

    def number(self, key: str, least: float, most: float, usual: float | None = None) -> float:
        """Return a number in its range; booleans are none."""
        value = self._data.get(key)
        if value is None and usual is not None:
            return usual
        return self._checked(key, value, least, most)

    def number_or_none(self, key: str, least: float, most: float) -> float | None:
        return self.number(key, least, most) if key in self else None

    def whole(self, key: str, least: int, most: int, usual: int | None = None) -> int:
        """Return a whole number in its range."""
        value = self.number(key, least, most, usual)
        if value != int(value):
            raise TastingError("file-whole", key=key, where=self.where, value=value)
        return int(value)

    def numbers(self, key: str, least: float, most: float) -> tuple[float, ...]:
        return tuple(self._checked(key, value, least, most) for value in self.items(key))

    def wholes(self, key: str, least: int, most: int) -> tuple[int, ...]:
        found = self.numbers(key, least, most)
        wrong = next((value for value in found if value != int(value)), None)
        if wrong is not None:
            raise TastingError("file-whole", key=key, where=self.where, value=wrong)
        return tuple(map(int, found))

    def texts(self, key: str) -> tuple[str, ...]:
        return tuple(
            Fields({"name": value}, f"{key} of {self.where}", ("name",)).text("name") for value in self.items(key)
        )

    def flag(self, key: str) -> bool | None:
        """Return true or false, None where it is missing."""
        value = self._data.get(key)
        if value is not None and not isinstance(value, bool):
            raise TastingError("file-flag", key=key, where=self.where)
        return value

    def choice(self, key: str, known: Collection[str]) -> str:
        """Return one of some words."""
        value = self._data.get(key)
        if not isinstance(value, str) or value not in known:
            raise TastingError("file-choice", key=key, where=self.where, value=str(value)[:40], known=tuple(known))
        return value

    def day(self, key: str) -> date:
        """Return a day, YYYY-MM-DD."""
        return self._day(key, self._data.get(key))

    def days(self, key: str, known: Collection[str]) -> dict[str, date]:
        """Return days by word."""
        inner = self.inner(key, known)
        return {} if inner is None else {one: inner.day(one) for one in known if one in inner}

    def inner(self, key: str, known: Collection[str]) -> Fields | None:
        """Return an object within, None where it is missing."""
        value = self._data.get(key)
        return None if value is None else Fields(value, f"{key} of {self.where}", known)

    def items(self, key: str, most: int = 2000) -> list[Any]:
        """Return a list, empty where it is missing."""
        value = self._data.get(key)
        if value is None:
            return []
        if not isinstance(value, list):
            raise TastingError("file-list", key=key, where=self.where)
        if len(value) > most:
            raise TastingError("file-list-long", key=key, where=self.where, count=len(value), most=most)
        return value

    def objects(self, key: str, known: Collection[str], most: int = 2000) -> Iterator[Fields]:
        """Return the objects of a list."""
        for number, value in enumerate(self.items(key, most), start=1):
            yield Fields(value, f"{key} {number}", known)

    def _checked(self, key: str, value: object, least: float, most: float) -> float:
        if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
            raise TastingError("file-number", key=key, where=self.where, value=str(value)[:40])
        if not least <= value <= most:
            raise TastingError("file-range", key=key, where=self.where, value=value, least=least, most=most)
        return float(value)

    def _day(self, key: str, value: object) -> date:
        if isinstance(value, str) and _DAY.fullmatch(value):
            try:
                return date.fromisoformat(value)
            except ValueError:
                pass
        raise TastingError("file-day", key=key, where=self.where, value=str(value)[:40])


def read_fields(data: bytes, format: str, known: Collection[str]) -> Fields:
    """Return the fields of a file of a format, version 1."""
    try:
        content = json_object(data)
    except MixError as error:
        raise TastingError.of(error.message) from None
    if content.get("format") != format or content.get("version") != 1 or isinstance(content.get("version"), bool):
        raise TastingError("file-format", format=format)
    return Fields(content, "the file", (*known, "format", "version"))
