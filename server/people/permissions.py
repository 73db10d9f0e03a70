"""Who may do what: one table, asked by every endpoint."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpRequest

from api.problems import NotAllowed, NotSignedIn
from leitfaden_core.words import say
from people.models import Membership, Role

#: Action -> roles that may do it. Which rows they see is the querysets' business.
ALLOWED: dict[str, frozenset[str]] = {
    "account.read": frozenset(Role.values),
    "catalogue.read": frozenset(Role.values),
    "bench.run": frozenset({Role.LEAD, Role.TRAINER}),
    "bench.use": frozenset(Role.values),  # learners where their school allows it
    "values.read": frozenset(Role.values),  # learners where they may use the bench, and while no book is closed
    "numbers.read": frozenset(Role.values),  # what a sound engine feeds a calculation with: while no book is closed
    "lesson.read": frozenset({Role.LEAD, Role.TRAINER}),
    "lesson.edit": frozenset({Role.TRAINER, Role.LEAD}),
    "result.read": frozenset({Role.LEAD, Role.TRAINER}),
    "practice.take": frozenset({Role.LEARNER}),
    "drill.read": frozenset(Role.values),
    "drill.take": frozenset(Role.values),  # learners while no book is closed: its answers name limits
    "debrief.read": frozenset(Role.values),
    "rules.read": frozenset({Role.LEAD, Role.TRAINER}),
    "rules.change": frozenset({Role.LEAD}),
    "people.manage": frozenset({Role.LEAD}),
    "audit.read": frozenset({Role.LEAD}),
}

_NO_BENCH = "Your school has not opened the bench for learners; ask your trainer."
#: What learners may do only where their school has opened the bench for them.
_WITH_THE_BENCH = {"bench.use", "values.read"}
_SENTENCES = {
    "practice.take": "Only learners work through lessons.",
    "lesson.edit": "Only trainers and leads may change lessons.",
    "rules.change": "Only the lead changes the school's rules.",
    "people.manage": "Only the lead looks after the school's accounts.",
    "audit.read": "Only the lead reads the audit trail.",
}
#: Action -> what may close it for a member for a while; apps above this one register theirs.
_CLOSERS: dict[str, list[Callable[[Membership], str | None]]] = {}


NO_SCHOOL = "Your account does not belong to a school yet; ask the lead of your school."


def allowed(action: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Let a view be called only by members whose role may do this action; the member is put on the request."""
    assert action in ALLOWED

    def decorate(view: Callable[..., Any]) -> Callable[..., Any]:
        @wraps(view)
        def guarded(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
            member = current_member(request)
            refused = why_not(member, action)
            if refused is not None:
                raise NotAllowed(refused)
            request.member = member  # type: ignore[attr-defined]
            return view(request, *args, **kwargs)

        return guarded

    return decorate


def closes(action: str) -> Callable[[Callable[[Membership], str | None]], Callable[[Membership], str | None]]:
    """Register what may close an action for a member: it gives the sentence that says why, or None."""
    assert action in ALLOWED

    def register(closer: Callable[[Membership], str | None]) -> Callable[[Membership], str | None]:
        _CLOSERS.setdefault(action, []).append(closer)
        return closer

    return register


def why_not(member: Membership, action: str) -> str | None:
    """Why the member may not do this now, in a sentence; None when they may."""
    if member.role not in ALLOWED[action]:
        return _SENTENCES.get(action, say("Your role ({role}) does not allow this.", role=member.role))
    if action in _WITH_THE_BENCH and member.role == Role.LEARNER and not member.school.learners_bench:
        return _NO_BENCH
    reasons = (closer(member) for closer in _CLOSERS.get(action, ()))
    return next((reason for reason in reasons if reason is not None), None)


def may(member: Membership, action: str) -> bool:
    """Whether the member may do this action now."""
    return why_not(member, action) is None


def current_member(request: HttpRequest) -> Membership:
    """The signed-in person's membership, or NotSignedIn."""
    if not request.user.is_authenticated:
        raise NotSignedIn(
            "You are not signed in, or your session has ended. Sign in again; what you have entered is kept "
            "on this page."
        )
    # Loaded together with the person (people.sign_in.MemberBackend).
    member: Membership | None = getattr(request.user, "membership", None)
    if member is None:
        raise NotAllowed(NO_SCHOOL)
    return member
