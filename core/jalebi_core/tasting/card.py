"""The tasting card: what is asked, and what its marks say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Final, Literal

from jalebi_core.data import read_toml
from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.freezers import WORDS

_FAULTY: Final = 2
"""From this mark on a fault is a symptom."""

_OFF: Final = 1
_LATER_D: Final = 1.0
_RANGE: Final = {"wanted": (-2, 2), "fault": (0, 3)}
LIKING: Final = (1, 9)


@dataclass(frozen=True, slots=True)
class Attribute:
    """Something that a card asks, see ``data/card.toml``."""

    key: str
    name: str
    kind: Literal["wanted", "fault"]
    cue: str
    outcome: str | None = None
    ends: tuple[str, str] | None = None
    more: str | None = None
    less: str | None = None
    fault: str | None = None
    later: str | None = None
    quick: bool = False

    @property
    def off(self) -> tuple[str, str] | None:
        """What is said of too little and of too much: “too soft” and “too hard”."""
        if self.ends is None:
            return None
        less, more = (end if end.startswith(("too ", "not ")) else f"too {end}" for end in self.ends)
        return less, more

    @property
    def range(self) -> tuple[int, int]:
        """The least and the greatest mark."""
        return _RANGE[self.kind]


@dataclass(frozen=True, slots=True)
class Card:
    """One taster's word on a batch.

    marks : by attribute, −2 to 2 for what is wanted, 0 to 3 for faults
    firmness : one of nine words, liking : 1 to 9; None where nothing was said
    """

    marks: Mapping[str, int]
    firmness: str | None = None
    liking: float | None = None


@cache
def attributes() -> dict[str, Attribute]:
    """Return what a card asks, by key, in order."""
    found = read_toml("card.toml").items()
    return {
        key: Attribute(key, **{**fields, **({"ends": tuple(fields["ends"])} if "ends" in fields else {})})
        for key, fields in found
    }


def check_card(card: Card) -> None:
    """Raise TastingError for a card with marks that are none."""
    if card.firmness is not None and card.firmness not in WORDS:
        raise TastingError("card-word", word=card.firmness[:40], known=WORDS)
    if card.liking is not None and not LIKING[0] <= card.liking <= LIKING[1]:
        raise TastingError("card-liking", liking=card.liking)
    for key, mark in card.marks.items():
        if key not in attributes():
            raise TastingError("card-attribute", key=key[:40], known=tuple(attributes()))
        least, most = attributes()[key].range
        if not least <= mark <= most:
            raise TastingError("card-mark", name=attributes()[key].name, mark=mark, least=least, most=most)


def symptoms_on(card: Card, age_d: float) -> tuple[str, ...]:
    """Return the symptoms that a card says, the strongest first.

    Parameters
    ----------
    age_d : how old the batch was as it was tasted: ice at once and ice after days have other causes
    """
    found = [
        (abs(mark), symptom)
        for key, attribute in attributes().items()
        if (mark := card.marks.get(key)) and (symptom := _symptom(attribute, mark, age_d))
    ]
    return tuple(symptom for _, symptom in sorted(found, key=lambda one: -one[0]))


def _symptom(attribute: Attribute, mark: int, age_d: float) -> str | None:
    if attribute.kind == "fault":
        if mark < _FAULTY:
            return None
        return attribute.later if attribute.later and age_d >= _LATER_D else attribute.fault
    return attribute.more if mark >= _OFF else attribute.less if mark <= -_OFF else None
