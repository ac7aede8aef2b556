"""Photos of a batch: made small, turned upright, and stripped of what a camera writes beside the picture."""

from __future__ import annotations

from io import BytesIO
from typing import Final

from django.db import transaction

from batches.models import Batch, Photo
from jalebi_core.model.errors import MixError
from kitchens.models import Person

MOST_PHOTOS: Final = 6
MOST_BYTES: Final = 10_000_000
_LONG_EDGE: Final = 1600
_MOST_KEPT: Final = 400_000
_QUALITIES: Final = (85, 75, 65, 55, 45, 35, 25)
_MOST_PIXELS: Final = 60_000_000
_FORMATS: Final = ("JPEG", "PNG", "WEBP")


@transaction.atomic
def keep_photo(person: Person, batch: Batch, data: bytes, step: str) -> Photo:
    """Keep a photo of a batch; raises MixError for a seventh, or what is no picture."""
    Batch.objects.of(person.kitchen).select_for_update(of=("self",)).get(pk=batch.pk)
    if batch.photos.count() >= MOST_PHOTOS:
        raise MixError("photos-too-many", most=MOST_PHOTOS)
    image, width, height = smaller(data)
    return Photo.objects.create(batch=batch, image=image, width=width, height=height, step=step, by=person)


def smaller(data: bytes) -> tuple[bytes, int, int]:
    """Return a picture as a JPEG of at most 1600 pixels and 400 kB, with its width and height.

    Raises
    ------
    MixError : what is no JPEG, PNG or WebP, or has more pixels than any camera
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    refused = MixError("photo-unreadable", most_mb=MOST_BYTES // 1_000_000)
    if len(data) > MOST_BYTES:
        raise refused
    try:
        with Image.open(BytesIO(data), formats=_FORMATS) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                raise refused
            upright = ImageOps.exif_transpose(opened).convert("RGB")
            upright.info.clear()  # what a camera or a program wrote beside the picture, comments too
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise refused from None
    upright.thumbnail((_LONG_EDGE, _LONG_EDGE))
    for quality in _QUALITIES:
        written = BytesIO()
        upright.save(written, "JPEG", quality=quality, optimize=True)
        if written.tell() <= _MOST_KEPT:
            break
    return written.getvalue(), upright.width, upright.height
