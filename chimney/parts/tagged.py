"""Exif in a TIFF, which the library that writes pictures leaves out."""

import struct
from io import BytesIO

from PIL import Image
from PIL.TiffImagePlugin import ImageFileDirectory_v2

# Of TIFF 6.0 and Exif 2.3: type of a pointer, of text, and the tags that lead on.
LONG, ASCII = 4, 2
DESCRIPTION, EXIF_POINTER, GPS_POINTER = 0x010E, 0x8769, 0x8825
LITTLE_END, ENTRY_BYTES = b"II", 12


def tell(path, jpeg):
    """Write the Exif of a JPEG, its bytes, into the TIFF file at that path: what it says goes to
    the end, with a directory that leads there.
    """
    source = Image.open(BytesIO(jpeg)).getexif()
    with path.open("r+b") as file:
        head = file.read(8)
        end = "<" if head[:2] == LITTLE_END else ">"
        entries = _entries(file, struct.unpack(f"{end}4xL", head)[0], end)
        for pointer in (EXIF_POINTER, GPS_POINTER):
            if part := source.get_ifd(pointer):
                entries[pointer] = struct.pack(
                    f"{end}HHLL", pointer, LONG, 1, _part(file, head, part)
                )
        if words := source.get(DESCRIPTION):
            text = words.encode("ascii", "replace") + b"\0" * 4
            place = _append(file, text)
            entries[DESCRIPTION] = struct.pack(f"{end}HHLL", DESCRIPTION, ASCII, len(text), place)
        rows = b"".join(entries[tag] for tag in sorted(entries))
        directory = _append(file, struct.pack(f"{end}H", len(entries)) + rows + bytes(4))
        file.seek(4)
        file.write(struct.pack(f"{end}L", directory))


def _entries(file, offset, end):
    """{tag: its entry as it stands} of the directory at that offset."""
    file.seek(offset)
    (count,) = struct.unpack(f"{end}H", file.read(2))
    rows = [file.read(ENTRY_BYTES) for _ in range(count)]
    return {struct.unpack(f"{end}H", row[:2])[0]: row for row in rows}


def _part(file, head, values):
    """Offset of a further directory of those values, written to the end."""
    file.seek(0, 2)
    directory = ImageFileDirectory_v2(head)
    for tag, value in values.items():
        directory[tag] = value
    return _append(file, directory.tobytes(_even(file)))


def _append(file, data):
    """Offset at which data went to the end."""
    offset = _even(file)
    file.write(data)
    return offset


def _even(file):
    """Offset of the end, which is even in a TIFF."""
    file.seek(0, 2)
    file.write(bytes(file.tell() % 2))
    return file.tell()
