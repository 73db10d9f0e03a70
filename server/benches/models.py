"""A bench is its beginning and the journal of what was done to it: everything else is computed again from these."""

from django.db import models

from people.models import User


class Bench(models.Model):
    """An engine that somebody has on a bench."""

    person = models.ForeignKey(User, on_delete=models.CASCADE, related_name="benches")
    name = models.CharField(max_length=80)
    beginning = models.JSONField()  # leitfaden_core.live.Beginning
    #: What may be touched, where the engine keeps its secret (leitfaden_core.live.Cover); null: a person's own bench.
    cover = models.JSONField(null=True)
    frame = models.PositiveIntegerField(default=0)  # as far as it is known to have run
    held_at = models.CharField(max_length=120, blank=True)  # address of the process that has it in hand
    core_version = models.CharField(max_length=20)
    opened_at = models.DateTimeField(auto_now_add=True)
    used_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-used_at", "-id"]

    def __str__(self) -> str:
        return self.name


class Recording(models.Model):
    """A recording in a person's own library: a stretch of a bench, or a file from elsewhere."""

    person = models.ForeignKey(User, on_delete=models.CASCADE, related_name="recordings")
    name = models.CharField(max_length=120)
    rig = models.CharField(max_length=20)
    seconds = models.FloatField()
    channels = models.JSONField()
    events = models.JSONField()
    stretches = models.JSONField()
    content = models.BinaryField()  # time and columns, as numpy's compressed archive
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.name


class Doing(models.Model):
    """A line of the journal. Rows are only ever appended; ``change`` is the id that the client made for it."""

    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="journal")
    number = models.PositiveIntegerField()
    frame = models.PositiveIntegerField()
    change = models.UUIDField()
    doing = models.JSONField()
    done_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["bench", "number"]
        constraints = [
            models.UniqueConstraint(fields=["bench", "number"], name="doing_number_once"),
            models.UniqueConstraint(fields=["bench", "change"], name="doing_change_once"),
        ]
