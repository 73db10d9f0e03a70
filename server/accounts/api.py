"""Sign in, sign out, and one's own settings."""

from typing import Literal

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from pydantic import Field

from accounts.models import Membership
from accounts.permissions import allowed, current_member
from api.problems import NotSignedIn, Problem

router = Router(tags=["accounts"])


class SignIn(Schema):
    """Name and password."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=500)


class Me(Schema):
    """The signed-in person."""

    username: str
    name: str
    role: str
    school: str
    units: Literal["metric", "imperial"]
    language: str
    trim_good: float
    trim_investigate: float


class Settings(Schema):
    """What a person may change about the display."""

    units: Literal["metric", "imperial"] | None = None
    language: Literal["en"] | None = None


def _me(member: Membership) -> Me:
    user, school = member.user, member.school
    return Me(
        username=user.username,
        name=user.display_name,
        role=member.role,
        school=school.name,
        units=user.units,  # type: ignore[arg-type]
        language=user.language,
        trim_good=school.trim_good,
        trim_investigate=school.trim_investigate,
    )


@router.post("/session", response={200: Me, 401: Problem, 403: Problem, 422: Problem}, operation_id="signIn", summary="Sign in", auth=None)
def sign_in(request: HttpRequest, payload: SignIn) -> Me:
    user = authenticate(request, username=payload.username.strip(), password=payload.password)
    if user is None:
        raise NotSignedIn("Name and password do not belong together. Check both; the name is kept.", code="wrong_password")
    login(request, user)
    return _me(current_member(request))


@router.get("/session", response={200: Me | None, 403: Problem}, operation_id="me", summary="Who is signed in; null for nobody", auth=None)
def me(request: HttpRequest) -> Me | None:
    get_token(request)
    return _me(current_member(request)) if request.user.is_authenticated else None


@router.delete("/session", response={200: dict[str, bool]}, operation_id="signOut", summary="Sign out")
def sign_out(request: HttpRequest) -> dict[str, bool]:
    logout(request)
    return {"signed_out": True}


@router.patch(
    "/session",
    response={200: Me, 401: Problem, 403: Problem, 422: Problem},
    operation_id="changeSettings",
    summary="Change units or language",
)
@allowed("account.read")
def change_settings(request: HttpRequest, payload: Settings) -> Me:
    user = request.member.user  # type: ignore[attr-defined]
    for name, value in payload.dict(exclude_none=True).items():
        setattr(user, name, value)
    user.save(update_fields=["units", "language"])
    return _me(request.member)  # type: ignore[attr-defined]
