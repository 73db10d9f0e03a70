"""Signing in: hashes of today, pauses that grow, and who may."""

import threading
from datetime import timedelta
from typing import Any

from axes.handlers.database import AxesDatabaseHandler
from axes.models import AccessFailureLog, AccessLog
from django.conf import settings
from django.contrib.auth import authenticate, login
from django.contrib.auth.backends import ModelBackend
from django.contrib.auth.hashers import Argon2PasswordHasher
from django.contrib.sessions.models import Session
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone

from api.problems import Busy, NotAllowed, NotSignedIn
from leitfaden_core.words import say
from people import audit
from people.models import Membership, SignedIn, User
from people.permissions import NO_SCHOOL

#: Hashes computed at once in one process: a class that signs in takes turns, and quick requests keep half of the
#: machine.
_HASHING = threading.BoundedSemaphore(2)
FIRST_PAUSE, LONGEST_PAUSE = timedelta(seconds=15), timedelta(minutes=15)
WRONG = "Wrong name or password. Check both; the name is kept."
DEMO_ELSEWHERE = (
    "Accounts of the sample data, whose password everybody knows, do not sign in on a server that others can reach."
)


class Argon2id(Argon2PasswordHasher):
    """Argon2id with 19 MiB and two passes (OWASP Password Storage Cheat Sheet, 2023): 30 people at once are a matter of
    a second.
    """

    time_cost, memory_cost, parallelism = 2, 19 * 1024, 1


class MemberBackend(ModelBackend):
    """Loads a person with their membership and school in one go: every request needs all three."""

    def get_user(self, user_id: int) -> Any:
        """The person of a session, unless their account is closed."""
        user = User.objects.select_related("membership__school").filter(pk=user_id).first()
        return user if user is not None and self.user_can_authenticate(user) else None


class Handler(AxesDatabaseHandler):  # type: ignore[misc]  # the package has no types
    """Counts wrong passwords by name and by address. A class shares one address, so that it may have more of them."""

    def get_failures(self, request: HttpRequest, credentials: dict[str, Any] | None = None) -> int:
        """Failures of this name, or those of this address on the same scale."""
        by_name, by_address = (
            attempts.aggregate(sum=Sum("failures_since_start"))["sum"] or 0
            for attempts in self.get_user_attempts(request, credentials)
        )
        return int(max(by_name, by_address // settings.ADDRESS_SHARE))


def pause(request: HttpRequest) -> timedelta:
    """How long a name or an address waits after too many wrong passwords: twice as long each time, until one was
    right.
    """
    name, address = getattr(request, "tried_name", ""), address_of(request)
    recent = AccessFailureLog.objects.filter(attempt_time__gt=timezone.now() - timedelta(hours=12))
    last_right = (
        AccessLog.objects.filter(username=name).order_by("-attempt_time").values_list("attempt_time", flat=True).first()
    )
    of_name = recent.filter(username=name, **({"attempt_time__gt": last_right} if last_right else {})).count()
    of_address = recent.filter(ip_address=address).count() // settings.ADDRESS_SHARE
    rounds = max(of_name, of_address) // settings.AXES_FAILURE_LIMIT
    return min(FIRST_PAUSE * int(2 ** max(min(rounds, 10) - 1, 0)), LONGEST_PAUSE)


def address_of(request: HttpRequest) -> str:
    """The client's address: behind our own proxy the one that it saw, which is the last that it wrote."""
    forwarded: str = request.META.get("HTTP_X_FORWARDED_FOR", "")
    if settings.HTTPS_PROXY and forwarded:
        return forwarded.rsplit(",", 1)[-1].strip()
    return str(request.META.get("REMOTE_ADDR") or "127.0.0.1")


def sign_in(request: HttpRequest, username: str, password: str) -> Membership:
    """Sign a member in.

    Raises
    ------
    NotSignedIn
        For a wrong name or password, without saying which.
    Busy
        After too many wrong ones.
    NotAllowed
        For accounts that may not sign in here; they get no session.
    """
    request.tried_name = username  # type: ignore[attr-defined]
    with _HASHING:
        user = authenticate(request, username=username, password=password)
    if user is None:
        if getattr(request, "axes_locked_out", False):
            seconds = pause(request).total_seconds()
            raise Busy(
                say(
                    "Too many wrong passwords. Wait {time} and try again, or ask the lead of your school for a new "
                    "link.",
                    time=_words(seconds),
                ),
                seconds,
            )
        raise NotSignedIn(WRONG, code="wrong_password")
    return begin_session(request, user, "signed_in")


def begin_session(request: HttpRequest, user: Any, action: str) -> Membership:
    """Give a person a session, when they may have one."""
    member = Membership.objects.select_related("user", "school").filter(user=user).first()
    if member is None:
        raise NotAllowed(NO_SCHOOL)
    if settings.BEYOND_LOOPBACK and member.user.is_demo:
        raise NotAllowed(DEMO_ELSEWHERE, code="demo_account")
    login(request, member.user, backend="people.sign_in.MemberBackend")
    keep_session(request, member.user)
    audit.note(member, action)
    return member


def keep_session(request: HttpRequest, user: User) -> None:
    """Write down a session, so that its owner can see and end it."""
    if request.session.session_key is None:
        request.session.save()
    SignedIn.objects.update_or_create(
        session_key=request.session.session_key or "", defaults={"user": user, "address": address_of(request)}
    )


def end_sessions(user: User, but: str | None = None) -> int:
    """End a person's sessions, except one; how many ended."""
    keys = list(SignedIn.objects.filter(user=user).exclude(session_key=but or "").values_list("session_key", flat=True))
    ended = Session.objects.filter(session_key__in=keys, expire_date__gt=timezone.now()).count()
    Session.objects.filter(session_key__in=keys).delete()
    SignedIn.objects.filter(session_key__in=keys).delete()
    return ended


def _words(seconds: float) -> str:
    return (
        say("{seconds:.0f} seconds", seconds=seconds)
        if seconds < 120
        else say("{minutes:.0f} minutes", minutes=seconds / 60)
    )
