"""The Bench: mixes, and their analysis on every edit."""

from __future__ import annotations

import json

from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile

from jalebi.problems import Problem
from jalebi_core.mix_file import MOST_BYTES
from kitchens.sign_in import kitchen_of, person_of

from .analysing import analysed, fill_drawn
from .balance_schemas import BalanceQuestion, Proposal
from .balancing import proposed
from .drafts import begun_mix, kept_lines, save_draft
from .list_schemas import Marks, MixPage
from .listing import Wanted, page_of, set_marks, tags_of
from .looking import closer, levers, look, slack
from .mix_files import file_of, mix_from_file
from .models import Mix, Revision
from .recipes import mix_from_recipe, recipe_drawn
from .revisions import drafts_difference, mix_of_revision
from .scale_schemas import ScaleOut, ScaleQuestion, TableOut
from .scaling import scaled_draft
from .schemas import (
    Closer,
    DifferenceOut,
    Draft,
    DraftAnalysis,
    DraftToAnalyse,
    DraftToSave,
    HelpOut,
    LastMade,
    LineLook,
    LineQuestion,
    MethodStep,
    MixFromRecipe,
    MixOut,
    NewMix,
    RecipeOut,
    RecipeText,
    Saved,
    SlackOut,
)
from .tables import table_drawn

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


@router.post("/mixes/files", response={201: MixOut, 401: Problem, 413: Problem, 422: Problem})
def create_from_file(request: HttpRequest, file: File[UploadedFile]) -> Status[MixOut]:
    """Make a mix of a mix file."""
    return Status(201, _out(mix_from_file(kitchen_of(request), file.read(MOST_BYTES + 1))))


@router.post("/table", response={200: TableOut | None, 401: Problem, 422: Problem})
def cooks_table(request: HttpRequest, payload: DraftToAnalyse) -> TableOut | None:
    """Return the cook's table of a draft: what every line brings to the whole."""
    return table_drawn(kitchen_of(request), payload)


@router.post("/scale", response={200: ScaleOut, 401: Problem, 422: Problem})
def scale(request: HttpRequest, payload: ScaleQuestion) -> ScaleOut:
    """Bring a draft to another size as it can be weighed, without keeping it."""
    return scaled_draft(kitchen_of(request), payload)


@router.get("/mixes", response={200: MixPage, 401: Problem, 422: Problem})
def mixes(request: HttpRequest, wanted: Query[Wanted]) -> MixPage:
    """Return some of the kitchen's mixes and how each comes out."""
    return page_of(kitchen_of(request), wanted)


@router.get("/tags", response={200: list[str], 401: Problem})
def tags(request: HttpRequest) -> list[str]:
    """Return every tag of the kitchen's mixes."""
    return tags_of(kitchen_of(request))


def _mix(request: HttpRequest, mix_id: int) -> Mix:
    found: Mix = Mix.objects.of(kitchen_of(request)).get(pk=mix_id)
    return found


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
        based_on=mix.based_on,
        machine=mix.machine_id,
        last_made=_last_made(mix),
        changed_at=mix.changed_at,
        lines=kept_lines(mix),
    )


def _last_made(mix: Mix) -> LastMade | None:
    """Return the last batch of a mix, and how full it made the machine that the mix is meant for now."""
    if mix.made_at is None:
        return None
    of_last = Revision.objects.filter(mix=mix, batches__begun_at=mix.made_at)
    made = of_last.annotate(batch=F("batches__pk"), batch_number=F("batches__number")).first()
    if made is None:
        return None
    fill = fill_drawn(mix_of_revision(made.content), mix.machine.to_core() if mix.machine else None)
    return LastMade(batch=made.batch, number=made.batch_number, begun_at=mix.made_at, fill=fill)


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


@router.patch("/mixes/{mix_id}", response={204: None, 401: Problem, 404: Problem, 422: Problem})
def mark(request: HttpRequest, mix_id: int, payload: Marks) -> Status[None]:
    """Star a mix, tag it, put it into the archive or take it out; the draft itself is not touched."""
    set_marks(_mix(request, mix_id), payload)
    return Status(204, None)


@router.post("/mixes/{mix_id}/difference", response={200: DifferenceOut, 401: Problem, 404: Problem, 422: Problem})
def difference_from_kept(request: HttpRequest, mix_id: int, payload: Draft) -> DifferenceOut:
    """Say how a draft differs from the mix as it is kept: what another person changed meanwhile, and what is ours."""
    return drafts_difference(kitchen_of(request), _mix(request, mix_id), payload)


@router.delete("/mixes/{mix_id}", response={204: None, 401: Problem, 404: Problem})
def put_away(request: HttpRequest, mix_id: int) -> Status[None]:
    """Put a mix into the archive: it leaves the list, its batches and revisions stay."""
    set_marks(_mix(request, mix_id), Marks(archived=True))
    return Status(204, None)


@router.get("/mixes/{mix_id}/file", response={200: dict, 401: Problem, 404: Problem, 422: Problem})
def mix_file(request: HttpRequest, mix_id: int) -> HttpResponse:
    """Return a mix as a mix file that `./jalebi analyse` reads."""
    found = _mix(request, mix_id)
    text = json.dumps(file_of(found), ensure_ascii=False, indent=2)
    name = slugify(found.name) or "mix"
    headers = {"Content-Disposition": f'attachment; filename="{name}.jalebi.json"'}
    return HttpResponse(text, content_type="application/json", headers=headers)
