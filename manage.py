#!/usr/bin/env python3
import os
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "chimney.settings")
    os.umask(0o077)
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
