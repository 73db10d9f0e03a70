"""A school's own service values: what its sources give for an engine, beside what the model computes."""

from django.db import models

from people.models import School, User


class ServiceValue(models.Model):
    """Limits of a value in a condition, in the channel's kept unit, with where they come from."""

    school = models.ForeignKey(School, on_delete=models.CASCADE)
    rig = models.CharField(max_length=20)
    condition = models.CharField(max_length=40)
    channel = models.CharField(max_length=60)
    low = models.FloatField()
    high = models.FloatField()
    source = models.CharField(max_length=200)
    vehicle = models.CharField(max_length=80, blank=True)
    made_at = models.DateTimeField(auto_now=True)
    made_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["school", "rig", "condition", "channel"], name="one_service_value_each"),
            models.CheckConstraint(condition=models.Q(low__lte=models.F("high")), name="service_value_low_to_high"),
        ]
        ordering = ["condition", "channel"]

    def __str__(self) -> str:
        return f"{self.rig} {self.condition} {self.channel}"
