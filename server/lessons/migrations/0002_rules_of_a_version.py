import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("accounts", "0003_fill_first_rules"), ("library", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="lessonversion",
            name="rules",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="accounts.rulesversion"
            ),
        ),
    ]
