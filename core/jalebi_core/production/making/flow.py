"""A batch as material that flows: vessels, what is put where, and what is done to it. No rule and no sentence."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from jalebi_core.wording.message import Message

STORE: Final = "store"
TUBS: Final = "tubs"


@dataclass(frozen=True, slots=True)
class Vessel:
    """Something that holds: its id, its name, its volume in L, and the °C at which it stands until it is used."""

    id: str
    name: str
    litres: float
    kept_c: float = 20.0


@dataclass(frozen=True, slots=True)
class Take:
    """A part of a line, g, that leaves the store or a vessel for a vessel."""

    line: int
    grams: float
    vessel: str
    source: str = STORE


@dataclass(frozen=True, slots=True)
class Pour:
    """What goes from one vessel into another: so many g of what is mixed in it, None for all."""

    source: str
    vessel: str
    grams: float | None = None


@dataclass(frozen=True, slots=True)
class Removal:
    """What of a line is taken out of a vessel and thrown away, g."""

    line: int
    grams: float


@dataclass(frozen=True, slots=True)
class Work:
    """What one step does, in this order.

    vessel : in which it works; not_above_c : it waits until that is no warmer, where nothing is heated
    takes, pours : what is put in; reaches_c, hold_min : it is heated and held; removes : what is taken out
    cools_to_c : it is cooled
    """

    vessel: str | None = None
    not_above_c: float | None = None
    takes: tuple[Take, ...] = ()
    pours: tuple[Pour, ...] = ()
    reaches_c: float | None = None
    hold_min: float | None = None
    removes: tuple[Removal, ...] = ()
    cools_to_c: float | None = None


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why a mix cannot be made as it stands: the rule, the line that forbids it, and what may stand in its place."""

    rule: str
    line: int
    message: Message
    instead: tuple[str, ...] = ()
