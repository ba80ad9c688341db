from django.core.management.base import BaseCommand


class PagelessCommand(BaseCommand):
    """A command that begins in half the time and room: what Django checks of the pages, it would
    load all of them for, and the tests check.
    """

    requires_system_checks = ()
