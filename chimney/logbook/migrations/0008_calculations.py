from django.db import migrations


class Migration(migrations.Migration):
    """The kept numbers are called what they are; what they look like inside is told by their version."""

    dependencies = [
        ("logbook", "0007_once"),
    ]

    operations = [
        migrations.RenameField("exposure", "sum", "calculation_data"),
    ]
