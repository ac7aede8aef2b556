"""What a taster says in codes, read against the cups that he was served."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.serving import OPEN_CUP, Serving
from jalebi_core.tasting.trial import Answer


@dataclass(frozen=True, slots=True)
class Said:
    """What was said of a serving, by the codes on its cups.

    picked : one cup (the odd, the stronger, the better one, or the one like the open cup), or the two of a tetrad that
    go together; the order of a ranking, least first
    liking, marks : by code
    """

    picked: tuple[str, ...] = ()
    liking: Mapping[str, float] = field(default_factory=dict)
    marks: Mapping[str, Mapping[str, int]] = field(default_factory=dict)


def read_answers(kind: str, serving: Serving, said: Said) -> list[Answer]:
    """Return the answers that a taster gave with one serving; raises TastingError for what is no answer to it."""
    for code in (*said.picked, *said.liking, *said.marks):
        if code not in serving.cups or code == OPEN_CUP:
            raise TastingError("code-not-served", cup=code[:10], taster=serving.taster)
    variant = dict(zip(serving.cups, serving.variants, strict=True))
    taster = serving.taster
    if kind == "liking":
        if set(said.liking) != set(serving.cups):
            raise TastingError("cups-not-all-liked", taster=taster)
        return [
            Answer(taster, variant=variant[code], liking=said.liking[code], marks=dict(said.marks.get(code, {})))
            for code in serving.cups
        ]
    if kind == "ranking":
        if sorted(said.picked) != sorted(serving.cups):
            raise TastingError("cups-not-all-ranked", taster=taster)
        return [Answer(taster, order=tuple(variant[code] for code in said.picked))]
    wanted = 2 if kind == "tetrad" else 1
    if len(set(said.picked)) != wanted:
        raise TastingError("cups-picked", taster=taster, count=wanted)
    picked = variant[said.picked[0]]
    if kind == "pairs":
        return [Answer(taster, a=serving.variants[0], b=serving.variants[1], picked=picked)]
    if kind in ("preference", "2-afc"):
        return [Answer(taster, picked=picked)]
    return [Answer(taster, correct=_is_right(kind, serving.variants, variant, said.picked))]


def _is_right(kind: str, served: tuple[str, ...], variant: Mapping[str, str], picked: Sequence[str]) -> bool:
    if kind == "duo-trio":
        return variant[picked[0]] == served[0]
    if kind == "tetrad":
        return variant[picked[0]] == variant[picked[1]]
    return served.count(variant[picked[0]]) == 1
