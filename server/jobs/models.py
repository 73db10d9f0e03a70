"""What was asked of the model and what came out."""

from django.db import models

from people.models import User


class Computation(models.Model):
    """One question to the model. The key holds the sources of the core, the kind and the wish, so that a changed model
    is asked anew.

    Everything here can be computed again: the table is not logged for crashes, and old rows are thrown away.
    """

    class State(models.TextChoices):
        QUEUED = "queued"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"

    key = models.CharField(max_length=64, primary_key=True)
    kind = models.CharField(max_length=40)
    wish = models.JSONField()
    person = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    page = models.CharField(max_length=40, blank=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.QUEUED)
    tries = models.PositiveSmallIntegerField(default=0)
    share = models.FloatField(default=0.0)
    says = models.CharField(max_length=200, blank=True)
    error = models.JSONField(null=True)
    result = models.BinaryField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    asked_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["state", "person"], name="computation_waiting")]

    @property
    def is_over(self) -> bool:
        """Whether there is an answer, good or bad."""
        return self.state in {self.State.DONE, self.State.FAILED}
