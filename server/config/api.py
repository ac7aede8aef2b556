"""The JSON API: one router a subject, signed-in by default."""

from __future__ import annotations

from typing import Final

from django.db import DatabaseError, connection
from django.http import HttpRequest
from ninja import Status
from pydantic import BaseModel

from analysis.api import router as analysis
from analysis.vocabulary import router as vocabulary
from api.description import JalebiAPI
from api.problems import answer_problems
from batches.api import router as batches
from batches.lots_api import router as batch_lots
from demo.examples import router as examples
from forecasts.api import router as forecasts
from ingredients.api import router as ingredients
from instruments.api import router as instruments
from kitchens.api import router as kitchen
from kitchens.machines import router as machines
from kitchens.people import router as people
from kitchens.places import router as places
from kitchens.session import router as session
from kitchens.sign_in import KitchenSession, notation_for
from kitchens.vessels import router as vessels
from making.api import router as making
from making.watch_api import router as watches
from mixes.api import router as mixes
from mixes.gluts import router as gluts
from mixes.notes import router as notes
from mixes.price_effects import router as price_effects
from mixes.revisions_api import router as revisions
from mixes.uses import router as uses
from plans.api import router as plans
from stock.api import router as stock
from tastings.api import router as tastings
from trials.api import guests
from trials.api import router as trials

PREFIX: Final = "/api/v1/"
api = JalebiAPI(title="Jalebi", version="1", auth=KitchenSession(), docs_url=None, openapi_url=None)
answer_problems(api, notation_for)
for router in (session, vocabulary, guests):
    api.add_router("", router)
for router in (
    kitchen, people, machines, places, vessels, ingredients, stock, analysis, forecasts, mixes, revisions, notes, uses,
    price_effects, gluts, batches, batch_lots, instruments, plans, making, watches, tastings, trials, examples,
):  # fmt: skip
    api.add_router("/kitchens/{kitchen}", router)


class Health(BaseModel):
    """The server answers and reaches its database."""

    database: bool


@api.get("/health", auth=None, response={200: Health, 503: Health})
def health(request: HttpRequest) -> Status[Health]:
    """Say whether the server reaches its database."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return Status(503, Health(database=False))
    return Status(200, Health(database=True))


@api.get("/openapi.json", auth=None, include_in_schema=False)
def openapi(request: HttpRequest) -> dict[str, object]:
    """Return the API's own description."""
    return dict(api.get_openapi_schema(path_prefix=PREFIX))
