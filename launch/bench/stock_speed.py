"""A lot traced through three levels in a kitchen of two thousand batches and ten thousand movements, over HTTP."""

from __future__ import annotations

import subprocess
import sys

from launch.demo_server import DemoServer
from launch.places import ROOT

from .figure import Figure, median_ms
from .server_speed import Client

_FILL = """
from datetime import date
from django.utils import timezone
from batches.models import Batch, Tub
from ingredients.models import Ingredient
from mixes.models import Revision
from stock.models import Lot, Movement
revision = Revision.objects.of_all_kitchens().first()
kitchen = revision.kitchen
first = Batch.objects.of(kitchen).count() + 1
batches = Batch.objects.bulk_create(
    Batch(kitchen=kitchen, revision=revision, number=first + at, begun_at=timezone.now()) for at in range(2000)
)
Tub.objects.bulk_create(
    Tub(kitchen=kitchen, batch=batch, number=1, code=f"B{at}", ml=500, grams=420, packed_on=date.today())
    for at, batch in enumerate(batches)
)
cream, syrup = (Ingredient.objects.of(kitchen).get(slug=slug) for slug in ("cream-36", "sugar"))
def lots(ingredient, count):
    return Lot.objects.bulk_create(
        Lot(kitchen=kitchen, ingredient=ingredient, name=ingredient.name, typed="1 kg", came_on=date.today())
        for _ in range(count)
    )
traced, others, syrups = lots(cream, 1), lots(cream, 500), lots(syrup, 40)
bases = Lot.objects.bulk_create(
    Lot(kitchen=kitchen, batch=batch, name="base", typed="1 kg", came_on=date.today()) for batch in batches[:40]
)
def used(lot, grams=10, **where):
    return Movement(kitchen=kitchen, lot=lot, kind="used", grams=-grams, **where)
every = (*traced, *others, *syrups, *bases)
moves = [Movement(kitchen=kitchen, lot=lot, kind="received", grams=100000) for lot in every]
moves += [used(traced[0], into=lot) for lot in syrups]
moves += [used(syrups[at % 40], batch=batches[at], line=0) for at in range(40)]
moves += [used(bases[at % 40], batch=batches[40 + at], line=0) for at in range(160)]
moves += [used(others[at % 500], batch=batches[at % 2000], line=1 + at // 2000) for at in range(10000 - len(moves))]
Movement.objects.bulk_create(moves, batch_size=2000)
print(traced[0].pk)
"""


def figures(server: DemoServer) -> list[Figure]:
    """Fill the kitchen, then trace the lot that is in two hundred batches by way of syrups and bases."""
    command = [sys.executable, "-m", "config.manage", "shell", "-v", "0", "-c", _FILL]
    filled = subprocess.run(command, cwd=ROOT, check=True, capture_output=True, text=True)
    client = Client(server.port, server.person, server.password)
    traced = _median(client, f"/lots/{filled.stdout.split()[-1]}/trace")
    return [
        Figure("a lot through three levels, 10 000 movements, HTTP", traced, 50.0, "ms"),
        Figure("a page of 500 lots with what is left, HTTP", _median(client, "/lots"), 60.0, "ms"),
    ]


def _median(client: Client, path: str) -> float:
    return median_ms(lambda: client.call("GET", client.in_kitchen(path)), 40)
