"""Pictures of a sheet that was foreseen."""

import numpy as np

from chimney.parts import pictures
from pinhole import media, scene
from pinhole.sheet import scanned

# What lies in a picture's marks: stripes so far apart, and what stands for no picture [px, 8 bits].
STRIPE_PX, NO_PICTURE = 6, (223, 213, 196)
EMPTY_RGB, BLOCKED_RGB = (120, 190, 235), (200, 90, 20)


def drawn(foreseen, curve, kind, *, negative=False, marks=True):
    """The picture of a Foreseen, (h, w, 3) of 8 bits: the print, or the sheet in the hand."""
    positive = media.medium(kind).is_positive
    densities = foreseen.densities
    if not negative:
        densities = scene.as_print(densities, curve, positive)
    shade = scanned(densities)
    picture = np.repeat(shade[..., None], 3, axis=2)
    if negative:
        picture = picture[:, ::-1]
    elif marks:
        down, across = np.indices(shade.shape)
        stripe = (across + down) % (2 * STRIPE_PX) < STRIPE_PX // 2
        against = (across - down) % (2 * STRIPE_PX) < STRIPE_PX // 2
        picture[foreseen.empty_at & stripe] = EMPTY_RGB
        picture[foreseen.blocked_at & against] = BLOCKED_RGB
    unknown = ~foreseen.known
    picture[unknown[:, ::-1] if negative else unknown] = NO_PICTURE
    return picture


def png(picture):
    """The bytes of a picture."""
    vips = pictures.load()
    return vips.Image.new_from_array(np.ascontiguousarray(picture)).pngsave_buffer()
