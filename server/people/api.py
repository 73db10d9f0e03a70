"""Sign in and out, one's own account, and for leads: people, rules, the audit trail."""

from dataclasses import asdict
from typing import Any

from django.contrib.auth import logout
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Path, Query, Router

from api.problems import Problem
from leitfaden_core.judge import RULES
from leitfaden_core.words import in_language
from people import audit, schemas, services
from people.changes import once
from people.models import AuditEntry, Membership, RulesVersion, SignedIn
from people.permissions import allowed, current_member, may
from people.sign_in import end_sessions, sign_in

router = Router(tags=["people"])
Username: Any = Path(max_length=150, pattern=r"^[\w.@+-]+$")  # type: ignore[type-arg]
Before: Any = Query(None, ge=1, le=2**31 - 1)  # type: ignore[type-arg]
AUDIT_PAGE = 100


def _me(member: Membership) -> dict[str, Any]:
    user = member.user
    return {
        "username": user.username,
        "name": user.display_name,
        "role": member.role,
        "school": member.school.name,
        "units": user.units,
        "language": user.language,
        "demo": user.is_demo,
        "bench": may(member, "bench.use"),
    }


# --- signing in
# --------------------------------------------------------------------------------------------------------------------


@router.post("/session", response={200: schemas.Me}, operation_id="signIn", summary="Sign in", auth=None)
def open_session(request: HttpRequest, payload: schemas.SignIn) -> dict[str, Any]:
    return _me(sign_in(request, payload.username.strip(), payload.password))


@router.post(
    "/session/link",
    response={200: schemas.Me},
    operation_id="useLink",
    summary="Choose a password by a one-time link",
    auth=None,
)
def use_link(request: HttpRequest, payload: schemas.UseLink) -> dict[str, Any]:
    return _me(services.use_link(request, payload.token, payload.password))


@router.get(
    "/session",
    response={200: schemas.Me | None, 403: Problem},
    operation_id="me",
    summary="Who is signed in; null for nobody",
    auth=None,
)
def me(request: HttpRequest) -> dict[str, Any] | None:
    get_token(request)
    return _me(current_member(request)) if request.user.is_authenticated else None


@router.delete("/session", response={200: schemas.Done}, operation_id="signOut", summary="Sign out", auth=None)
def sign_out(request: HttpRequest) -> dict[str, Any]:
    SignedIn.objects.filter(session_key=request.session.session_key or "").delete()
    logout(request)
    return {"done": True}


@router.patch("/session", response={200: schemas.Me}, operation_id="changeSettings", summary="Change units or language")
@allowed("account.read")
@once()
def change_settings(request: HttpRequest, payload: schemas.Settings) -> dict[str, Any]:
    user = request.member.user  # type: ignore[attr-defined]
    for name, value in payload.dict(exclude_none=True).items():
        setattr(user, name, value)
    user.save(update_fields=["units", "language"])
    return _me(request.member)  # type: ignore[attr-defined]


@router.post(
    "/session/password",
    response={200: schemas.Done},
    operation_id="changePassword",
    summary="Change my password",
)
@allowed("account.read")
@once()
def change_password(request: HttpRequest, payload: schemas.NewPassword) -> dict[str, Any]:
    services.change_password(request, request.member, payload.old, payload.new)  # type: ignore[attr-defined]
    return {"done": True}


@router.get(
    "/sessions",
    response={200: list[schemas.SessionOut]},
    operation_id="sessions",
    summary="Where I am signed in",
)
@allowed("account.read")
def sessions(request: HttpRequest) -> list[dict[str, Any]]:
    living = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    found = SignedIn.objects.filter(user=request.member.user, session_key__in=living).order_by("-started_at")  # type: ignore[attr-defined]
    here = request.session.session_key
    return [{"started_at": row.started_at, "address": row.address, "here": row.session_key == here} for row in found]


@router.delete(
    "/sessions", response={200: schemas.Done}, operation_id="endSessions", summary="End all my other sessions"
)
@allowed("account.read")
@once()
def end_other_sessions(request: HttpRequest) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    count = end_sessions(member.user, but=request.session.session_key)
    audit.note(member, "ended_sessions")
    return {"done": True, "count": count}


# --- the school's people
# -----------------------------------------------------------------------------------------------------------


@router.get(
    "/people",
    response={200: list[schemas.PersonOut]},
    operation_id="people",
    summary="Everybody in the school",
)
@allowed("people.manage")
def people(request: HttpRequest) -> list[dict[str, Any]]:
    school = request.member.school  # type: ignore[attr-defined]
    found = Membership.objects.filter(school=school).select_related("user").prefetch_related("user__sign_in_links")
    return [_person(row) for row in found.order_by("role", "user__last_name", "user__username")]


