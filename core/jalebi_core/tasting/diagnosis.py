"""What is wrong with a batch: causes of its symptoms, by what is known of the mix as made and of how it was made.

Weights and likelihood ratios stand in ``data/diagnosis.toml``, working conventions: score = weight · Π lr, share =
score / Σ. A quantity that nobody knows counts 1 and is asked for.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from math import exp, log
from typing import Any, Final

from jalebi_core.data import read_toml
from jalebi_core.model.errors import TastingError
from jalebi_core.wording.message import Message

SHOWN: Final = 3
_UNLISTED: Final = 0.3
"""The weight of a cause in a symptom that does not list it, where several are there at once."""

_MOST_LIKELY: Final = 0.70
LIKELY: Final = 0.30
SURE_ENOUGH: Final = 0.50
"""Below this share of the first cause a test comes before a change."""

_WARM_C: Final = -16.0
_WARM_DAYS: Final = "warm_days"

_NEXT_TO_NOTHING: Final = 0.005
_SAYS: Final = 0.35
"""An lr nearer to 1 than this, as a logarithm, says nothing."""


@dataclass(frozen=True, slots=True)
class Sign:
    """A quantity that speaks for or against a cause: its likelihood ratio is ln-linear from one value to the other."""

    of: str
    start: float
    end: float
    at_start: float
    at_end: float

    def ratio(self, value: float) -> float:
        """Return the likelihood ratio at a value."""
        part = min(1.0, max(0.0, (value - self.start) / (self.end - self.start)))
        return exp(log(self.at_start) + part * (log(self.at_end) - log(self.at_start)))


@dataclass(frozen=True, slots=True)
class Cause:
    """Why a batch may be as it is, the test that tells, and what is done against it, see ``diagnosis.toml``."""

    key: str
    name: str
    signs: tuple[Sign, ...]
    test: str
    change: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Symptom:
    """What is tasted: in words, the outcome it belongs to, and the weight of each of its causes."""

    key: str
    said: str
    outcome: str
    causes: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Evidence:
    """A quantity that is known and speaks for a cause, ratio above 1, or against it."""

    of: str
    value: float
    ratio: float
    said: Message


@dataclass(frozen=True, slots=True)
class Suspect:
    """A cause with its share of the blame, and what speaks for and against it, the strongest first."""

    cause: Cause
    share: float
    evidence: tuple[Evidence, ...]

    @property
    def likely(self) -> str:
        """Its share in words."""
        return "most likely" if self.share > _MOST_LIKELY else "likely" if self.share >= LIKELY else "possible"


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """Causes, the likeliest first.

    ask : the quantity that nobody knows and that would move the order most, None where all is known
    test_first : whether the first cause is too unsure to change anything for
    """

    suspects: tuple[Suspect, ...]
    ask: str | None
    test_first: bool

    @property
    def question(self) -> str | None:
        """What is asked first."""
        return None if self.ask is None else str(process()[self.ask]["ask"])


@cache
def causes() -> dict[str, Cause]:
    """Return the causes by key."""
    return {
        key: Cause(
            key,
            fields["name"],
            tuple(Sign(one["of"], one["from"], one["to"], *one["lr"]) for one in fields["signs"]),
            fields["test"],
            fields["change"],
        )
        for key, fields in read_toml("diagnosis.toml")["causes"].items()
    }


@cache
def symptoms() -> dict[str, Symptom]:
    """Return the symptoms by key."""
    found = read_toml("diagnosis.toml")["symptoms"].items()
    return {key: Symptom(key, fields["said"], fields["outcome"], fields["causes"]) for key, fields in found}


@cache
def process() -> dict[str, dict[str, str]]:
    """Return how the quantities of diagnosis are named, said and asked for, by key."""
    return read_toml("process.toml")


def diagnose(tasted: Sequence[str], facts: Mapping[str, float]) -> Diagnosis:
    """Return the causes of symptoms by what is known.

    Parameters
    ----------
    tasted : symptoms by key, one at least
    facts : quantities by key, in the units of ``diagnosis.toml``; unknown ones are left out

    Raises TastingError for a symptom that nobody knows.
    """
    facts = _with_warm_days(facts)
    weights = _weights(tasted)
    shares = _shares(weights, facts)
    found = [
        Suspect(causes()[key], share, _evidence(causes()[key], facts))
        for key, share in sorted(shares.items(), key=lambda one: -one[1])
    ]
    return Diagnosis(tuple(found), _worth_asking(weights, facts, shares), found[0].share < SURE_ENOUGH)


def _with_warm_days(facts: Mapping[str, float]) -> Mapping[str, float]:
    """Return facts with how warm it stood for how long: degrees above −16 °C times days."""
    if not {"age_d", "freezer_c"} <= facts.keys():
        return facts
    return {**facts, _WARM_DAYS: max(0.0, facts["age_d"]) * max(0.0, facts["freezer_c"] - _WARM_C)}


def _weights(tasted: Sequence[str]) -> dict[str, float]:
    unknown = next((key for key in tasted if key not in symptoms()), None)
    if unknown is not None or not tasted:
        raise TastingError("unknown-symptom", symptom=(unknown or "")[:40], known=tuple(symptoms()))
    listed = [symptoms()[key].causes for key in dict.fromkeys(tasted)]
    keys = dict.fromkeys(key for one in listed for key in one)
    found = dict.fromkeys(keys, 1.0)
    for one in listed:
        for key in found:
            found[key] *= one.get(key, _UNLISTED)
    return found


def _shares(weights: Mapping[str, float], facts: Mapping[str, float]) -> dict[str, float]:
    scores = dict(weights)
    for key in scores:
        for sign in causes()[key].signs:
            if sign.of in facts:
                scores[key] *= sign.ratio(facts[sign.of])
    whole = sum(scores.values())
    return {key: score / whole for key, score in scores.items()}


def _evidence(cause: Cause, facts: Mapping[str, float]) -> tuple[Evidence, ...]:
    found = [
        Evidence(sign.of, facts[sign.of], ratio, say_quantity(sign.of, facts[sign.of]))
        for sign in cause.signs
        if sign.of in facts and abs(log(ratio := sign.ratio(facts[sign.of]))) > _SAYS
    ]
    return tuple(sorted(found, key=lambda one: -abs(log(one.ratio))))


def say_quantity(key: str, value: float) -> Message:
    """Return a quantity as it is said of a batch; next to nothing and one have their own words where they need them."""
    said = process()[key]
    part = "said_none" if "said_none" in said and abs(value) < _NEXT_TO_NOTHING else "said"
    if "said_one" in said and round(value) == 1:
        part = "said_one"
    return Message(f"process-{key}-{part}", {"value": value, "percent": 100 * value})


def _worth_asking(weights: Mapping[str, float], facts: Mapping[str, float], shares: Mapping[str, float]) -> str | None:
    """Return the unknown quantity whose possible values would move the shares farthest."""
    unknown: dict[str, list[float]] = {}
    for key in weights:
        for sign in causes()[key].signs:
            if sign.of not in facts and sign.of != _WARM_DAYS:
                unknown.setdefault(sign.of, []).extend((sign.start, sign.end))

    def moves(of: str) -> float:
        return max(
            sum(abs(share - shares[key]) for key, share in _shares(weights, {**facts, of: value}).items())
            for value in unknown[of]
        )

    return max(unknown, key=moves, default=None)
