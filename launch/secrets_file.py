"""Secrets, made at the first start and kept under ``var/`` for this user's eyes only."""

from __future__ import annotations

import json
import os
import secrets
from typing import TypedDict

from .places import VAR

_WORDS = ("barley", "quince", "canal", "sluice", "sesame", "towpath", "custard", "perry", "rhubarb", "lantern")


class Secrets(TypedDict):
    """Who this installation is, Django's signing key, the database's password and the demo kitchen's."""

    installation: str
    secret_key: str
    database_password: str
    demo_password: str


def load_secrets() -> Secrets:
    """Return the secrets, made now if there are none."""
    path = VAR / "secrets.json"
    if not path.exists():
        demo = "-".join([*(secrets.choice(_WORDS) for _ in range(3)), f"{secrets.randbelow(10_000):04d}"])
        made = Secrets(
            installation=secrets.token_hex(6),
            secret_key=secrets.token_urlsafe(48),
            database_password=secrets.token_urlsafe(24),
            demo_password=demo,
        )
        unfinished = path.with_suffix(".new")
        with os.fdopen(os.open(unfinished, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
            json.dump(made, file)
        unfinished.rename(path)
    loaded: Secrets = json.loads(path.read_text())
    return loaded
