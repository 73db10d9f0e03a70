"""Refusals of the server: a status, a code, a sentence. Services raise them, the API turns them into answers."""

from ninja import Schema

from leitfaden_core.words import in_language


class Problem(Schema):
    """What every refused request gets: a code for programs, one sentence for people."""

    code: str
    message: str


class StationProblem(Schema):
    """What is wrong at one station of a lesson."""

    station: str
    code: str
    text: str


class ComputingOut(Schema):
    """An answer that is not there yet: how far it is, and when to ask again with the same request."""

    code: str
    message: str
    share: float
    retry_after_s: float


def problem(code: str, message: str, **parts: object) -> dict[str, object]:
    """A problem as it goes out, its sentence in the language that is spoken."""
    return {"code": code, "message": in_language(message), **parts}


class Refused(Exception):
    """A request that cannot be done. ``retry_after`` tells when it could be. [s]"""

    status = 422
    code = "refused"
    retry_after: float | None = None
    place = ""

    def __init__(self, message: str, code: str | None = None) -> None:
        # What was said with its numbers stays; what stands as plain text is translated here.
        self.message: str = in_language(message)
        super().__init__(self.message)
        self.code = code or self.code

    def parts(self) -> dict[str, object]:
        """What else the answer holds."""
        return {"place": self.place} if self.place else {}


class NotSignedIn(Refused):
    status = 401
    code = "not_signed_in"


class NotAllowed(Refused):
    status = 403
    code = "not_allowed"


class NotFound(Refused):
    status = 404
    code = "not_found"


class Conflict(Refused):
    status = 409
    code = "conflict"


class Busy(Refused):
    """Too much at once; the same request will be taken later."""

    status = 429
    code = "busy"

    def __init__(self, message: str, retry_after: float) -> None:
        super().__init__(message)
        self.retry_after = retry_after


class Computing(Refused):
    """Not a refusal: the answer is being computed. ``share`` of it is done."""

    status = 202
    code = "computing"

    def __init__(self, share: float, says: str, retry_after: float = 0.25) -> None:
        super().__init__(says)
        self.share, self.retry_after = share, retry_after

    def parts(self) -> dict[str, object]:
        return {"share": self.share, "retry_after_s": self.retry_after}
