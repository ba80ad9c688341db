from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Django's runner, with a closing line that machines read as well."""

    def suite_result(self, suite, result, **kwargs):
        wrong = super().suite_result(suite, result, **kwargs)
        # A test may fail in many of its parts, and is still one test.
        failed = len({getattr(test, "test_case", test).id() for test, _ in [*result.failures, *result.errors]})
        failed = max(failed, int(wrong > 0))
        passed = max(0, result.testsRun - failed - len(result.skipped))
        print(f"{passed} passed, {failed} failed, {len(result.skipped)} skipped", flush=True)
        return wrong
