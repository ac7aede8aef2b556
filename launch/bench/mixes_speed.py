"""The list of a kitchen with ten thousand mixes: its first page, and what is looked for, over HTTP."""

from __future__ import annotations

import itertools
import subprocess
import sys
import time
from collections.abc import Mapping
from urllib.parse import urlencode

from launch.demo_server import DemoServer
from launch.places import ROOT

from .figure import Figure, p95
from .server_speed import Client

_MIXES = 10_000
_CALLS = 120
_FILL = """
from mixes.models import Mix, MixLine
from ingredients.models import Ingredient
kitchen = Mix.objects.of_all_kitchens().get(name="Quince sorbet").kitchen
things = ("plum", "quince", "sesame", "barley", "tea", "pear", "fig", "oat", "rhubarb", "hazelnut")
ways = ("sorbet", "gelato", "custard", "sherbet", "ice cream")
slugs = ("whole-milk", "cream-36", "sugar", "dextrose", "skim-milk-powder", "guar-gum", "honey", "salt")
ingredients = list(Ingredient.objects.of(kitchen).filter(slug__in=slugs))
mixes = Mix.objects.bulk_create(
    Mix(kitchen=kitchen, name=f"{things[at % 10].title()} {ways[at % 5]} {at}", tags=[things[at % 7]])
    for at in range(COUNT)
)
MixLine.objects.bulk_create(
    (MixLine(mix=mix, position=at, ingredient=one, typed="100", grams=100 + at, stage="pot")
     for mix in mixes for at, one in enumerate(ingredients)),
    batch_size=5000,
)
"""


def figures(server: DemoServer) -> list[Figure]:
    """Fill the kitchen, then list and search it."""
    script = _FILL.replace("COUNT", str(_MIXES))
    subprocess.run([sys.executable, "-m", "config.manage", "shell", "-v", "0", "-c", script], cwd=ROOT, check=True)
    client = Client(server.port, server.person, server.password)
    orders = ({"order": order, "offset": 40 * page} for order in ("name", "changed", "made") for page in (0, 1, 7))
    words = ({"find": find} for find in ("plum", "sesame 77", "quin", "tea custard", "zzyzx", "figgy"))
    listed = [_ms(client, asked) for asked in itertools.islice(itertools.cycle(list(orders)), _CALLS)]
    found = [_ms(client, asked) for asked in itertools.islice(itertools.cycle(list(words)), _CALLS)]
    return [
        Figure(f"a page of {_MIXES} mixes, HTTP, p95", p95(listed), 80.0, "ms"),
        Figure(f"search over {_MIXES} mixes, HTTP, p95", p95(found), 80.0, "ms"),
    ]


def _ms(client: Client, asked: Mapping[str, str | int]) -> float:
    began = time.perf_counter()
    client.call("GET", client.in_kitchen(f"/mixes?{urlencode(asked)}"))
    return 1000 * (time.perf_counter() - began)
