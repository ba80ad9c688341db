"""Words of the trade, for whoever meets them here first, each with where it is from."""

import re
from dataclasses import dataclass
from functools import cached_property

from django.utils.text import slugify

COMMON, OPTICS, SKY = "common practice", "geometrical optics", "spherical astronomy"
LAB = "common practice of the dark room"


@dataclass(frozen=True)
class Word:
    """source: where its meaning is from; forms: how it begins in a text, with a bar between them,
    whole unless it ends in a sign; its own letters, one or several of it, if empty.
    """

    word: str
    meaning: str
    source: str
    forms: str = ""

    @property
    def anchor(self):
        return slugify(self.word.replace("/", " "))

    @cached_property
    def sought(self):
        """Pattern to look for in a text as _plain makes it."""
        forms = self.forms.split("|") if self.forms else (self.word, f"{self.word}s")
        return tuple(f" {form}{' ' * form[-1].isalpha()}".lower() for form in forms)


GLOSSARY = (
    Word("altitude", "How high the sun stands above the level horizon, in degrees.", SKY),
    Word(
        "base fog",
        "How dark the bare paper is after development, where no light fell.",
        "ISO 5 and ISO 6846",
    ),
    Word("bath", "A solution that a sheet goes through, in its tray, drum or tank.", LAB),
    Word(
        "bearing",
        "A direction on the ground, from true north clockwise. A compass tells it from "
        "magnetic north.",
        SKY,
        "bearing|bearings|true north",
    ),
    Word(
        "bellows extension",
        "A lens drawn out for something near: its f-number grows with the distance to the paper.",
        OPTICS,
        "bellows|extension",
    ),
    Word("bracket", "Several sheets of one scene with less and more light.", COMMON),
    Word("contact print", "A sheet printed at its own size, lying on the paper.", COMMON),
    Word(
        "dark slide",
        "The lid of a sheet holder. Its bumps are felt in the dark: light edge out is "
        "unexposed, turned is exposed.",
        COMMON,
        "slide|slides",
    ),
    Word(
        "declination",
        "How far a compass points beside true north; of the sun, how far it stands north of "
        "the equator.",
        SKY,
    ),
    Word(
        "density",
        "How dark a place is: 1 is a tenth of the light thrown back, 2 a hundredth.",
        "ISO 5-4",
        "density|densities|d 0|d 1",
    ),
    Word(
        "direct positive",
        "Paper that gives a positive at once, mirrored and one of a kind.",
        COMMON,
    ),
    Word(
        "effect",
        "What the light does after reciprocity, against what the clock says.",
        "from the definition of reciprocity failure",
    ),
    Word(
        "EI",
        "Exposure index: how fast a paper is taken to be, on the scale of ISO. Twice the EI "
        "asks for half the time. It starts from the box and is learned from your own sheets; "
        "it is not the paper speed of ISO 6846.",
        "ISO 6 for the scale",
    ),
    Word(
        "EV",
        "Exposure value: how bright it is, a stop a step. 15 is full sun, at ISO 100.",
        "ISO 2720",
    ),
    Word(
        "exponent",
        "How steeply long times grow by the power law: 1 is not at all, 1.3 turns 100 s into 398.",
        COMMON,
    ),
    Word(
        "f/N",
        "The depth of the camera divided by the width of its hole: 150 mm and 0.5 mm are "
        "f/300. Twice the number is a quarter of the light.",
        "ISO 517",
        "f/|f-number|f-numbers",
    ),
    Word(
        "fall-off",
        "Light that corners lack against the middle, because they lie farther from the hole "
        "and see it aslant.",
        OPTICS,
    ),
    Word(
        "fixer",
        "Takes out the silver that was not darkened; exhausted fixer leaves a picture that "
        "yellows.",
        LAB,
        "fixer|fixed",
    ),
    Word(
        "flare",
        "Light of the sun, or of the hole's own rim, where no picture is.",
        OPTICS,
        "flare|halo",
    ),
    Word(
        "grade",
        "How contrasty a paper is: a higher grade holds fewer stops.",
        "ISO 6846, its ranges",
        "grade-|grade",
    ),
    Word("ladder", "One's own sheet as it would look with less and more light.", "this program"),
    Word("leak", "Light that came in beside the hole.", COMMON),
    Word(
        "lean",
        "How far a can stands off upright, backwards or forwards.",
        OPTICS,
        "lean|leans|leaned",
    ),
    Word(
        "meter factor",
        "What a reading at the meter's last f-number is multiplied by for this camera.",
        "from the definition of the f-number",
    ),
    Word(
        "paper negative",
        "Photographic paper exposed in the camera: dark where the scene was bright.",
        COMMON,
    ),
    Word(
        "power law",
        "A school of reciprocity: the corrected time is the metered one raised to an exponent.",
        COMMON,
    ),
    Word(
        "pre-flash",
        "A weak, even exposure of the whole sheet before the picture: it lifts the shadows of"
        " a contrasty paper.",
        COMMON,
        "pre-flash|pre-flashed",
    ),
    Word(
        "printing out",
        "Paper that darkens in light by itself, without a developer.",
        COMMON,
        "printing out|printed out|print out",
    ),
    Word("rails", "The edges that hold a sheet in its holder, and hide a little of it.", COMMON),
    Word(
        "range",
        "Written as 3.3 to 4.8: nine times in ten the truth lies in it.",
        "statistics, central 90 %",
    ),
    Word(
        "reciprocity",
        "Weak light counts for less than its time says. How much less is answered by a "
        "school: not at all, by a maker's table, or by a power law.",
        COMMON,
    ),
    Word(
        "reversal",
        "A negative bleached away, and what was left of the paper darkened instead: a positive.",
        LAB,
    ),
    Word("roll", "How far a camera is turned about the way it looks.", OPTICS),
    Word(
        "safelight",
        "A lamp whose colour a paper hardly sees, for so long as a test of your own says.",
        LAB,
    ),
    Word("school", "One of several honest answers to one question; you choose.", "this program"),
    Word("skyline", "What stands between the can and the sun, as directions and heights.", SKY),
    Word(
        "solargraph",
        "A can with a hole and paper in it, left for weeks or months: the sun draws its own lines.",
        COMMON,
    ),
    Word("solstice", "The days in June and December whose trails are the outermost.", SKY),
    Word("stop", "A doubling or a halving of light. Half a stop is 1.4 times.", "ISO 517"),
    Word("stop bath", "Weak acid that ends development at once.", LAB),
    Word(
        "test strip", "One sheet covered step by step, so that each band has its own time.", COMMON
    ),
    Word("trail", "The line that the sun draws on one day.", COMMON),
    Word(
        "twilight",
        "After sunset: civil until the sun is 6 degrees down, when paper needs hours.",
        SKY,
    ),
    Word(
        "visible",
        "Of a sheet: what of it the rails leave to be seen. As cut is what it measures.",
        COMMON,
        "visible|as cut",
    ),
    Word(
        "wash",
        "Water that carries the fixer out; fibre needs far longer than RC.",
        "ISO 18917 tests it",
        "wash|washed|washing",
    ),
    Word(
        "wedge",
        "Steps of known density that say what a scanner's codes mean.",
        "ISO 5",
        "step wedge|scanned wedge|wedges",
    ),
)
# No more of a page is looked through: the rest of a long one repeats itself.
MOST_PAGE_CHARACTERS = 60_000
TAG, WORD_PATTERN = re.compile(r"<[^>]*>"), re.compile(r"[a-z0-9/]+(?:[-'.][a-z0-9/]+)*")


def found_in(html):
    """The Words that a piece of a page uses, by the alphabet."""
    text = _plain(html[:MOST_PAGE_CHARACTERS])
    return [word for word in GLOSSARY if any(form in text for form in word.sought)]


def _plain(html):
    """The words of a page, one space before and after each."""
    return f" {' '.join(WORD_PATTERN.findall(TAG.sub(' ', html).lower()))} "
