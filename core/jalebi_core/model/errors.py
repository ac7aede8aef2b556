"""The core's errors; each is a code with its facts, and reads as a sentence.

JalebiError
├── AmountError              a typed amount that cannot be read
├── CompositionError         a composition that is no closed mass balance
├── UnknownIngredientError   a name the shelf does not know
├── MixError                 a mix or mix file that cannot be used
├── IngredientFileError      a file of ingredients that cannot be used as a whole
├── BalanceError             a balance request that cannot be tried
├── MachineError             a machine that cannot be
├── PlanError                a plan file that cannot be used
├── TastingError             a trial, a tasting or a log that cannot be used
├── LotError                 something that cannot be done with what is in the house
├── ScalingError             a size that a mix cannot be brought to
├── PreparationError         something that cannot be done to ingredients
└── RecipeError              a pasted text that holds no recipe
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Self

from jalebi_core.wording.message import Fact, Message, words
from jalebi_core.wording.notation import METRIC, Notation


class JalebiError(Exception):
    """Base of everything the core raises on purpose; ``str()`` is a sentence for the user.

    Attributes
    ----------
    message : the code, which stays from release to release, and its facts
    line : which line of a mix is at fault, counting from 1; None where it is no line
    """

    def __init__(self, code: str, line: int | None = None, **facts: Fact) -> None:
        super().__init__(code)
        self.message = Message(code, facts)
        self.line = line

    @classmethod
    def of(cls, message: Message, line: int | None = None) -> Self:
        """Return an error of this kind that says what another said, of a line where one is given."""
        made = cls(message.code, line)
        made.message = message
        return made

    @property
    def code(self) -> str:
        return self.message.code

    @property
    def facts(self) -> Mapping[str, Fact]:
        return self.message.facts

    @property
    def pointer(self) -> str | None:
        """Where in a mix the fault is, as a JSON pointer."""
        return None if self.line is None else f"/lines/{self.line - 1}"

    def words(self, notation: Notation = METRIC) -> str:
        """Return the sentence for the user, with quantities as a kitchen writes them."""
        said = words(self.message, notation)
        return said if self.line is None else f"Line {self.line}: {said}"

    def __str__(self) -> str:
        return self.words()


class AmountError(JalebiError):
    """A typed amount that cannot be read as a mass."""


class CompositionError(JalebiError):
    """A composition that is no closed mass balance over the known components."""


class UnknownIngredientError(JalebiError):
    """An ingredient that is not on the shelf, with the closest names that are."""

    def __init__(self, slug: str, close: tuple[str, ...]) -> None:
        code = "unknown-ingredient-near" if close else "unknown-ingredient"
        super().__init__(code, slug=slug, close=" or ".join(close))


class MixError(JalebiError):
    """A mix that cannot be used."""


class RecipeError(JalebiError):
    """A text in which no recipe can be found, or far more than one."""


class PreparationError(JalebiError):
    """A preparation that cannot be made as it is described."""


class BalanceError(JalebiError):
    """A balance request that contradicts itself or cannot be tried."""


class HeatError(JalebiError):
    """A question about cold and heat that cannot be answered as it is asked."""


class MachineError(JalebiError):
    """A machine that cannot be."""


class DeviceError(JalebiError):
    """Something that a device says, or is told, that makes no sense."""


class ScalingError(JalebiError):
    """A size that a mix cannot be brought to."""


class LotError(JalebiError):
    """Something that cannot be done with what is in the house."""


class PlanError(JalebiError):
    """A plan file that cannot be used."""


class IngredientFileError(JalebiError):
    """A file of ingredients that cannot be used as a whole."""


class TastingError(JalebiError):
    """A trial, a tasting or a log that cannot be used."""
