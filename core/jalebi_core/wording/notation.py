"""How a kitchen writes quantities: its units, and its decimal sign. Inside, all is g and °C."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final, Literal

TemperatureUnit = Literal["C", "F"]
MassUnit = Literal["g", "oz"]

GRAMS_PER_OUNCE: Final = 28.349523125
"""The international avoirdupois ounce, exactly."""

_CELSIUS: Final = re.compile(r"(−?\d+(?:\.\d+)?)(?:–(−?\d+(?:\.\d+)?))? °C")


@dataclass(frozen=True, slots=True)
class Notation:
    """The units of a kitchen and the sign before its decimals."""

    temperature: TemperatureUnit = "C"
    mass: MassUnit = "g"
    decimal: Literal[".", ","] = "."

    def number(self, value: float, spec: str) -> str:
        """Write a plain number by a format such as ``.1f`` or ``g``."""
        return format(value, spec).replace(".", self.decimal).replace("-", "−")

    def temperature_at(self, celsius: float, spec: str) -> str:
        """Write a temperature with its unit."""
        value = celsius if self.temperature == "C" else 32 + 1.8 * celsius
        return f"{_signed(self.number(value, spec))} °{self.temperature}"

    def temperature_step(self, kelvin: float, spec: str) -> str:
        """Write how much warmer or colder something is, with the unit."""
        value = kelvin if self.temperature == "C" else 1.8 * kelvin
        return f"{_signed(self.number(value, spec))} °{self.temperature}"

    def text(self, text: str) -> str:
        """Return a text that states temperatures in °C, such as “hold 69 °C” or “at 80–85 °C”, with the kitchen's."""
        return text if self.temperature == "C" else _CELSIUS.sub(_in_fahrenheit, text)

    def mass_of(self, grams: float, spec: str) -> str:
        """Write a mass that somebody weighs, with its unit; ounces get as many more digits as they are coarser."""
        if self.mass == "g":
            return f"{self.number(grams, spec)} g"
        ounces = grams / GRAMS_PER_OUNCE
        return f"{self.number(ounces, f'.{_ounce_digits(ounces)}f')} oz"


def _in_fahrenheit(found: re.Match[str]) -> str:
    ends = (f"{32 + 1.8 * float(end.replace('−', '-')):.0f}" for end in found.groups() if end)
    return f"{'–'.join(ends).replace('-', '−')} °F"


def _ounce_digits(ounces: float) -> int:
    return 0 if ounces >= 100 else 1 if ounces >= 10 else 2 if ounces >= 0.1 else 3


def _signed(text: str) -> str:
    """Write a number with a true minus sign, and none before nothing."""
    return text.removeprefix("−") if not text.strip("−0.,") else text


METRIC: Final = Notation()

LOCALES: Final[dict[str, tuple[str, Literal[".", ","]]]] = {
    "en-GB": ("United Kingdom", "."),
    "en-IE": ("Ireland", "."),
    "en-US": ("United States", "."),
    "en-CA": ("Canada", "."),
    "en-AU": ("Australia", "."),
    "en-NZ": ("New Zealand", "."),
    "en-ZA": ("South Africa", ","),
    "en-IN": ("India", "."),
    "da-DK": ("Denmark", ","),
    "de-AT": ("Austria", ","),
    "de-CH": ("Switzerland", "."),
    "de-DE": ("Germany", ","),
    "es-ES": ("Spain", ","),
    "es-MX": ("Mexico", "."),
    "fi-FI": ("Finland", ","),
    "fr-FR": ("France", ","),
    "it-IT": ("Italy", ","),
    "nb-NO": ("Norway", ","),
    "nl-NL": ("Netherlands", ","),
    "pl-PL": ("Poland", ","),
    "pt-BR": ("Brazil", ","),
    "pt-PT": ("Portugal", ","),
    "sv-SE": ("Sweden", ","),
}
"""Regions whose way of writing numbers and dates a kitchen may choose, with their decimal sign (Unicode CLDR)."""
