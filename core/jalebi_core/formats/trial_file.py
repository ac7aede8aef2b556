"""A trial as a file, format ``jalebi.trial``, and what comes of it as plain data. See docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from itertools import combinations
from json import dumps
from typing import Any, Final

from jalebi_core.formats.fields import Fields, read_fields
from jalebi_core.formats.mix_file import read_mix
from jalebi_core.model.errors import JalebiError, MixError, TastingError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import STAGES, checked_stage
from jalebi_core.shelf.catalogue import find
from jalebi_core.tasting.factors import ByAim, ByGrams, ByShare, Factor
from jalebi_core.tasting.ladder import Ladder, ladder
from jalebi_core.tasting.serving import design
from jalebi_core.tasting.split import Amounts, split
from jalebi_core.tasting.telling_apart import STEPS, expected, figures_as_tasted
from jalebi_core.tasting.trial import KINDS, OF_TWO, Answer, TastingTest, analyse, planned

FORMAT: Final = "jalebi.trial"
SCOOPING: Final = "scooping"
"""Each variant at its own scooping temperature: firmness is taken out of the question."""

SERVE_C: Final = -14.0
MOST_VARIANTS: Final = 12
MOST_REPLICATES: Final = 12
_KEYS: Final = (
    "kind", "attribute", "variants", "mix", "factors", "serve_c", "tasters", "replicates", "seed", "spare_pct",
    "alpha", "power", "d_prime", "results",
)  # fmt: skip
_FIGURES: Final = (*STEPS, "scoop_c")
_RESULT_KEYS: Final = ("taster", "correct", "picked", "a", "b", "order", "variant", "liking", "jar")
_FACTOR_KEYS: Final = ("line", "grams", "take_up", "by", "share_pct", "aim", "values", "with", "hold")
_MOST_STEPS: Final = 12


@dataclass(frozen=True, slots=True)
class Variant:
    """One of a trial: its key and name, what is in it, g by ingredient and stage, and the figures that are tasted."""

    key: str
    name: str
    lines: Amounts
    figures: Mapping[str, float]


def trial_report(data: bytes) -> dict[str, Any]:
    """Return what a trial file comes to; raises TastingError naming what in it cannot be used."""
    fields = read_fields(data, FORMAT, _KEYS)
    kind = fields.choice("kind", KINDS)
    serve_c = _serve_c(fields)
    made, variants = _variants(fields, serve_c)
    keys = [one.key for one in variants]
    if kind in OF_TWO and len(keys) != 2:
        raise TastingError("trial-not-two", kind=kind, count=len(keys))
    attribute = fields.text_or_none("attribute")
    test = TastingTest(
        kind=kind,
        variants=tuple(keys),
        attribute=attribute,
        alpha=fields.number("alpha", 1e-6, 0.5, 0.05),
        power=fields.number("power", 0.5, 0.999, 0.8),
        d_prime=fields.number("d_prime", 0.05, 10, 1.5),
        more=more_of(attribute, variants),
    )
    tasters = fields.texts("tasters")
    if (name := _twice(tasters)) is not None:
        raise TastingError("taster-twice", name=name)
    replicates = fields.whole("replicates", 1, MOST_REPLICATES, 1)
    seed = fields.whole("seed", 0, 2**53, 1)
    spare_pct = fields.number("spare_pct", 0, 500, 0)
    served = design(kind, keys, tasters, replicates, seed) if tasters else None
    parted = (
        split([(one.key, one.lines) for one in variants], spare_pct) if any(one.lines for one in variants) else None
    )
    answers = [_answer(one) for one in fields.objects("results", _RESULT_KEYS)]
    return {
        "variants": [_variant_data(one) for one in variants],
        "changes": [str(message) for message in made.changes] if made else [],
        "held": [str(message) for message in made.held] if made else [],
        "design": None if served is None else {**asdict(served), "warnings": [str(one) for one in served.warnings]},
        "split": None if parted is None else asdict(parted),
        "plan": planned(test),
        "expect": expectations(test, variants),
        "analysis": analyse(test, answers),
    }


def expectations(test: TastingTest, variants: Sequence[Variant]) -> list[dict[str, Any]]:
    """Return what people will be able to tell of each pair of variants with figures."""
    asked = test.attribute if test.attribute in STEPS else None
    return [
        {**asdict(found), "by": [list(one) for one in found.by]}
        for a, b in combinations([one for one in variants if one.figures], 2)
        for found in [expected(test.kind, (a.key, a.figures), (b.key, b.figures), asked, test.alpha, test.power)]
    ]


def more_of(attribute: str | None, variants: Sequence[Variant]) -> str | None:
    """Return the one of two variants with more of an attribute, None where that is not known."""
    if attribute is None or len(variants) != 2 or any(attribute not in one.figures for one in variants):
        return None
    return max(variants, key=lambda one: one.figures[attribute]).key


def variants_of(made: Ladder, serve_c: float | None) -> list[Variant]:
    """Return the rungs of a ladder as variants, with figures of the core; at None each at its own temperature."""
    return [
        Variant(rung.key, str(rung.name), amounts_of(rung.mix), figures_as_tasted(rung.mix, serve_c))
        for rung in made.rungs
    ]


def amounts_of(mix: Mix) -> dict[tuple[str, str | None], float]:
    """Return the g of a mix by ingredient and stage."""
    found: dict[tuple[str, str | None], float] = {}
    for line in mix.lines:
        key = (line.ingredient.slug or line.ingredient.name, line.stage)
        found[key] = found.get(key, 0.0) + line.grams
    return found


def _serve_c(fields: Fields) -> float | None:
    if fields.raw("serve_c") == SCOOPING:
        return None
    return fields.number("serve_c", -40, 0, SERVE_C)


def _variants(fields: Fields, serve_c: float | None) -> tuple[Ladder | None, list[Variant]]:
    if ("variants" in fields) == ("mix" in fields):
        raise TastingError("trial-variants-or-mix")
    if "mix" in fields:
        made = ladder(
            _mix(fields.raw("mix")), [_factor(one) for one in fields.objects("factors", _FACTOR_KEYS)], serve_c
        )
        return made, variants_of(made, serve_c)
    found = [_variant(one) for one in fields.objects("variants", ("key", "name", "lines", "figures"), MOST_VARIANTS)]
    if len(found) < 2:
        raise TastingError("trial-one-variant", count=len(found))
    if (name := _twice([one.key for one in found])) is not None:
        raise TastingError("variant-twice", name=name)
    if serve_c is None:
        without = [{key: value for key, value in one.figures.items() if key != "firmness"} for one in found]
        found = [Variant(one.key, one.name, one.lines, figures) for one, figures in zip(found, without, strict=True)]
    return None, found


def _mix(data: object) -> Mix:
    try:
        return read_mix(dumps(data).encode())
    except MixError as error:
        raise TastingError.of(error.message, error.line) from None


def _variant(fields: Fields) -> Variant:
    key = fields.text("key")
    amounts: dict[tuple[str, str | None], float] = {}
    for line in fields.objects("lines", ("ingredient", "grams", "stage"), 200):
        stage = line.text_or_none("stage")
        if stage not in STAGES and stage is not None:
            raise TastingError("file-choice", key="stage", where=line.where, value=stage[:40], known=tuple(STAGES))
        place = (line.text("ingredient"), checked_stage(stage))
        amounts[place] = amounts.get(place, 0.0) + line.number("grams", 0, 1e7)
    figures = fields.inner("figures", _FIGURES)
    return Variant(
        key,
        fields.text("name", key),
        amounts,
        {} if figures is None else {one: figures.number(one, -100, 1e6) for one in _FIGURES if one in figures},
    )


def _factor(fields: Fields) -> Factor:
    kinds = [key for key in ("grams", "by", "aim") if key in fields]
    if len(kinds) != 1:
        raise TastingError("ladder-factor", where=fields.where)
    if kinds == ["aim"]:
        return ByAim(
            fields.text("aim"), fields.numbers("values", -100, 1e6), fields.wholes("with", 0, 200), fields.texts("hold")
        )
    line = fields.whole("line", 0, 200)
    if kinds == ["by"]:
        try:
            by = find(fields.text("by"))
        except JalebiError as error:
            raise TastingError.of(error.message) from None
        return ByShare(line, by, fields.numbers("share_pct", -1e6, 1e6))
    take_up = fields.whole("take_up", 0, 200) if "take_up" in fields else None
    return ByGrams(line, fields.numbers("grams", -1e6, 1e6), take_up)


def _answer(fields: Fields) -> Answer:
    jar = fields.raw("jar")
    marks = {}
    if jar is not None:
        marked = Fields(jar, f"jar of {fields.where}", tuple(jar) if isinstance(jar, Mapping) else ())
        marks = {key: marked.whole(key, -2, 2) for key in jar}
    return Answer(
        taster=fields.text("taster"),
        correct=fields.flag("correct"),
        picked=fields.text_or_none("picked"),
        a=fields.text_or_none("a"),
        b=fields.text_or_none("b"),
        order=fields.texts("order"),
        variant=fields.text_or_none("variant"),
        liking=fields.number_or_none("liking", 1, 9),
        marks=marks,
    )


def _twice(names: Sequence[str]) -> str | None:
    return next((name[:40] for name in names if names.count(name) > 1), None)


def _variant_data(one: Variant) -> dict[str, Any]:
    lines = [{"ingredient": name, "grams": grams, "stage": stage} for (name, stage), grams in one.lines.items()]
    return {"key": one.key, "name": one.name, "lines": lines, "figures": dict(one.figures)}
