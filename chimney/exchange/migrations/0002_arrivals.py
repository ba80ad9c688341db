"""One list of names for each kind that came together, in place of one row a row."""

import django.db.models.deletion
from django.db import migrations, models


def gather(apps, schema_editor):
    Identity, Arrivals = (apps.get_model("exchange", name) for name in ("Identity", "Arrivals"))
    lists = {}
    for bringing, kind, row, uid in Identity.objects.values_list("bringing", "kind", "row", "uid"):
        lists.setdefault((bringing, kind), {})[row] = uid
    for (bringing, kind), uids in lists.items():
        Arrivals.objects.create(bringing_id=bringing, kind=kind, uids=uids)


class Migration(migrations.Migration):
    dependencies = [("exchange", "0001_exchange")]
    operations = [
        migrations.CreateModel(
            name="Arrivals",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("kind", models.CharField(max_length=40)),
                ("uids", models.JSONField(default=dict)),
                (
                    "bringing",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="arrivals",
                        to="exchange.bringing",
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("bringing", "kind"), name="one_list_a_kind")
                ],
            },
        ),
        migrations.RunPython(gather, migrations.RunPython.noop),
        migrations.DeleteModel(name="Identity"),
    ]
