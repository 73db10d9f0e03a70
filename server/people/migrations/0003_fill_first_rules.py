from typing import Any

from django.db import migrations


def first_version(apps: Any, schema_editor: Any) -> None:
    """Each school's limits become the first version of its rules; limits that it did not set yet take their usual values when read."""
    version = apps.get_model("accounts", "RulesVersion")
    for school in apps.get_model("accounts", "School").objects.all():
        values = {"trim_good": school.trim_good, "trim_investigate": school.trim_investigate}
        version.objects.get_or_create(school=school, number=1, defaults={"values": values})


def into_school(apps: Any, schema_editor: Any) -> None:
    """The way back: the newest version's limits into the school."""
    for row in apps.get_model("accounts", "RulesVersion").objects.order_by("number").select_related("school"):
        row.school.trim_good, row.school.trim_investigate = row.values["trim_good"], row.values["trim_investigate"]
        row.school.save()


def mark_demo(apps: Any, schema_editor: Any) -> None:
    """Accounts of the sample data, which the first release did not mark."""
    names = ["albrecht", "brandt", "ritter", "sommer", "vogt", "weiss"]
    users = apps.get_model("accounts", "User").objects
    users.filter(username__in=names, membership__school__name="Hollerbach District Workshop School").update(
        is_demo=True
    )


class Migration(migrations.Migration):
    dependencies = [("accounts", "0002_rules_links_audit")]

    operations = [
        migrations.RunPython(first_version, into_school),
        migrations.RunPython(mark_demo, migrations.RunPython.noop),
    ]
