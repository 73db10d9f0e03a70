"""Drills, where each learner stands with each kind of fault, and the journal of trials.

A trial is only ever added, and answered once.
"""

from typing import Any

from django.db import models
from django.db.models import Count, Q

from people.models import Membership, Role, School, User


class DrillQuerySet(models.QuerySet["Drill"]):
    """Reading drills."""

    def seen_by(self, member: Membership) -> "DrillQuerySet":
        """Those of the school, and for learners those of their own: never another learner's."""
        mine = Q(learner=member.user) if member.role == Role.LEARNER else Q()
        return self.filter(Q(learner=None) | mine, school=member.school)

    def with_trials_of(self, user: User) -> "DrillQuerySet":
        """With how many trials somebody has answered."""
        return self.annotate(
            answered=Count("trials", filter=Q(trials__learner=user, trials__answered_at__isnull=False))
        )


class Drill(models.Model):
    """Kinds of faults to be found: the school's, or (``learner``) one that a learner has made for themselves."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="drills")
    learner = models.ForeignKey(User, on_delete=models.CASCADE, null=True, related_name="own_drills")
    title = models.CharField(max_length=160)
    entries = models.JSONField()
    made_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    objects = DrillQuerySet.as_manager()

    class Meta:
        ordering = ["title", "id"]


class Standing(models.Model):
    """Where a learner stands with a kind of fault, over all drills: the staircase of its size, and when it is due."""

    learner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="standings")
    kind = models.CharField(max_length=60)
    staircase = models.JSONField(default=dict)
    card = models.JSONField(null=True)
    due_at = models.DateTimeField(null=True)
    last_rig = models.CharField(max_length=20, blank=True)

    class Meta:
        ordering = ["kind"]
        constraints = [models.UniqueConstraint(fields=["learner", "kind"], name="standing_once")]


class Trial(models.Model):
    """An item that a learner was given: what was asked of the model, what they saw, its key, and what they said."""

    drill = models.ForeignKey(Drill, on_delete=models.CASCADE, related_name="trials")
    learner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="trials")
    ask = models.JSONField()
    view = models.JSONField(null=True)
    key = models.JSONField(null=True)
    said = models.CharField(max_length=10, blank=True)
    confidence = models.PositiveSmallIntegerField(null=True)
    right = models.BooleanField(null=True)
    core_version = models.CharField(max_length=20, blank=True)
    asked_at = models.DateTimeField(auto_now_add=True)
    answered_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["drill", "learner"], condition=Q(answered_at=None), name="one_open_trial_of_a_drill"
            )
        ]

    @property
    def kind(self) -> Any:
        """The kind of fault that it is about."""
        return self.ask["fault"]["kind"]
