"""`api_types`: write the interface's TypeScript types from the API's own description."""

from __future__ import annotations

import json
import subprocess
import tempfile
from pathlib import Path
from typing import Any, Final

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from config.api import PREFIX, api

_WEB: Final = Path(settings.BASE_DIR) / "web"
_TYPES: Final = _WEB / "src/shared/api/schema.d.ts"


class Command(BaseCommand):
    """Generate the types, or with --check fail when they are stale."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true", help="fail when the types are stale")

    def handle(self, *_args: Any, check: bool, **_options: Any) -> None:
        generated = _generate()
        if not check:
            _TYPES.write_text(generated, encoding="utf-8")
        elif generated != _TYPES.read_text(encoding="utf-8"):
            raise CommandError(f"{_TYPES.name} is stale; run ./jalebi types.")


def _generate() -> str:
    description = api.get_openapi_schema(path_prefix=PREFIX)
    for item in description["paths"].values():
        item.pop("parameters", None)  # the client knows which kitchen it is in; no call names it again
    with tempfile.NamedTemporaryFile("w", suffix=".json") as schema:
        json.dump(description, schema)
        schema.flush()
        done = subprocess.run(
            ["npx", "--no-install", "openapi-typescript", schema.name], cwd=_WEB, capture_output=True, text=True
        )
    if done.returncode != 0:
        raise CommandError(done.stderr)
    return done.stdout
