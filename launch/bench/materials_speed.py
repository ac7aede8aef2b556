"""The materials: reading a recipe, bringing five thousand ingredients in, and finding one of them over HTTP."""

from __future__ import annotations

import csv
import itertools
import time
from contextlib import suppress
from functools import partial

from jalebi_core.formats.recipe.reading import read_recipe
from jalebi_core.model.errors import RecipeError
from jalebi_core.shelf.catalogue import catalogue
from jalebi_core.shelf.ingredient_search import IngredientIndex, SearchIndex, search_index
from launch.demo_server import DemoServer

from .figure import Figure, median_ms, p95
from .hostile_texts import hostile_texts
from .server_speed import Client

_ROWS = 5_000
_MANY = 10_000
_SEARCHES = 200
_HOSTILE_CHARACTERS = 300_000
_LINES = ("2 cups (480 ml) whole milk", "3/4 cup sugar, divided", "4 large egg yolks", "1 x 397g tin condensed milk",
          "juice of 2 limes", "½ tsp vanilla extract")  # fmt: skip
_PLACES = ("Lock", "Weir", "Towpath", "Basin", "Bridge", "Wharf", "Reed", "Sluice", "Barge", "Heron")
_THINGS = ("syrup", "cordial", "puree", "honey", "paste", "jam", "extract", "molasses", "nectar", "juice")
_WANTED = ("heron syr", "basin honey", "whole milk", "reed paste 7", "cream", "lock cordial", "zzyzx", "barge j")


def figures(server: DemoServer) -> list[Figure]:
    """Measure the materials on a served demo kitchen."""
    recipe = "\n".join(itertools.islice(itertools.cycle(_LINES), 40))
    shelf = search_index()
    reading = median_ms(lambda: read_recipe(recipe, shelf), runs=30)
    client = Client(server.port, server.person, server.password)
    rows = ingredient_rows()
    preview = _seconds(client, "/ingredient-files", rows)
    apply = _seconds(client, "/ingredient-files?apply=true", rows)
    for wanted in _WANTED:
        _find(client, wanted)
    found = [_find(client, wanted) for wanted in itertools.islice(itertools.cycle(_WANTED), _SEARCHES)]
    return [
        Figure("reading a recipe of 40 lines", reading, 25.0, "ms"),
        Figure("reading 300 kB of the worst text there is", _slowest_hostile_text(shelf), 200.0, "ms"),
        Figure(f"importing {_ROWS} rows: preview and change", preview + apply, 5.0, "s"),
        Figure(f"search over {_ROWS} ingredients, HTTP, p95", p95(found), 50.0, "ms"),
        Figure(f"search over {_MANY} ingredients, p95", _search_among_many(), 25.0, "ms"),
    ]


def _search_among_many() -> float:
    called = {slug: (entry.ingredient.name, *entry.also) for slug, entry in catalogue().items()}
    invented = csv.DictReader(ingredient_rows(_MANY - len(called)).decode().splitlines())
    index = IngredientIndex({**called, **{f"own-{at}": (row["name"],) for at, row in enumerate(invented)}})
    index.ranked("warm")
    return p95(
        [
            median_ms(partial(index.ranked, wanted, typing=True), runs=1)
            for wanted in itertools.islice(itertools.cycle(_WANTED), _SEARCHES)
        ]
    )


def _slowest_hostile_text(shelf: SearchIndex) -> float:
    def read(text: str) -> None:
        with suppress(RecipeError):
            read_recipe(text, shelf)

    return max(median_ms(partial(read, text), runs=3) for text in hostile_texts(_HOSTILE_CHARACTERS).values())


def ingredient_rows(count: int = _ROWS) -> bytes:
    """Return a file of so many invented ingredients."""
    names = (f"{place} {thing} {number}" for number in itertools.count(1) for place in _PLACES for thing in _THINGS)
    rows = (f"{name},{30 + at % 40},{70 - at % 40}" for at, name in enumerate(itertools.islice(names, count)))
    return "\n".join(("name,water,sucrose", *rows)).encode()


def _seconds(client: Client, path: str, rows: bytes) -> float:
    began = time.perf_counter()
    client.finished("/ingredient-files", client.send_file(client.in_kitchen(path), rows))
    return time.perf_counter() - began


def _find(client: Client, wanted: str) -> float:
    began = time.perf_counter()
    client.call("GET", client.in_kitchen(f"/ingredients?find={wanted.replace(' ', '%20')}&limit=7"))
    return 1000 * (time.perf_counter() - began)
