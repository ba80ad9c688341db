"""Makes the static fonts that PDFs embed out of the vendored variable ones. Needs fonttools and
brotli.

reportlab reads TrueType alone and no variable fonts, so the two subsets of Source Sans 3 are set to
one weight and merged. Each gets a PostScript name of its own, since a PDF tells its fonts apart by
that.
"""

from pathlib import Path
from tempfile import TemporaryDirectory

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

VENDOR = Path(__file__).resolve().parent.parent / "chimney" / "static" / "vendor"
WEIGHTS = {"regular": 400, "bold": 700}


def main():
    for name, weight in WEIGHTS.items():
        with TemporaryDirectory() as folder:
            parts = []
            for subset in ("latin", "latin-ext"):
                font = TTFont(VENDOR / f"source-sans-3-{subset}.woff2")
                font.flavor = None
                font = instancer.instantiateVariableFont(font, {"wght": weight})
                for table in ("GSUB", "GPOS", "GDEF", "STAT", "MVAR"):
                    if table in font:
                        del font[table]
                parts.append(str(Path(folder) / f"{subset}.ttf"))
                font.save(parts[-1])
            whole = Merger().merge(parts)
            whole["name"].setName(f"SourceSans3-{name.capitalize()}", 6, 3, 1, 0x409)
            whole["name"].setName(f"SourceSans3-{name.capitalize()}", 6, 1, 0, 0)
            whole.save(VENDOR / f"source-sans-3-{name}.ttf")


if __name__ == "__main__":
    main()
