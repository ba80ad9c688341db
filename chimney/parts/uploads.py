"""Pictures that strangers send: their size is looked at before they are opened, and what breaks a
decoder is told in words.
"""

from contextlib import contextmanager
from dataclasses import dataclass
from io import BytesIO

from django import forms
from PIL import Image, ImageOps

MEGA = 1_000_000
# A photo that is kept is made as small as this.
PHOTO_PX = 1000


@dataclass(frozen=True)
class Limits:
    """Limits of uploads: kinds as a person calls them, bytes and pixels in millions, and what helps
    where a picture is larger.
    """

    what: str
    formats: tuple
    most_mb: int
    most_megapixels: int
    remedy: str = ""

    @property
    def too_large(self):
        return f"The {self.what} has more than {self.most_megapixels} megapixels{self.remedy}."

    @property
    def kinds(self):
        names = ["WebP" if name == "WEBP" else name for name in self.formats]
        return f"{', '.join(names[:-1])} or {names[-1]}"


def open_picture(upload, limits):
    """The picture, not decoded yet. Raises forms.ValidationError for one that is none or too
    large.
    """
    if upload.size > limits.most_mb * 1024 * 1024:
        raise forms.ValidationError(
            f"The {limits.what} is larger than {limits.most_mb} MB{limits.remedy}."
        )
    try:
        picture = Image.open(upload, formats=limits.formats)
    except Image.DecompressionBombError as error:
        raise forms.ValidationError(limits.too_large) from error
    except Exception as error:  # a decoder over a stranger's bytes fails in any way it likes
        refusal = f"That is no {limits.what}: a {limits.kinds} is needed."
        raise forms.ValidationError(refusal) from error
    if picture.size[0] * picture.size[1] > limits.most_megapixels * MEGA:
        raise forms.ValidationError(limits.too_large)
    return picture


@contextmanager
def decoding(limits):
    """Whatever a decoder raises inside becomes a forms.ValidationError in words."""
    try:
        yield
    except Exception as error:  # as above
        refusal = f"The {limits.what} is broken or ends too early: scan or save it again."
        raise forms.ValidationError(refusal) from error


PHOTO = Limits("photo", ("JPEG", "PNG", "WEBP"), 40, 80)


def photo_of(upload):
    """The bytes of a small JPEG, without what the phone wrote into it. Raises
    forms.ValidationError in words for what is no photo.
    """
    image = open_picture(upload, PHOTO)
    out = BytesIO()
    with decoding(PHOTO):
        image = ImageOps.exif_transpose(image).convert("RGB")
        image.thumbnail((PHOTO_PX, PHOTO_PX))
        image.save(out, "JPEG", quality=80)
    return out.getvalue()
