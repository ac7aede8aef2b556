"""Plans: what is served when, planned back from that as a job, carried out, and taken along in a calendar."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Annotated, Any, Final

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile
from pydantic import BaseModel, Field

from api.pages import Page, PageQuery, page_of
from api.versions import IfMatch, tag, version_of
from idempotency.answers import IdempotencyKey, answer_once
from jalebi_core.formats.json_text import load_json
from jalebi_core.formats.plan_calendar import CalendarOf, plan_calendar
from jalebi_core.formats.plan_file import MOST_BYTES, read_plan
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.tasks import Task
from jobs.answers import JobOut, fields_of
from jobs.models import Job
from jobs.start import job_by_id, stop_job
from kitchens.sign_in import kitchen_of, person_of
from plans.actions import (
    add_service,
    begin_plan,
    change_plan,
    copy_plan,
    note_event,
    note_mishap,
    plan_by_id,
    take_back,
    take_remedy,
)
from plans.building import build
from plans.models import Plan
from plans.planning_job import KIND, begin_planning, keep_answer
from plans.preparing import preparing
from plans.readiness_job import KIND as READINESS
from plans.readiness_job import begin_looking
from plans.schemas import (
    CopiedTo,
    Happened,
    LocalTime,
    Mishap,
    NewPlan,
    PlanAnswer,
    PlanChange,
    PlanOut,
    PlanSummary,
    Preparing,
    ReadyBy,
    Remedied,
    TypedService,
    WorkplaceIn,
    WorkplaceOut,
)
from plans.serialize import serialize_plan, serialize_summary
from plans.times import local, zone_called
from plans.workplace import save_workplace, workplace_of

router = Router(tags=["plans"])
_CALENDAR: Final = "text/calendar; charset=utf-8"


@router.get("/workplace", response=WorkplaceOut)
def workplace(request: HttpRequest, response: HttpResponse) -> WorkplaceOut:
    """Return who is there when, and what the kitchen works with."""
    found = workplace_of(kitchen_of(request))
    tag(response, found.version)
    return found


@router.put("/workplace", response=WorkplaceOut)
def change_workplace(
    request: HttpRequest, response: HttpResponse, payload: WorkplaceIn, if_match: IfMatch = None
) -> WorkplaceOut:
    """Change the workplace, whole."""
    kitchen = kitchen_of(request)
    save_workplace(kitchen, version_of(if_match), payload)
    found = workplace_of(kitchen)
    tag(response, found.version)
    return found


@router.get("/plans", response=Page[PlanSummary])
def plans(request: HttpRequest, wanted: Query[PageQuery]) -> Page[PlanSummary]:
    """Return the kitchen's plans, the last changed first."""
    rows = Plan.objects.of(kitchen_of(request)).filter(put_away=False).defer("answer", "previous")
    return page_of(rows, wanted, serialize_summary)


@router.post("/plans", response={201: PlanOut})
def new_plan(request: HttpRequest, payload: NewPlan, idempotency_key: IdempotencyKey = None) -> Status[PlanOut]:
    """Begin a plan."""
    person = person_of(request)
    return answer_once(
        request,
        person,
        idempotency_key,
        PlanOut,
        lambda: serialize_plan(begin_plan(person, payload), person.kitchen.learnt),
    )


@router.post("/plan-files", response={201: PlanOut})
def bring_plan(request: HttpRequest, file: File[UploadedFile]) -> Status[PlanOut]:
    """Bring in a plan file; its people, machines and mixes are the file's own."""
    person = person_of(request)
    if (file.size or 0) > MOST_BYTES:
        raise PlanError("plan-too-large")
    data = file.read()
    read_plan(data)
    content: dict[str, Any] = load_json(data.decode("utf-8-sig"))
    for key in ("now", "previous", "actual"):
        content.pop(key, None)
    name = (file.name or "Plan").removesuffix(".json")[:100] or "Plan"
    plan = Plan.objects.create(
        kitchen=person.kitchen, name=name, zone=content.get("zone") or "", file=content, made_by=person
    )
    return Status(201, serialize_plan(plan, person.kitchen.learnt))


