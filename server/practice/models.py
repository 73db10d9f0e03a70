"""Assignments, the frozen items that a learner is given, attempts, and the journal of answers.

Rows of the journal are only ever appended.
"""

import secrets

from django.db import models

from benches.models import Bench
from lessons.models import LessonVersion
from people.models import User


def new_seed() -> int:
    """A seed that gives a learner their own car."""
    return 1 + secrets.randbelow(2**30)


class AssignmentQuerySet(models.QuerySet["Assignment"]):
    """Reading assignments."""

    def of_learner(self, user: User) -> "AssignmentQuerySet":
        """What one learner has been given."""
        return self.filter(learner=user)


class Assignment(models.Model):
    """A published version given to a learner. The seed gives their car."""

    version = models.ForeignKey(LessonVersion, on_delete=models.PROTECT, related_name="assignments")
    learner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="assignments")
    seed = models.PositiveIntegerField(default=new_seed)
    #: With a closed book, though the lesson itself may be with an open one.
    closed_book = models.BooleanField(default=False)
    #: The debrief opens when the trainer says so, not when the learner has finished.
    debrief_held = models.BooleanField(default=False)
    assigned_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    assigned_at = models.DateTimeField(auto_now_add=True)

    objects = AssignmentQuerySet.as_manager()

    class Meta:
        ordering = ["-assigned_at", "id"]
        constraints = [models.UniqueConstraint(fields=["version", "learner"], name="assignment_once")]


class _OfStation(models.Model):
    """Something of one station of one assignment, computed once and never changed."""

    station = models.PositiveSmallIntegerField()

    class Meta:
        abstract = True


class ItemView(_OfStation):
    """What the learner sees at a station, numbers included.

    Learners' code reads this table and the lanes, and never the keys.
    """

    assignment = models.ForeignKey(Assignment, on_delete=models.CASCADE, related_name="views")
    view = models.JSONField()
    core_version = models.CharField(max_length=20)
    prepared_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["assignment", "station"], name="item_view_once")]


class ItemLanes(_OfStation):
    """The lanes of a station, as compressed JSON."""

    assignment = models.ForeignKey(Assignment, on_delete=models.CASCADE, related_name="lanes")
    content = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["assignment", "station"], name="item_lanes_once")]


class ItemKey(_OfStation):
    """The key of a station, worded in each system of units. Marking and the debrief read it, and a step that is
    taken.
    """

    assignment = models.ForeignKey(Assignment, on_delete=models.CASCADE, related_name="keys")
    kind = models.CharField(max_length=20)
    title = models.CharField(max_length=120)
    parts = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["assignment", "station"], name="item_key_once")]


class Attempt(models.Model):
    """One learner's way through a version.

    When it is finished, the marks are kept with the core's version and with what the debrief tells of the car: evidence
    stays as it was, also when a later core would mark or say otherwise.
    """

    assignment = models.OneToOneField(Assignment, on_delete=models.CASCADE, related_name="attempt")
    reached = models.PositiveSmallIntegerField(default=0)
    #: Stations that the learner does not get, by their results so far.
    left_out = models.JSONField(default=list)
    started_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True, blank=True)
    marked = models.JSONField(null=True, blank=True)
    told = models.JSONField(null=True, blank=True)
    core_version = models.CharField(max_length=20, blank=True)


class Entry(models.Model):
    """A line of the journal: an answer as it was given. The last one of a station counts."""

    attempt = models.ForeignKey(Attempt, on_delete=models.CASCADE, related_name="entries")
    station = models.PositiveSmallIntegerField()
    answer = models.JSONField()
    stored_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class StationBench(_OfStation):
    """The running engine that a learner has at a station."""

    attempt = models.ForeignKey(Attempt, on_delete=models.CASCADE, related_name="benches")
    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["attempt", "station"], name="station_bench_once")]


class StepTaken(_OfStation):
    """A choice that a learner has made at a step of a station, and been told what came of it: it stays."""

    attempt = models.ForeignKey(Attempt, on_delete=models.CASCADE, related_name="steps")
    name = models.CharField(max_length=8)
    choice = models.CharField(max_length=8)
    comes = models.TextField()
    hurts = models.BooleanField()
    taken_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["attempt", "station", "name"], name="step_once")]


class Dispute(models.Model):
    """A learner questions the key of a station in their debrief; a trainer lets it stand or grants the points.

    The marks that were kept stay as they were: what was granted is laid over them wherever they are shown.
    """

    class Outcome(models.TextChoices):
        """What has become of it."""

        OPEN = "open"
        STANDS = "stands"
        GRANTED = "granted"

    attempt = models.ForeignKey(Attempt, on_delete=models.CASCADE, related_name="disputes")
    station = models.PositiveSmallIntegerField()
    text = models.CharField(max_length=2_000)
    asked_at = models.DateTimeField(auto_now_add=True)
    outcome = models.CharField(max_length=10, choices=Outcome.choices, default=Outcome.OPEN)
    answer = models.CharField(max_length=2_000, blank=True)
    answered_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    answered_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["attempt", "station"], name="dispute_once")]
