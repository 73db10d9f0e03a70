"""What an instrument shows on the undisturbed twin goes to the screen with a reading, and comes back when that is
judged: sealed, since nobody may read it where an engine keeps its secret or the book is closed.
"""

import base64
import math

from cryptography.fernet import Fernet, InvalidToken
from django.utils.crypto import salted_hmac

from api.problems import Refused
from benches.schemas import KeptIn
from leitfaden_core.instruments.instrument import Shown
from leitfaden_core.live import BenchReading, TwinShown
from leitfaden_core.words import say


def sealed(shown: Shown) -> str:
    """What the twin showed, as a text that only this installation can read."""
    is_number = shown.value is not None and math.isfinite(shown.value)  # an open circuit has none
    twin = TwinShown(value=shown.value if is_number else None, text=shown.text)
    return _lock().encrypt(twin.model_dump_json().encode()).decode()


def bench_reading(kept: KeptIn) -> BenchReading:
    """A kept reading with what the twin showed.

    Raises
    ------
    Refused
        When that was sealed by another installation, or is damaged.
    """
    twin = None
    if kept.sealed:
        try:
            twin = TwinShown.model_validate_json(_lock().decrypt(kept.sealed))
        except (InvalidToken, ValueError):  # the latter where it is no such text at all
            sentence = say(
                "“{reading}” was not kept in this installation: read it again, then it can be judged.",
                reading=kept.label,
            )
            raise Refused(sentence, code="kept_elsewhere") from None
    return BenchReading(**kept.model_dump(exclude={"sealed"}), twin=twin)


def _lock() -> Fernet:
    digest = salted_hmac("benches.sealed", "twin", algorithm="sha256").digest()
    return Fernet(base64.urlsafe_b64encode(digest))