@router.get("/plans/{plan_id}", response=PlanOut)
def plan(request: HttpRequest, response: HttpResponse, plan_id: int) -> PlanOut:
    """Return a plan."""
    return _answer(request, response, plan_by_id(kitchen_of(request), plan_id))


@router.patch("/plans/{plan_id}", response=PlanOut)
def change(
    request: HttpRequest, response: HttpResponse, plan_id: int, payload: PlanChange, if_match: IfMatch = None
) -> PlanOut:
    """Change a plan: its name, its services, where steps are pinned, or that it is started."""
    return _answer(request, response, change_plan(kitchen_of(request), plan_id, version_of(if_match), payload))


@router.delete("/plans/{plan_id}", response={204: None})
def remove(request: HttpRequest, plan_id: int) -> Status[None]:
    """Put a plan away; it stays a record."""
    found = plan_by_id(kitchen_of(request), plan_id)
    found.put_away = True
    found.save(update_fields=["put_away"])
    return Status(204, None)


@router.post("/plans/{plan_id}/services", response=PlanOut)
def type_service(request: HttpRequest, response: HttpResponse, plan_id: int, payload: TypedService) -> PlanOut:
    """Add a service as it is typed."""
    return _answer(request, response, add_service(kitchen_of(request), plan_id, payload.text))


@router.post("/plans/{plan_id}/remedies", response=PlanOut)
def remedy(request: HttpRequest, response: HttpResponse, plan_id: int, payload: Remedied) -> PlanOut:
    """Let a change hold that the answer offers."""
    return _answer(request, response, take_remedy(kitchen_of(request), plan_id, payload.change))


@router.post("/plans/{plan_id}/mishaps", response=PlanOut)
def mishap(request: HttpRequest, response: HttpResponse, plan_id: int, payload: Mishap) -> PlanOut:
    """Note that somebody is gone, a machine is out, or a bowl was not in the freezer."""
    return _answer(request, response, note_mishap(kitchen_of(request), plan_id, payload))


@router.delete("/plans/{plan_id}/mishaps", response=PlanOut)
def take_mishap_back(request: HttpRequest, response: HttpResponse, plan_id: int) -> PlanOut:
    """Take back the last mishap or remedy."""
    return _answer(request, response, take_back(kitchen_of(request), plan_id))


@router.post("/plans/{plan_id}/events", response=PlanOut)
def happened(request: HttpRequest, response: HttpResponse, plan_id: int, payload: Happened) -> PlanOut:
    """Note what happened to a step of a plan that was started."""
    return _answer(request, response, note_event(person_of(request), plan_id, payload))


@router.post("/plans/{plan_id}/copies", response={201: PlanOut})
def copy(request: HttpRequest, plan_id: int, payload: CopiedTo) -> Status[PlanOut]:
    """Plan the same for another day."""
    person = person_of(request)
    return Status(201, serialize_plan(copy_plan(person, plan_id, payload.day), person.kitchen.learnt))


class HowAnew(BaseModel):
    """Whether the answer that is there is moved as little as can be, or a first plan is made."""

    anew: bool = False


@router.post("/plans/{plan_id}/solutions", response={202: JobOut[PlanAnswer]})
def look_for_plan(request: HttpRequest, plan_id: int, payload: HowAnew) -> Status[JobOut[PlanAnswer]]:
    """Begin to look for the best plan."""
    person = person_of(request)
    found = begin_planning(person, plan_by_id(person.kitchen, plan_id), anew=payload.anew)
    return Status(202, _solution(found))


@router.get("/solutions/{job_id}", response=JobOut[PlanAnswer])
def solution(request: HttpRequest, job_id: int) -> JobOut[PlanAnswer]:
    """Say how far the search is, and the best plan so far."""
    return _solution(job_by_id(person_of(request), KIND, job_id))


