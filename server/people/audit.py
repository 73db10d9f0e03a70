"""The trail of what people did: written in the same transaction as what was done."""

from typing import Any

from people.models import AuditEntry, Membership, School

#: Actions in words, for the page that shows the trail.
ACTIONS = {
    "signed_in": "signed in",
    "used_link": "signed in by a one-time link and chose a password",
    "changed_password": "changed their password",
    "ended_sessions": "ended their other sessions",
    "made_link": "made a one-time link for",
    "added_person": "added",
    "closed_account": "closed the account of",
    "opened_account": "opened the account of",
    "changed_rules": "changed the school's rules",
    "bench_opened": "opened the bench for learners",
    "bench_closed": "closed the bench for learners",
    "published": "published",
    "assigned": "gave",
    "debrief_opened": "opened debriefs of",
    "granted": "granted the points of",
    "let_stand": "let the key stand of",
    "archived": "put away",
    "restored": "took back",
    "service_value": "kept a service value from",
    "service_value_deleted": "deleted the service value from",
    "exported": "exported",
}


def note(member: Membership, action: str, what: str = "", **details: Any) -> None:
    """Write down that a member did something."""
    assert action in ACTIONS
    who = f"{member.user.display_name} ({member.user.username}, {member.role})"
    AuditEntry.objects.create(school=member.school, who=who[:200], action=action, what=what[:300], details=details)


def note_at_machine(action: str, what: str) -> None:
    """Write into every school's trail what somebody did at the machine itself."""
    assert action in ACTIONS
    for school in School.objects.all():
        AuditEntry.objects.create(school=school, who="at the machine", action=action, what=what)
