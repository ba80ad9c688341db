"""Exposures made on an outing learn where that was."""

from django.db import migrations


def tell(apps, schema_editor):
    Taken = apps.get_model("field", "Taken")
    for taken in Taken.objects.select_related("shot__outing", "exposure").iterator():
        outing = taken.shot.outing
        taken.exposure.place_id = outing and outing.place_id
        taken.exposure.azimuth_deg = taken.shot.azimuth_deg if outing else None
        taken.exposure.save(update_fields=["place", "azimuth_deg"])


class Migration(migrations.Migration):
    dependencies = [("field", "0005_preflash"), ("logbook", "0013_where")]
    operations = [migrations.RunPython(tell, migrations.RunPython.noop)]
