"""The Bench: mixes, their analysis on every edit, and their revisions."""

from __future__ import annotations

import json
from dataclasses import asdict

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Router, Status

from jalebi.problems import Problem
from jalebi_core.mix import Line
from jalebi_core.mix import Mix as CoreMix
from jalebi_core.styles import BESIDE
from kitchens.models import Kitchen
from kitchens.sign_in import kitchen_of, person_of

from .analysing import analysed
from .analysis import MixAnalysis, drawn
from .balance_schemas import BalanceQuestion, Proposal
from .balancing import proposed
from .drafts import aims_of, begun_mix, file_of, save_draft
from .looking import closer, levers, look, slack
from .models import Mix, Revision
from .recipes import mix_from_recipe, recipe_drawn
from .revisions import keep_revision, mix_of_revision, since
from .schemas import (
    Closer,
    DraftAnalysis,
    DraftLine,
    DraftToAnalyse,
    DraftToSave,
    HelpOut,
    LineChangeOut,
    LineLook,
    LineQuestion,
    MethodStep,
    MixFromRecipe,
    MixOut,
    MixSummary,
    NewMix,
    NewRevision,
    RecipeOut,
    RecipeText,
    RevisionDetail,
    RevisionOut,
    Saved,
    SlackOut,
)

router = Router(tags=["bench"])


@router.post("/analyse", response={200: DraftAnalysis, 401: Problem, 422: Problem})
def analyse(request: HttpRequest, payload: DraftToAnalyse) -> HttpResponse:
    """Analyse a draft without keeping it; lines that cannot be read say so and are left at what they weighed.

    Every keystroke asks this, so the answer is written out at once instead of being checked once more.
    """
    found = analysed(kitchen_of(request), payload)
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@router.post("/lines/look", response={200: LineLook, 401: Problem, 422: Problem})
def look_at_line(request: HttpRequest, payload: LineQuestion) -> LineLook:
    """Say of a line in its mix what could stand in for it, and what it would do to take the wrong goods."""
    kitchen = kitchen_of(request)
    return look(kitchen, payload)


@router.post("/levers", response={200: list[HelpOut], 401: Problem, 422: Problem})
def find_levers(request: HttpRequest, payload: DraftToAnalyse) -> list[HelpOut]:
    """Say which small exchanges would bring what is out of its band back into it."""
    return levers(kitchen_of(request), payload)


@router.post("/closer", response={200: Closer | None, 401: Problem, 422: Problem})
def look_closer(request: HttpRequest, payload: DraftToAnalyse) -> Closer | None:
    """Return the figures behind a draft, what other schools say, its gums and, for guidance only, protected names."""
    return closer(kitchen_of(request), payload)


@router.post("/slack", response={200: list[SlackOut], 401: Problem, 422: Problem})
def find_slack(request: HttpRequest, payload: DraftToAnalyse) -> list[SlackOut]:
    """Say how far each line may be weighed wrong before a word changes."""
    return slack(kitchen_of(request), payload)


@router.post("/balance", response={200: Proposal, 401: Problem, 422: Problem})
def balance(request: HttpRequest, payload: BalanceQuestion) -> Proposal:
    """Propose amounts that reach the targets with the least change, and say why where they cannot be reached."""
    return proposed(kitchen_of(request), payload)


@router.post("/recipes", response={200: RecipeOut, 401: Problem, 413: Problem, 422: Problem})
def read_pasted(request: HttpRequest, payload: RecipeText) -> RecipeOut:
    """Read a pasted recipe against the kitchen's shelf, without keeping anything."""
    return recipe_drawn(kitchen_of(request), payload.text)


@router.post("/recipes/mixes", response={201: MixOut, 401: Problem, 422: Problem})
def create_from_recipe(request: HttpRequest, payload: MixFromRecipe) -> Status[MixOut]:
    """Make a mix of a pasted recipe whose lines have been looked through."""
    return Status(201, _out(mix_from_recipe(person_of(request), payload)))


@router.get("/mixes", response={200: list[MixSummary], 401: Problem})
def mixes(request: HttpRequest) -> list[MixSummary]:
    """Return the kitchen's mixes and how each comes out."""
    kitchen = kitchen_of(request)
    rows = Mix.objects.of(kitchen).filter(put_away=False).prefetch_related("lines__ingredient")
    return [_summary(mix, kitchen) for mix in rows]


def _mix(request: HttpRequest, mix_id: int) -> Mix:
    found: Mix = Mix.objects.of(kitchen_of(request)).get(pk=mix_id)
    return found


def _summary(mix: Mix, kitchen: Kitchen) -> MixSummary:
    lines = tuple(Line(line.ingredient.to_core(), line.grams, line.stage) for line in mix.lines.all() if line.grams)
    weighs = any(line.stage not in BESIDE for line in lines)
    aims = aims_of(kitchen, mix.style, mix.aims)
    found = drawn(CoreMix(mix.name, lines, mix.style, mix.overrun_pct, aims), kitchen.freezer_c) if weighs else None
    return MixSummary(
        id=mix.pk,
        name=mix.name,
        style=mix.style,
        changed_at=mix.changed_at,
        mass_g=found.mass_g if found else 0,
        scoop_c=found.scoop_c if found else None,
        verdict=found.verdict if found else "Nothing in it yet.",
        word=found.freezer.word if found else None,
        strata=found.strata if found else [],
    )


