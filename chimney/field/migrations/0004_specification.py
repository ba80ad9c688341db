import django.db.models.deletion
from django.db import migrations, models

from chimney.parts.scales import parse_stops

READING = ("kind", "seconds", "meter_f", "meter_iso", "ev", "ev_iso", "lux", "sky", "height")
READING += ("darkest", "brightest", "hold", "felt_s")
SCHOOLS, EI_FROM = ("none", "power", "table"), ("learned", "box", "typed")


def specified(typed, developers):
    """The columns of a shot that its form, kept as text, spoke of; what cannot be read stays as a new shot has it."""

    def read(name, parse, default):
        try:
            return parse(typed.get(name) or "")
        except (ValueError, ArithmeticError):
            return default

    developer = read("developer", int, None)
    return {
        "developer_id": developer if developer in developers else None,
        "school": typed.get("school") if typed.get("school") in SCHOOLS else "",
        "ei_from": typed.get("ei_from") if typed.get("ei_from") in EI_FROM else "learned",
        "ei": read("ei", lambda text: float(text.lower().removeprefix("ei").replace(",", ".")), None),
        "filter_stops": read("filter_stops", parse_stops, 0.0),
        "compensation_stops": read("compensation_stops", parse_stops, 0.0),
        "hand_s": read("hand_s", int, 0),
        "reckon": bool(typed.get("reckon", "on")),
        "note": str(typed.get("note") or "")[:300],
        "reading": {name: typed[name] for name in READING if typed.get(name)},
    }


def one_specification(apps, schema_editor):
    """What stood in a shot's form as text becomes what it is made with."""
    shots, taken = apps.get_model("field", "Shot"), apps.get_model("field", "Taken")
    developers = set(apps.get_model("kit", "Developer").objects.values_list("pk", flat=True))
    for shot in shots.objects.all():
        if shot.typed:
            shots.objects.filter(pk=shot.pk).update(**specified(shot.typed, developers))
    for one in taken.objects.exclude(shot_before=None):
        taken.objects.filter(pk=one.pk).update(shot_before=specified(one.shot_before, developers))


class Migration(migrations.Migration):
    dependencies = [
        ("kit", "0010_papers_ranges"),
        ("field", "0003_once"),
    ]

    operations = [
        migrations.AddField("shot", "developer", models.ForeignKey(
            blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, to="kit.developer")),
        migrations.AddField("shot", "school", models.CharField(blank=True, choices=[("none", "no correction: as printing exposures are long anyway"), ("power", "power law above an onset"), ("table", "maker's table")], max_length=10)),
        migrations.AddField("shot", "ei_from", models.CharField(
            choices=[("learned", "learned from your own sheets"), ("box", "starting EI of the paper"), ("typed", "typed for this sheet")], default="learned", max_length=10)),
        migrations.AddField("shot", "ei", models.FloatField(blank=True, null=True)),
        migrations.AddField("shot", "filter_stops", models.FloatField(default=0.0)),
        migrations.AddField("shot", "compensation_stops", models.FloatField(default=0.0)),
        migrations.AddField("shot", "hand_s", models.PositiveSmallIntegerField(default=0)),
        migrations.AddField("shot", "reckon", models.BooleanField(default=True)),
        migrations.AddField("shot", "note", models.CharField(blank=True, max_length=300)),
        migrations.AddField("shot", "reading", models.JSONField(blank=True, default=dict)),
        migrations.RenameField("taken", "typed_before", "shot_before"),
        migrations.RunPython(one_specification, migrations.RunPython.noop, elidable=False),
        migrations.RemoveField("shot", "typed"),
    ]
