"""Balance on the Bench: from a draft and what is wished of it to a proposal, without changing anything."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from math import inf, isfinite

from django.db.models import Sum

from jalebi_core.balance.jobs import Asked, alone, seasoning, wishes_of
from jalebi_core.balance.reasons import reasons_for
from jalebi_core.balance.said import sentence
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.balance.spread import surely_balanced
from jalebi_core.balance.wishes import Aim, Limits, Wishes
from jalebi_core.errors import BalanceError
from jalebi_core.exchanges import goods_to_try
from jalebi_core.goods import Goods
from jalebi_core.judgement import Outcome, outcomes_of
from jalebi_core.mix import Line, Mix
from jalebi_core.shelf import find_among
from jalebi_core.styles import BESIDE
from kitchens.models import Kitchen
from shelf.kept import goods_of
from shelf.models import Stock

from .balance_schemas import AimIn, BalanceQuestion, LimitIn, Proposal, ProposedLine, TargetOut, UnmetOut, WordChange
from .drafts import freezer_of, mix_of, read_lines, restrictions_of
from .schemas import DraftLine


def proposed(kitchen: Kitchen, question: BalanceQuestion) -> Proposal:
    """Balance a draft; raises JalebiError for wishes that cannot be tried."""
    read = read_lines(kitchen, question.lines)
    mix = mix_of(kitchen, question, read)
    if mix is None:
        raise BalanceError("There is nothing in the mix to balance.")
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams]
    asked = _asked(kitchen, question, mix, numbers)
    wishes = replace(_wishes(question, asked, numbers), scale_g=kitchen.scale_g)
    began = time.perf_counter()
    sure = surely_balanced(wishes) if question.sure else None
    found = sure.balanced if sure else balance(wishes)
    seconds = time.perf_counter() - began
    common = _common(asked, wishes)
    return Proposal(
        said=_said(mix, found),
        changed=found.changed,
        lines=_lines(mix, found, numbers),
        targets=_targets(found, sure.chances.tolist() if sure else [None] * len(found.met)),
        unmet=[
            UnmetOut(
                of=one.aim.of,
                name=wishes.quantity(one.aim).name,
                nearest=one.nearest,
                because=one.because,
                would_help=[relaxation.said for relaxation in one.would_help],
            )
            for one in reasons_for(found, common)
        ],
        words=_words(mix, _after(found), asked.freezer_c),
        seconds=seconds,
    )


def _asked(kitchen: Kitchen, question: BalanceQuestion, mix: Mix, numbers: Sequence[int]) -> Asked:
    shelf = goods_of(kitchen)
    if question.ingredient is not None:
        find_among(shelf, question.ingredient)
    stock = None
    if question.job == "use-up":
        rows = Stock.objects.of(kitchen).values_list("ingredient__slug").annotate(Sum("grams"))
        stock = {slug: float(grams) for slug, grams in rows}
    return Asked(
        mix,
        freezer_of(kitchen, question),
        shelf,
        restrictions_of(kitchen, question),
        None if question.line is None else _number(question.line, numbers),
        shelf[question.ingredient] if question.ingredient else None,
        question.grams,
        stock,
        kitchen.may_come_in,
    )


def _number(line: int, numbers: Sequence[int]) -> int:
    """Return which line of the mix a line of the draft is."""
    if line not in numbers:
        raise BalanceError(f"Line {line + 1} weighs nothing yet.")
    return numbers.index(line)


def _wishes(question: BalanceQuestion, asked: Asked, numbers: Sequence[int]) -> Wishes:
    """Return a job's wishes, or those of the targets; limits that were set by hand hold for both."""
    targets = tuple(_aim(one) for one in question.targets)
    by_hand = {
        number: kept
        for number, line in enumerate(numbers)
        if asked.mix.lines[number].stage not in BESIDE
        and (kept := _limits_of(question.lines[line], asked.mix.lines[number]))
    }
    for one in question.limits:
        number = _number(one.line, numbers)
        by_hand[number] = _limits(one, asked.mix.lines[number].grams)
    if question.job:
        wishes = wishes_of(question.job, asked)
        return replace(
            wishes, aims=(*wishes.aims, *targets), limits={**wishes.limits, **by_hand}, max_new=question.max_new
        )
    if question.alone and targets:
        wishes = alone(asked, targets)
        return replace(wishes, limits={**wishes.limits, **by_hand}, max_new=question.max_new)
    limits = {**seasoning(asked.mix, targets), **by_hand}
    return Wishes(asked.mix, targets, limits, may_add=asked.common(), max_new=question.max_new)


