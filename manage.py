#!/usr/bin/env python3
import os
import sys
from contextlib import suppress

from chimney import folder, starting

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "chimney.settings")
    os.umask(0o077)
    starting.refuse(starting.in_settings())
    if sys.argv[1:2] != ["test"]:
        starting.refuse(starting.in_folder())
    # A folder that cannot be made is told by the commands that need it.
    with suppress(OSError):
        folder.make()
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
