"""Balance on the Bench: from a draft and its targets to a proposal, without changing anything."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from math import inf, isfinite

from django.utils import timezone

from analysis.balance_schemas import (
    AimIn,
    BalanceQuestion,
    LimitIn,
    Proposal,
    ProposedLine,
    ShareIn,
    TargetOut,
    UnmetOut,
    WordChange,
)
from analysis.kitchen_drafts import freezer_of, read_in_kitchen, restrictions_of
from analysis.schemas import DraftLine
from ingredients.shelf_cache import shown_ingredients
from jalebi_core.advice.additions import stage_for
from jalebi_core.assessment.assessment import Outcome, outcomes_of
from jalebi_core.balance.job_context import JobContext, alone, unasked
from jalebi_core.balance.jobs import request_of
from jalebi_core.balance.pulls import held
from jalebi_core.balance.reasons import Unmet, reasons_for
from jalebi_core.balance.request import Aim, BalanceRequest, Limits, Share
from jalebi_core.balance.robustness import SURE, balance_robustly
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.balance.summary import summary
from jalebi_core.balance.watching import Best
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.shelf.catalogue import find_among
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from stock.models import stock_by_slug

ProposalWatch = Callable[[float, Callable[[], Proposal] | None], None]
"""Is told how much of a balance is done, and how to get the best proposal so far; it may raise to end it."""


def propose_balance(
    kitchen: Kitchen, question: BalanceQuestion, watch: ProposalWatch = lambda _share, _best: None
) -> Proposal:
    """Balance a draft; raises JalebiError for what cannot be tried, and whatever the watch raises to end it."""
    read = read_in_kitchen(kitchen, question)
    mix, numbers = read.mix, read.numbers
    if mix is None:
        raise BalanceError("nothing-to-balance")
    context = _job_context(kitchen, question, mix, numbers)
    request = replace(_request(question, context, numbers), scale_g=kitchen.scale_g, fine_scale_g=kitchen.fine_scale_g)
    began = time.perf_counter()
    notation = notation_of(kitchen)

    def proposal(found: Balanced, chances: Sequence[float | None] = (), unmet: Sequence[Unmet] = ()) -> Proposal:
        return Proposal(
            message=words(_message(mix, found, [one for one in chances if one is not None]), notation),
            changed=found.changed,
            lines=_lines(mix, found, numbers),
            targets=_targets(found, chances or [None] * len(found.met)),
            unmet=[_unmet_out(one, request, notation) for one in unmet],
            words=_words(mix, _after(found), context.freezer_c),
            seconds=time.perf_counter() - began,
        )

    def watched(share: float, best: Best | None) -> None:
        watch(share, None if best is None else lambda: proposal(best()))

    sure = balance_robustly(request, watched) if question.sure else None
    found = sure.balanced if sure else balance(request, watched)
    unmet = reasons_for(found, _common(context, request), watched)
    return proposal(found, sure.chances.tolist() if sure else (), unmet)


def _unmet_out(one: Unmet, request: BalanceRequest, notation: Notation) -> UnmetOut:
    return UnmetOut(
        of=one.aim.of,
        name=request.quantity(one.aim).name,
        nearest=one.nearest,
        because=words(one.because, notation),
        would_help=[words(relaxation.message, notation) for relaxation in one.would_help],
    )


def _job_context(kitchen: Kitchen, question: BalanceQuestion, mix: Mix, numbers: Sequence[int]) -> JobContext:
    shelf = shown_ingredients(kitchen)
    if question.ingredient is not None:
        find_among(shelf, question.ingredient)
    stock = stock_by_slug(kitchen, timezone.localdate()) if question.job == "use-up" else None
    return JobContext(
        mix,
        freezer_of(kitchen, question),
        shelf,
        restrictions_of(kitchen, question),
        None if question.line is None else _number(question.line, numbers),
        shelf[question.ingredient] if question.ingredient else None,
        question.grams,
        stock,
        kitchen.may_come_in,
        _like(kitchen, question),
        kitchen.fine_scale_g,
    )


def _like(kitchen: Kitchen, question: BalanceQuestion) -> Mix | None:
    """Return the mix that the first press began with, as it is written with the question."""
    if question.like is None:
        return None
    like = question.model_copy(update=question.like.model_dump())
    return read_in_kitchen(kitchen, like.model_copy(update={"lines": question.like.lines})).mix


def _number(line: int, numbers: Sequence[int]) -> int:
    """Return which line of the mix a line of the draft is."""
    if line not in numbers:
        raise BalanceError("draft-line-weighs-nothing", number=line + 1)
    return numbers.index(line)


def _request(question: BalanceQuestion, context: JobContext, numbers: Sequence[int]) -> BalanceRequest:
    """Return what a job asks, or the targets; limits that were set by hand hold for both."""
    targets = tuple(_aim(one) for one in question.targets)
    by_hand = {
        number: kept
        for number, line in enumerate(numbers)
        if context.mix.lines[number].stage not in MIX_IN_STAGES
        and (kept := _limits_of(question.lines[line], context.mix.lines[number]))
    }
    for one in question.limits:
        number = _number(one.line, numbers)
        by_hand[number] = _limits(one, context.mix.lines[number].grams)
    shares = tuple(_share(one, numbers) for one in question.shares)
    ratios = tuple((_number(one.line, numbers), _number(one.to, numbers)) for one in question.ratios)
    request = _wished(question, context, targets)
    return replace(
        request,
        limits={**request.limits, **by_hand},
        shares=(*request.shares, *shares),
        ratios=ratios,
        max_new=request.max_new if question.job == "steady" else question.max_new,
    )


def _wished(question: BalanceQuestion, context: JobContext, targets: tuple[Aim, ...]) -> BalanceRequest:
    """Return what a job asks, the targets alone, or the targets with the rest held softly."""
    if question.job:
        request = request_of(question.job, context)
        return replace(request, aims=(*request.aims, *targets))
    if question.alone and targets:
        return alone(context, targets)
    limits = unasked(context.mix, targets)
    request = BalanceRequest(context.mix, targets, limits, may_add=context.common(), caps_give=True)
    return held(request) if targets else request


def _share(one: ShareIn, numbers: Sequence[int]) -> Share:
    if one.min_pct > one.max_pct:
        raise BalanceError("share-reversed", low=one.min_pct, high=one.max_pct)
    return Share(tuple(_number(line, numbers) for line in one.lines), one.min_pct, one.max_pct)


def _aim(one: AimIn) -> Aim:
    low = -inf if one.min is None else one.min
    return Aim(one.of, low, inf if one.max is None else one.max, one.weight, one.at_c)


def _limits_of(line: DraftLine, read: Line) -> Limits | None:
    """Return the limits that are kept with a line; None where it has none."""
    if line.pinned:
        return Limits.pinned(read.grams)
    piece_g = read.ingredient.measures.pieces.get(line.whole) if line.whole else None
    step_g = piece_g or line.step_g
    if line.least_g is None and line.most_g is None and step_g is None:
        return None
    return Limits(line.least_g or 0.0, inf if line.most_g is None else line.most_g, step_g)


def _limits(one: LimitIn, grams: float) -> Limits:
    if one.pin:
        return Limits.pinned(grams)
    return Limits(one.min_g or 0.0, inf if one.max_g is None else one.max_g, one.step_g)


def _common(context: JobContext, request: BalanceRequest) -> dict[str, Ingredient]:
    """Return common ingredients that are neither in the mix nor among those that may come in already."""
    here = {line.ingredient.slug for line in request.mix.lines} | {ingredient.slug for ingredient in request.may_add}
    return {one.slug: one for one in context.common() if one.slug not in here}


def _message(before: Mix, found: Balanced, chances: Sequence[float]) -> Message:
    """Return what is said of a proposal, ingredients that take the place of others first."""
    pairs = zip(before.lines, found.problem.request.mix.lines, strict=True)
    placed = [
        Message("line-replaced", {"before": was.ingredient.name, "after": now.ingredient.name})
        for was, now in pairs
        if was.ingredient.name != now.ingredient.name
    ]
    proposal = summary(found, chances)
    return Message("proposal-replacing", {"replaced": placed, "proposal": proposal}) if placed else proposal


def _lines(before: Mix, found: Balanced, numbers: Sequence[int]) -> list[ProposedLine]:
    problem = found.problem
    mix, columns = problem.request.mix, len(problem.numbers)
    weighed = dict(zip(problem.numbers, found.grams[:columns].tolist(), strict=True))
    lines = []
    for number, line in enumerate(mix.lines):
        lines.append(
            ProposedLine(
                line=numbers[number],
                was=before.lines[number].ingredient.name,
                ingredient=line.ingredient.slug,
                name=line.ingredient.name,
                stage=line.stage,
                before_g=before.lines[number].grams,
                after_g=weighed.get(number, line.grams),
            )
        )
    stages = [mix.lines[number].stage for number in problem.numbers]
    for ingredient, grams in zip(problem.request.may_add, found.grams[columns:].tolist(), strict=True):
        if grams > 0:
            usual = next((stage for stage in stages if stage == "pot"), stages[0])
            stage = stage_for(mix, ingredient, usual)
            name = ingredient.composition.name
            lines.append(
                ProposedLine(
                    line=None, was=name, ingredient=ingredient.slug, name=name, stage=stage, before_g=0.0, after_g=grams
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
            met=found.met[at] if (chance := chances[at]) is None else chance >= SURE,
            chance=chance,
        )
        for at, aim in enumerate(problem.request.aims)
    ]


def _after(found: Balanced) -> Mix:
    problem = found.problem
    columns = len(problem.numbers)
    grams = dict(zip(problem.numbers, found.grams[:columns].tolist(), strict=True))
    lines = [replace(line, grams=grams.get(at, line.grams)) for at, line in enumerate(problem.request.mix.lines)]
    new = zip(problem.request.may_add, found.grams[columns:].tolist(), strict=True)
    lines += [Line(ingredient, amount) for ingredient, amount in new if amount > 0]
    return replace(problem.request.mix, lines=tuple(lines))


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
