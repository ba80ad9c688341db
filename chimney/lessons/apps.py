from django.apps import AppConfig
from django.db.models.signals import post_save


class LessonsConfig(AppConfig):
    name = "chimney.lessons"

    def ready(self):
        from chimney.darkroom.signals import corrected
        from chimney.kit.models import Box, Camera, Paper
        from chimney.lessons import flows
        from chimney.logbook.signals import slipped
        from chimney.results.signals import judged, trained

        slipped.connect(
            lambda sender, exposure, **kwargs: flows.learn_from(exposure.sheet), weak=False
        )
        judged.connect(
            lambda sender, sheet, **kwargs: flows.learn_from(sheet),
            weak=False,
            dispatch_uid="learn",
        )
        corrected.connect(flows.run_corrected, dispatch_uid="learn anew")
        trained.connect(flows.eye_trained, dispatch_uid="the eye")
        for kind in (Paper, Camera, Box):
            post_save.connect(flows.kit_saved, sender=kind, dispatch_uid=f"learn of {kind}")
