"""QR codes: for a screen as a picture in a data address, for a terminal as text."""

from __future__ import annotations

import io

import segno

_BORDER = 4
"""Modules of quiet margin that a reader needs (ISO/IEC 18004; from memory)."""


def qr_picture(text: str) -> str:
    """Return the code of a text as an SVG in a data address, dark on white whatever is round it."""
    return segno.make(text, error="m", micro=False).svg_data_uri(scale=4, border=_BORDER, dark="#000", light="#fff")


def qr_text(text: str) -> str:
    """Return the code of a text in half blocks, two modules a character: for a terminal."""
    out = io.StringIO()
    segno.make(text, error="m", micro=False).terminal(out=out, border=_BORDER, compact=True)
    return out.getvalue()
