"""Typefaces for paper: a name in any script is printed by the first face that has its letters."""

from __future__ import annotations

from functools import lru_cache
from itertools import groupby
from pathlib import Path

import reportlab
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

_OWN = Path(reportlab.__file__).parent / "fonts"
_SYSTEM = Path("/usr/share/fonts/truetype")
_FALLBACK = _SYSTEM / "wqy" / "wqy-microhei.ttc"
_FACES = {
    False: (_OWN / "Vera.ttf", _SYSTEM / "dejavu" / "DejaVuSans.ttf", _FALLBACK),
    True: (_OWN / "VeraBd.ttf", _SYSTEM / "dejavu" / "DejaVuSans-Bold.ttf", _FALLBACK),
}
_UNKNOWN = "?"


@lru_cache(maxsize=2)
def _faces(bold: bool) -> tuple[TTFont, ...]:
    """Return the faces that are on this machine, each registered under its file's name."""
    found = []
    for file in _FACES[bold]:
        if file.exists():
            if file.stem not in pdfmetrics.getRegisteredFontNames():
                pdfmetrics.registerFont(TTFont(file.stem, str(file)))
            found.append(pdfmetrics.getFont(file.stem))
    return tuple(found)


def runs(words: str, *, bold: bool) -> list[tuple[str, str]]:
    """Return a text as pieces with the name of the face each is set in; a letter that no face has becomes "?".

    Letters stand in the order in which they are typed: scripts that join letters or run to the left are not shaped.
    """
    faces = _faces(bold)
    chosen = []
    for letter in words:
        face = next((f for f in faces if ord(letter) in f.face.charToGlyph), None)
        chosen.append((faces[0].fontName, _UNKNOWN) if face is None else (face.fontName, letter))
    return [(face, "".join(c for _, c in part)) for face, part in groupby(chosen, key=lambda p: p[0])]


def width(pieces: list[tuple[str, str]], size: float) -> float:
    """Return how wide the pieces are together, in the unit of the size."""
    return sum(float(pdfmetrics.stringWidth(text, face, size)) for face, text in pieces)


def fitted(words: str, size: float, wide: float, *, bold: bool) -> list[str]:
    """Return a text in lines that are no wider than ``wide``, in the unit of the size; a word that is too long stands alone."""
    lines: list[str] = []
    for word in words.split(" "):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and width(runs(longer, bold=bold), size) <= wide:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines
