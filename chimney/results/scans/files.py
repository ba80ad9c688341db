"""Originals in the folder: stored, looked through, and made into whole positives."""

import errno
import hashlib
import os
from dataclasses import dataclass

import numpy as np
from django.conf import settings

from chimney import folder as of_house
from chimney.parts import pictures, tagged, tiff, uploads

MOST_MEGAPIXELS, IN_MEMORY_MEGAPIXELS = 300, 60
COLOURS_OF = 3
PREVIEW_PX, THUMB_PX, SQUARE_PX = 1400, 240, 512
SUFFIXES = {"JPEG": "jpg", "PNG": "png", "TIFF": "tif"}

# Exif 2.3: up to this orientation width is width.
UPRIGHT_ORIENTATIONS = 4
EMPTY_SCAN = "It is empty: scan or save it again."
BROKEN_SCAN = "It is broken or ends too early: scan or save it again."


class UnreadableError(ValueError):
    """No scan; the message says why and what to do."""


class NoPictureError(UnreadableError):
    """It is something else altogether."""


def folder():
    """Folder of originals."""
    return settings.DATA / "scans"


def inbox():
    """Folder into which the scanner's own program may save."""
    return settings.DATA / "inbox"


def path_of(scan):
    """Path of the original of a Scan, or of what was Stored."""
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
    if of_house.is_full():
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
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
            raise UnreadableError(EMPTY_SCAN)
        begun.replace(folder() / f"{digest.hexdigest()}.{suffix}")
    finally:
        begun.unlink(missing_ok=True)
    return Stored(digest.hexdigest(), size, suffix)


def told_by(chunks):
    """(checksum, kind) of an original of which nothing is kept. Raises UnreadableError."""
    digest, suffix = hashlib.sha256(), None
    for chunk in chunks:
        suffix = suffix or _suffix_of(chunk)
        digest.update(chunk)
    return digest.hexdigest(), suffix


