"""What a mix file says of a line beside its amount: how it was typed, what Balance may do with it, and a note."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from math import isfinite
from typing import Any, Final

from jalebi_core.model.composition import FORMS
from jalebi_core.model.errors import MixError
from jalebi_core.quantities.amounts import MOST_GRAMS

MOST_TYPED: Final = 60
MOST_NOTE: Final = 200
_GRAMS: Final = ("min_g", "max_g", "step_g")
_TEXTS: Final = {"typed": MOST_TYPED, "piece": 40, "note": MOST_NOTE}


@dataclass(frozen=True, slots=True)
class LineConstraints:
    """How a line is handled.

    typed : the amount as somebody typed it, with its unit; empty where only the amount is known
    pin : whether Balance leaves it as it is
    min_g, max_g, step_g : between what and in which steps Balance may move it
    piece : the piece that it comes in, if only in whole ones
    note : what is to be remembered of it
    form : how it lies in the cup, a key of `FORMS`; None where its usual density holds
    """

    typed: str = ""
    pin: bool = False
    min_g: float | None = None
    max_g: float | None = None
    step_g: float | None = None
    piece: str | None = None
    note: str = ""
    form: str | None = None

    def as_dict(self) -> dict[str, Any]:
        """Return it as a mix file has it: what says nothing is left out."""
        return {
            key: value for key, value in asdict(self).items() if not (value is None or value is False or value == "")
        }


LINE_CONSTRAINT_KEYS: Final = frozenset(field.name for field in fields(LineConstraints))


def read_line_constraints(line: Mapping[str, Any], number: int, pieces: Mapping[str, float]) -> LineConstraints:
    """Read how line ``number`` of a file is handled; ``pieces`` are those its ingredient comes in, g by name.

    Raises
    ------
    MixError : a limit that is no mass, limits that exclude each other, a piece that the ingredient does not come in,
        or text that is too long or cannot be shown
    """
    pin = line.get("pin", False)
    if not isinstance(pin, bool):
        raise MixError("pin-malformed", number)
    masses = {key: _mass(key, line.get(key), number) for key in _GRAMS}
    texts = {key: _text(key, line.get(key, ""), most, number) for key, most in _TEXTS.items()}
    least, most, piece = masses["min_g"], masses["max_g"], texts["piece"]
    if least is not None and most is not None and least > most:
        raise MixError("limits-reversed-g", number, least_g=least, most_g=most)
    if masses["step_g"] == 0:
        raise MixError("step-zero", number)
    if piece and masses["step_g"] is not None:
        raise MixError("step-and-piece-of-line", number)
    if piece and piece not in pieces:
        known = f"Known are {', '.join(pieces)}" if pieces else "It has none"
        raise MixError("unknown-piece", number, piece=piece, known=known)
    form = checked_form(line.get("form"), number)
    return LineConstraints(texts["typed"], pin, least, most, masses["step_g"], piece or None, texts["note"], form)


def checked_form(form: object, number: int | None = None) -> str | None:
    """Return how a line lies in a cup, a key of `FORMS`, None where it is not said; raises MixError for any other."""
    if form is None:
        return None
    if not isinstance(form, str) or form not in FORMS:
        raise MixError("unknown-form", number, form=str(form)[:20], forms=tuple(FORMS))
    return form


def _mass(key: str, value: object, number: int) -> float | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise MixError("not-a-number", number, name=key, value=str(value)[:40])
    if not 0 <= value <= MOST_GRAMS:
        raise MixError("mass-impossible", number, key=key, value=value, most_grams=MOST_GRAMS)
    return float(value)


def _text(key: str, value: object, most: int, number: int) -> str:
    if not isinstance(value, str):
        raise MixError("not-text", number, key=key, value=str(value)[:40])
    if len(value) > most:
        raise MixError("too-long", number, key=key, count=len(value), most=most)
    if not value.isprintable():
        raise MixError("characters-hidden", number, key=key)
    return value.strip()
