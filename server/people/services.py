"""What can be done with people, passwords and rules. Each is one transaction by one acting member."""

import re
from typing import Any

from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone
from pydantic import ValidationError as DocumentError

from api.problems import Conflict, NotFound, Refused
from leitfaden_core.judge import RuleBook, ServiceBand
from leitfaden_core.validation import first_wrong
from leitfaden_core.words import say
from people import audit
from people.models import Membership, Role, RulesVersion, School, SignInLink, User
from people.sign_in import begin_session, end_sessions, keep_session

_NAME = re.compile(r"[a-z0-9][a-z0-9._-]{1,39}")


@transaction.atomic
def found_school(name: str, lead: str) -> tuple[School, str]:
    """A new school with its lead; the secret of the lead's one-time link."""
    if School.objects.filter(name=name).exists():
        raise Refused(say("There is a school called '{name}' already.", name=name), code="school_exists")
    school = School.objects.create(name=name)
    RulesVersion.objects.create(school=school, number=1, values=RuleBook().model_dump())
    user = _new_person(school, lead, "", "", Role.LEAD)
    return school, SignInLink.make(user, None)


def _new_person(school: School, username: str, first: str, last: str, role: str) -> User:
    if not _NAME.fullmatch(username):
        raise Refused(
            say(
                "'{name}' is no sign-in name: 2 to 40 small letters, digits, dots or dashes, beginning with a letter "
                "or digit.",
                name=username[:60],
            ),
            code="bad_name",
        )
    if User.objects.filter(username=username).exists():
        raise Refused(
            say("There is somebody with the sign-in name '{name}' already; choose another.", name=username),
            code="name_taken",
        )
    user = User(username=username, first_name=first, last_name=last)
    user.set_unusable_password()
    user.save()
    Membership.objects.create(user=user, school=school, role=role)
    return user


@transaction.atomic
def add_people(*, member: Membership, people: list[dict[str, str]]) -> list[dict[str, str]]:
    """New members of the lead's school, each with the secret of their one-time link."""
    made = []
    for person in people:
        user = _new_person(
            member.school, person["username"].strip().lower(), person["first_name"], person["last_name"], person["role"]
        )
        made.append({"username": user.username, "name": user.display_name, "token": SignInLink.make(user, member.user)})
        audit.note(member, "added_person", f"{user.display_name} ({user.username}) as {person['role']}")
    return made


def member_called(member: Membership, username: str) -> Membership:
    """Somebody of the same school."""
    found = Membership.objects.select_related("user").filter(school=member.school, user__username=username).first()
    if found is None:
        raise NotFound(say("There is nobody called '{name}' in your school.", name=username[:60]))
    return found


@transaction.atomic
def make_link(*, member: Membership, username: str) -> str:
    """A new one-time link for somebody who has lost their password; their sessions end."""
    other = member_called(member, username)
    token = SignInLink.make(other.user, member.user)
    end_sessions(other.user)
    audit.note(member, "made_link", f"{other.user.display_name} ({username})")
    return token


@transaction.atomic
def open_or_close(*, member: Membership, username: str, active: bool) -> Membership:
    """Close somebody's account, with everything of theirs kept, or open it again."""
    other = member_called(member, username)
    if other.user_id == member.user_id:
        raise Refused("You cannot close your own account; another lead can.", code="own_account")
    other.user.is_active = active
    other.user.save(update_fields=["is_active"])
    if not active:
        end_sessions(other.user)
    audit.note(member, "opened_account" if active else "closed_account", f"{other.user.display_name} ({username})")
    return other


def _set_password(user: User, password: str) -> None:
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Refused(" ".join(error.messages), code="weak_password") from error
    user.set_password(password)
    user.is_demo = False
    user.save(update_fields=["password", "is_demo"])


@transaction.atomic
def use_link(request: HttpRequest, token: str, password: str) -> Membership:
    """Choose a password by a one-time link, and sign in. A password that is refused leaves the link as it was."""
    link = (
        SignInLink.objects.select_for_update()
        .select_related("user")
        .filter(token_hash=SignInLink.hash_of(token))
        .first()
    )
    if link is None or link.expires_at < timezone.now() or not link.user.is_active:
        raise NotFound(
            "This link was used already, was replaced by a newer one, or is older than seven days. Ask for a new one."
        )
    _set_password(link.user, password)
    end_sessions(link.user)
    link.delete()
    return begin_session(request, link.user, "used_link")


@transaction.atomic
def change_password(request: HttpRequest, member: Membership, old: str, new: str) -> None:
    """Change one's own password; all other sessions end."""
    if not member.user.check_password(old):
        raise Refused("The present password is not right; nothing was changed.", code="wrong_password")
    _set_password(member.user, new)
    update_session_auth_hash(request, member.user)
    end_sessions(member.user)
    keep_session(request, member.user)
    audit.note(member, "changed_password")


@transaction.atomic
def change_own_values(*, member: Membership, own: list[ServiceBand], note: str) -> RulesVersion:
    """A new version of the school's rules with these service values; what is published keeps the version that it
    has.
    """
    School.objects.select_for_update().get(pk=member.school_id)
    present = member.school.rules
    book = present.book.model_copy(update={"own": tuple(own)})
    if book == present.book:
        return present
    values = book.model_dump(mode="json")
    return RulesVersion.objects.create(
        school=member.school, number=present.number + 1, values=values, note=note, changed_by=member.user
    )


@transaction.atomic
def change_rules(*, member: Membership, number: int, values: dict[str, Any], note: str) -> RulesVersion:
    """A new version of the school's rules, made from version ``number``."""
    School.objects.select_for_update().get(pk=member.school_id)
    present = member.school.rules
    if present.number != number:
        raise Conflict(
            say(
                "The rules were changed meanwhile (version {present}, you have {number}); reload to see them.",
                present=present.number,
                number=number,
            )
        )
    try:
        book = RuleBook.model_validate(values | {"own": present.values.get("own", [])})
    except DocumentError as error:
        place, sentence = first_wrong(error)
        raise Refused(f"{place}: {sentence}" if place else sentence, code="bad_rules") from error
    if book == present.book:
        raise Refused("Nothing has changed.", code="nothing_changed")
    changed = {name: value for name, value in book.model_dump().items() if value != present.values.get(name)}
    audit.note(
        member, "changed_rules", f"version {number + 1}: {note}" if note else f"version {number + 1}", changed=changed
    )
    return RulesVersion.objects.create(
        school=member.school, number=number + 1, values=book.model_dump(mode="json"), note=note, changed_by=member.user
    )