def _out(mix: Mix) -> MixOut:
    return MixOut(
        id=mix.pk,
        name=mix.name,
        style=mix.style,
        overrun_pct=mix.overrun_pct,
        restrictions=mix.restrictions,
        aims=mix.aims,
        method=[MethodStep.model_validate(step) for step in mix.method],
        servings=mix.servings,
        makes=mix.makes,
        version=mix.version,
        changed_at=mix.changed_at,
        lines=[
            DraftLine.model_validate(
                {
                    "ingredient": line.ingredient.slug,
                    "typed": line.typed,
                    "unit": line.unit,
                    "grams": line.grams,
                    "stage": line.stage,
                    "pinned": line.pinned,
                }
            )
            for line in mix.lines.select_related("ingredient")
        ],
    )


@router.post("/mixes", response={201: MixOut, 401: Problem, 404: Problem, 422: Problem})
def create_mix(request: HttpRequest, payload: NewMix) -> Status[MixOut]:
    """Make a mix from nothing, from a copy, or as the first draft of a style and school."""
    return Status(201, _out(begun_mix(kitchen_of(request), payload)))


@router.get("/mixes/{mix_id}", response={200: MixOut, 401: Problem, 404: Problem})
def mix(request: HttpRequest, mix_id: int) -> MixOut:
    """Return one mix."""
    return _out(_mix(request, mix_id))


@router.put("/mixes/{mix_id}", response={200: Saved, 401: Problem, 404: Problem, 409: Problem, 422: Problem})
def save(request: HttpRequest, mix_id: int, payload: DraftToSave) -> Saved:
    """Save a draft whole, unless somebody else saved another version first."""
    saved = save_draft(kitchen_of(request), mix_id, payload)
    return Saved(version=saved.version, changed_at=saved.changed_at)


@router.delete("/mixes/{mix_id}", response={204: None, 401: Problem, 404: Problem})
def put_away(request: HttpRequest, mix_id: int) -> Status[None]:
    """Put a mix away: it leaves the list, its batches and revisions stay."""
    found = _mix(request, mix_id)
    found.put_away = True
    found.save(update_fields=["put_away"])
    return Status(204, None)


@router.get("/mixes/{mix_id}/file", response={200: dict, 401: Problem, 404: Problem, 422: Problem})
def mix_file(request: HttpRequest, mix_id: int) -> HttpResponse:
    """Return a mix as a mix file that `./jalebi analyse` reads."""
    found = _mix(request, mix_id)
    text = json.dumps(file_of(found), ensure_ascii=False, indent=2)
    name = slugify(found.name) or "mix"
    headers = {"Content-Disposition": f'attachment; filename="{name}.jalebi.json"'}
    return HttpResponse(text, content_type="application/json", headers=headers)


@router.get("/mixes/{mix_id}/revisions", response={200: list[RevisionOut], 401: Problem, 404: Problem})
def revisions(request: HttpRequest, mix_id: int) -> list[RevisionOut]:
    """Return the named points of a mix, newest first."""
    found = _mix(request, mix_id)
    return [_revision_out(revision) for revision in found.revisions.defer("content")[:200]]


@router.post("/mixes/{mix_id}/revisions", response={201: RevisionOut, 401: Problem, 404: Problem, 422: Problem})
def keep(request: HttpRequest, mix_id: int, payload: NewRevision) -> Status[RevisionOut]:
    """Keep the mix as it is now under a name."""
    return Status(201, _revision_out(keep_revision(person_of(request), mix_id, payload.name)))


@router.get(
    "/mixes/{mix_id}/revisions/{number}", response={200: RevisionDetail, 401: Problem, 404: Problem, 422: Problem}
)
def revision_detail(request: HttpRequest, mix_id: int, number: int) -> RevisionDetail:
    """Return a revision with its lines, to go back to it, and what has changed since."""
    kitchen = kitchen_of(request)
    found = Revision.objects.of(kitchen).select_related("mix").get(mix_id=mix_id, number=number)
    content, changed = found.content, since(kitchen, found)
    return RevisionDetail(
        **dict(_revision_out(found)),
        style=content["style"],
        overrun_pct=content["overrun_pct"],
        aims=content.get("aims", {}),
        lines=[
            DraftLine(
                ingredient=line["slug"],
                typed=line["typed"],
                unit=line["unit"],
                grams=line["grams"],
                stage=line["stage"],
            )
            for line in content["lines"]
        ],
        changes=[LineChangeOut(**asdict(line)) for line in changed.lines] if changed else [],
        said=changed.said if changed else "There is nothing in the mix now.",
    )


@router.get(
    "/mixes/{mix_id}/revisions/{number}/analysis",
    response={200: MixAnalysis, 401: Problem, 404: Problem, 422: Problem},
)
def revision_analysis(request: HttpRequest, mix_id: int, number: int) -> MixAnalysis:
    """Return how a revision comes out, to lay it behind the mix as it is now."""
    kitchen = kitchen_of(request)
    revision = Revision.objects.of(kitchen).get(mix_id=mix_id, number=number)
    return drawn(mix_of_revision(revision.content), kitchen.freezer_c, kitchen.cabinet_c)


def _revision_out(revision: Revision) -> RevisionOut:
    return RevisionOut(id=revision.pk, number=revision.number, name=revision.name, kept_at=revision.kept_at)
