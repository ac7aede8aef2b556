"""Kitchens, their people and their machines."""

from __future__ import annotations

from typing import ClassVar

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.contrib.postgres.fields import ArrayField
from django.db import models

from jalebi_core.assessment.serving_conditions import CABINET_C
from jalebi_core.heat.tub import PLACES
from jalebi_core.heat.tub import Place as CorePlace
from jalebi_core.model.styles import Band
from jalebi_core.production.machines import Machine as CoreMachine
from jalebi_core.production.machines import Programme, Tuning, machine
from jalebi_core.production.scaling import LOSS_PCT, SCOOP_ML, KitchenConstants
from jalebi_core.quantities.amounts import Spoons
from jalebi_core.wording.notation import LOCALES, Notation, TemperatureUnit
from kitchens.learnt import Learnt, learnt_by
from kitchens.owned import KitchenOwned
from kitchens.zones import UTC


class Kitchen(models.Model):
    """A place where desserts are made; everything else belongs to one."""

    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=200)
    freezer_c = models.FloatField(default=-18.0)
    cabinet_c = models.FloatField(default=CABINET_C)
    scale_g = models.FloatField(default=1.0)
    """What the kitchen's scale can tell apart."""
    fine_scale_g = models.FloatField(default=0.1)
    """What the scale for gums and other little amounts can tell apart."""
    loss_pct = models.FloatField(default=LOSS_PCT)
    """What of a mix stays in pot, sieve and machine."""
    scoop_ml = models.FloatField(default=SCOOP_ML)
    spoons = models.CharField(max_length=10, default="metric")
    currency = models.CharField(max_length=8, default="€")
    temperature_unit = models.CharField(max_length=1, default="C")
    """What temperatures are shown and typed in, ``C`` or ``F``; they are kept in °C."""
    mass_unit = models.CharField(max_length=2, default="g")
    """What masses are shown and typed in, ``g`` or ``oz``; they are kept in g."""
    locale = models.CharField(max_length=8, default="en-GB")
    """How numbers and dates are written, a BCP 47 tag."""
    zone = models.CharField(max_length=60, default=UTC)
    """Its time zone, an IANA name: by it go the days of lots, codes, lists and plans."""
    region = models.CharField(max_length=2, default="eu")
    """Whose food law its cautions and labels go by, a key of the core's `REGIONS`."""
    restrictions = ArrayField(models.CharField(max_length=80), default=list)
    """Restrictions that hold for every mix of this kitchen, keys of the core's `RESTRICTIONS`."""
    may_come_in = ArrayField(models.CharField(max_length=60), default=list)
    """Slugs of ingredients that Balance may bring in, the core's common ones where the kitchen names none."""
    aims = models.JSONField(default=dict)
    """Bands of the kitchen's own by style, ``{style: {quantity: [least, most]}}``, in the place of the usual ones."""
    version = models.PositiveIntegerField(default=1)
    """Counts the changes of its settings."""
    changed_in = models.JSONField(default=dict)
    """In which version each setting was changed last, by the names that `settings.setting_names` gives."""
    log_version = models.PositiveIntegerField(default=0, editable=False)
    """Counts what was logged that teaches; 0 where nothing ever was."""
    shows_prices = False
    """Whether who asks may see prices: `prices.kitchen_seen_by` says so, and else nobody may."""
    shelf_version = models.PositiveBigIntegerField(default=0, editable=False)
    """Counted up by the database itself whenever an ingredient or a machine of this kitchen changes."""

    def __str__(self) -> str:
        return self.name

    @property
    def learnt(self) -> Learnt:
        """What its log says of its freezer, its machines and its people."""
        return learnt_by(self)

    @property
    def used_freezer_c(self) -> float:
        """How cold its freezer is, as far as anybody knows."""
        learnt = self.learnt.freezer_c
        return self.freezer_c if learnt is None else learnt

    @property
    def used_aims(self) -> dict[str, dict[str, Band]]:
        """Its own bands by style, and the sweetness that its tastings ask for where it set none itself."""
        liked = {style: {"sweetness": band} for style, band in self.learnt.liked_sweetness().items()}
        return {style: {**liked.get(style, {}), **own_aims(self, style)} for style in liked.keys() | self.aims.keys()}

    @property
    def used_loss_pct(self) -> float:
        """What stays in pot, sieve and machine, as far as anybody knows."""
        learnt = self.learnt.loss_pct
        return self.loss_pct if learnt is None else learnt

    def note_logged(self) -> None:
        """Remember that something was logged that teaches."""
        Kitchen.objects.filter(pk=self.pk).update(log_version=models.F("log_version") + 1)


