"""A trial's test: two to twelve variants, answers of tasters, and what these show, in words and figures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any, Final, Literal

import numpy as np

from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.discrimination import LUCK, discriminate, sequential, share_right, tastings_needed
from jalebi_core.tasting.liking import Liked, means_of, pairs_of, penalties_of
from jalebi_core.tasting.preference import CLEAR_LEAD, prefer, strengths_of, unanimous, votes_of
from jalebi_core.tasting.ranking import mean_ranks, rank
from jalebi_core.wording.message import Message

Verdict = Literal["different", "too few", "not shown"]

OF_TWO: Final = (*LUCK, "preference")
KINDS: Final = (*OF_TWO, "pairs", "ranking", "liking")
NAMED: Final = ("2-afc", "3-afc")
"""Kinds that ask which is more of something; whoever picks the one with more is right."""

_NO_ANSWER: Final = {"pairs": "answer-pairs", "ranking": "answer-ranking", "liking": "answer-liking"}
_SAME: Final = 1e-12


@dataclass(frozen=True, slots=True)
class Answer:
    """What one taster said of one set of cups; which fields are there depends on the kind of test."""

    taster: str
    correct: bool | None = None
    picked: str | None = None
    a: str | None = None
    b: str | None = None
    order: tuple[str, ...] = ()
    variant: str | None = None
    liking: float | None = None
    marks: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class TastingTest:
    """A kind of test on variants in order, and how sure it is to be.

    more : of a named question the variant that has more of the attribute, where that is known
    """

    kind: str
    variants: tuple[str, ...]
    attribute: str | None = None
    alpha: float = 0.05
    power: float = 0.8
    d_prime: float = 1.5
    more: str | None = None

    @property
    def is_discrimination(self) -> bool:
        return self.kind in LUCK


Analysis = dict[str, Any]
"""What answers show: always n, verdict and said; the rest by kind, as `jalebi trial` prints it."""


def planned(test: TastingTest) -> dict[str, float | int | None] | None:
    """Return how many tastings show the d′ that matters, and how many of them must be right; None of other kinds."""
    if not test.is_discrimination:
        return None
    share = share_right(test.kind, test.d_prime)
    needed = tastings_needed(test.kind, share, test.alpha, test.power)
    return {"d_prime": test.d_prime, "pc": share, "tastings": needed.tastings, "correct": needed.right}


def analyse(test: TastingTest, answers: Sequence[Answer]) -> Analysis | None:
    """Return what answers show, None where nobody has answered; raises TastingError for an answer that is none."""
    for answer in answers:
        check_answer(test, answer)
    if not answers:
        return None
    if test.is_discrimination:
        return _discrimination(test, answers)
    return {"preference": _preference, "pairs": _pairs, "ranking": _ranking, "liking": _liking}[test.kind](
        test, answers
    )


def check_answer(test: TastingTest, answer: Answer) -> None:
    """Raise TastingError for what is no answer to this kind of test."""
    named = [key for key in (answer.picked, answer.a, answer.b, answer.variant, *answer.order) if key is not None]
    unknown = next((key for key in named if key not in test.variants), None)
    if unknown is not None:
        raise TastingError("answer-unknown-variant", taster=answer.taster, variant=unknown[:20])
    if test.is_discrimination:
        fine = answer.correct is not None or (answer.picked is not None and test.kind in NAMED)
    elif test.kind == "preference":
        fine = answer.picked is not None
    elif test.kind == "pairs":
        fine = answer.picked in (answer.a, answer.b) and None not in (answer.a, answer.b) and answer.a != answer.b
    elif test.kind == "ranking":
        fine = sorted(answer.order) == sorted(test.variants)
    else:
        fine = answer.variant is not None and answer.liking is not None
    if not fine:
        raise TastingError.of(Message(_NO_ANSWER.get(test.kind, "answer-compared"), {"taster": answer.taster}))


def _verdict(p: float, smallest_p: float, alpha: float) -> Verdict:
    if p <= alpha + _SAME:
        return "different"
    return "too few" if smallest_p > alpha + _SAME else "not shown"


def is_right(test: TastingTest, answer: Answer) -> bool:
    """Tell whether an answer to a test of difference is right."""
    if answer.correct is not None:
        return answer.correct
    return answer.picked == (test.more or test.variants[1])


def _discrimination(test: TastingTest, answers: Sequence[Answer]) -> Analysis:
    n, right = len(answers), sum(is_right(test, answer) for answer in answers)
    found = discriminate(test.kind, n, right)
    so_far = sequential(test.kind, n, right, test.d_prime, test.alpha, test.power)
    verdict = _verdict(found.p, found.smallest_p, test.alpha)
    return {
        "n": n,
        "verdict": verdict,
        "said": str(_said_of_difference(test, answers, found.p, right, verdict)),
        "correct": right,
        "p": found.p,
        "pc": found.pc,
        "d_prime": found.d_prime,
        "d_low": found.d_low,
        "d_high": found.d_high,
        "smallest_p": found.smallest_p,
        "sequential": {"llr": so_far.llr, "upper": so_far.upper, "lower": so_far.lower, "state": so_far.state},
    }


def _said_of_difference(
    test: TastingTest, answers: Sequence[Answer], p: float, right: int, verdict: Verdict
) -> Message:
    n = len(answers)
    facts = {"right": right, "n": n, "luck": n * LUCK[test.kind], "odds": odds(p)}
    people = len({answer.taster for answer in answers})
    if verdict == "different":
        found = Message("told-apart", facts)
        return Message("told-by-these", {"said": found, "people": people}) if people < n else found
    if verdict == "too few":
        least = next(count for count in range(n + 1, 100) if discriminate(test.kind, count, count).p <= test.alpha)
        return Message("told-too-few", {**facts, "least": least})
    needed = tastings_needed(test.kind, share_right(test.kind, test.d_prime), test.alpha, test.power).tastings
    if needed is not None and needed > n:
        return Message("told-not-shown-yet", {**facts, "needed": needed})
    return Message("told-not-shown", facts)


def odds(p: float) -> Message:
    """Return how often luck does as well, as people say it."""
    if p > 0.5:
        return Message("luck-mostly")
    times = 1 / p
    rounded = int(round(times) if times < 20 else round(times, -1) if times < 200 else round(times, -2))
    return Message("luck-times", {"times": rounded}) if times < 10_000 else Message("luck-never")


def _preference(test: TastingTest, answers: Sequence[Answer]) -> Analysis:
    first, second = test.variants
    found = prefer(votes_of((one.taster, str(one.picked)) for one in answers), first)
    verdict = _verdict(found.p, found.smallest_p, test.alpha)
    best = first if found.picked[0] >= found.picked[1] else second
    facts = {"best": best, "most": max(found.picked), "n": found.n, "odds": odds(found.p)}
    code = {"different": "preferred", "too few": "preferred-too-few", "not shown": "preferred-not-shown"}[verdict]
    return {
        "n": found.n,
        "verdict": verdict,
        "said": str(Message(code, facts) if found.n else Message("preferred-tied")),
        "picked": dict(zip(test.variants, found.picked, strict=True)),
        "p": found.p,
        "share": found.share,
        "low": found.low,
        "high": found.high,
        "smallest_p": found.smallest_p,
    }


def _ranking(test: TastingTest, answers: Sequence[Answer]) -> Analysis:
    ranks = mean_ranks([(one.taster, one.order) for one in answers], test.variants)
    found = rank(ranks)
    verdict = _verdict(found.p, found.smallest_p, test.alpha)
    best = test.variants[int(np.argmax(found.rank_sums))]
    facts = {"n": found.n, "best": best, "odds": odds(found.p)}
    if verdict == "different":
        rises = found.p_rise <= found.p
        ends = test.variants if rises else test.variants[::-1]
        said = Message("ranks-rise", {**facts, "first": ends[0], "last": ends[-1]})
    elif found.p_any <= test.alpha:
        said = Message("ranks-differ", {**facts, "odds": odds(found.p_any)})
    else:
        said = Message("ranks-too-few" if verdict == "too few" else "ranks-not-shown", facts)
    return {
        "n": found.n,
        "verdict": verdict,
        "said": str(said),
        "rank_sums": dict(zip(test.variants, found.rank_sums.tolist(), strict=True)),
        "friedman": {"chi2": found.chi2, "p": found.p_any},
        "page": {"L": found.page_l, "p_rise": found.p_rise, "p": found.p},
        "exact": found.exact,
        "smallest_p": found.smallest_p,
    }


def _liking(test: TastingTest, answers: Sequence[Answer]) -> Analysis:
    liked = [Liked(one.taster, str(one.variant), float(one.liking or 0.0), one.marks) for one in answers]
    means, pairs = means_of(liked, test.variants), pairs_of(liked, test.variants)
    n = len({one.taster for one in liked})
    smallest = min((pair.smallest_p for pair in pairs), default=1.0) * max(1, len(pairs))
    clear = [pair for pair in pairs if pair.p_holm <= test.alpha + _SAME]
    verdict = _verdict(min((pair.p_holm for pair in pairs), default=1.0), smallest, test.alpha)
    return {
        "n": n,
        "verdict": verdict,
        "said": str(_said_of_liking(test, n, clear, verdict, len(pairs))),
        "means": means,
        "pairs": [asdict(pair) for pair in pairs],
        "penalties": [{**asdict(one), "hint": one.is_hint} for one in penalties_of(liked, test.variants)],
    }


def _said_of_liking(test: TastingTest, n: int, clear: Sequence[Any], verdict: Verdict, pairs: int) -> Message:
    if verdict == "different":
        best = max(clear, key=lambda pair: abs(pair.difference))
        better, worse = (best.b, best.a) if best.difference > 0 else (best.a, best.b)
        facts = {"n": n, "better": better, "worse": worse, "by": abs(best.difference), "odds": odds(best.p_holm)}
        return Message("liked-better", facts)
    if verdict == "too few":
        least = next(count for count in range(2, 40) if 2 * 0.5**count * max(1, pairs) <= test.alpha)
        return Message("liked-too-few", {"n": n, "least": least})
    return Message("liked-not-shown", {"n": n})


def _pairs(test: TastingTest, answers: Sequence[Answer]) -> Analysis:
    wins = np.zeros((len(test.variants), len(test.variants)))
    at = {key: place for place, key in enumerate(test.variants)}
    for one in answers:
        loser = one.b if one.picked == one.a else one.a
        wins[at[str(one.picked)], at[str(loser)]] += 1
    found = strengths_of(wins)
    clear = found.lead >= CLEAR_LEAD
    could_be = strengths_of(unanimous(wins)).lead >= CLEAR_LEAD
    verdict: Verdict = "different" if clear else "not shown" if could_be else "too few"
    best = test.variants[found.best]
    code = {"different": "pairs-best", "too few": "pairs-too-few", "not shown": "pairs-not-shown"}[verdict]
    return {
        "n": len(answers),
        "verdict": verdict,
        "said": str(Message(code, {"n": len(answers), "best": best})),
        "strengths": dict(zip(test.variants, found.strengths.tolist(), strict=True)),
        "sd": dict(zip(test.variants, found.sd.tolist(), strict=True)),
        "best": best,
    }
