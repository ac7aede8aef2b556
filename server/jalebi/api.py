"""The JSON API: one router a station, signed-in by default."""

from __future__ import annotations

from django.db import DatabaseError, connection
from django.http import HttpRequest
from ninja import NinjaAPI, Status
from pydantic import BaseModel

from batches.api import router as batches
from bench.api import router as bench
from kitchens.api import router as kitchens
from kitchens.sign_in import KitchenSession
from shelf.api import router as shelf

from .problems import answer_problems

api = NinjaAPI(title="Jalebi", version="1", auth=KitchenSession(), docs_url=None, openapi_url=None)
answer_problems(api)
api.add_router("", kitchens)
api.add_router("", shelf)
api.add_router("", bench)
api.add_router("", batches)


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
    return dict(api.get_openapi_schema(path_prefix="/api/"))
