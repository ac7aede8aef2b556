"""Messages as plain data, with the sentence that they had when they were recorded."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, SupportsFloat

from jalebi_core.wording.message import Fact, Message, sentence_of


def message_data(message: Message) -> dict[str, Any]:
    """Return a message as data that says the same for ever, whatever its code says by then."""
    facts = {name: _fact_data(fact) for name, fact in message.facts.items()}
    return {"code": message.code, "sentence": sentence_of(message), "facts": facts}


def read_message(data: Mapping[str, Any]) -> Message:
    """Read a message that `message_data` wrote."""
    return Message(data["code"], {name: _read_fact(fact) for name, fact in data["facts"].items()}, data["sentence"])


def _fact_data(fact: Fact) -> Any:
    if isinstance(fact, Message):
        return {"message": message_data(fact)}
    if isinstance(fact, str | int | float) or fact is None:
        return fact
    if isinstance(fact, Sequence):
        return [_fact_data(item) for item in fact]
    return float(fact) if isinstance(fact, SupportsFloat) else str(fact)


def _read_fact(data: Any) -> Fact:
    if isinstance(data, Mapping):
        return read_message(data["message"])
    return [_read_fact(item) for item in data] if isinstance(data, list) else data
