"""Analysis without keeping anything: what a draft is and eats like, what would help it, its size and its balance."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status
from pydantic import BaseModel, Field

from analysis.advice import adjustments_for, tolerances_for
from analysis.balance_job import KIND, balance_or_job
from analysis.balance_schemas import BalanceQuestion, Proposal
from analysis.composition_table import composition_table
from analysis.costs import CostQuestion, CostSheet, cost_sheet
from analysis.details import details_of
from analysis.draft_analysis import analyse_draft
from analysis.labels import LabelDraftOut, LabelQuestion, label_draft
from analysis.line_insights import line_insights
from analysis.scale_schemas import ScaleOut, ScaleQuestion, TableOut
from analysis.scaling import scaled_draft
from analysis.schemas import Details, DraftAnalysis, DraftToAnalyse, HelpOut, LineInsights, LineQuestion, ToleranceOut
from api.answers import written_out
from jobs.answers import JobOut, fields_of
from jobs.models import Job
from jobs.start import job_by_id, stop_job
from kitchens.sign_in import kitchen_of, person_of

router = Router(tags=["analysis"])


@router.post("/analyses", response=DraftAnalysis)
def analyse(request: HttpRequest, payload: DraftToAnalyse) -> HttpResponse:
    """Analyse a draft without keeping it; lines that cannot be read say so and are left at what they weighed.

    Every keystroke asks this, so the answer is written out at once instead of being checked once more.
    """
    found = analyse_draft(kitchen_of(request), payload)
    return written_out(request, found)


@router.post("/line-insights", response=LineInsights)
def look_at_line(request: HttpRequest, payload: LineQuestion) -> LineInsights:
    """Say of a line in its mix what could stand in for it, and what it would do to take the wrong ingredient."""
    return line_insights(kitchen_of(request), payload)


@router.post("/adjustments", response=list[HelpOut])
def find_adjustments(request: HttpRequest, payload: DraftToAnalyse) -> list[HelpOut]:
    """Say what a cook would try against each outcome that is out of its band."""
    return adjustments_for(kitchen_of(request), payload)


@router.post("/details", response=Details | None)
def look_at_details(request: HttpRequest, payload: DraftToAnalyse) -> Details | None:
    """Return the figures behind a draft, what other schools say, its gums and, for guidance only, protected names."""
    return details_of(kitchen_of(request), payload)


@router.post("/tolerances", response=list[ToleranceOut])
def find_tolerances(request: HttpRequest, payload: DraftToAnalyse) -> list[ToleranceOut]:
    """Say how far each line may be weighed wrong."""
    return tolerances_for(kitchen_of(request), payload)


class About(BaseModel):
    """The mix that a draft is of; a job about it takes the place of an earlier one of the same person."""

    mix: Annotated[int, Field(ge=1, lt=2**63)] | None = None


@router.post("/proposals", response={200: Proposal, 202: JobOut[Proposal]})
def balance(request: HttpRequest, about: Query[About], payload: BalanceQuestion) -> Status[Proposal | JobOut[Proposal]]:
    """Propose amounts that reach the targets with the least change, and say why where they cannot be reached.

    What takes longer than a moment becomes a job (202).
    """
    person = person_of(request)
    found = balance_or_job(person, payload, f"mix {about.mix}" if about.mix else "a draft")
    return Status(200, found) if isinstance(found, Proposal) else Status(202, _proposal_job(found))


@router.get("/proposals/{job_id}", response=JobOut[Proposal])
def look_at_proposal_job(request: HttpRequest, job_id: int) -> JobOut[Proposal]:
    """Say how far a balance is, and what it has come to."""
    return _proposal_job(job_by_id(person_of(request), KIND, job_id))


@router.delete("/proposals/{job_id}", response=JobOut[Proposal])
def stop_proposal_job(request: HttpRequest, job_id: int) -> JobOut[Proposal]:
    """Stop a balance; the best so far stays."""
    return _proposal_job(stop_job(person_of(request), KIND, job_id))


def _proposal_job(job: Job) -> JobOut[Proposal]:
    return JobOut[Proposal].model_validate(fields_of(job))


@router.post("/composition-tables", response=TableOut | None)
def cooks_table(request: HttpRequest, payload: DraftToAnalyse) -> TableOut | None:
    """Return the cook's table of a draft: what every line brings to the whole."""
    return composition_table(kitchen_of(request), payload)


@router.post("/cost-sheets", response=CostSheet | None)
def sheet_of_costs(request: HttpRequest, payload: CostQuestion) -> CostSheet | None:
    """Say what a batch of a draft costs, line by line, and what is earned with it."""
    return cost_sheet(kitchen_of(request), payload)


@router.post("/label-drafts", response=LabelDraftOut | None)
def draft_label(request: HttpRequest, payload: LabelQuestion) -> LabelDraftOut | None:
    """Draft the label of a draft, by the rules of a region."""
    return label_draft(kitchen_of(request), payload)


@router.post("/scalings", response=ScaleOut)
def scale(request: HttpRequest, payload: ScaleQuestion) -> ScaleOut:
    """Bring a draft to another size as it can be weighed, without keeping it."""
    return scaled_draft(kitchen_of(request), payload)
