"""What somebody would try who wants to see what is not for them: prices, other people's jobs, who tastes what."""

from __future__ import annotations

import io
import json
import time
import zipfile
from collections.abc import Iterator
from typing import Any, Final

from launch.bench.figure import Figure
from launch.bench.server_speed import Client
from launch.demo_server import DemoServer

_PLANTED: Final = 7311
_SHARED_STRINGS: Final = 2_800_000


def prying(server: DemoServer, client: Client) -> Iterator[Figure]:
    """Work in the same kitchen without the right to see prices, and look for them everywhere."""
    milk = json.loads(client.call("GET", client.in_kitchen("/ingredients/whole-milk")))
    price = {"price": _PLANTED, "pack_g": 1000}
    client.call("PATCH", client.in_kitchen("/ingredients/whole-milk"), price, milk["version"])
    new = json.loads(client.call("POST", client.in_kitchen("/people"), {"name": f"prying {time.time_ns()}"}))
    client.call("PATCH", client.in_kitchen(f"/people/{new['id']}"), {"sees_prices": False})
    blind = Client(server.port, new["name"], new["password"])
    yield Figure("answers that told a price to who may not see any", sum(_priced(blind)), 0, "")
    yield Figure("people let in by them who see prices", float(_let_in(blind)["sees_prices"]), 0, "")
    yield Figure("jobs of others that they could read or stop", sum(_jobs_of_others(client, blind)), 0, "")
    began = time.perf_counter()
    refused = _refused(blind, "POST", "/deliveries", _swollen_workbook())
    yield Figure("a swollen workbook: until it is refused", time.perf_counter() - began, 2.0, "s")
    yield Figure("a swollen workbook: refused", float(refused), 1, "", at_least=True)


def _priced(blind: Client) -> Iterator[bool]:
    lines = {"lines": [{"ingredient": "whole-milk", "typed": "1000", "unit": "g", "stage": "pot"}]}
    aimed = {**lines, "targets": [{"of": "cost_per_kg", "max": 1}], "sure": True}
    for method, path, body in (
        ("GET", "/ingredients?find=milk&limit=100", None),
        ("GET", "/ingredients/whole-milk", None),
        ("GET", "/ingredients/whole-milk/prices", None),
        ("GET", "/ingredients/whole-milk/price-effects?per_kg=1", None),
        ("GET", "/ingredients.csv", None),
        ("GET", "/ingredients.json", None),
        ("GET", "/lots?limit=100", None),
        ("GET", "/mixes/{mix}/file?prices=true", None),
        ("POST", "/analyses", lines),
        ("POST", "/cost-sheets", lines),
        ("POST", "/proposals", aimed),
    ):
        mix = json.loads(blind.call("GET", blind.in_kitchen("/mixes")))["items"][0]["id"]
        answer = blind.call(method, blind.in_kitchen(path.format(mix=mix)), body)
        if path == "/proposals":
            answer = json.dumps(blind.finished("/proposals", answer)).encode()
        yield str(_PLANTED).encode() in answer


def _let_in(blind: Client) -> Any:
    return json.loads(blind.call("POST", blind.in_kitchen("/people"), {"name": f"let in {time.time_ns()}"}))


def _jobs_of_others(client: Client, blind: Client) -> Iterator[bool]:
    lines = [{"ingredient": "whole-milk", "typed": "1000", "unit": "g", "stage": "pot"}]
    question = {"lines": lines, "job": "less-sweet", "sure": True}
    job = json.loads(client.call("POST", client.in_kitchen("/proposals"), question))["id"]
    for method in ("GET", "DELETE"):
        yield not _refused(blind, method, f"/proposals/{job}")


def _refused(client: Client, method: str, path: str, file: bytes | None = None) -> bool:
    try:
        if file is None:
            client.call(method, client.in_kitchen(path))
        else:
            client.send_file(client.in_kitchen(path), file)
    except RuntimeError:
        return True
    return False


def _swollen_workbook() -> bytes:
    """Return a workbook of a hundred kilobytes that unpacks to millions of texts."""
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as book:
        book.writestr("[Content_Types].xml", "<Types/>")
        book.writestr("xl/workbook.xml", "<workbook/>")
        book.writestr("xl/sharedStrings.xml", "<sst>" + "<si><t>x</t></si>" * _SHARED_STRINGS + "</sst>")
    return packed.getvalue()
