"""Asked of whoever stands above, before and after a log came in: what contradicts itself, a list of
sentences each.
"""

from django.dispatch import Signal

looked_over = Signal()
