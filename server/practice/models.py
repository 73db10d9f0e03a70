"""Assignments, attempts, and the journal of answers. Rows of the journal are only ever appended."""

from django.db import models

from accounts.models import User
from library.models import LessonVersion


class AssignmentQuerySet(models.QuerySet["Assignment"]):
    """Reading assignments."""

    def of_learner(self, user: User) -> "AssignmentQuerySet":
        """What one learner has been given."""
        return self.filter(learner=user)


class Assignment(models.Model):
    """A published version given to a learner."""

    version = models.ForeignKey(LessonVersion, on_delete=models.PROTECT, related_name="assignments")
    learner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="assignments")
    assigned_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    assigned_at = models.DateTimeField(auto_now_add=True)

    objects = AssignmentQuerySet.as_manager()

    class Meta:
        ordering = ["-assigned_at", "id"]
        constraints = [models.UniqueConstraint(fields=["version", "learner"], name="assignment_once")]


class Attempt(models.Model):
    """One learner's way through a version.

    The seed gives their car; what the model computes is recomputed while the attempt runs. When it is finished, the marks are kept with the
    core's version: evidence stays as it was, also when a later core would mark otherwise.
    """

    assignment = models.OneToOneField(Assignment, on_delete=models.CASCADE, related_name="attempt")
    seed = models.PositiveIntegerField()
    reached = models.PositiveSmallIntegerField(default=0)
    started_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True, blank=True)
    marked = models.JSONField(null=True, blank=True)
    core_version = models.CharField(max_length=20, blank=True)


class Entry(models.Model):
    """A line of the journal: an answer as it was given. The last one of a station counts."""

    attempt = models.ForeignKey(Attempt, on_delete=models.CASCADE, related_name="entries")
    station = models.PositiveSmallIntegerField()
    answer = models.JSONField()
    stored_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
