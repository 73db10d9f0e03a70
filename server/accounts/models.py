"""Schools, people, and the role that a person has in a school."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class School(models.Model):
    """A school with its own rules of judgement."""

    name = models.CharField(max_length=160, unique=True)
    trim_good = models.FloatField(default=5.0)
    trim_investigate = models.FloatField(default=10.0)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(trim_good__gt=0) & models.Q(trim_investigate__gt=models.F("trim_good")),
                name="school_trim_limits_in_order",
            )
        ]

    def __str__(self) -> str:
        return self.name


class User(AbstractUser):
    """A person, with the units that they want to see."""

    class Units(models.TextChoices):
        METRIC = "metric"
        IMPERIAL = "imperial"

    units = models.CharField(max_length=10, choices=Units.choices, default=Units.METRIC)
    language = models.CharField(max_length=10, default="en")

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
