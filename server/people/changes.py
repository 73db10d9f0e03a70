"""Changes that are done once: a client that did not hear the answer sends the same again, with the same id, and gets
the first answer.
"""

from collections.abc import Callable
from functools import wraps
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import HttpRequest

from api.problems import Conflict, Refused
from leitfaden_core.words import say
from people.models import Change

HEADER = "X-Change-Id"


def change_id(request: HttpRequest) -> UUID:
    """The id that the client made for this change."""
    text = request.headers.get(HEADER, "")
    try:
        return UUID(text)
    except ValueError:
        raise Refused(
            say(
                "A change needs an id of its own (a UUID) in the header {header}, so that a repeat changes nothing.",
                header=HEADER,
            ),
            code="no_change_id",
        ) from None


def once(hide: str = "") -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Do a view's change in one transaction, once for each id; the view's answer is kept with it. For views of members
    only.

    ``hide`` names a field of the answer that is a secret: it is sent once and not kept, so that a repeat gets it empty.
    """

    def decorate(view: Callable[..., Any]) -> Callable[..., Any]:
        @wraps(view)
        def done_once(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
            number, user = change_id(request), request.member.user  # type: ignore[attr-defined]
            with transaction.atomic():
                try:
                    with transaction.atomic():
                        # A repeat that comes while the first is still at work waits here for its end.
                        change = Change.objects.create(id=number, user=user, operation=view.__name__)
                except IntegrityError:
                    return _first_answer(number, user.pk, view.__name__)
                answer = view(request, *args, **kwargs)
                change.answer = _without(answer, hide)
                change.save(update_fields=["answer"])
                return answer

        return done_once

    return decorate


def _without(answer: Any, hidden: str) -> Any:
    if isinstance(answer, list):
        return [_without(row, hidden) for row in answer]
    return (
        {name: "" if name == hidden else value for name, value in answer.items()}
        if isinstance(answer, dict)
        else answer
    )


def _first_answer(number: UUID, user_id: int, operation: str) -> Any:
    first = Change.objects.filter(id=number).first()
    if first is None or first.user_id != user_id or first.operation != operation:
        raise Conflict("This change has the id of another one; load the page again.", code="change_id_taken")
    return first.answer
