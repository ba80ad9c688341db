"""Every address of the site, read off its URL configuration, so that a new page cannot be
forgotten.
"""

from itertools import product

from django.urls import NoReverseMatch, get_resolver, reverse

from chimney.darkroom.room.views import ROOM_THINGS as DARK_KINDS
from chimney.kit.views import KIT_THINGS
from chimney.logbook.models import Sheet
from chimney.logbook.views import TIMER_STEPS

# What can stand for each part of an address; whatever does not fit there is left out.
WORDS = {
    "kind": [*KIT_THINGS, *DARK_KINDS],
    "word": [*TIMER_STEPS, "undo", "close", "reopen", "light", "fix", "next", "again"],
    "key": ["rc-trays", "reversal-camera", "own-1"],
    "lane": [0],
    "moves": [1],
    "number": [0, 2],
    "stamp": [0],
    "seed": [1],
    "what": ["skyline", "sunshine"],
    "name": ["sheets", "exposures"],
    "secret": ["x"],
    "door": ["minutes", "can", "class", "room"],
    "medium": ["negative", "reversal"],
    "looks": ["dark", "empty"],
}


def every(pks=(1,)):
    """[(name, address)] for every pattern, with each of those numbers and with codes of sheets that
    are there.
    """
    codes = list(
        Sheet.objects.order_by("pk").values_list("code", flat=True)[
            :: max(1, Sheet.objects.count() // 6)
        ]
    )
    known = WORDS | {
        "pk": list(pks),
        "shot_pk": list(pks),
        "event_pk": list(pks),
        "code": codes or ["S-001"],
    }
    found = []
    for namespace, (_, resolver) in get_resolver().namespace_dict.items():
        for name, variants in resolver.reverse_dict.lists():
            if isinstance(name, str):
                parts = sorted(
                    {part for variant in variants for _, wanted in variant[0] for part in wanted}
                )
                found += _filled(f"{namespace}:{name}", parts, known)
    return sorted(set(found))


def _filled(name, parts, known):
    ways = [dict(zip(parts, values, strict=True)) for values in product(*map(known.get, parts))]
    # Some lead somewhere without any part as well.
    for wanted in [{}, *ways] if parts else ways:
        try:
            yield name, reverse(name, kwargs=wanted)
        except NoReverseMatch:
            continue