def digest_of(path):
    """The checksum of a file, under which its original lies. Raises OSError."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def put_away(stored):
    """An original that nobody wrote down is taken off the disc again."""
    path_of(stored).unlink(missing_ok=True)


def _suffix_of(head):
    """By the first bytes of a file. Raises UnreadableError, before any more of it is taken in."""
    if not head:
        raise UnreadableError(EMPTY_SCAN)
    if suffix := SUFFIXES.get(pictures.kind_of(head)):
        return suffix
    raise NoPictureError("It is neither TIFF, PNG nor JPEG: save it as one of these.")


@dataclass(frozen=True)
class LookedThrough:
    """width, height, bits of an original, its preview as an array, uint8 (height, width[, 3])."""

    width: int
    height: int
    bits: int
    picture: np.ndarray


def look_through(path):
    """The LookedThrough of an original. Raises UnreadableError in words."""
    vips = pictures.load()
    if path.suffix == ".tif":
        with path.open("rb") as file:
            if not tiff.is_whole(file, path.stat().st_size):
                raise UnreadableError(BROKEN_SCAN)
            if tiff.is_raw(file):
                raise UnreadableError("It is a camera's raw file: save it as TIFF or JPEG.")
    try:
        image = vips.Image.new_from_file(str(path), access="sequential", fail_on="truncated")
        _refuse_size(image)
        bits = 16 if image.format in ("ushort", "short") else 8
        size = _upright_size(image)
        return LookedThrough(*size, bits, _array(_small(image, str(path))))
    except vips.Error as error:
        raise UnreadableError(BROKEN_SCAN) from error


def _upright_size(image):
    """(width, height) of an image as it is shown: Exif may say that it lies on its side."""
    lies = "orientation" in image.get_fields() and image.get("orientation") > UPRIGHT_ORIENTATIONS
    return (image.height, image.width) if lies else (image.width, image.height)


def _small(image, path):
    """A preview of an image that was opened to be read once, upright, its colours the standard's.
    Whole boxes of it are averaged first: that is many times as fast as the library's thumbnail.
    """
    times = max(1, max(image.width, image.height) // PREVIEW_PX)
    if image.get("vips-loader").startswith("jpeg"):
        # It can be decoded smaller.
        fewer = max(n for n in (1, 2, 4, 8) if n <= times)
        image = pictures.load().Image.new_from_file(
            path, access="sequential", fail_on="truncated", shrink=fewer
        )
        times = max(1, max(image.width, image.height) // PREVIEW_PX)
    small = (image.shrink(times, times) if times > 1 else image).copy_memory()
    small = pictures.standard(small.autorot())
    return small.thumbnail_image(PREVIEW_PX, height=PREVIEW_PX, size="down")


def _refuse_size(image):
    if image.width * image.height > MOST_MEGAPIXELS * uploads.MEGA:
        raise UnreadableError(
            f"It has more than {MOST_MEGAPIXELS} megapixels: scan it less finely."
        )
    if min(image.width, image.height) < 16:
        raise UnreadableError("It is smaller than 16 pixels: that is no scan.")
    if image.format not in ("uchar", "ushort", "char", "short"):
        raise UnreadableError("Its pixels are no 8 or 16 bits: save it with one of these.")
    if image.get_typeof("n-pages") and image.get("n-pages") > 1 and "delay" in image.get_fields():
        raise UnreadableError("It is an animation: a scan is one still picture.")


def _array(image):
    if image.hasalpha():
        image = image.flatten(background=255)
    image = image.colourspace("srgb" if image.bands >= 3 else "b-w").cast("uchar")
    size = image.height, image.width, image.bands
    array = np.frombuffer(image.write_to_memory(), np.uint8).reshape(size)
    return array[..., 0] if image.bands < 3 else array[..., :3]


def export(path, kind, steps, exif=None):
    """An open file of the whole positive as "jpg", "png" or "tif" (16 bits), made of the original
    by the craft.Tones it is handed; exif: {Exif field: words}. Raises UnreadableError.
    """
    vips = pictures.load()
    path_made = folder() / f"begun-{os.getpid()}-{os.urandom(4).hex()}.{kind}"
    laid = path_made.with_suffix(".laid")
    try:
        image = vips.Image.new_from_file(str(path), access="sequential", fail_on="truncated")
        _refuse_size(image)
        image = _toned(_deep(pictures.standard(image.autorot())), steps, laid)
        if kind != "tif":
            plain = "srgb" if image.bands >= 3 else "b-w"
            image = (image / 257).rint().cast("uchar").copy(interpretation=plain)
            image = _with_exif(vips, image, exif or {})
        image.write_to_file(f"{path_made}{OPTIONS[kind]}")
        if kind == "tif" and exif:
            # The library leaves Exif out of a TIFF: that of a speck goes in.
            speck = _with_exif(vips, vips.Image.black(8, 8), exif)
            tagged.tell(path_made, speck.write_to_buffer(".jpg"))
        return path_made.open("rb")
    except vips.Error as error:
        raise UnreadableError("The original cannot be read any more.") from error
    finally:
        # An open file goes on without its name.
        path_made.unlink(missing_ok=True)
        laid.unlink(missing_ok=True)


def _deep(image):
    """16 bits, grey or colour, nothing seen through."""
    if image.hasalpha():
        image = image.flatten(background=255)
    return image.colourspace("rgb16" if image.bands >= 3 else "grey16")


def _with_exif(vips, image, exif):
    """The image with what the exposure really was, and nothing that the scanner said of itself."""
    image = image.copy()
    for name in filter(lambda name: name.startswith("exif-"), image.get_fields()):
        image.remove(name)
    for name, text in exif.items():
        image.set_type(vips.GValue.gstr_type, name, text)
    return image


OPTIONS = {"jpg": "[Q=92]", "png": "", "tif": "[compression=lzw,predictor=horizontal]"}


def _toned(image, steps, laid):
    """Levels and curve as a table, then mirrored, turned, straightened and cut."""
    vips = pictures.load()
    channels = range(image.bands) if image.bands > 1 else (None,)
    codes = [steps.table(16, channel).tolist() for channel in channels]
    bands = [vips.Image.new_from_array([row]).cast("ushort") for row in codes]
    table = bands[0].bandjoin(bands[1:]) if len(bands) > 1 else bands[0]
    toned = image.maplut(table).copy(interpretation=image.interpretation)
    if image.bands == COLOURS_OF and steps.saturation != 1.0:
        mixing = vips.Image.new_from_array(steps.mixing().tolist())
        toned = toned.recomb(mixing).rint().cast("ushort")
        toned = toned.copy(interpretation=image.interpretation)
    if steps.quarters or steps.straighten_deg:
        toned = _at_any_place(toned, laid)
    toned = toned.fliphor() if steps.mirrored else toned
    turn = {1: "rot90", 2: "rot180", 3: "rot270"}.get(steps.quarters)
    toned = getattr(toned, turn)() if turn else toned
    if steps.straighten_deg:
        toned = _straight(toned, steps.straighten_deg)
    left, top, right, bottom = steps.box(toned.width, toned.height)
    return toned.crop(left, top, right - left, bottom - top)


def _at_any_place(image, laid):
    """The same, to be read in any order: a large one in squares from the disc, which has more
    room.
    """
    if image.width * image.height < IN_MEMORY_MEGAPIXELS * uploads.MEGA:
        return image.copy_memory()
    image.tiffsave(str(laid), tile=True, tile_width=SQUARE_PX, tile_height=SQUARE_PX)
    return pictures.load().Image.new_from_file(str(laid))


def _straight(image, degrees):
    wide, high = image.width, image.height
    larger = image.rotate(degrees, background=[32896.0] * image.bands).cast("ushort")
    larger = larger.copy(interpretation=image.interpretation)
    return larger.crop((larger.width - wide) // 2, (larger.height - high) // 2, wide, high)
