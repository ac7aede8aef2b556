"""A batch that is not as it should be, as a file of format ``jalebi.diagnosis``, and what is wrong with it.

See docs/file-formats.md.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from json import dumps
from typing import Any, Final

from jalebi_core.assessment.analysis import HOME_FREEZER_C
from jalebi_core.balance.job_context import JobContext
from jalebi_core.formats.fields import Fields, read_fields
from jalebi_core.formats.mix_file import read_mix_file
from jalebi_core.model.errors import TastingError
from jalebi_core.model.mix import Mix
from jalebi_core.production.making.process import steeps
from jalebi_core.shelf.catalogue import ingredients
from jalebi_core.tasting.batch_facts import mix_facts
from jalebi_core.tasting.diagnosis import Suspect, diagnose, process, symptoms
from jalebi_core.tasting.remedy import Remedy, remedy
from jalebi_core.wording.message import Message

FORMAT: Final = "jalebi.diagnosis"
_KEYS: Final = ("mix", "made", "process", "age_days", "symptom")
_MOST: Final = 1e6
_MOST_DAYS: Final = 3650.0
_MOST_GRAMS: Final = 1e6
_AT_ONCE_MIN: Final = 3.0
"""Eaten within so many minutes it is as cold as the freezer."""


def diagnosis_report(data: bytes) -> dict[str, Any]:
    """Return why a batch is as it is; raises JalebiError naming what in the file cannot be used."""
    fields = read_fields(data, FORMAT, _KEYS)
    if not isinstance(fields.raw("mix"), Mapping):
        raise TastingError("file-not-an-object", where="mix")
    read = read_mix_file(dumps(fields.raw("mix")).encode())
    symptom = fields.choice("symptom", tuple(symptoms()))
    made = _made(fields, read.mix)
    known = _process(fields)
    freezer_c = known.get("freezer_c", HOME_FREEZER_C)
    served_c = freezer_c if "freezer_c" in known and known.get("temper_min", 0.0) <= _AT_ONCE_MIN else None
    planned = read.mix if "made" in fields else None
    found = diagnose([symptom], {**mix_facts(made, planned, served_c), "steeps": steeps(made), **known})
    first = found.suspects[0].cause
    return {
        "causes": [_cause(one) for one in found.suspects],
        "ask": found.ask,
        "test": first.test,
        "change": _change(remedy(first, JobContext(made, freezer_c, ingredients(), read.restrictions))),
    }


def _made(fields: Fields, mix: Mix) -> Mix:
    for one in fields.objects("made", ("line", "grams")):
        number = one.whole("line", 0, len(mix.lines) - 1)
        mix = mix.replacing(number, replace(mix.lines[number], grams=one.number("grams", 0.0, _MOST_GRAMS)))
    return mix


def _process(fields: Fields) -> dict[str, float]:
    """Return what is known of the work, by key; the age that is said there wins."""
    age = fields.number_or_none("age_days", 0.0, _MOST_DAYS)
    inner = fields.inner("process", tuple(process()))
    told = {} if inner is None else {key: inner.number(key, -_MOST, _MOST) for key in process() if key in inner}
    return {**({} if age is None else {"age_d": age}), **told}


def _cause(one: Suspect) -> dict[str, Any]:
    said = Message("cause-said", {"likely": one.likely.capitalize(), "cause": one.cause.name})
    return {
        "key": one.cause.key,
        "share": one.share,
        "said": str(said),
        "for": [str(evidence.said) for evidence in one.evidence if evidence.ratio > 1],
        "against": [str(evidence.said) for evidence in one.evidence if evidence.ratio < 1],
    }


def _change(found: Remedy) -> dict[str, Any]:
    return {
        "lines": [{"line": one.line, "ingredient": one.slug or one.name, "grams": one.grams} for one in found.lines],
        "overrun_pct": found.overrun_pct,
        "said": str(found.said),
    }
