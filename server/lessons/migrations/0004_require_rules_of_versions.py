import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0003_fill_rules_of_versions")]

    operations = [
        migrations.AlterField(
            model_name="lessonversion",
            name="rules",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="+", to="accounts.rulesversion"
            ),
        ),
        migrations.RemoveField(model_name="lessonversion", name="trim_good"),
        migrations.RemoveField(model_name="lessonversion", name="trim_investigate"),
    ]
