"""Baths mixed, topped up and thrown away; what a test of a lamp told."""

from chimney.darkroom.models import Bath, TopUp
from chimney.kit import flows as kit
from chimney.kit.models import Developer
from chimney.ledger.once import current, verb
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import chemistry

# A developer of one's own is tried for so long at first (common practice) [s].
USUAL_S = 300.0


@verb
def mix(bath, *, makes=""):
    """Write a bath down; it is as old as now, unless it was there before. makes: the name of the
    developer that it is, where the kit has none of that name yet.
    """
    if bath.purpose == Bath.Purpose.DEVELOP and bath.developer is None and makes:
        bath.developer = kit.keep(Developer(name=makes, usual_s=USUAL_S))
    if bath.mixed_at is None:
        bath.mixed_at = clock.now()
    bath.save()
    return bath


@verb
def top_up(bath, concentrate_ml):
    """So much concentrate into a working bath: stronger and more of it."""
    bath = current(bath)
    if bath.thrown_at:
        raise Refused(f"{bath} was thrown away.", "See the baths", "darkroom:room")
    TopUp.objects.create(
        bath=bath,
        concentrate_ml=concentrate_ml,
        poured_at=clock.now(),
        parts_before=bath.parts,
        volume_before_ml=bath.volume_ml,
    )
    if bath.parts:
        bath.parts, bath.volume_ml = chemistry.topped_up(bath.parts, bath.volume_ml, concentrate_ml)
    else:
        bath.volume_ml += concentrate_ml
    bath.save(update_fields=["parts", "volume_ml"])


@verb
def pour_back(bath):
    """The last top-up was a slip of the finger."""
    bath = current(bath)
    last = bath.top_ups.last()
    if last is None:
        raise Refused(f"Nothing was poured into {bath}.", "See the baths", "darkroom:room")
    bath.parts, bath.volume_ml = last.parts_before, last.volume_before_ml
    bath.save(update_fields=["parts", "volume_ml"])
    last.delete()


@verb
def throw_away(bath, *, gone=True):
    """It is used no more; or that taken back."""
    Bath.objects.filter(pk=bath.pk).update(thrown_at=clock.now() if gone else None)


@verb
def keep_test(test):
    """Write down what the coin showed."""
    test.save()
    return test
