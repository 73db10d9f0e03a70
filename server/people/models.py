"""Schools with their rules, people and the role that a person has in a school, and what is kept about what they did."""

import secrets
from datetime import timedelta
from hashlib import sha256
from typing import Any

from django.contrib.auth.models import AbstractUser
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models
from django.utils import timezone

from leitfaden_core.judge import RuleBook


class School(models.Model):
    """A school."""

    name = models.CharField(max_length=160, unique=True)
    #: Learners may have benches of their own, on which nothing is broken for them.
    learners_bench = models.BooleanField(default=False)

    def __str__(self) -> str:
        return self.name

    @property
    def rules(self) -> "RulesVersion":
        """The limits in force: the newest version."""
        newest = self.rule_versions.first()
        return (
            newest
            if newest is not None
            else RulesVersion.objects.create(school=self, number=1, values=RuleBook().model_dump())
        )


class RulesVersion(models.Model):
    """A school's limits as they were from one day on.

    Never changed: a verdict can always show the limits that it used.
    """

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="rule_versions")
    number = models.PositiveIntegerField()
    values = models.JSONField()
    note = models.CharField(max_length=300, blank=True)
    changed_by = models.ForeignKey("User", on_delete=models.SET_NULL, null=True, related_name="+")
    changed_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["school", "-number"]
        constraints = [models.UniqueConstraint(fields=["school", "number"], name="rules_version_number_once")]

    def __str__(self) -> str:
        return f"rules {self.number} of {self.school}"

    @property
    def book(self) -> RuleBook:
        """The limits."""
        return RuleBook.model_validate(self.values)


class User(AbstractUser):
    """A person, with the units that they want to see."""

    class Units(models.TextChoices):
        METRIC = "metric"
        IMPERIAL = "imperial"

    units = models.CharField(max_length=10, choices=Units.choices, default=Units.METRIC)
    language = models.CharField(max_length=10, default="en")
    #: Came with the sample data and has its password, which everybody knows.
    is_demo = models.BooleanField(default=False)

    @property
    def display_name(self) -> str:
        """Full name, or the sign-in name where there is none."""
        return self.get_full_name() or self.username


class Role(models.TextChoices):
    """What somebody is in a school."""

    LEAD = "lead"
    TRAINER = "trainer"
    LEARNER = "learner"


class Membership(models.Model):
    """A person's role in a school."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, related_name="membership")
    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices)

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(role__in=Role.values), name="membership_role_known")]

    def __str__(self) -> str:
        return f"{self.user} ({self.role})"


class SignInLink(models.Model):
    """A link that signs its bearer in once, to choose a password. Only its hash is kept."""

    LASTS = timedelta(days=7)

    token_hash = models.CharField(max_length=64, primary_key=True)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="sign_in_links")
    made_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()

    @classmethod
    def make(cls, user: User, made_by: User | None) -> str:
        """A new link for a person; older ones no longer work. Returns the secret part, which is not kept."""
        cls.objects.filter(user=user).delete()
        token = secrets.token_urlsafe(32)
        cls.objects.create(
            token_hash=cls.hash_of(token), user=user, made_by=made_by, expires_at=timezone.now() + cls.LASTS
        )
        return token

    @staticmethod
    def hash_of(token: str) -> str:
        """What is kept of a token."""
        return sha256(token.encode()).hexdigest()


class SignedIn(models.Model):
    """A session of a person, for the page on which they can end it."""

    session_key = models.CharField(max_length=40, primary_key=True)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="signed_in")
    started_at = models.DateTimeField(auto_now_add=True)
    address = models.GenericIPAddressField(null=True)


class Change(models.Model):
    """A change under the id that its client made for it, with the answer: a repeat gets that answer and changes
    nothing.
    """

    id = models.UUIDField(primary_key=True)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    operation = models.CharField(max_length=60)
    answer = models.JSONField(null=True, encoder=DjangoJSONEncoder)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["made_at"], name="change_made_at")]


class AuditEntry(models.Model):
    """Who did what that others may ask about later. Rows are only ever appended."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="audit")
    who = models.CharField(max_length=200)
    action = models.CharField(max_length=40)
    what = models.CharField(max_length=300)
    details = models.JSONField(default=dict)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["school", "-id"], name="audit_of_school")]

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Store once; a second save is refused."""
        if not self._state.adding:
            raise ValueError("an entry of the audit trail never changes")
        super().save(*args, **kwargs)
