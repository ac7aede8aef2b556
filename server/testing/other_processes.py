"""Processes that tests start beside themselves, on a database of the tests."""

from __future__ import annotations

import os
from urllib.parse import urlsplit

from django.conf import settings


def environment_on(database: str) -> dict[str, str]:
    """Return the environment of a process that works on a database, with the roles that the settings name."""
    urls = {
        name: urlsplit(getattr(settings, name))._replace(path=f"/{database}").geturl()
        for name in ("DATABASE_URL", "MIGRATION_DATABASE_URL")
    }
    return {**os.environ, **{f"JALEBI_{name}": url for name, url in urls.items()}}
