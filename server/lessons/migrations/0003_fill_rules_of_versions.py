from typing import Any

from django.db import migrations


def point_at_rules(apps: Any, schema_editor: Any) -> None:
    """Each published version points at a version of the school's rules with the limits that it was published under."""
    rules = apps.get_model("accounts", "RulesVersion").objects
    for version in apps.get_model("library", "LessonVersion").objects.select_related("lesson"):
        limits = {"trim_good": version.trim_good, "trim_investigate": version.trim_investigate}
        of_school = rules.filter(school_id=version.lesson.school_id)
        found = next(
            (row for row in of_school.order_by("-number") if all(row.values[name] == limits[name] for name in limits)),
            None,
        )
        if found is None:
            # Older limits take a number before those in force, so that the newest stay the newest.
            newest = of_school.order_by("-number").first()
            newest.number += 1
            newest.save()
            found = rules.create(
                school_id=version.lesson.school_id, number=newest.number - 1, values=limits, note="as published before"
            )
        apps.get_model("library", "LessonVersion").objects.filter(pk=version.pk).update(rules=found)


def back_into_versions(apps: Any, schema_editor: Any) -> None:
    """The way back."""
    for version in apps.get_model("library", "LessonVersion").objects.select_related("rules"):
        apps.get_model("library", "LessonVersion").objects.filter(pk=version.pk).update(
            trim_good=version.rules.values["trim_good"], trim_investigate=version.rules.values["trim_investigate"]
        )


class Migration(migrations.Migration):
    dependencies = [("library", "0002_rules_of_a_version")]

    operations = [migrations.RunPython(point_at_rules, back_into_versions)]
