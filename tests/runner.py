from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Django's runner, with a closing line that machines read as well."""

    def suite_result(self, suite, result, **kwargs):
        skipped = len(result.skipped)
        wrong = super().suite_result(suite, result, **kwargs)
        print(f"{result.testsRun - wrong - skipped} passed, {wrong} failed, {skipped} skipped", flush=True)
        return wrong
