from django.apps import AppConfig
from django.db.models.signals import post_delete


class FieldConfig(AppConfig):
    name = "chimney.field"

    def ready(self):
        from chimney.field.foreseen import flows as foreseen
        from chimney.field.models import ScenePhoto
        from chimney.field.plan import flows
        from chimney.logbook.signals import slipped, unmade
        from chimney.results.signals import scanned

        unmade.connect(lambda sender, exposure, **kwargs: flows.untake(exposure), weak=False)
        slipped.connect(lambda sender, exposure, **kwargs: flows.count_slip(exposure), weak=False)
        scanned.connect(foreseen.sheet_scanned, dispatch_uid="a sheet beside its photo")
        post_delete.connect(foreseen.photo_gone, ScenePhoto, dispatch_uid="a photo that is gone")
