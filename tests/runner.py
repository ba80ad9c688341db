import gc
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from django.conf import settings
from django.contrib.auth.management import create_permissions
from django.contrib.contenttypes.management import create_contenttypes
from django.db.models.signals import post_migrate
from django.test import override_settings
from django.test.runner import DiscoverRunner
from django.utils import timezone

from chimney import turns
from chimney.parts import clock
from tests import years

# Every test stands at the same moment, whatever the hour and however long the run has taken.
MORNING = datetime(2026, 6, 2, 9, tzinfo=UTC)
_now = clock.now
# When the clock that goes stood in the MORNING.
_begun = [MORNING]
# How the site keeps a passphrase: so slowly that nobody tries many. Tests try many.
HASHERS = settings.PASSWORD_HASHERS
QUICK = ["django.contrib.auth.hashers.MD5PasswordHasher", *HASHERS]


def standing():
    """The site's clock at the MORNING; moved as ever by clock.at."""
    return clock._moved.get() or (_now() if settings.FROZEN_NOW else MORNING)


def going():
    """The site's clock before a browser, whose own goes too: from the MORNING on, since begin()."""
    return clock._moved.get() or (_now() if settings.FROZEN_NOW else timezone.now() + later())


def begin():
    """Let the clock that goes stand in the MORNING now."""
    _begun[0] = timezone.now()


def later():
    """Time by which that clock is ahead of the browser's."""
    return MORNING - _begun[0]


class Runner(DiscoverRunner):
    """Django's runner, on a clock of its own, with a closing line that machines read as well."""

    def setup_test_environment(self, **kwargs):
        super().setup_test_environment(**kwargs)
        clock.now = standing
        override_settings(PASSWORD_HASHERS=QUICK).enable()
        # What was loaded stays, in every process that begins here; as the server's workers do, look
        # for what was left lying seldom.
        gc.collect()
        gc.freeze()
        gc.set_threshold(*turns.SELDOM)
        self.shelf = TemporaryDirectory()
        # Before any process begins, so that all of them know it.
        years.shelf = Path(self.shelf.name)

    def setup_databases(self, **kwargs):
        databases = super().setup_databases(**kwargs)
        # Nobody has permissions here: they need not be written anew whenever all is emptied.
        post_migrate.disconnect(
            create_permissions, dispatch_uid="django.contrib.auth.management.create_permissions"
        )
        post_migrate.disconnect(create_contenttypes)
        if databases:
            years.shelve_empty()
        return databases

    def teardown_test_environment(self, **kwargs):
        self.shelf.cleanup()
        super().teardown_test_environment(**kwargs)

    def suite_result(self, suite, result, **kwargs):
        wrong = super().suite_result(suite, result, **kwargs)
        # A test may fail in many of its parts, and is still one test.
        failed = len(
            {
                getattr(test, "test_case", test).id()
                for test, _ in [*result.failures, *result.errors]
            }
        )
        failed = max(failed, int(wrong > 0))
        passed = max(0, result.testsRun - failed - len(result.skipped))
        print(f"{passed} passed, {failed} failed, {len(result.skipped)} skipped", flush=True)
        return wrong
