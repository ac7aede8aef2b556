"""The core's errors; each carries its facts and reads as a sentence.

JalebiError
├── AmountError              a typed amount that cannot be read
├── CompositionError         a composition that is no closed mass balance
├── UnknownIngredientError   a name the shelf does not know
├── MixError                 a mix or mix file that cannot be used
├── IngredientFileError      a file of ingredients that cannot be used as a whole
├── BalanceError             a balance request that cannot be tried
├── MachineError             a machine that cannot be
├── ScalingError             a size that a mix cannot be brought to
├── PreparationError         something that cannot be done to ingredients
└── RecipeError              a pasted text that holds no recipe
"""

from __future__ import annotations

from collections.abc import Mapping


class JalebiError(Exception):
    """Base of everything the core raises on purpose; ``str()`` is a sentence for the user."""

    code = "refused"
    pointer: str | None = None

    @property
    def facts(self) -> Mapping[str, object]:
        return {}


class AmountError(JalebiError):
    """A typed amount that cannot be read as a mass."""

    def __init__(self, typed: str, sentence: str) -> None:
        super().__init__(sentence)
        self.typed = typed


class CompositionError(JalebiError):
    """A composition that is no closed mass balance over the known components."""


class UnknownIngredientError(JalebiError):
    """An ingredient that is not on the shelf, with the closest names that are."""

    def __init__(self, slug: str, close: tuple[str, ...]) -> None:
        hint = f" Did you mean {' or '.join(close)}?" if close else ""
        super().__init__(f"there is no ingredient “{slug}” on the shelf.{hint}")
        self.slug = slug
        self.close = close


class MixError(JalebiError):
    """A mix that cannot be used; ``line`` counts from 1 where one line is at fault."""

    def __init__(self, sentence: str, line: int | None = None) -> None:
        super().__init__(f"Line {line}: {sentence}" if line is not None else sentence)
        self.line = line


class RecipeError(JalebiError):
    """A text in which no recipe can be found, or far more than one."""


class PreparationError(JalebiError):
    """A preparation that cannot be made as it is described."""


class BalanceError(JalebiError):
    """A balance request that contradicts itself or cannot be tried."""


class MachineError(JalebiError):
    """A machine that cannot be."""


class ScalingError(JalebiError):
    """A size that a mix cannot be brought to."""


class IngredientFileError(JalebiError):
    """A file of ingredients that cannot be used as a whole."""
