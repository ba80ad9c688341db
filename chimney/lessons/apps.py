from django.apps import AppConfig
from django.db.models.signals import post_save


class LessonsConfig(AppConfig):
    name = "chimney.lessons"

    def ready(self):
        from chimney.darkroom.signals import corrected
        from chimney.kit.models import Box, Camera, Paper
        from chimney.lessons import flows
        from chimney.lessons.heard import flows as heard
        from chimney.logbook.models import Sheet
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
        corrected.connect(heard.run_corrected, dispatch_uid="learn anew")
        trained.connect(heard.eye_trained, dispatch_uid="the eye")
        post_save.connect(heard.sheet_cut, sender=Sheet, dispatch_uid="a new box")
        for kind in (Paper, Camera, Box):
            post_save.connect(heard.kit_saved, sender=kind, dispatch_uid=f"learn of {kind}")
