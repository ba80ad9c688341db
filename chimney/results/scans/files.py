"""Originals in the folder, and the library that reads them. It is loaded in the process that uses
it and never before a fork.
"""

import hashlib
import os
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from django.conf import settings
from PIL import Image

MEGA = 1_000_000
MOST_MEGAPIXELS = 300
PREVIEW_PX, THUMB_PX = 1400, 240
# What the first bytes of each kind are.
KINDS = ((b"\xff\xd8\xff", "jpg"), (b"\x89PNG\r\n\x1a\n", "png"), (b"II*\0", "tif"))
KINDS += ((b"MM\0*", "tif"),)


class UnreadableError(ValueError):
    """No scan; the message says why and what to do."""


def folder():
    """Where originals lie."""
    return settings.DATA / "scans"


def inbox():
    """Where the scanner's own program may save."""
    return settings.DATA / "inbox"


def path_of(scan):
    return folder() / f"{scan.sha256}.{scan.suffix}"


@dataclass(frozen=True)
class Stored:
    """sha256 and size_bytes of what was stored, and its suffix."""

    sha256: str
    size_bytes: int
    suffix: str


def store(chunks):
    """Stored: an original bit for bit under its checksum; half of one never lies there.

    Raises UnreadableError for what is neither TIFF, PNG nor JPEG, OSError where the disc says no.
    """
    folder().mkdir(mode=0o700, parents=True, exist_ok=True)
    begun = folder() / f"begun-{os.getpid()}-{os.urandom(4).hex()}"
    digest, size, suffix = hashlib.sha256(), 0, None
    try:
        with open(os.open(begun, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
            for chunk in chunks:
                suffix = suffix or _suffix_of(chunk)
                digest.update(chunk)
                size += len(chunk)
                file.write(chunk)
            file.flush()
            os.fsync(file.fileno())
        if suffix is None:
            raise UnreadableError("It is empty: scan or save it again.")
        begun.replace(folder() / f"{digest.hexdigest()}.{suffix}")
    finally:
        begun.unlink(missing_ok=True)
    return Stored(digest.hexdigest(), size, suffix)


def _suffix_of(head):
    """By the first bytes of a file. Raises UnreadableError, before any more of it is taken in."""
    for mark, kind in KINDS:
        if head.startswith(mark):
            return kind
    raise UnreadableError("It is neither TIFF, PNG nor JPEG: save it as one of these.")


def _vips():
    os.environ.setdefault("VIPS_MAX_COORD", "100000")
    # More threads are no quicker here, and pages want the other processors.
    os.environ.setdefault("VIPS_CONCURRENCY", "1")
    import pyvips

    pyvips.block_untrusted_set(True)
    return pyvips


@dataclass(frozen=True)
class LookedThrough:
    """width, height, bits of an original, its preview as an array, uint8 (height, width[, 3])."""

    width: int
    height: int
    bits: int
    picture: np.ndarray


def look_through(path):
    """The LookedThrough of an original. Raises UnreadableError in words."""
    vips = _vips()
    try:
        whole = vips.Image.new_from_file(str(path), access="sequential", fail_on="truncated")
        _refuse_size(whole)
        bits = 16 if whole.format in ("ushort", "short") else 8
        size = whole.width, whole.height
        return LookedThrough(*size, bits, _array(_small(whole, str(path))))
    except vips.Error as error:
        raise UnreadableError("It is broken or ends too early: scan or save it again.") from error


def _small(whole, path):
    """A preview of an image that was opened to be read once, upright, its colours the standard's.
    Whole boxes of it are averaged first: that is many times as fast as the library's thumbnail.
    """
    times = max(1, max(whole.width, whole.height) // PREVIEW_PX)
    if whole.get("vips-loader").startswith("jpeg"):
        # It can be decoded smaller.
        fewer = max(n for n in (1, 2, 4, 8) if n <= times)
        whole = _vips().Image.new_from_file(
            path, access="sequential", fail_on="truncated", shrink=fewer
        )
        times = max(1, max(whole.width, whole.height) // PREVIEW_PX)
    small = (whole.shrink(times, times) if times > 1 else whole).copy_memory()
    small = _standard(small.autorot())
    return small.thumbnail_image(PREVIEW_PX, height=PREVIEW_PX, size="down")


def _standard(image):
    """The image in the standard's colours or greys, if it says that it has others; a profile that
    cannot be read is none.
    """
    vips = _vips()
    if not image.get_typeof("icc-profile-data"):
        return image
    depth = 16 if image.format in ("ushort", "short") else 8
    try:
        _like(image).icc_transform("srgb", embedded=True, depth=depth).write_to_memory()
    except vips.Error:
        return image
    made = image.icc_transform("srgb", embedded=True, depth=depth)
    if image.bands < 3:
        made = made.colourspace("grey16" if depth == 16 else "b-w")
    made = made.copy()
    made.remove("icc-profile-data")
    return made


def _like(image):
    """One pixel of the same kind and profile, to try what a whole image is too long for."""
    vips = _vips()
    tiny = vips.Image.black(1, 1, bands=image.bands).cast(image.format)
    tiny = tiny.copy(interpretation=image.interpretation)
    data = image.get("icc-profile-data")
    tiny.set_type(vips.GValue.blob_type, "icc-profile-data", data)
    return tiny


def _refuse_size(image):
    if image.width * image.height > MOST_MEGAPIXELS * MEGA:
        raise UnreadableError(
            f"It has more than {MOST_MEGAPIXELS} megapixels: scan it less finely."
        )
    if min(image.width, image.height) < 16:
        raise UnreadableError("It is smaller than 16 pixels: that is no scan.")
    if image.get_typeof("n-pages") and image.get("n-pages") > 1 and "delay" in image.get_fields():
        raise UnreadableError("It moves: a scan stands still.")


def _array(image):
    if image.hasalpha():
        image = image.flatten(background=255)
    image = image.colourspace("srgb" if image.bands >= 3 else "b-w").cast("uchar")
    array = np.frombuffer(image.write_to_memory(), np.uint8)
    array = array.reshape(image.height, image.width, image.bands)
    return array[..., 0] if image.bands < 3 else array[..., :3]


def jpeg(array, quality=88):
    """The bytes of a JPEG of uint8 greys or colours."""
    out = BytesIO()
    Image.fromarray(np.ascontiguousarray(array)).save(out, "JPEG", quality=quality)
    return out.getvalue()


def array_of(kept):
    """The array of a JPEG that was kept."""
    return np.asarray(Image.open(BytesIO(bytes(kept))))


def small(array, side=THUMB_PX):
    """The same, at most so many pixels long."""
    picture = Image.fromarray(np.ascontiguousarray(array))
    picture.thumbnail((side, side))
    return np.asarray(picture)


def export(path, kind, steps, told=None):
    """An open file of the whole positive as "jpg", "png" or "tif" (16 bits), made of the original
    by the craft.Tones it is handed; told: {Exif field: words}, which go into a JPEG or PNG. Raises
    UnreadableError.
    """
    vips = _vips()
    made = folder() / f"begun-{os.getpid()}-{os.urandom(4).hex()}.{kind}"
    try:
        image = vips.Image.new_from_file(str(path), access="sequential", fail_on="truncated")
        _refuse_size(image)
        image = _toned(_deep(_standard(image.autorot())), steps)
        if kind != "tif":
            plain = "srgb" if image.bands >= 3 else "b-w"
            image = (image / 257).cast("uchar").copy(interpretation=plain)
            image = _with_exif(vips, image, told or {})
        image.write_to_file(f"{made}{OPTIONS[kind]}")
        return made.open("rb")
    except vips.Error as error:
        raise UnreadableError("The original cannot be read any more.") from error
    finally:
        # An open file goes on without its name.
        made.unlink(missing_ok=True)


def _deep(image):
    """16 bits, grey or colour, nothing seen through."""
    if image.hasalpha():
        image = image.flatten(background=255)
    return image.colourspace("rgb16" if image.bands >= 3 else "grey16")


def _with_exif(vips, image, told):
    """The image with what the exposure really was, and nothing that the scanner said of itself."""
    image = image.copy()
    for name in image.get_fields():
        if name.startswith("exif-"):
            image.remove(name)
    for name, words in told.items():
        image.set_type(vips.GValue.gstr_type, name, words)
    return image


OPTIONS = {"jpg": "[Q=92]", "png": "", "tif": "[compression=lzw,predictor=horizontal]"}


def turned(array, degrees):
    """A preview turned clockwise by some degrees, its size kept; corners that come in are grey."""
    if not degrees:
        return array
    picture = Image.fromarray(np.ascontiguousarray(array))
    grey = 128 if array.ndim == 2 else (128,) * 3
    return np.asarray(picture.rotate(-degrees, Image.Resampling.BICUBIC, fillcolor=grey))


def _toned(image, steps):
    """Levels and curve as a table, then mirrored, turned, straightened and cut."""
    vips = _vips()
    bands = [
        vips.Image.new_from_array([steps.table(16, n).tolist()]).cast("ushort")
        for n in range(image.bands)
    ]
    table = bands[0].bandjoin(bands[1:]) if len(bands) > 1 else bands[0]
    made = image.maplut(table).copy(interpretation=image.interpretation)
    made = made.copy_memory() if steps.quarters or steps.straighten_deg else made
    made = made.fliphor() if steps.mirrored else made
    turn = {1: "rot90", 2: "rot180", 3: "rot270"}.get(steps.quarters)
    made = getattr(made, turn)() if turn else made
    if steps.straighten_deg:
        made = _straight(made, steps.straighten_deg)
    left, top, right, bottom = steps.box(made.width, made.height)
    return made.crop(left, top, right - left, bottom - top)


def _straight(image, degrees):
    wide, high = image.width, image.height
    grey = [32896.0] * image.bands
    larger = image.rotate(degrees, background=grey).cast("ushort")
    larger = larger.copy(interpretation=image.interpretation)
    return larger.crop((larger.width - wide) // 2, (larger.height - high) // 2, wide, high)
