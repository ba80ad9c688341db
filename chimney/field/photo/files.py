"""A photo as a phone writes it: what it says of its exposure, and the picture made small."""

from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from hashlib import sha256
from io import BytesIO
from math import isfinite, log2

import numpy as np
from django import forms
from django.utils import timezone
from PIL import ExifTags, Image, ImageOps

from chimney.parts import pictures
from chimney.parts.scales import number
from chimney.parts.uploads import Limits, decoding

SCENE_PHOTO = Limits("photo", ("JPEG", "PNG", "WEBP"), 60, 120)
# A photo is kept as large as this: a spot of it is still fifty pixels.
SCENE_PX = 1000
HEIC_BRANDS = (b"heic", b"heix", b"mif1", b"msf1", b"hevc", b"avif")
# A photo in that format is read on as a JPEG of so much quality.
AS_JPEG_QUALITY = 95
# Longer, or more sensitive, and a phone puts a picture together of many.
NIGHT_S, NIGHT_ISO = 0.2, 2500
# A picture this much wider than high was swept.
PANORAMA = 2.3
NO_HEIC = (
    "This HEIC photo cannot be read: choose the most compatible format in the phone's camera "
    "settings, or share the photo as JPEG."
)


@dataclass(frozen=True)
class Brought:
    """jpeg: small, without what the phone wrote into it; wide_px, high_px of that; set_ev100, said:
    of its exposure, None and "" where it says none; equivalent_mm, taken_at, facing_deg,
    latitude_deg, longitude_deg or None; phone: a mark; is_night; is_panorama.
    """

    jpeg: bytes
    wide_px: int
    high_px: int
    set_ev100: float | None
    said: str
    equivalent_mm: float | None
    taken_at: datetime | None
    facing_deg: float | None
    latitude_deg: float | None
    longitude_deg: float | None
    phone: str
    is_night: bool
    is_panorama: bool


def is_heic(content):
    """True for the first bytes of a HEIC or AVIF file."""
    return content[4:8] == b"ftyp" and content[8:12] in HEIC_BRANDS


def as_jpeg(content):
    """The bytes of a JPEG, upright, of a HEIC or AVIF file, with what the phone wrote into it.
    Raises forms.ValidationError in words.
    """
    out = BytesIO()
    try:
        small, exif = (_of_avif if content[8:12] == b"avif" else _of_heic)(content)
        # The decoder has turned it upright.
        exif[ExifTags.Base.Orientation] = 1
        Image.fromarray(small).save(out, "JPEG", quality=AS_JPEG_QUALITY, exif=exif)
    except forms.ValidationError:
        raise
    except Exception as error:  # a decoder over a stranger's bytes fails in any way it likes
        raise forms.ValidationError(NO_HEIC) from error
    return out.getvalue()


def _of_heic(content):
    """(codes (h, w, 3) made smaller, Exif) of a HEIC file, upright."""
    import pi_heif

    opened, exif = pi_heif.open_heif(BytesIO(content)), Image.Exif()
    _refuse_too_large(opened.size)
    exif.load(opened.info.get("exif") or b"")
    plain = opened.mode in ("RGB", "RGBA")
    picture = np.asarray(opened if plain else opened.to_pillow().convert("RGB"))
    # Its pixels lie in what was opened, for as long as that is there.
    return _smaller(picture[..., :3]), exif


def _of_avif(content):
    """The same of an AVIF file."""
    with Image.open(BytesIO(content)) as opened:
        _refuse_too_large(opened.size)
        exif = opened.getexif()
        return _smaller(np.asarray(ImageOps.exif_transpose(opened).convert("RGB"))), exif


def _smaller(codes):
    """Codes made smaller before they are copied: 48 megapixels lie in memory once."""
    whole, (high, wide, _) = np.ascontiguousarray(codes), codes.shape
    picture = pictures.load().Image.new_from_memory(whole.data, wide, high, 3, "uchar")
    return picture.thumbnail_image(2 * SCENE_PX, height=2 * SCENE_PX, size="down").numpy()


def _refuse_too_large(size):
    if size[0] * size[1] > SCENE_PHOTO.most_megapixels * 1_000_000:
        raise forms.ValidationError(SCENE_PHOTO.too_large)


