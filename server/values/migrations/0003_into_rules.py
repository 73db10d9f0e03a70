"""Service values that were there before verdicts went by them."""

from typing import Any

from django.db import migrations


def into_rules(apps: Any, schema_editor: Any) -> None:
    school, value, version = (
        apps.get_model(*name)
        for name in (("accounts", "School"), ("values", "ServiceValue"), ("accounts", "RulesVersion"))
    )
    for owner in school.objects.filter(pk__in=value.objects.values("school")):
        newest = version.objects.filter(school=owner).order_by("-number").first()
        if newest is None:
            continue
        own = [
            {name: getattr(row, name) for name in ("rig", "condition", "channel", "low", "high")}
            | {"source": ", ".join(filter(None, (row.source, row.vehicle)))}
            for row in value.objects.filter(school=owner)
        ]
        version.objects.create(
            school=owner, number=newest.number + 1, values=newest.values | {"own": own}, note="service values"
        )


class Migration(migrations.Migration):
    dependencies = [("values", "0002_vehicle"), ("accounts", "0005_learners_bench")]

    operations = [migrations.RunPython(into_rules, migrations.RunPython.noop)]
