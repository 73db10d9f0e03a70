import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Computation",
            fields=[
                ("key", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("kind", models.CharField(max_length=40)),
                ("wish", models.JSONField()),
                ("page", models.CharField(blank=True, max_length=40)),
                (
                    "state",
                    models.CharField(
                        choices=[("queued", "Queued"), ("running", "Running"), ("done", "Done"), ("failed", "Failed")],
                        default="queued",
                        max_length=10,
                    ),
                ),
                ("tries", models.PositiveSmallIntegerField(default=0)),
                ("share", models.FloatField(default=0.0)),
                ("says", models.CharField(blank=True, max_length=200)),
                ("error", models.JSONField(null=True)),
                ("result", models.BinaryField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("asked_at", models.DateTimeField()),
                ("finished_at", models.DateTimeField(null=True)),
                (
                    "person",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "indexes": [models.Index(fields=["state", "person"], name="computation_waiting")],
            },
        ),
        # Everything in it can be computed again: no need to write it twice, and after a crash it is empty.
        migrations.RunSQL("alter table jobs_computation set unlogged", "alter table jobs_computation set logged"),
    ]
