from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("accounts", "0003_fill_first_rules")]

    operations = [
        migrations.RemoveConstraint(model_name="school", name="school_trim_limits_in_order"),
        migrations.RemoveField(model_name="school", name="trim_good"),
        migrations.RemoveField(model_name="school", name="trim_investigate"),
    ]
