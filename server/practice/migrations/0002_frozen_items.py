import django.db.models.deletion
from django.db import migrations, models

import practice.models


class Migration(migrations.Migration):
    dependencies = [
        ("practice", "0001_initial"),
    ]

    operations = [
        migrations.AddField(
            model_name="assignment",
            name="seed",
            field=models.PositiveIntegerField(default=practice.models.new_seed),
        ),
        migrations.AddField(
            model_name="attempt",
            name="told",
            field=models.JSONField(blank=True, null=True),
        ),
        migrations.CreateModel(
            name="ItemKey",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("station", models.PositiveSmallIntegerField()),
                ("kind", models.CharField(max_length=20)),
                ("title", models.CharField(max_length=120)),
                ("parts", models.JSONField()),
                (
                    "assignment",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="keys", to="practice.assignment"
                    ),
                ),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("assignment", "station"), name="item_key_once")],
            },
        ),
        migrations.CreateModel(
            name="ItemLanes",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("station", models.PositiveSmallIntegerField()),
                ("content", models.BinaryField()),
                (
                    "assignment",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="lanes", to="practice.assignment"
                    ),
                ),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("assignment", "station"), name="item_lanes_once")],
            },
        ),
        migrations.CreateModel(
            name="ItemView",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("station", models.PositiveSmallIntegerField()),
                ("view", models.JSONField()),
                ("core_version", models.CharField(max_length=20)),
                ("prepared_at", models.DateTimeField(auto_now_add=True)),
                (
                    "assignment",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="views", to="practice.assignment"
                    ),
                ),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("assignment", "station"), name="item_view_once")],
            },
        ),
    ]
