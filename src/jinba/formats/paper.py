"""Drawings on paper in millimetres: lines, outlines and texts, written as SVG or PDF at exactly one to one."""

from __future__ import annotations

import io
from dataclasses import dataclass, field
from xml.etree import ElementTree

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jinba.core.spoken import METRIC, Units, spoken
from jinba.formats.typefaces import runs, width

A4 = (210.0, 297.0)
A3 = (297.0, 420.0)
A2 = (420.0, 594.0)
_BEFORE = {"start": 0.0, "middle": 0.5, "end": 1.0}
"""Which part of a text stands before its foot point."""

_SVG = "http://www.w3.org/2000/svg"


@dataclass(frozen=True, slots=True)
class Line:
    """A polyline through points [mm from the left and the top]; ``closed`` outlines, ``dashes`` in mm."""

    points: tuple[tuple[float, float], ...]
    width: float = 0.25
    closed: bool = False
    dashes: tuple[float, ...] = ()
    grey: float = 0.0
    fill_grey: float | None = None


@dataclass(frozen=True, slots=True)
class Text:
    """A line of text: foot point [mm], height [mm], anchor ``start``, ``middle`` or ``end``."""

    x: float
    y: float
    words: str
    size: float = 3.2
    anchor: str = "start"
    bold: bool = False


@dataclass(slots=True)
class Sheet:
    """A sheet of paper of a size [mm] with what is drawn on it, its sentences in the reader's units."""

    width: float
    height: float
    title: str
    units: Units = field(default_factory=lambda: METRIC)
    lines: list[Line] = field(default_factory=list)
    texts: list[Text] = field(default_factory=list)

    def line(self, *points: tuple[float, float], **more: object) -> None:
        """Add a polyline."""
        self.lines.append(Line(points, **more))  # type: ignore[arg-type]

    def text(self, x: float, y: float, words: str, **more: object) -> None:
        """Add a line of text."""
        self.texts.append(Text(x, y, spoken(words, self.units), **more))  # type: ignore[arg-type]


def to_svg(sheet: Sheet) -> str:
    """Return the sheet as SVG whose user unit is one millimetre on paper."""
    ElementTree.register_namespace("", _SVG)
    root = ElementTree.Element(
        f"{{{_SVG}}}svg",
        {
            "width": f"{sheet.width:g}mm",
            "height": f"{sheet.height:g}mm",
            "viewBox": f"0 0 {sheet.width:g} {sheet.height:g}",
            "font-family": "sans-serif",
        },
    )
    ElementTree.SubElement(root, f"{{{_SVG}}}title").text = sheet.title
    for line in sheet.lines:
        path = "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in line.points) + ("Z" if line.closed else "")
        shape = {
            "d": path,
            "stroke": _grey(line.grey),
            "stroke-width": f"{line.width:g}",
            "fill": "none" if line.fill_grey is None else _grey(line.fill_grey),
        }
        if line.dashes:
            shape["stroke-dasharray"] = " ".join(f"{d:g}" for d in line.dashes)
        ElementTree.SubElement(root, f"{{{_SVG}}}path", shape)
    for text in sheet.texts:
        place = {"x": f"{text.x:.3f}", "y": f"{text.y:.3f}", "font-size": f"{text.size:g}", "text-anchor": text.anchor}
        if text.bold:
            place["font-weight"] = "bold"
        ElementTree.SubElement(root, f"{{{_SVG}}}text", place).text = text.words
    return ElementTree.tostring(root, encoding="unicode", xml_declaration=True)


def _grey(level: float) -> str:
    value = f"{round(level * 255):02x}"
    return f"#{value}{value}{value}"


def to_pdf(*sheets: Sheet) -> bytes:
    """Return sheets as a PDF, a page each, named after the first; the same sheets give the same bytes."""
    buffer = io.BytesIO()
    canvas = Canvas(buffer, invariant=1)
    canvas.setTitle(sheets[0].title)
    for sheet in sheets:
        canvas.setPageSize((sheet.width * mm, sheet.height * mm))
        _draw(canvas, sheet)
        canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _draw(canvas: Canvas, sheet: Sheet) -> None:
    for line in sheet.lines:
        canvas.setLineWidth(line.width * mm)
        canvas.setStrokeGray(line.grey)
        canvas.setDash([d * mm for d in line.dashes])
        if line.fill_grey is not None:
            canvas.setFillGray(line.fill_grey)
        path = canvas.beginPath()
        (x0, y0), *rest = line.points
        path.moveTo(x0 * mm, (sheet.height - y0) * mm)
        for x, y in rest:
            path.lineTo(x * mm, (sheet.height - y) * mm)
        if line.closed:
            path.close()
        canvas.drawPath(path, stroke=1, fill=int(line.fill_grey is not None))
    canvas.setFillGray(0)
    for text in sheet.texts:
        pieces = runs(text.words, bold=text.bold)
        x = text.x * mm - _BEFORE[text.anchor] * width(pieces, text.size * mm)
        for face, words in pieces:
            canvas.setFont(face, text.size * mm)
            canvas.drawString(x, (sheet.height - text.y) * mm, words)
            x += width([(face, words)], text.size * mm)