def _aim(one: AimIn) -> Aim:
    low = -inf if one.min is None else one.min
    return Aim(one.of, low, inf if one.max is None else one.max, one.weight, one.at_c)


def _limits_of(line: DraftLine, read: Line) -> Limits | None:
    """Return the limits that are kept with a line; None where it has none."""
    if line.pinned:
        return Limits.pinned(read.grams)
    piece_g = read.goods.measures.pieces.get(line.whole) if read.goods and line.whole else None
    step_g = piece_g or line.step_g
    if line.least_g is None and line.most_g is None and step_g is None:
        return None
    return Limits(line.least_g or 0.0, inf if line.most_g is None else line.most_g, step_g)


def _limits(one: LimitIn, grams: float) -> Limits:
    if one.pin:
        return Limits.pinned(grams)
    return Limits(one.min_g or 0.0, inf if one.max_g is None else one.max_g, one.step_g)


def _common(asked: Asked, wishes: Wishes) -> dict[str, Goods]:
    """Return common goods that are neither in the mix nor among those that may come in already."""
    here = {line.goods.slug for line in wishes.mix.lines if line.goods} | {goods.slug for goods in wishes.may_add}
    slugs = goods_to_try(wishes.mix, asked.shelf, asked.restrictions)
    return {slug: asked.shelf[slug] for slug in slugs if slug not in here}


def _said(before: Mix, found: Balanced) -> str:
    """Return the sentence of a proposal, goods that take the place of others first."""
    pairs = zip(before.lines, found.problem.wishes.mix.lines, strict=True)
    placed = [
        f"{was.ingredient.name} becomes {now.ingredient.name}; "
        for was, now in pairs
        if was.ingredient.name != now.ingredient.name
    ]
    return "".join(placed) + sentence(found)


def _lines(before: Mix, found: Balanced, numbers: Sequence[int]) -> list[ProposedLine]:
    problem = found.problem
    mix, columns = problem.wishes.mix, len(problem.numbers)
    weighed = dict(zip(problem.numbers, found.grams[:columns].tolist(), strict=True))
    lines = []
    for number, line in enumerate(mix.lines):
        lines.append(
            ProposedLine(
                line=numbers[number],
                was=before.lines[number].ingredient.name,
                ingredient=line.goods.slug if line.goods else "",
                name=line.ingredient.name,
                stage=line.stage,
                before_g=before.lines[number].grams,
                after_g=weighed.get(number, line.grams),
            )
        )
    stages = [mix.lines[number].stage for number in problem.numbers]
    for goods, grams in zip(problem.wishes.may_add, found.grams[columns:].tolist(), strict=True):
        if grams > 0:
            stage = "dry" if goods.kind == "gum" else next((stage for stage in stages if stage == "pot"), stages[0])
            name = goods.composition.name
            lines.append(
                ProposedLine(
                    line=None, was=name, ingredient=goods.slug, name=name, stage=stage, before_g=0.0, after_g=grams
                )
            )
    return lines


def _targets(found: Balanced, chances: Sequence[float | None]) -> list[TargetOut]:
    problem = found.problem
    before, after = found.before.tolist(), found.after.tolist()
    return [
        TargetOut(
            of=aim.of,
            name=problem.quantities[at].name,
            unit=problem.quantities[at].unit,
            min=aim.low if isfinite(aim.low) else None,
            max=aim.high if isfinite(aim.high) else None,
            before=before[at],
            after=after[at],
            met=found.met[at],
            chance=chances[at],
        )
        for at, aim in enumerate(problem.wishes.aims)
    ]


def _after(found: Balanced) -> Mix:
    problem = found.problem
    columns = len(problem.numbers)
    grams = dict(zip(problem.numbers, found.grams[:columns].tolist(), strict=True))
    lines = [replace(line, grams=grams.get(at, line.grams)) for at, line in enumerate(problem.wishes.mix.lines)]
    new = zip(problem.wishes.may_add, found.grams[columns:].tolist(), strict=True)
    lines += [Line(goods.composition, amount, None, goods) for goods, amount in new if amount > 0]
    return replace(problem.wishes.mix, lines=tuple(lines))


def _words(before: Mix, after: Mix, freezer_c: float) -> list[WordChange]:
    """Return the outcomes whose words change; an outcome that comes or goes is not among them."""
    now: dict[str, Outcome] = {outcome.key: outcome for outcome in outcomes_of(before, freezer_c)}
    return [
        WordChange(
            key=outcome.key,
            name=outcome.name,
            before=now[outcome.key].word,
            after=outcome.word,
            good=outcome.state == "in",
        )
        for outcome in outcomes_of(after, freezer_c)
        if outcome.key in now and now[outcome.key].word != outcome.word
    ]
