"""`add_kitchen`: a kitchen of one's own with the shelf that ships, and a person who signs in to it."""

from __future__ import annotations

import secrets
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction
from django.utils.text import slugify

from ingredients.shipped import stock_shelf
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import CompositionError
from kitchens.models import Kitchen, Person
from kitchens.zones import zone_of_this_machine


class Command(BaseCommand):
    """Make a kitchen with one person and print the person's password."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("kitchen")
        parser.add_argument("person")

    @transaction.atomic
    def handle(self, *_args: Any, kitchen: str, person: str, **_options: Any) -> None:
        try:
            named = checked_name(kitchen, "the kitchen")
            person = checked_name(person, "the person")
        except CompositionError as error:
            raise CommandError(str(error)) from None
        if Person.objects.filter(name=person).exists():
            raise CommandError(f"somebody called “{person}” signs in already; choose another name.")
        slug = slugify(named)[:40] or "kitchen"
        if Kitchen.objects.filter(slug=slug).exists():
            raise CommandError(f"there is a kitchen “{named}” already; choose another name.")
        made = Kitchen.objects.create(slug=slug, name=named, zone=zone_of_this_machine())
        password = secrets.token_urlsafe(9)
        Person.objects.create_user(person, made, password)
        stock_shelf(made)
        self.stdout.write(f"{named} is ready. Sign in as  {person}  with  {password}")
