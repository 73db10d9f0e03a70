import django.core.serializers.json
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name="AuditEntry",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("who", models.CharField(max_length=200)),
                ("action", models.CharField(max_length=40)),
                ("what", models.CharField(max_length=300)),
                ("details", models.JSONField(default=dict)),
                ("at", models.DateTimeField(auto_now_add=True)),
            ],
            options={
                "ordering": ["-id"],
            },
        ),
        migrations.CreateModel(
            name="Change",
            fields=[
                ("id", models.UUIDField(primary_key=True, serialize=False)),
                ("operation", models.CharField(max_length=60)),
                ("answer", models.JSONField(encoder=django.core.serializers.json.DjangoJSONEncoder, null=True)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
            ],
        ),
        migrations.CreateModel(
            name="RulesVersion",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("values", models.JSONField()),
                ("note", models.CharField(blank=True, max_length=300)),
                ("changed_at", models.DateTimeField(auto_now_add=True)),
            ],
            options={
                "ordering": ["school", "-number"],
            },
        ),
        migrations.CreateModel(
            name="SignedIn",
            fields=[
                ("session_key", models.CharField(max_length=40, primary_key=True, serialize=False)),
                ("started_at", models.DateTimeField(auto_now_add=True)),
                ("address", models.GenericIPAddressField(null=True)),
            ],
        ),
        migrations.CreateModel(
            name="SignInLink",
            fields=[
                ("token_hash", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("expires_at", models.DateTimeField()),
            ],
        ),
        migrations.AddField(
            model_name="user",
            name="is_demo",
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name="auditentry",
            name="school",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="audit", to="accounts.school"
            ),
        ),
        migrations.AddField(
            model_name="change",
            name="user",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="rulesversion",
            name="changed_by",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="rulesversion",
            name="school",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="rule_versions", to="accounts.school"
            ),
        ),
        migrations.AddField(
            model_name="signedin",
            name="user",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="signed_in", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="signinlink",
            name="made_by",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="signinlink",
            name="user",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="sign_in_links", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddIndex(
            model_name="auditentry",
            index=models.Index(fields=["school", "-id"], name="audit_of_school"),
        ),
        migrations.AddIndex(
            model_name="change",
            index=models.Index(fields=["made_at"], name="change_made_at"),
        ),
        migrations.AddConstraint(
            model_name="rulesversion",
            constraint=models.UniqueConstraint(fields=("school", "number"), name="rules_version_number_once"),
        ),
    ]
