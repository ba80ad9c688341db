"""A photo of where a can hangs: looked at, made small, kept as a JPEG without what the phone wrote
into it.
"""

from io import BytesIO

from PIL import Image, ImageOps

MOST_BYTES, MOST_PIXELS, SIDE_PX = 40 * 1024 * 1024, 80_000_000, 1000


class TooLargeError(ValueError):
    """More bytes or pixels than are looked at."""


def take(form):
    """Put the uploaded photo into the form's instance; False, with a message beside the field, if
    it is none.
    """
    upload = form.cleaned_data.get("photo_file")
    if not upload:
        return True
    try:
        if upload.size > MOST_BYTES:
            raise TooLargeError("The photo is larger than 40 MB.")
        image = Image.open(upload, formats=("JPEG", "PNG", "WEBP"))
        if image.size[0] * image.size[1] > MOST_PIXELS:
            raise TooLargeError("The photo has more than 80 megapixels.")
        image = ImageOps.exif_transpose(image).convert("RGB")
        image.thumbnail((SIDE_PX, SIDE_PX))
    except TooLargeError as error:
        form.add_error("photo_file", str(error))
        return False
    except Exception:  # a decoder over a stranger's bytes fails in any way it likes
        form.add_error("photo_file", "That is no photo: a JPEG, PNG or WebP is needed.")
        return False
    out = BytesIO()
    image.save(out, "JPEG", quality=80)
    form.instance.photo = out.getvalue()
    return True
