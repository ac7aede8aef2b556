"""Files of ingredients that are too large to be read while somebody waits."""

from __future__ import annotations

from typing import Any, Final

from ingredients.files import import_ingredients
from ingredients.schemas import ImportPreview
from jobs.kinds import Report
from jobs.models import Job
from jobs.start import start_job
from kitchens.models import Person

KIND: Final = "ingredient-file"
IN_REQUEST_BYTES: Final = 100_000
"""About a thousand rows, which take a quarter of a second."""


def import_or_job(person: Person, data: bytes, apply: bool, leave_out_wrong: bool) -> ImportPreview | Job:
    """Say what a file would change, and change it where asked to; a large one becomes a job.

    Raises
    ------
    IngredientFileError : the file cannot be used, or rows are wrong and are not to be left out
    """
    if len(data) <= IN_REQUEST_BYTES:
        return import_ingredients(person, data, apply, leave_out_wrong)
    asked = {"apply": apply, "leave_out_wrong": leave_out_wrong}
    return start_job(person, KIND, "a file", asked, data)


def file_job(job: Job, report: Report) -> Any:
    """Read a file as a job: the change is made whole, or not at all where the job is stopped before its end."""
    data = bytes(job.file or b"")
    preview = import_ingredients(job.asked_by, data, job.asked["apply"], job.asked["leave_out_wrong"], report)
    return preview.model_dump(mode="json")
