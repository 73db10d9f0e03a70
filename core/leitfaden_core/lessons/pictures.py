"""Own pictures: whatever a person brings becomes a plain picture of a page's size, with nothing else in the file."""

import hashlib
import warnings
from dataclasses import dataclass
from io import BytesIO
from typing import Annotated

from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import Field

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.lessons.shapes import Document
from leitfaden_core.words import say

#: Of what is brought. [bytes], [pixels]
LARGEST, MOST_PIXELS = 10_000_000, 60_000_000
#: Longer side of what is kept. [pixels]
SIDE = 1600
#: Formats that are read; a drawing in SVG may hold scripts and is none of them.
FORMATS = ("PNG", "JPEG", "WEBP")
QUALITY = 82


class BadPicture(LeitfadenError):
    """A file that is not taken as a picture."""

    code = "bad_picture"


class _Huge(Exception):
    """More pixels than are read."""


class Picture(Document):
    """A picture of the school by its id, what it shows for who does not see it, and words below it."""

    id: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    alt: Annotated[str, Field(min_length=3, max_length=300)]
    caption: Annotated[str, Field(max_length=300)] = ""


@dataclass(frozen=True)
class Cleaned:
    """A picture as it is kept: WebP without metadata; its id is the hash of its bytes. [pixels]"""

    id: str
    content: bytes
    width: int
    height: int


def cleaned(content: bytes) -> Cleaned:
    """A picture from a file: turned upright, made smaller, without place, time and device in it.

    Raises
    ------
    BadPicture
        With one sentence, when it is none that can be read, or too large.
    """
    if len(content) > LARGEST:
        raise BadPicture(say("the picture is larger than {megabytes:g} MB", megabytes=LARGEST / 1e6))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)  # the bound below is lower
            with Image.open(BytesIO(content), formats=FORMATS) as found:
                if found.width * found.height > MOST_PIXELS:
                    raise _Huge
                upright = ImageOps.exif_transpose(found)
                plain = upright.convert("RGBA" if "A" in upright.getbands() or "transparency" in found.info else "RGB")
    except _Huge:
        text = say("the picture has more than {millions:g} million pixels", millions=MOST_PIXELS / 1e6)
        raise BadPicture(text) from None
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise BadPicture(say("this is no picture that can be read; PNG, JPEG and WebP are")) from error
    plain.thumbnail((SIDE, SIDE))
    kept = BytesIO()
    plain.save(kept, "WEBP", quality=QUALITY)
    made = kept.getvalue()
    return Cleaned(hashlib.sha256(made).hexdigest(), made, plain.width, plain.height)
