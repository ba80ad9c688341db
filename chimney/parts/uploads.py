"""Pictures that strangers send: their size is looked at before they are opened, and what breaks a
decoder is told in words.
"""

from contextlib import contextmanager
from dataclasses import dataclass
from io import BytesIO

from django import forms

from chimney.parts import pictures, tiff

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
    """The picture, not decoded yet, as the library for large ones holds it. Raises
    forms.ValidationError for one that is none or too large.
    """
    if upload.size > limits.most_mb * 1024 * 1024:
        raise forms.ValidationError(
            f"The {limits.what} is larger than {limits.most_mb} MB{limits.remedy}."
        )
    content = upload.read()
    if (kind := pictures.kind_of(content)) not in limits.formats:
        raise forms.ValidationError(f"That is no {limits.what}: a {limits.kinds} is needed.")
    with decoding(limits):
        picture = pictures.load().Image.new_from_buffer(content, "", fail_on="truncated")
    if picture.width * picture.height > limits.most_megapixels * MEGA:
        raise forms.ValidationError(limits.too_large)
    with decoding(limits):
        if kind == "TIFF" and not tiff.is_whole(BytesIO(content), len(content)):
            raise ValueError("strips or tiles are missing")
    return picture


@contextmanager
def decoding(limits):
    """Whatever a decoder raises inside becomes a forms.ValidationError in words."""
    try:
        yield
    except Exception as error:  # a decoder over a stranger's bytes fails in any way it likes
        refusal = f"The {limits.what} is broken or ends too early: scan or save it again."
        raise forms.ValidationError(refusal) from error


PHOTO = Limits("photo", ("JPEG", "PNG", "WEBP"), 40, 80)


def photo_of(upload):
    """The bytes of a small JPEG, without what the phone wrote into it. Raises
    forms.ValidationError in words for what is no photo.
    """
    picture = open_picture(upload, PHOTO)
    with decoding(PHOTO):
        # Decoded whole first: what is made smaller while it is decoded hides that it was cut.
        upright = picture.copy_memory().autorot()
        small = upright.thumbnail_image(PHOTO_PX, height=PHOTO_PX, size="down")
        standard = pictures.standard(small).colourspace("srgb")
        return standard.jpegsave_buffer(Q=80, keep="none", background=255)
