"""Tiles of a plan, and the doors behind them that change what they say."""

from urllib.parse import urlencode

from django.urls import reverse

from chimney.field.plan.wording import cameras
from chimney.lessons.craft import light_in, metered_at_box_s
from chimney.parts import calculation as parts
from chimney.parts.scales import number, tenths
from pinhole import durations

# The door that changes what a tile says.
DOOR_OF = {"reading": "reading", "camera": "camera", parts.OWN_SHEETS: "own"}
DOOR_OF |= dict.fromkeys(("filter", "compensation", "preflash"), "more")
DOOR_OF |= {"reciprocity": "school", "trial": "sheets", "light": "sheets"}
TILE_DOORS = ("reading", "camera", "paper", "own", "school", "more", "sheets")
FIELDS_BEHIND = {
    "camera": {"camera", "azimuth_deg"},
    "paper": {"paper", "developer", "ei"},
    "more": {"filter_name", "filter_stops", "compensation_stops", "preflash_stops"},
    "sheets": {"side", "bracket_stops", "bands", "aperture", "sheets"},
}


class PlanDoors:
    """Tiles and doors on the page of a plan, from its state: mixed into its sentences."""

    doors = TILE_DOORS

    @property
    def open_door(self):
        """The door behind which something is wrong, else that of the reading."""
        wrong = set(self.form.errors)
        return next((door for door, names in FIELDS_BEHIND.items() if names & wrong), TILE_DOORS[0])

    @property
    def tile_doors(self):
        """[(tile, the door that changes it)]; without a time what is known of it so far."""
        tiles = self.tiles if self.plan else self._tiles_to_be
        return [(tile, DOOR_OF.get(tile.name, "paper")) for tile in tiles]

    @property
    def _tiles_to_be(self):
        ei = (self.offered[0] or self.offered[1]).ei
        return (
            parts.Tile("reading", "the meter says", "…", ""),
            parts.Tile("camera", str(self.camera), f"f/{number(self.f_number)}", ""),
            parts.Tile("paper", str(self.paper), f"EI {number(ei)}", ""),
        )

    @property
    def in_this_light(self):
        """The cameras, each with its time."""
        return cameras.in_this_light(self)

    @property
    def _learn_url(self):
        """Address of what explains this very exposure on the Learn page."""
        proposal, calculation = self.plan.proposal, self.sheet.calculation
        if proposal.lesson is None:
            return ""
        asked = {"lesson": proposal.lesson.pk, "camera": self.camera.pk}
        asked |= {"light": light_in(calculation)}
        asked |= {"metered_s": f"{metered_at_box_s(calculation, self.paper):.6g}"}
        asked |= {"subject": self.typed.get("subject") or ""}
        asked |= {"filter_stops": calculation.specification.filter_stops or ""}
        return f"{reverse('lessons:learned')}?{urlencode(asked)}"

    @property
    def own_words(self):
        """Words for what one's own sheets ask for beside the EI, share by share."""
        proposal, calculation = self.plan.proposal, self.sheet.calculation
        if proposal.knowledge is None:
            return ""
        glass = calculation.specification.filter_stops
        names = proposal.names(self.camera, light_in(calculation), glass)
        called = {"camera": self.camera, "light": names["light"], "process": names["process"]}
        called |= {"filter": "the filter"}
        return ", ".join(
            f"{words} {tenths(proposal.knowledge.share(kind, names[kind]))}"
            for kind, words in called.items()
            if names[kind] is not None and (kind, names[kind]) not in proposal.knowledge.refused
        )

    @property
    def times_words(self):
        """Words for the times of all its sheets: of one the time, of a bracket each, of a strip the
        whole.
        """
        if self.sheet.bands:
            return f"{durations.say(self.sheet.seconds)}, {len(self.sheet.bands)} bands"
        sheets = self.plan.sheets
        return ", ".join(
            durations.say(sheet.seconds if len(sheets) > 1 else self.seconds) for sheet in sheets
        )

    @property
    def pulling(self):
        """Words for the moves of a test strip, behind the time."""
        return ", pushing the slide in band by band" if self.sheet.bands else ""