def brought(content, *, facing):
    """The Brought of a file's bytes; facing: whether where it was and which way it looked is kept.
    Raises forms.ValidationError in words for what breaks off.
    """
    exif = _exif(content)
    with decoding(SCENE_PHOTO):
        vips = pictures.load()
        # Decoded whole once: what is made smaller while it is decoded hides that it was cut.
        vips.Image.new_from_buffer(content, "", access="sequential", fail_on="truncated").avg()
        small = vips.Image.thumbnail_buffer(
            content, SCENE_PX, height=SCENE_PX, size="down", linear=False, fail_on="truncated"
        )
        standard = pictures.standard(small).colourspace("srgb").copy_memory()
        if standard.hasalpha():
            standard = standard.flatten(background=255)
        jpeg = standard.jpegsave_buffer(Q=92, keep="none")
    seconds, aperture, iso = _exposure(exif)
    is_known = all(value and isfinite(value) and value > 0 for value in (seconds, aperture, iso))
    return Brought(
        *(jpeg, standard.width, standard.height),
        set_ev100=log2(aperture**2 / seconds) - log2(iso / 100) if is_known else None,
        said=_say(seconds, aperture, iso) if is_known else "",
        equivalent_mm=_within(exif.get("FocalLengthIn35mmFilm"), 3, 3000),
        taken_at=_moment(exif),
        facing_deg=_facing(exif) if facing else None,
        latitude_deg=_angle(exif, "Latitude", "S", 90) if facing else None,
        longitude_deg=_angle(exif, "Longitude", "W", 180) if facing else None,
        phone=_mark(exif),
        is_night=bool(is_known and (seconds >= NIGHT_S or iso >= NIGHT_ISO)),
        is_panorama=max(standard.width, standard.height)
        > PANORAMA * min(standard.width, standard.height),
    )


def _exif(content):
    """{name: value} of what a file says of itself; nothing of one that says it wrongly."""
    with suppress(Exception):  # a stranger's bytes fail in any way they like
        with Image.open(BytesIO(content)) as opened:
            block = opened.getexif()
        tags = {ExifTags.TAGS.get(tag, ""): value for tag, value in block.items()}
        inner = block.get_ifd(ExifTags.IFD.Exif)
        tags |= {ExifTags.TAGS.get(tag, ""): value for tag, value in inner.items()}
        place = block.get_ifd(ExifTags.IFD.GPSInfo)
        return tags | {ExifTags.GPSTAGS.get(tag, ""): value for tag, value in place.items()}
    return {}


def _exposure(exif):
    """(seconds, f-number, ISO) as numbers, or None for each."""
    iso = exif.get("ISOSpeedRatings") or exif.get("PhotographicSensitivity")
    iso = iso[0] if isinstance(iso, tuple | list) and iso else iso
    return (
        _within(exif.get("ExposureTime"), 1e-6, 4000),
        _within(exif.get("FNumber"), 0.5, 200),
        _within(iso, 1, 4e6),
    )


def _within(value, low, high):
    """A number between two others, else None."""
    try:
        amount = float(value)
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    return amount if isfinite(amount) and low <= amount <= high else None


def _say(seconds, aperture, iso):
    time = f"1/{round(1 / seconds)} s" if seconds < 0.3 else f"{number(seconds, 2)} s"
    return f"{time}, f/{number(aperture, 2)}, ISO {number(iso)}"


def _moment(exif):
    """The moment that it was taken, by the zone it names or at home."""
    text = str(exif.get("DateTimeOriginal") or "").strip("\0 ")
    try:
        moment = datetime.strptime(text, "%Y:%m:%d %H:%M:%S")  # noqa: DTZ007
        offset = str(exif.get("OffsetTimeOriginal") or "").strip("\0 ")
        if offset:
            return datetime.fromisoformat(f"{moment.isoformat()}{offset}")
        return timezone.make_aware(moment) if 1970 < moment.year < 2100 else None
    except (ValueError, OverflowError):
        return None


def _facing(exif):
    """The true direction that it looked in; None where it says none, or by a compass."""
    is_true = str(exif.get("GPSImgDirectionRef") or "").strip("\0 ").upper() == "T"
    return _within(exif.get("GPSImgDirection"), 0, 360) if is_true else None


def _angle(exif, name, negative, most):
    """Degrees of a latitude or longitude in degrees, minutes and seconds; None for none."""
    parts = exif.get(f"GPS{name}")
    if not isinstance(parts, tuple | list) or len(parts) != 3:
        return None
    degrees, minutes, seconds = (_within(part, 0, 360) for part in parts)
    if degrees is None or minutes is None:
        return None
    is_negative = str(exif.get(f"GPS{name}Ref") or "").strip("\0 ").upper() == negative
    angle = degrees + minutes / 60 + (seconds or 0.0) / 3600
    return _within(-angle if is_negative else angle, -most, most)


def _mark(exif):
    """A mark that tells phones apart and names none; "" for one that says nothing of itself."""
    names = [str(exif.get(name) or "") for name in ("Make", "Model", "LensModel")]
    return sha256("\0".join(names).encode()).hexdigest()[:12] if any(names) else ""
