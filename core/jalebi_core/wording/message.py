"""Messages: a code with its facts, made into a sentence where somebody reads it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from string import Formatter
from tomllib import loads
from typing import Any

from jalebi_core.wording.notation import METRIC, Notation

Fact = object
"""A number in the unit that its name says, a text, a list of texts, or a message within the message."""


@dataclass(frozen=True, slots=True)
class Message:
    """What is to be said: a code that stays, and facts; ``str()`` says it in g, °C and English."""

    code: str
    facts: Mapping[str, Fact] = field(default_factory=dict)

    def __str__(self) -> str:
        return words(self)


def words(message: Message, notation: Notation = METRIC) -> str:
    """Return a message as a sentence, its quantities as a kitchen writes them."""
    return _Sentence(notation).vformat(templates()[message.code], (), message.facts)


@cache
def templates() -> Mapping[str, str]:
    """Return the sentence of each code, with its facts in braces: ``{t_c:temperature .0f}``, ``{grams:mass .1f}``."""
    folder = files("jalebi_core.data")
    return {
        code: template
        for name in ("errors.toml", "reasons.toml")
        for code, template in loads(folder.joinpath(name).read_text(encoding="utf-8")).items()
    }


class _Sentence(Formatter):
    """Fills a template with facts in a notation."""

    def __init__(self, notation: Notation) -> None:
        self._notation = notation

    def format_field(self, value: Any, format_spec: str) -> str:
        if format_spec.startswith("join"):
            return format_spec.removeprefix("join").join(self.format_field(item, "") for item in value)
        kind, _, spec = format_spec.rpartition(" ")
        if kind == "temperature":
            return self._notation.temperature_at(value, spec)
        if kind == "difference":
            return self._notation.temperature_step(value, spec)
        if kind == "mass":
            return self._notation.mass_of(value, spec)
        if isinstance(value, Message):
            return words(value, self._notation)
        if isinstance(value, str):
            return value
        if isinstance(value, Sequence):
            return ", ".join(self.format_field(item, format_spec) for item in value)
        return self._notation.number(value, format_spec)
