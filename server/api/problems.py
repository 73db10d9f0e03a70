"""Refusals of the server: a status, a code, a sentence. Services raise them, the API turns them into answers."""

from ninja import Schema


class Problem(Schema):
    """What every refused request gets: a code for programs, one sentence for people."""

    code: str
    message: str


class Refused(Exception):
    """A request that cannot be done."""

    status = 422
    code = "refused"

    def __init__(self, message: str, code: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.code = code or self.code


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
