"""One order of locks for whatever changes a shelf: the kitchen first, then its rows.

Every change of an ingredient counts up its kitchen's ``shelf_version`` in the end; two that begin with rows of their
own and meet there would wait for each other for ever.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from django.db import transaction

from api.retries import retried
from kitchens.models import Kitchen, Person

Rest = ParamSpec("Rest")
Result = TypeVar("Result")


def lock_shelf(kitchen: Kitchen) -> None:
    """Wait until nobody else changes the shelf of a kitchen, and keep others waiting until the transaction ends."""
    Kitchen.objects.select_for_update(no_key=True).get(pk=kitchen.pk)


def changes_shelf(
    change: Callable[Concatenate[Person, Rest], Result],
) -> Callable[Concatenate[Person, Rest], Result]:
    """Make a change of a shelf one transaction, in which no other is under way."""

    @retried
    @transaction.atomic
    @wraps(change)
    def locked(person: Person, /, *args: Rest.args, **kwargs: Rest.kwargs) -> Result:
        lock_shelf(person.kitchen)
        return change(person, *args, **kwargs)

    return locked
