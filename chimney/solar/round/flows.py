"""Changes by a round: what was seen at each can is written down once."""

from django.db import transaction

from chimney.solar.cans import flows as cans


def take_in(sightings):
    """Write down what was seen and is not refused; how many that were."""
    good = [seen for seen in sightings if not seen.refusal]
    with transaction.atomic():
        for seen in good:
            cans.note_event(seen.can, seen.kind, seen.note, seen.moment)
    return len(good)
