"""Names within a sentence."""

from __future__ import annotations


def in_sentence(name: str) -> str:
    """Return a name as it stands within a sentence: small, and without what stands behind its comma."""
    short = name.split(",")[0]
    return short if short[:2].isupper() else short[:1].lower() + short[1:]


def counted(count: int, one: str, many: str) -> str:
    """Return a count with what is counted: “1 batch”, “7 batches”."""
    return f"{count} {one if count == 1 else many}"
