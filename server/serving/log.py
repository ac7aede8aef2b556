"""What is logged: one JSON object a line, with where something failed and never with what anybody typed."""

from __future__ import annotations

import io
import json
import logging
import os
import traceback
from datetime import UTC, datetime
from io import TextIOWrapper
from logging.handlers import WatchedFileHandler
from typing import Any

import psycopg


class PrivateFileHandler(WatchedFileHandler):
    """Writes a log that only this user reads; once the launcher has renamed it, goes on in a new one."""

    def _open(self) -> TextIOWrapper:
        descriptor = os.open(self.baseFilename, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600)
        return TextIOWrapper(io.BufferedWriter(io.FileIO(descriptor, "a")), encoding="utf-8", write_through=True)


class JsonFormatter(logging.Formatter):
    """Writes records as JSON.

    Messages of exceptions stay out: those of the database quote rows, those of Python the values that did not fit.
    """

    def format(self, record: logging.LogRecord) -> str:
        said: dict[str, Any] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname,
            "logger": record.name,
            "process": record.process,
            "message": record.getMessage(),
        }
        if record.exc_info and record.exc_info[1] is not None:
            said["failed"] = described(record.exc_info[1])
        return json.dumps(said, ensure_ascii=False)


def described(error: BaseException) -> list[dict[str, Any]]:
    """Return an exception and those behind it: type, the database's state and constraint, and where it came from."""
    chain: list[dict[str, Any]] = []
    seen: set[int] = set()
    current: BaseException | None = error
    while current is not None and id(current) not in seen:
        seen.add(id(current))
        frames = traceback.extract_tb(current.__traceback__)[-12:]
        one: dict[str, Any] = {
            "type": f"{type(current).__module__}.{type(current).__qualname__}",
            "where": [f"{frame.filename.rpartition('/')[2]}:{frame.lineno} {frame.name}" for frame in frames],
        }
        if isinstance(current, psycopg.Error):
            one |= {"state": current.sqlstate, "constraint": current.diag.constraint_name}
        chain.append(one)
        current = current.__cause__ or current.__context__
    return chain
