"""What `read` answers: a recipe as plain data, every line of it and all that has to be asked."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.recipe.reading import Makes, Recipe, UnderstoodLine


def recipe_report(recipe: Recipe) -> dict[str, Any]:
    """Return a recipe against the shelf that ships; described in docs/file-formats.md."""
    return {
        "name": recipe.name,
        "style": recipe.style,
        "makes": _makes(recipe.makes) if recipe.makes else None,
        "lines": [_line(line) for line in recipe.lines],
        "method": [step.text for step in recipe.steps],
        "questions": list(recipe.questions),
    }


def _makes(makes: Makes) -> dict[str, Any]:
    return {"text": makes.text, "ml": makes.ml, "portions": makes.portions}


def _line(line: UnderstoodLine) -> dict[str, Any]:
    return {
        "text": line.line.raw,
        "grams": line.grams,
        "ingredient": line.choices[0].slug if line.choices else None,
        "sure": line.sure,
        "stage": line.stage,
        "form": line.form,
        "optional": line.line.optional,
    }
