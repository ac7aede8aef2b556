"""One way to build a step: its kind says which part of the work it is and what is said there."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache
from typing import Any, Final

from jalebi_core.data import read_toml
from jalebi_core.production.making.flow import Work
from jalebi_core.production.making.steps import MakingStep, Reading, Stage, Weighing, say, says
from jalebi_core.wording.message import Message, words

_SAID: Final = ("why", "cue")
_NOTHING: Final = Work()
_OF_KIND: Final = "of its kind"


def step(
    kind: str,
    *,
    name: str = "",
    plan: str | None = None,
    do: Sequence[Message],
    facts: Mapping[str, object] | None = None,
    why: Message | None = None,
    cue: Message | None = None,
    mind: Sequence[Message] | None = None,
    readings: Sequence[Reading] = (),
    least_min: float | None = None,
    most_min: float | None = None,
    critical: str | None = _OF_KIND,
    part: str = "",
    lines: Sequence[int] = (),
    weighing: Weighing | None = None,
    stages: Sequence[Stage] = (),
    choice: Sequence[str] = (),
    method: Sequence[str] = (),
    work: Work = _NOTHING,
) -> MakingStep:
    """Return a step of a kind, with what is always said at such.

    Parameters
    ----------
    name : its id, its kind where there is one of it; facts : of its title, and of its usual why, cue and warning
    why, cue, mind : in the place of the usual ones; critical : the point that it settles, usually its kind's

    Raises
    ------
    ValueError : a kind that is not known, or a wait that ends before it begins
    KeyError : a fact that one of its sentences needs is missing
    """
    known = _kinds().get(kind)
    if known is None:
        raise ValueError(f"there is no kind of step “{kind}”")
    if least_min is not None and most_min is not None and least_min > most_min:
        raise ValueError(f"{kind} takes at least {least_min} and at most {most_min} min")
    given = dict(facts or {})
    usual = {key: say(kind, key, **given) if says(kind, key) else None for key in (*_SAID, "mind")}
    made = MakingStep(
        id=name or kind,
        part=part or known["part"],
        kind=kind,
        title=say(kind, "title", **given),
        plan_step=plan,
        do=tuple(do),
        why=why or usual["why"],
        cue=cue or usual["cue"],
        mind=tuple(mind) if mind is not None else (usual["mind"],) if usual["mind"] is not None else (),
        lines=tuple(lines),
        weighing=weighing,
        readings=tuple(readings),
        least_min=least_min,
        most_min=most_min,
        stages=tuple(stages),
        critical=known.get("settles") if critical == _OF_KIND else critical,
        choice=tuple(choice),
        method=tuple(method),
        work=work,
    )
    for message in (made.title, *made.do, made.why, made.cue, *made.mind):
        if message is not None:
            words(message)
    return made


@cache
def _kinds() -> dict[str, Any]:
    """Return what is known of each kind of step."""
    return read_toml("making.toml")
