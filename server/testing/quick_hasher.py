"""Passwords of tests: hashed as the application does, with next to no work, because none of them is secret."""

from __future__ import annotations

from django.contrib.auth.hashers import Argon2PasswordHasher


class QuickArgon2(Argon2PasswordHasher):
    """Argon2 with the least of everything."""

    time_cost = 1
    memory_cost = 8
    parallelism = 1
