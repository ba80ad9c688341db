import os
from contextlib import suppress

from django.core.wsgi import get_wsgi_application

from chimney import folder

os.umask(0o077)
# A folder that cannot be made is told on every page; the server starts all the same.
with suppress(OSError):
    folder.make()
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "chimney.settings")
application = get_wsgi_application()
