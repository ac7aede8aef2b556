"""A small application behind the worker that gathers requests, with little patience, for its tests."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

import django

from serving import gathering_worker
from serving.gathering_worker import GatheringWorker

django.setup()
gathering_worker.HEAD_SECONDS = 1.0  # type: ignore[misc]
gathering_worker.BODY_SECONDS = 1.0  # type: ignore[misc]
gathering_worker.FIRST_BYTE_SECONDS = 60.0  # type: ignore[misc]
gathering_worker.MOST_GATHERING = 60  # type: ignore[misc]

ImpatientWorker = GatheringWorker


def application(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
    """Answer how many bytes came."""
    length = len(environ["wsgi.input"].read())
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [str(length).encode()]
