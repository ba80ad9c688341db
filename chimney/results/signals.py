"""Said when what a sheet looks like was judged or scanned, so that others can learn from it."""

from django.dispatch import Signal

judged = Signal()  # sheet
# After its scan was looked through, matched or outlined.
scanned = Signal()  # sheet
# After the eye that gives verdicts was trained, or that was forgotten.
trained = Signal()