def own_aims(kitchen: Kitchen, style: str | None) -> dict[str, Band]:
    """Return the aims that a kitchen sets for a style."""
    return {key: (low, high) for key, (low, high) in kitchen.aims.get(style or "", {}).items()}


def constants_of(kitchen: Kitchen) -> KitchenConstants:
    """Return a kitchen's scales and losses as scaling needs them."""
    return KitchenConstants(kitchen.scale_g, kitchen.fine_scale_g, kitchen.used_loss_pct)


def spoons_of(kitchen: Kitchen) -> Spoons:
    """Return which cups and spoons a kitchen owns."""
    return "us" if kitchen.spoons == "us" else "imperial" if kitchen.spoons == "imperial" else "metric"


def notation_of(kitchen: Kitchen) -> Notation:
    """Return how a kitchen writes quantities."""
    temperature: TemperatureUnit = "F" if kitchen.temperature_unit == "F" else "C"
    return Notation(temperature, "oz" if kitchen.mass_unit == "oz" else "g", LOCALES[kitchen.locale][1])


class People(BaseUserManager["Person"]):
    """Makes people with hashed passwords."""

    def create_user(self, name: str, kitchen: Kitchen, password: str, *, sees_prices: bool = True) -> Person:
        person = Person(name=name, kitchen=kitchen, sees_prices=sees_prices)
        person.set_password(password)
        person.save()
        return person


class Person(AbstractBaseUser):
    """Somebody who signs in and works in one kitchen."""

    name = models.CharField(max_length=100, unique=True)
    kitchen = models.ForeignKey(Kitchen, on_delete=models.CASCADE, related_name="people")
    is_active = models.BooleanField(default=True)
    sees_prices = models.BooleanField(default=True)

    objects: ClassVar[People] = People()

    USERNAME_FIELD = "name"
    REQUIRED_FIELDS: ClassVar[list[str]] = []

    def __str__(self) -> str:
        return self.name


class Machine(KitchenOwned):
    """A machine of a kitchen; ``kind`` is a key of the core's `machine_kinds`."""

    name = models.CharField(max_length=100)
    kind = models.CharField(max_length=40)
    bowl_l = models.FloatField()
    programmes = models.JSONField(default=list)
    """Its programmes or marks: objects of ``name``, ``draw_c`` and ``max_min``, the first of them the usual one."""
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.name}, {self.bowl_l:g} L"

    def to_core(self, tuning: Tuning | None = None) -> CoreMachine:
        """Return the machine as the core knows it, as fast as its kind unless told; raises MachineError."""
        programmes = [Programme(one["name"], one["draw_c"], one["max_min"]) for one in self.programmes]
        return machine(self.name, self.kind, self.bowl_l, tuning, programmes)


class Place(KitchenOwned):
    """A freezer, a cabinet, a chiller, or a place of the kitchen's own such as a drawer: where a tub can stand."""

    name = models.CharField(max_length=100)
    kind = models.CharField(max_length=20)
    """A key of the core's `PLACES`, which says how fast the air there takes up heat."""
    air_c = models.FloatField()
    mark = models.CharField(max_length=40, default="")
    """What its dial stands on where that shows no degrees."""
    put_away = models.BooleanField(default=False)
    """It is offered no more; what stood or was measured there stays."""
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.name}, {self.air_c:g} °C"

    def to_core(self) -> CorePlace:
        """Return the place as the core knows it."""
        return CorePlace(self.name, self.air_c, PLACES[self.kind].h_w_m2k)


class Vessel(KitchenOwned):
    """A tub or a dish of a kitchen: its shape in mm, its wall and its lid."""

    name = models.CharField(max_length=100)
    shape = models.CharField(max_length=10, default="cylinder")
    diameter_mm = models.FloatField(null=True)
    length_mm = models.FloatField(null=True)
    width_mm = models.FloatField(null=True)
    height_mm = models.FloatField()
    wall = models.CharField(max_length=10, default="plastic")
    lid = models.BooleanField(default=True)
    wall_g = models.FloatField(default=0.0)
    """What it weighs where that counts, as with a dish of glass; 0 where it does not."""
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class WrongTries(models.Model):
    """How often somebody was wrong about a password, by name, address or browser, of which only a digest is kept."""

    key = models.CharField(max_length=64, primary_key=True)
    failures = models.PositiveIntegerField(default=0)
    last_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.failures} until {self.last_at}"
