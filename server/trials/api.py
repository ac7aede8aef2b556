"""Trials: variants side by side, tests, what came of them; and the page of guests."""

from __future__ import annotations

import csv
from io import StringIO
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from api.items import Unreadable
from api.pages import Page, PageQuery, page_of
from jalebi_core.model.errors import TastingError
from jalebi_core.wording.message import words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from kitchens.sign_in import kitchen_of, person_of
from trials.deciding import decide, make_mixes, said_of
from trials.guests import end_link, guest_page, new_link, sitting_of
from trials.models import Trial, TrialTest
from trials.schemas import (
    DecidedOut,
    GuestAnswers,
    GuestKept,
    GuestPage,
    LinkIn,
    LinkOut,
    MadeMixes,
    NewTest,
    NewTrial,
    SaidIn,
    TestOut,
    TrialDecision,
    TrialHead,
    TrialOut,
)
from trials.trial_tests import begin_test, close_test, keep_answers, serialize_test, trial_file
from trials.variants import build, serialize_variants

router = Router(tags=["trials"])
guests = Router(tags=["guests"])


@router.get("/trials", response=Page[TrialHead])
def trials(request: HttpRequest, page: Query[PageQuery]) -> Page[TrialHead]:
    """Return the kitchen's trials, newest first."""
    rows = Trial.objects.of(kitchen_of(request)).select_related("mix").prefetch_related("tests")
    return page_of(rows, page, _head)


def _head(trial: Trial) -> TrialHead:
    tests = list(trial.tests.all())
    return TrialHead(
        id=trial.pk,
        name=trial.name,
        mix=trial.mix_id,
        mix_name=trial.mix.name if trial.mix else "",
        variants=[one["name"] for one in trial.variants],
        begun_at=trial.begun_at,
        tests=len(tests),
        open_tests=sum(one.closed_at is None for one in tests),
        decided=said_of(trial.decided),
    )


@router.post("/trials/preview", response=TrialOut)
def preview(request: HttpRequest, payload: NewTrial) -> TrialOut:
    """Return what a trial would be; nothing is kept."""
    kitchen = kitchen_of(request)
    return serialize_variants(build(kitchen, payload), kitchen)


@router.post("/trials", response={201: TrialOut})
def add_trial(request: HttpRequest, payload: NewTrial) -> Status[TrialOut]:
    """Begin a trial; its variants stay as they are now."""
    person = person_of(request)
    made = build(person.kitchen, payload)
    made.begun_by = person
    made.save()
    return Status(201, _out(made, person.kitchen))


@router.get("/trials/{trial_id}", response=TrialOut)
def trial(request: HttpRequest, trial_id: int) -> TrialOut:
    """Return a trial with its tests."""
    return _out(_trial(request, trial_id), kitchen_of(request))


@router.post("/trials/{trial_id}/tests", response={201: TestOut})
def add_test(request: HttpRequest, trial_id: int, payload: NewTest) -> Status[TestOut]:
    """Begin a test with its own codes and orders."""
    kitchen = kitchen_of(request)
    return Status(201, serialize_test(begin_test(_trial(request, trial_id), payload), kitchen))


@router.post("/trials/{trial_id}/mixes", response=MadeMixes)
def add_mixes(request: HttpRequest, trial_id: int) -> MadeMixes:
    """Give each variant a mix of its own, to be planned and made; the second time the same ones."""
    return MadeMixes(mixes=make_mixes(person_of(request), _trial(request, trial_id)))


@router.post("/trials/{trial_id}/decision", response=DecidedOut)
def decide_trial(request: HttpRequest, trial_id: int, payload: TrialDecision) -> DecidedOut:
    """Put the winner, or what lies between two variants, into the mix; what was there is kept as a revision."""
    person = person_of(request)
    mix, before = decide(person, _trial(request, trial_id), payload.keys)
    return DecidedOut(mix=mix, before=before, trial=_out(_trial(request, trial_id), person.kitchen))


@router.get("/trial-tests/{test_id}", response=TestOut)
def trial_test(request: HttpRequest, test_id: int) -> TestOut:
    """Return a test."""
    return serialize_test(_test(request, test_id), kitchen_of(request))


