"""Secrets, made at the first start and kept under ``var/`` for this user's eyes only."""

from __future__ import annotations

import json
import os
import secrets
from typing import TypedDict

from .places import VAR

_LEGIBLE = "23456789abcdefghjkmnpqrstuvwxyz"
"""Letters and digits that nobody takes for one another."""


class Secrets(TypedDict):
    """What this installation alone knows.

    ``database_password`` is that of the database's administrator, ``owner_password`` that of the role which owns the
    tables, ``role_password`` that of the one which the application signs in as, ``demo_passphrase`` that of the demo
    kitchen's person.
    """

    installation: str
    secret_key: str
    database_password: str
    owner_password: str
    role_password: str
    demo_passphrase: str


def load_secrets() -> Secrets:
    """Return the secrets; those that there are none of yet are made now."""
    path = VAR / "secrets.json"
    kept: dict[str, str] = json.loads(path.read_text()) if path.exists() else {}
    whole = _made()
    whole.update({key: kept[key] for key in whole if key in kept})  # type: ignore[typeddict-item]
    if whole != kept:
        unfinished = path.with_suffix(".new")
        with os.fdopen(os.open(unfinished, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
            json.dump(whole, file)
        unfinished.rename(path)
    return whole


def _made() -> Secrets:
    return Secrets(
        installation=secrets.token_hex(6),
        secret_key=secrets.token_urlsafe(48),
        database_password=secrets.token_urlsafe(24),
        owner_password=secrets.token_urlsafe(24),
        role_password=secrets.token_urlsafe(24),
        demo_passphrase="-".join("".join(secrets.choice(_LEGIBLE) for _ in range(5)) for _ in range(3)),
    )
