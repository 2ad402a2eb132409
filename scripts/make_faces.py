"""Write src/mothseed/report/pages/faces.css: the book face of sheets and figures, for pages.

    python scripts/make_faces.py

It is the STIX face that comes with Matplotlib, reduced to European letters and signs, and under another name, as its licence
asks of what is made from it (the SIL Open Font License, in faces-license.txt beside it).
"""

from __future__ import annotations

import base64
import io
from pathlib import Path

import matplotlib as mpl
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

NAME = "Moth Seed Book"
PAGES = Path(__file__).resolve().parents[1] / "src" / "mothseed" / "report" / "pages"
FONTS = Path(mpl.get_data_path()) / "fonts" / "ttf"
FACES = {"normal": "STIXGeneral.ttf", "italic": "STIXGeneralItalic.ttf"}
LETTERS = [*range(0x20, 0x7F), *range(0xA0, 0x180), *range(0x2010, 0x2027), 0x2032, 0x20AC, 0x2122, *range(0x2190, 0x2194)]
LETTERS += [0x2212, 0x2248, 0x2260, 0x2264, 0x2265]
_FAMILY, _FULL, _POSTSCRIPT = 1, 4, 6
"""Of the names of a font; all others are left out."""


def main() -> None:
    """Write the style sheet and the licence."""
    rules = [
        "/* The book face of sheets and figures, written by scripts/make_faces.py; its licence is in faces-license.txt. */"
    ]
    for style, file in FACES.items():
        data = base64.b64encode(reduced(FONTS / file)).decode()
        source = f'src: url("data:font/woff;base64,{data}") format("woff")'
        rules.append(f'@font-face {{ font-family: "{NAME}"; font-style: {style}; font-weight: 400; {source}; }}')
    (PAGES / "faces.css").write_text("\n".join(rules) + "\n", "utf-8")
    (PAGES / "faces-license.txt").write_text((FONTS / "LICENSE_STIX").read_text("utf-8"), "utf-8")


def reduced(path: Path) -> bytes:
    """A WOFF file of the letters of pages."""
    options = Options()
    options.flavor, options.name_IDs, options.hinting = "woff", [], False
    options.layout_features = ["kern", "liga"]
    font = TTFont(path, recalcTimestamp=False)
    subsetter = Subsetter(options)
    subsetter.populate(unicodes=LETTERS)
    subsetter.subset(font)
    for number, words in ((_FAMILY, NAME), (_FULL, NAME), (_POSTSCRIPT, NAME.replace(" ", ""))):
        font["name"].setName(words, number, 3, 1, 0x409)
    font.flavor = "woff"
    written = io.BytesIO()
    font.save(written)
    return written.getvalue()


if __name__ == "__main__":
    main()
