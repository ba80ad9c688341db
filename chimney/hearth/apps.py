from django.apps import AppConfig


class HearthConfig(AppConfig):
    name = "chimney.hearth"

    def ready(self):
        from chimney.exchange.signals import looked_over
        from chimney.hearth import invariants

        looked_over.connect(
            lambda sender, **kwargs: list(invariants.broken()),
            weak=False,
            dispatch_uid="what contradicts itself",
        )
