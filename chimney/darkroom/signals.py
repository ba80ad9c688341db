"""Said after what was done in the dark was corrected, so that rooms above can learn anew."""

from django.dispatch import Signal

corrected = Signal()  # run
