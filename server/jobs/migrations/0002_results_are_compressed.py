"""Answers come compressed: the database need not try to compress them once more, which took as long as keeping them."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("jobs", "0001_computations")]

    operations = [
        migrations.RunSQL(
            "ALTER TABLE jobs_computation ALTER COLUMN result SET STORAGE EXTERNAL",
            "ALTER TABLE jobs_computation ALTER COLUMN result SET STORAGE EXTENDED",
        )
    ]
