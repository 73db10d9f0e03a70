from typing import Any

from django.db import migrations


def seed_to_assignment(apps: Any, schema_editor: Any) -> None:
    """The car that a learner has begun with stays theirs; who has not begun keeps the seed that was just drawn."""
    for attempt in apps.get_model("practice", "Attempt").objects.select_related("assignment"):
        attempt.assignment.seed = attempt.seed
        attempt.assignment.save(update_fields=["seed"])


def seed_to_attempt(apps: Any, schema_editor: Any) -> None:
    """The way back."""
    for attempt in apps.get_model("practice", "Attempt").objects.select_related("assignment"):
        attempt.seed = attempt.assignment.seed
        attempt.save(update_fields=["seed"])


def draw_apart(apps: Any, schema_editor: Any) -> None:
    """A default fills all rows with one value: each assignment draws its own."""
    from practice.models import new_seed

    for assignment in apps.get_model("practice", "Assignment").objects.all():
        assignment.seed = new_seed()
        assignment.save(update_fields=["seed"])


class Migration(migrations.Migration):
    dependencies = [("practice", "0002_frozen_items")]

    operations = [
        migrations.RunPython(draw_apart, migrations.RunPython.noop),
        migrations.RunPython(seed_to_assignment, seed_to_attempt),
    ]
