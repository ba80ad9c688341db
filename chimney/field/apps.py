from django.apps import AppConfig


class FieldConfig(AppConfig):
    name = "chimney.field"

    def ready(self):
        from chimney.field.plan import flows
        from chimney.logbook.signals import slipped, unmade

        unmade.connect(lambda sender, exposure, **kwargs: flows.untake(exposure), weak=False)
        slipped.connect(lambda sender, exposure, **kwargs: flows.count_slip(exposure), weak=False)