def _person(row: Membership) -> dict[str, Any]:
    user = row.user
    waits = any(link.expires_at > timezone.now() for link in user.sign_in_links.all())
    return {
        "username": user.username,
        "name": user.display_name,
        "role": row.role,
        "active": user.is_active,
        "link_waits": waits,
        "last_sign_in": user.last_login,
    }


def _link(made: dict[str, str]) -> dict[str, str]:
    # Behind the #: that part of an address never reaches a server or its log.
    return {"username": made["username"], "name": made["name"], "path": f"/welcome#{made['token']}"}


@router.post(
    "/people",
    response={200: list[schemas.LinkOut]},
    operation_id="addPeople",
    summary="Add people; a one-time link for each",
)
@allowed("people.manage")
@once(hide="path")
def add_people(request: HttpRequest, payload: schemas.NewPeople) -> list[dict[str, str]]:
    made = services.add_people(member=request.member, people=[person.dict() for person in payload.people])  # type: ignore[attr-defined]
    return [_link(row) for row in made]


@router.post(
    "/people/{username}/link",
    response={200: schemas.LinkOut},
    operation_id="makeLink",
    summary="A new one-time link for somebody",
)
@allowed("people.manage")
@once(hide="path")
def make_link(request: HttpRequest, username: str = Username) -> dict[str, str]:
    token = services.make_link(member=request.member, username=username)  # type: ignore[attr-defined]
    name = services.member_called(request.member, username).user.display_name  # type: ignore[attr-defined]
    return _link({"username": username, "name": name, "token": token})


@router.patch(
    "/people/{username}",
    response={200: schemas.PersonOut},
    operation_id="changePerson",
    summary="Close or open an account",
)
@allowed("people.manage")
@once()
def change_person(request: HttpRequest, payload: schemas.PersonChange, username: str = Username) -> dict[str, Any]:
    return _person(services.open_or_close(member=request.member, username=username, active=payload.active))  # type: ignore[attr-defined]


# --- the school's rules
# ------------------------------------------------------------------------------------------------------------


def _rules_version(row: RulesVersion) -> dict[str, Any]:
    return {
        "number": row.number,
        "values": row.book.model_dump(exclude={"own"}),
        "note": row.note,
        "changed_by": row.changed_by.display_name if row.changed_by else "",
        "changed_at": row.changed_at,
    }


@router.get(
    "/rules",
    response={200: schemas.RulesOut},
    operation_id="rules",
    summary="The school's limits, all versions",
)
@allowed("rules.read")
def rules(request: HttpRequest) -> dict[str, Any]:
    school = request.member.school  # type: ignore[attr-defined]
    assert school.rules
    versions = school.rule_versions.select_related("changed_by")
    return {"rules": [asdict(rule) for rule in RULES], "versions": [_rules_version(row) for row in versions]}


@router.put(
    "/rules",
    response={200: schemas.RulesVersionOut},
    operation_id="changeRules",
    summary="A new version of the limits",
)
@allowed("rules.change")
@once()
def change_rules(request: HttpRequest, payload: schemas.RulesIn) -> dict[str, Any]:
    made = services.change_rules(member=request.member, number=payload.number, values=payload.values, note=payload.note)  # type: ignore[attr-defined]
    return _rules_version(made)


# --- the audit trail
# ---------------------------------------------------------------------------------------------------------------


@router.get(
    "/audit",
    response={200: list[schemas.AuditOut]},
    operation_id="audit",
    summary="Who did what, newest first",
)
@allowed("audit.read")
def audit_trail(request: HttpRequest, before: int | None = Before) -> list[dict[str, Any]]:
    found = AuditEntry.objects.filter(school=request.member.school)  # type: ignore[attr-defined]
    if before is not None:
        found = found.filter(pk__lt=before)
    return [
        {
            "id": row.pk,
            "at": row.at,
            "who": row.who,
            "action": row.action,
            "words": in_language(audit.ACTIONS[row.action]),
            "what": row.what,
            "details": row.details,
        }
        for row in found[:AUDIT_PAGE]
    ]


@router.get("/school", response={200: schemas.SchoolOut}, operation_id="school", summary="The school")
@allowed("rules.read")
def school(request: HttpRequest) -> Any:
    return request.member.school  # type: ignore[attr-defined]


@router.patch(
    "/school",
    response={200: schemas.SchoolOut},
    operation_id="changeSchool",
    summary="Open the bench for learners, or close it",
)
@allowed("rules.change")
@once()
def change_school(request: HttpRequest, payload: schemas.SchoolIn) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    member.school.learners_bench = payload.learners_bench
    member.school.save(update_fields=["learners_bench"])
    audit.note(member, "bench_opened" if payload.learners_bench else "bench_closed")
    return {"name": member.school.name, "learners_bench": member.school.learners_bench}
