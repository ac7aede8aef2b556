"""How a kitchen writes quantities: its units, and its decimal sign."""

from __future__ import annotations

from typing import Literal

TemperatureUnit = Literal["C", "F"]
MassUnit = Literal["g", "oz"]
