"""Photos of what was done: taken in as small JPEG, without what the camera wrote of place and person, and shown to the holding's people."""

import io
from datetime import timedelta

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from PIL import Image, ImageOps, UnidentifiedImageError

from web.records.models import LogPhoto

MOST_BYTES = 15_000_000
MOST_PIXELS = 60_000_000  # of a JPEG, which is decoded at an eighth of its size
MOST_PIXELS_WHOLE = 16_000_000  # of what must be decoded whole: 64 MB while it is made smaller
SIDE = 1600
QUALITY = 80
ORPHANS_FOR = timedelta(days=30)  # nothing points to them any more; a month to be asked for them in
KINDS = ["JPEG", "PNG", "WEBP"]


def small_jpeg(file) -> bytes:
    """A photo as it is kept: upright, at most 1600 pixels a side, without any data beside the picture. Raises ValidationError."""
    if file.size > MOST_BYTES:
        raise ValidationError(f"The photo has {file.size / 1e6:.0f} MB, and {MOST_BYTES / 1e6:.0f} is the most. Take it smaller.")
    try:
        picture = Image.open(file, formats=KINDS)
        in_parts = picture.format == "JPEG" and not picture.info.get("progressive")
        if picture.width * picture.height > (MOST_PIXELS if in_parts else MOST_PIXELS_WHOLE):
            raise ValidationError("The photo has too many pixels. Take it smaller.")
        picture.thumbnail((SIDE, SIDE))
        upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise ValidationError("We cannot read that photo. Choose a JPEG, PNG or WebP picture.") from error
    made = io.BytesIO()
    upright.save(made, "JPEG", quality=QUALITY)
    return made.getvalue()


def keep_photo(holding, jpeg: bytes) -> LogPhoto:
    """Stores a photo, and clears away those that an undo left without an entry long ago."""
    LogPhoto.objects.filter(
        holding=holding, entries=None, sightings=None, trial_photos=None, made_at__lt=timezone.now() - ORPHANS_FOR
    ).delete()
    return LogPhoto.objects.create(holding=holding, jpeg=jpeg)


def photo(request, pk: int):
    found = get_object_or_404(LogPhoto, pk=pk, holding=request.place.holding)
    return HttpResponse(bytes(found.jpeg), content_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400, immutable"})
