from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("practice", "0003_fill_seeds_of_assignments")]

    operations = [migrations.RemoveField(model_name="attempt", name="seed")]