@router.delete("/solutions/{job_id}", response=JobOut[PlanAnswer])
def stop_solution(request: HttpRequest, job_id: int) -> JobOut[PlanAnswer]:
    """Stop the search; the best so far stays and is kept with the plan."""
    person = person_of(request)
    job = stop_job(person, KIND, job_id)
    if job.state == "stopped" and job.best:
        keep_answer(person.kitchen, job.asked["plan"], job.asked["version"], job.best)
    return _solution(job)


class ByWhen(BaseModel):
    """An hour, a local time, and how much of each mix is meant."""

    at: LocalTime
    amount: Annotated[str, Field(min_length=1, max_length=60)] = "1 l"


@router.post("/plans/{plan_id}/readiness", response={202: JobOut[ReadyBy]})
def look_what_is_ready(request: HttpRequest, plan_id: int, payload: ByWhen) -> Status[JobOut[ReadyBy]]:
    """Begin to look which mixes can be ready by an hour."""
    person = person_of(request)
    job = begin_looking(person, plan_by_id(person.kitchen, plan_id), local(payload.at), payload.amount)
    return Status(202, JobOut[ReadyBy].model_validate(fields_of(job)))


@router.get("/readiness/{job_id}", response=JobOut[ReadyBy])
def readiness(request: HttpRequest, job_id: int) -> JobOut[ReadyBy]:
    """Say how far the looking is, and what was found."""
    return JobOut[ReadyBy].model_validate(fields_of(job_by_id(person_of(request), READINESS, job_id)))


@router.get("/plans/{plan_id}/preparation", response=Preparing)
def mise_en_place(request: HttpRequest, plan_id: int) -> Preparing:
    """Return what must be at hand: bowls in the freezer, ice, what is weighed, and what is short."""
    kitchen = kitchen_of(request)
    found = plan_by_id(kitchen, plan_id)
    return preparing(kitchen, found, build(found, anew=False))


@router.get("/plans/{plan_id}/file")
def plan_file(request: HttpRequest, plan_id: int) -> HttpResponse:
    """Return the plan as a plan file."""
    found = plan_by_id(kitchen_of(request), plan_id)
    content = build(found, anew=False).content
    return _download(json.dumps(content, ensure_ascii=False, indent=2).encode(), "application/json", "plan.json")


class OfPerson(BaseModel):
    """Whose work is meant; everybody's where nobody is named."""

    person: Annotated[str, Field(max_length=100)] = ""


@router.get("/plans/{plan_id}/calendar")
def calendar(request: HttpRequest, plan_id: int, wanted: Query[OfPerson]) -> HttpResponse:
    """Return the work of a plan as a calendar file."""
    person = person_of(request)
    found = plan_by_id(person.kitchen, plan_id)
    answer = found.answer or {"tasks": [], "origin": local(datetime.now(tz=UTC)).isoformat()}
    tasks = [Task(**task, kind="", machine=None) for task in answer["tasks"]]
    if wanted.person:
        tasks = [task for task in tasks if task.who == wanted.person]
    of = CalendarOf(
        uid=f"plan-{found.pk}.{person.kitchen.slug}",
        sequence=found.answer_of,
        made=found.changed_at,
        origin=datetime.fromisoformat(answer["origin"]),
        zone=zone_called(found.zone),
        names={},
    )
    return _download(plan_calendar(of, tasks), _CALENDAR, "plan.ics")


def _download(data: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(data, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


def _answer(request: HttpRequest, response: HttpResponse, plan: Plan) -> PlanOut:
    tag(response, plan.version)
    return serialize_plan(plan, kitchen_of(request).learnt)


def _solution(job: Job) -> JobOut[PlanAnswer]:
    return JobOut[PlanAnswer].model_validate(fields_of(job))
