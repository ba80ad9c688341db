from django.apps import AppConfig


class ResultsConfig(AppConfig):
    name = "chimney.results"

    def ready(self):
        from chimney.logbook.signals import purposed
        from chimney.results.papers import flows as papers
        from chimney.results.scans import flows
        from chimney.results.signals import judged, scanned

        for signal in (judged, scanned):
            signal.connect(papers.sheet_changed, dispatch_uid="the paper's curve")
        purposed.connect(flows.sheet_purposed, dispatch_uid="the right way round")
