from django.core.management.base import BaseCommand


class PagelessCommand(BaseCommand):
    """A command that begins in half the time: what Django checks of the pages, it would load all of
    them for; the tests check it.
    """

    requires_system_checks = ()
