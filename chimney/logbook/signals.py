"""Said by the log so that rooms above can follow: they undo what they wrote down of an exposure,
and learn anew.
"""

from django.dispatch import Signal

unmade = Signal()  # exposure, before it is taken back
purposed = Signal()  # sheet, after it was said what it is for
slipped = Signal()  # exposure, after a slip of the slide was logged or taken back
