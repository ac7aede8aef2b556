"""An ingredient and what is known of it beside its composition: how sure, how long it keeps, what to mind."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, fields
from math import isfinite
from typing import Any, Final

from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import Composition
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.label_facts import CALLED_AS_HERE, OnLabel
from jalebi_core.model.measures import BY_WEIGHT_ONLY, Measures
from jalebi_core.model.styles import HEATED, NOT_HEATED

SURE: Final = {
    "exact": "exact: a pure substance or a formula",
    "label": "by label: what makers declare",
    "typical": "typical: varies by producer and season",
    "rough": "rough: the dose is small, the figures are rounded",
    "measured": "measured in this kitchen",
    "undisclosed": "uncertain: the maker does not say what is in it",
}
"""How far the figures of a row can be trusted, best first."""

PLACES: Final = ("cupboard", "fridge", "freezer")
ANIMAL: Final = ("slaughtered", "ask", "rennet", "bees")
"""What of it comes from animals other than milk and egg: bodies, what only makers know, rennet, or work of bees.

Who eats none of one eats none of those before it either, so of several the first tells all.
"""
SOLD: Final = ("raw", "pasteurised")
"""How milk, egg and what is made of them are sold."""
_TEXTS: Final = ("for_guests", "if_heated", "if_not_heated", "animal", "sold", "sure")
_LISTS: Final = ("states", "warnings", "cautions")
TRACES: Final = ("caffeine", "coumarin", "glycyrrhizin")
"""Substances that guests must be told of from a certain dose on."""
_LONGEST_TEXT: Final = 400


@dataclass(frozen=True, slots=True)
class Hydration:
    """How a gum or starch takes up water: cold, or between two temperatures for some minutes."""

    from_c: float | None = None
    to_c: float | None = None
    minutes: float | None = None
    cold: bool = False

    def __str__(self) -> str:
        if self.cold or self.from_c is None:
            return "takes up water cold"
        return f"takes up water at {self.from_c:g}–{self.to_c:g} °C in {self.minutes:g} min"


@dataclass(frozen=True, slots=True)
class Keeps:
    """How many days ingredients keep once opened or prepared, and where."""

    days: int
    place: str


@dataclass(frozen=True, slots=True)
class Flavouring:
    """What flavours: g of it in 100 g, and its weakest and strongest usual dose in g per kg of mix."""

    name: str
    share_pct: float
    ladder: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Facts:
    """Facts of an ingredient.

    ``sure`` is a key of `SURE`; ``animal`` is a key of `ANIMAL`; ``sold`` a key of
    `SOLD`, of milk, egg and what is made of them; ``energy_kcal`` is what is stated per 100 g;
    ``pack_g`` the usual pack; ``trim_pct`` the share of bought weight lost before use; ``dose_pct`` the usual dose in g
    per 100 g of mix; ``strength_g_kg`` the weakest and strongest dose of a flavouring in g per kg of mix;
    ``flavourings`` those that something was made with; ``for_guests`` a plain explanation; ``warnings`` what goes wrong
    anyhow, ``if_heated`` and ``if_not_heated`` what goes wrong at the stages that are hot and at those that are not;
    ``only_with_milk`` tells that this is so only in a mix that has milk in it; ``cautions`` are keys of what guests
    must be told of a mix that holds it, and ``traces_mg`` mg per 100 g of what is in `TRACES`. ``months`` when it is in
    season in the temperate north, as numbers, in their order.
    """

    sure: str = "label"
    animal: str | None = None
    sold: str | None = None
    energy_kcal: float | None = None
    pack_g: float | None = None
    keeps: Keeps | None = None
    trim_pct: float | None = None
    states: tuple[str, ...] = ()
    dose_pct: tuple[float, float] | None = None
    hydrates: Hydration | None = None
    strength_g_kg: tuple[float, float] | None = None
    flavourings: tuple[Flavouring, ...] = ()
    for_guests: str | None = None
    if_heated: str | None = None
    if_not_heated: str | None = None
    only_with_milk: bool = False
    warnings: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    traces_mg: Mapping[str, float] = field(default_factory=dict)
    months: tuple[int, ...] = ()

    def at_stage(self, stage: str | None, *, with_milk: bool) -> str | None:
        """Return what to mind when it goes in at a stage, None where nothing is stated or no stage is chosen."""
        if self.only_with_milk and not with_milk:
            return None
        if stage in HEATED:
            return self.if_heated
        return self.if_not_heated if stage in NOT_HEATED else None

    def as_dict(self) -> dict[str, Any]:
        """Return the plain data that `from_dict` reads back, without what is not known."""
        data = {
            key: value for key, value in asdict(self).items() if value not in (None, (), [], {}) and value is not False
        }
        if self.keeps:
            data["keeps"] = {"days": self.keeps.days, "in": self.keeps.place}
        if self.hydrates:
            data["hydrates"] = {key: value for key, value in data["hydrates"].items() if value not in (None, False)}
        if self.flavourings:
            data["flavourings"] = [{**asdict(one), "ladder": list(one.ladder)} for one in self.flavourings]
        return {key: list(value) if isinstance(value, tuple) else value for key, value in data.items()}

    @classmethod
    def from_dict(cls, data: Mapping[str, Any]) -> Facts:
        """Read plain data; raises CompositionError naming the fact that is unknown or cannot be."""
        unknown = sorted(data.keys() - FACTS)
        if unknown:
            raise CompositionError("unknown-fact", unknown=unknown[0][:40])
        read: dict[str, Any] = {key: _text(key, data[key]) for key in _TEXTS if data.get(key) is not None}
        read |= {key: _texts(key, data[key]) for key in _LISTS if data.get(key)}
        read |= {key: _number(key, data[key], most) for key, most in _MOST.items() if data.get(key) is not None}
        if data.get("only_with_milk") not in (None, True, False):
            raise CompositionError("fact-not-yes-or-no", key="only_with_milk")
        read["only_with_milk"] = bool(data.get("only_with_milk"))
        if data.get("keeps"):
            read["keeps"] = _keeps(data["keeps"])
        if data.get("dose_pct"):
            read["dose_pct"] = _range("dose_pct", data["dose_pct"], "% of a mix", 100)
        if data.get("strength_g_kg"):
            read["strength_g_kg"] = _ladder("strength_g_kg", data["strength_g_kg"])
        if data.get("flavourings"):
            read["flavourings"] = _flavourings(data["flavourings"])
        if data.get("traces_mg"):
            read["traces_mg"] = _traces(data["traces_mg"])
        if data.get("months"):
            read["months"] = _months(data["months"])
        if data.get("hydrates"):
            read["hydrates"] = _hydration(data["hydrates"])
        if read.get("sure", "label") not in SURE:
            raise CompositionError("unknown-certainty", sure=read["sure"][:40], known=tuple(SURE))
        if read.get("animal", "bees") not in ANIMAL:
            raise CompositionError("unknown-animal", animal=read["animal"][:40], known=tuple(ANIMAL))
        if read.get("sold", "raw") not in SOLD:
            raise CompositionError("unknown-sold", sold=read["sold"][:40], known=tuple(SOLD))
        return cls(**read)


NOTHING_STATED: Final = Facts()
FACTS: Final = frozenset(one.name for one in fields(Facts))
_MOST: Final = {"energy_kcal": 950.0, "pack_g": 1_000_000.0, "trim_pct": 99.0}


def _text(key: str, value: object) -> str:
    if not isinstance(value, str) or len(value) > _LONGEST_TEXT or not value.isprintable():
        raise CompositionError("fact-not-a-sentence", key=key, longest_text=_LONGEST_TEXT)
    return value


def _texts(key: str, value: object) -> tuple[str, ...]:
    if not isinstance(value, list | tuple) or len(value) > 20:
        raise CompositionError("fact-not-sentences", key=key)
    return tuple(_text(key, text) for text in value)


def _number(key: str, value: object, most: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value) or not 0 <= value <= most:
        raise CompositionError("fact-out-of-range", key=key, value=str(value)[:40], most=most)
    return float(value)


def _range(key: str, data: object, of_what: str, most: float) -> tuple[float, float]:
    if not isinstance(data, list | tuple) or len(data) != 2:
        raise CompositionError("fact-not-a-range", key=key, of_what=of_what)
    return _number(key, data[0], most), _number(key, data[1], most)


def _ladder(key: str, data: object) -> tuple[float, float]:
    low, high = _range(key, data, "g per kg of a mix", 1000)
    if low >= high:
        raise CompositionError("strength-reversed", key=key, low=low, high=high)
    return low, high


def _flavourings(data: object) -> tuple[Flavouring, ...]:
    if not isinstance(data, list | tuple) or len(data) > 40:
        raise CompositionError("flavourings-too-many")
    return tuple(_flavouring(one) for one in data)


def _flavouring(data: object) -> Flavouring:
    if not isinstance(data, Mapping) or data.keys() != {"name", "share_pct", "ladder"}:
        raise CompositionError("flavouring-malformed")
    share = _number("share_pct", data["share_pct"], 100_000)
    return Flavouring(_text("name", data["name"]), share, _ladder("ladder", data["ladder"]))


def _traces(data: object) -> dict[str, float]:
    if not isinstance(data, Mapping) or not data.keys() <= set(TRACES):
        raise CompositionError("traces-malformed", traces=TRACES)
    return {key: _number(key, value, 100_000) for key, value in data.items()}


def _months(data: object) -> tuple[int, ...]:
    if not isinstance(data, list | tuple) or any(type(one) is not int or not 1 <= one <= 12 for one in data):
        raise CompositionError("months-malformed")
    return tuple(dict.fromkeys(data))


def _hydration(data: object) -> Hydration:
    if isinstance(data, Mapping) and data == {"cold": True}:
        return Hydration(cold=True)
    if not isinstance(data, Mapping) or data.keys() != {"from_c", "to_c", "minutes"}:
        raise CompositionError("hydration-malformed")
    from_c, to_c, minutes = (_number("hydrates", data[key], 1000) for key in ("from_c", "to_c", "minutes"))
    return Hydration(from_c, to_c, minutes)


def _keeps(data: object) -> Keeps:
    if not isinstance(data, Mapping) or data.get("in") not in PLACES:
        raise CompositionError("keeping-malformed", places=tuple(PLACES))
    return Keeps(int(_number("keeps", data.get("days"), 10_000)), data["in"])


@dataclass(frozen=True, slots=True)
class Ingredient:
    """An ingredient: its composition and measures, every allergen known of it, and the facts beside.

    ``slug`` is its key on a shelf, empty for one that is on none; ``allergens_stated`` tells whether somebody has
    stated them all; ``may_hold`` are allergens of traces, or such as only the maker can tell; ``made_of`` are the
    slugs of all that a preparation is made of, at any depth; ``price_per_kg`` is in the kitchen's currency;
    ``nutrients`` are those that are stated, per 100 g, None where none are.
    """

    composition: Composition
    slug: str = ""
    kind: str = "own"
    measures: Measures = BY_WEIGHT_ONLY
    allergens: tuple[str, ...] = ()
    allergens_stated: bool = False
    may_hold: tuple[str, ...] = ()
    made_of: frozenset[str] = frozenset()
    facts: Facts = NOTHING_STATED
    price_per_kg: float | None = None
    nutrients: Mapping[str, float] | None = None
    on_label: OnLabel = CALLED_AS_HERE

    @property
    def name(self) -> str:
        """What a cook calls it."""
        return self.composition.name

    @property
    def row(self) -> FloatArray:
        """Its composition as a row, shape (WIDTH,), per 100 g."""
        return self.composition.row

    @property
    def used_price_per_kg(self) -> float | None:
        """Price of a kg as it goes in: what is trimmed away is paid for too; None without a price."""
        if self.price_per_kg is None:
            return None
        return self.price_per_kg / (1 - (self.facts.trim_pct or 0.0) / 100)
