"""The library that reads large pictures, loaded in the process that uses it and never before a
fork; and what makes of a picture's own colours the standard's.
"""

import os

# What the first bytes of each kind are.
SIGNATURES: tuple[tuple[bytes, str], ...] = (
    (b"\xff\xd8\xff", "JPEG"),
    (b"\x89PNG\r\n\x1a\n", "PNG"),
    (b"II*\0", "TIFF"),
    (b"MM\0*", "TIFF"),
)


def kind_of(head):
    """JPEG, PNG, TIFF or WEBP by the first bytes of a file, None for anything else."""
    if head.startswith(b"RIFF") and head[8:12] == b"WEBP":
        return "WEBP"
    return next((kind for mark, kind in SIGNATURES if head.startswith(mark)), None)


def load():
    """The library, refusing readers that are not trusted."""
    os.environ.setdefault("VIPS_MAX_COORD", "100000")
    # More threads are no quicker here, and pages want the other processors.
    os.environ.setdefault("VIPS_CONCURRENCY", "1")
    import pyvips

    pyvips.block_untrusted_set(True)
    return pyvips


def standard(image):
    """The image in the standard's colours or greys, if it says that it has others; a profile that
    cannot be read is none.
    """
    vips = load()
    if not image.get_typeof("icc-profile-data"):
        return image
    depth = 16 if image.format in ("ushort", "short") else 8
    try:
        _like(image).icc_transform("srgb", embedded=True, depth=depth).write_to_memory()
    except vips.Error:
        return image
    converted = image.icc_transform("srgb", embedded=True, depth=depth)
    if image.bands < 3:
        converted = converted.colourspace("grey16" if depth == 16 else "b-w")
    converted = converted.copy()
    converted.remove("icc-profile-data")
    return converted


def _like(image):
    """One pixel of the same kind and profile, to try what a whole image is too long for."""
    vips = load()
    tiny = vips.Image.black(1, 1, bands=image.bands).cast(image.format)
    tiny = tiny.copy(interpretation=image.interpretation)
    data = image.get("icc-profile-data")
    tiny.set_type(vips.GValue.blob_type, "icc-profile-data", data)
    return tiny
