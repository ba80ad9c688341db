"""Said after a verdict was given, changed or taken back, so that rooms above can learn from it."""

from django.dispatch import Signal

judged = Signal()  # sheet
# After the eye that gives verdicts was trained, or that was forgotten.
trained = Signal()
