"""A scene as a picture of a camera that measures light: a meter, a viewfinder, a sheet foreseen."""

from pinhole.scene.foreseen import (
    Difference,
    Foreseen,
    as_print,
    black_reds,
    difference,
    foresee,
    laid,
    lit_tones,
)
from pinhole.scene.framing import (
    FRAME_DIAGONAL_MM,
    SAME_STAND,
    PhotoLens,
    Standpoint,
    lens_of,
    outline_px,
    seen_at,
)
from pinhole.scene.luminance import SEEN_SHARES_OF, ev100
from pinhole.scene.overlap import turn_between
from pinhole.scene.phones import NIGHT_SD_STOPS, Phone, learned
from pinhole.scene.spots import SceneSpot, proposed, spot

__all__ = [
    "FRAME_DIAGONAL_MM",
    "NIGHT_SD_STOPS",
    "SAME_STAND",
    "SEEN_SHARES_OF",
    "Difference",
    "Foreseen",
    "Phone",
    "PhotoLens",
    "SceneSpot",
    "Standpoint",
    "as_print",
    "black_reds",
    "difference",
    "ev100",
    "foresee",
    "laid",
    "learned",
    "lens_of",
    "lit_tones",
    "outline_px",
    "proposed",
    "seen_at",
    "spot",
    "turn_between",
]
