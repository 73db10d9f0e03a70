"""Lessons: a draft that changes, and versions that never do."""

from typing import Any

from django.db import models
from django.db.models import Count, Exists, OuterRef, Q, Subquery

from people.models import RulesVersion, School, User


class LessonQuerySet(models.QuerySet["Lesson"]):
    """Reading lessons."""

    def of_school(self, school: School) -> "LessonQuerySet":
        """Lessons of one school."""
        return self.filter(school=school)

    def with_state(self) -> "LessonQuerySet":
        """With what a list tells about the last published version, in the same query however many lessons there are."""
        last = LessonVersion.objects.filter(lesson=OuterRef("pk")).order_by("-number")
        given = last.annotate(
            assigned=Count("assignments"),
            finished=Count("assignments", filter=Q(assignments__attempt__finished_at__isnull=False)),
        )
        return self.select_related("updated_by").annotate(
            version=Subquery(last.values("number")[:1]),
            as_published=Exists(last.filter(number=OuterRef("version"), document=OuterRef("draft"))),
            assigned=Subquery(given.values("assigned")[:1]),
            finished=Subquery(given.values("finished")[:1]),
        )


class Lesson(models.Model):
    """A lesson of a school. ``draft`` is what the editor shows; ``revision`` counts its changes."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="lessons")
    title = models.CharField(max_length=160)
    draft = models.JSONField()
    revision = models.PositiveIntegerField(default=1)
    updated_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    updated_at = models.DateTimeField(auto_now=True)
    archived_at = models.DateTimeField(null=True, blank=True)

    objects = LessonQuerySet.as_manager()

    class Meta:
        ordering = ["title", "id"]

    def __str__(self) -> str:
        return self.title


class Picture(models.Model):
    """An own picture of a school, cleaned; ``digest`` is the hash of its content, by which lessons name it."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="pictures")
    digest = models.CharField(max_length=64)
    content = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    added_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["school", "digest"], name="picture_once")]


class Comment(models.Model):
    """A word for a colleague at a station of a draft (``station``: its id; empty: the lesson as a whole)."""

    lesson = models.ForeignKey(Lesson, on_delete=models.CASCADE, related_name="comments")
    station = models.CharField(max_length=40, blank=True)
    text = models.CharField(max_length=2_000)
    author = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    written_at = models.DateTimeField(auto_now_add=True)
    settled_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]


class LessonVersion(models.Model):
    """A published version: document and rules as they were.

    Never changed, never deleted while somebody has worked with it.
    """

    lesson = models.ForeignKey(Lesson, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    rules = models.ForeignKey(RulesVersion, on_delete=models.PROTECT, related_name="+")
    core_version = models.CharField(max_length=20)
    published_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    published_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["lesson", "-number"]
        constraints = [models.UniqueConstraint(fields=["lesson", "number"], name="lesson_version_number_once")]

    def __str__(self) -> str:
        return f"{self.document.get('title', '')} v{self.number}"

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Store once; a second save is refused."""
        if not self._state.adding:
            raise ValueError("a published version never changes; publish a new one")
        super().save(*args, **kwargs)
