"""Messages: a code with its facts, made into a sentence where somebody reads it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from string import Formatter
from tomllib import loads
from typing import Final, SupportsFloat

from jalebi_core.wording.notation import METRIC, Notation

Fact = object
"""A number in the unit that its name says, a text, a list of texts, or a message within the message."""


@dataclass(frozen=True, slots=True)
class Message:
    """What is to be said: a code that stays, and facts; ``str()`` says it in g, °C and English.

    sentence : with its facts in braces, where a record keeps the one that was shown; None for today's of the code
    """

    code: str
    facts: Mapping[str, Fact] = field(default_factory=dict)
    sentence: str | None = None

    def __str__(self) -> str:
        return words(self)


def words(message: Message, notation: Notation = METRIC) -> str:
    """Return a message as a sentence, its quantities as a kitchen writes them."""
    facts = message.facts
    return "".join(
        literal if field is None else literal + _said(facts[field], spec, notation)
        for literal, field, spec in _parts(sentence_of(message))
    )


def sentence_of(message: Message) -> str:
    """Return the sentence of a message with its facts in braces."""
    return templates()[message.code] if message.sentence is None else message.sentence


@cache
def _parts(sentence: str) -> tuple[tuple[str, str | None, str], ...]:
    """Return a sentence in parts: a text, and the fact behind it with how it is written."""
    return tuple((literal, field, spec or "") for literal, field, spec, _ in Formatter().parse(sentence))


@cache
def templates() -> Mapping[str, str]:
    """Return the sentence of each code, with its facts in braces: ``{t_c:temperature .0f}``, ``{grams:mass .1f}``."""
    folder = files("jalebi_core.data")
    texts = [folder.joinpath(name).read_text(encoding="utf-8") for name in _FLAT]
    flat = {code: template for text in texts for code, template in loads(text).items()}
    for name in _BY_KIND:
        by_kind = loads(folder.joinpath(f"{name}.toml").read_text(encoding="utf-8"))
        flat |= {
            f"{name}-{kind}-{part}": text
            for kind, said in by_kind.items()
            for part, text in said.items()
            if part not in _NOT_SAID
        }
    return flat


_BY_KIND: Final = ("making", "process", "rescue")
_NOT_SAID: Final = ("part", "settles")
"""What stands beside the sentences of a kind and is none."""
_FLAT: Final = ("errors.toml", "reasons.toml", "heat.toml", "tasting.toml")


def _said(value: Fact, spec: str, notation: Notation) -> str:
    """Return a fact as it stands in a sentence."""
    if isinstance(value, Message):
        return words(value, notation)
    if spec.startswith("join") and isinstance(value, Sequence):
        return spec.removeprefix("join").join(_said(item, "", notation) for item in value)
    if isinstance(value, str):
        return value
    if isinstance(value, Sequence):
        return ", ".join(_said(item, spec, notation) for item in value)
    if not isinstance(value, int | float | SupportsFloat):
        return str(value)
    number = value if isinstance(value, int) else float(value)
    kind, _, digits = spec.rpartition(" ")
    if kind == "temperature":
        return notation.temperature_at(number, digits)
    if kind == "difference":
        return notation.temperature_step(number, digits)
    return notation.mass_of(number, digits) if kind == "mass" else notation.number(number, spec)