@router.post("/trial-tests/{test_id}/answers", response={201: TestOut})
def add_answer(request: HttpRequest, test_id: int, payload: SaidIn) -> Status[TestOut]:
    """Keep what a taster said of a serving, in codes; the same press is kept once."""
    person = person_of(request)
    _, refused = keep_answers(_test(request, test_id), [payload], person)
    for error in refused:
        if isinstance(error, TastingError):
            raise error
    return Status(201, serialize_test(_test(request, test_id), person.kitchen))


@router.post("/trial-tests/{test_id}/close", response=TestOut)
def close(request: HttpRequest, test_id: int) -> TestOut:
    """Close a test and reveal its codes, once and for all."""
    close_test(_test(request, test_id))
    return serialize_test(_test(request, test_id), kitchen_of(request))


@router.post("/trial-tests/{test_id}/sittings", response={201: LinkOut})
def add_sitting(request: HttpRequest, test_id: int, payload: LinkIn) -> Status[LinkOut]:
    """Make a link for one taster, in the place of an earlier one; it is shown this once."""
    return Status(201, LinkOut(path=f"/guest/{new_link(_test(request, test_id), payload.taster)}"))


@router.delete("/trial-tests/{test_id}/sittings/{taster}", response={204: None})
def end_sitting(request: HttpRequest, test_id: int, taster: str) -> Status[None]:
    """Take the link of one taster back; the others stay."""
    end_link(_test(request, test_id), taster)
    return Status(204, None)


@router.get("/trial-tests/{test_id}/file", response=dict[str, Any])
def test_file(request: HttpRequest, response: HttpResponse, test_id: int) -> dict[str, Any]:
    """Return a closed test as a trial file."""
    response["Content-Disposition"] = f'attachment; filename="test-{test_id}.trial.json"'
    return trial_file(_test(request, test_id))


@router.get("/trial-tests/{test_id}/results.csv", include_in_schema=False)
def results(request: HttpRequest, test_id: int) -> HttpResponse:
    """Return the answers of a closed test as CSV, one a line."""
    rows = trial_file(_test(request, test_id))["results"]
    columns = list(dict.fromkeys(key for row in rows for key in row))
    text = StringIO()
    writer = csv.DictWriter(text, columns)
    writer.writeheader()
    writer.writerows({key: _cell(value) for key, value in row.items()} for row in rows)
    response = HttpResponse(text.getvalue(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="test-{test_id}.csv"'
    return response


def _cell(value: Any) -> str:
    """Return a value as a cell; a text that a spreadsheet would take for a formula is quoted."""
    if isinstance(value, bool | int | float):
        return str(value)
    if isinstance(value, dict):
        value = [f"{key}={mark}" for key, mark in value.items()]
    text = " ".join(value) if isinstance(value, list) else str(value)
    return f"'{text}" if text[:1] in "=+-@" else text


@guests.get("/guest/{secret}", auth=None, response=GuestPage)
def guest(request: HttpRequest, secret: str) -> GuestPage:
    """Return what a guest sees: allergens first, then the question and the own cups by code."""
    return guest_page(sitting_of(secret))


@guests.post("/guest/{secret}/answers", auth=None, response=GuestKept)
def guest_answers(request: HttpRequest, secret: str, payload: GuestAnswers) -> GuestKept:
    """Keep what a guest said, each answer once; what is none is refused and holds up no other."""
    sitting = sitting_of(secret)
    kept, refused = keep_answers(sitting.test, payload.answers, None, sitting.taster)
    notation = notation_of(sitting.test.kitchen)
    return GuestKept(kept=kept, refused=[_refusal(one, notation) for one in refused])


def _refusal(refused: TastingError | Unreadable, notation: Notation) -> str:
    return refused.problem.detail if isinstance(refused, Unreadable) else words(refused.message, notation)


def _trial(request: HttpRequest, trial_id: int) -> Trial:
    rows = Trial.objects.of(kitchen_of(request)).select_related("mix", "kitchen")
    return rows.prefetch_related("tests__answers", "tests__sittings").get(pk=trial_id)


def _test(request: HttpRequest, test_id: int) -> TrialTest:
    rows = TrialTest.objects.of(kitchen_of(request)).select_related("trial__mix", "kitchen")
    return rows.prefetch_related("answers", "sittings").get(pk=test_id)


def _out(trial: Trial, kitchen: Kitchen) -> TrialOut:
    found = serialize_variants(trial, kitchen)
    tests = [serialize_test(one, kitchen) for one in trial.tests.all()]
    return found.model_copy(update={"tests": tests, "decided": said_of(trial.decided)})
