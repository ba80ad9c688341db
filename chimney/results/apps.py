from django.apps import AppConfig


class ResultsConfig(AppConfig):
    name = "chimney.results"

    def ready(self):
        from chimney.logbook.signals import purposed
        from chimney.results.scans import flows

        purposed.connect(flows.sheet_purposed, dispatch_uid="the right way round")
