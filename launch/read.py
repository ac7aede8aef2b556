"""`read FILE [--json]`: a recipe as people have it to lines, stages and questions, without database or browser."""

from __future__ import annotations

import json
from typing import Any

from jalebi_core.formats.recipe.reading import read_recipe
from jalebi_core.formats.recipe.report import recipe_report
from jalebi_core.model.errors import RecipeError
from jalebi_core.shelf.ingredient_search import search_index

from .analyse import read_file
from .arguments import Arguments, refuse, run


def main(arguments: list[str]) -> int:
    """Print what was read and return 0, or one sentence on standard error and 2."""
    parser = Arguments("./jalebi read", description="Read a recipe: text, a web page, or its recipe data.")
    parser.add_argument("file", metavar="FILE", help="the recipe, or - for standard input")
    parser.add_argument("--json", action="store_true", help="print data instead of a table")
    asked = parser.parse_args(arguments)
    try:
        recipe = read_recipe(_text(read_file(asked.file)), search_index())
    except (RecipeError, ValueError) as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{asked.file[:200]} cannot be read: {error.strerror}")
    found = recipe_report(recipe)
    print(json.dumps(found, ensure_ascii=False, indent=2) if asked.json else _table(found))
    return 0


def _text(data: bytes) -> str:
    for encoding in ("utf-8-sig", "utf-16") if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise ValueError("The file is no text.")


def _table(found: dict[str, Any]) -> str:
    rows = [found["name"] or "A recipe without a name", ""]
    for line in found["lines"]:
        grams = "      —" if line["grams"] is None else f"{line['grams']:7.1f}"
        doubt = "" if line["sure"] else "? "
        rows.append(f"  {grams} g  {line['ingredient'] or '?':<26} {line['stage'] or '?':<9}{doubt}{line['text']}")
    return "\n".join([*rows, "", *(f"  {question}" for question in found["questions"])])


if __name__ == "__main__":
    run(main)
