"""Outlines of a half wing other than straight panels: an ellipse, as stations the rest of the house knows."""

from __future__ import annotations

import math

from jinba.core.airframe.parts import Section
from jinba.core.errors import check_range

_STATIONS = 14


def elliptical_sections(
    *, half_span_m: float, root_chord_m: float, straight_at: float = 0.25, tip_rise_m: float = 0.0
) -> tuple[Section, ...]:
    """Return the stations of an elliptical half wing.

    c(y) = c_0 sqrt(1 - (y/s)^2), the line at ``straight_at`` of the chord straight across the span; stations at y = s sin(t),
    close where the chord falls fast, chords raised a little so that the area is the ellipse's.

    Parameters
    ----------
    half_span_m, root_chord_m : s and c_0, > 0. [m]
    straight_at : fraction of the chord of the line that is straight, 0 leading edge, 1 trailing edge. [-]
    tip_rise_m : rise of the tip over the root, in proportion along the span. [m]

    Raises: OutOfRangeError. References: area pi/4 c_0 b, mean chord 8/(3 pi) c_0 (any handbook); stations derived here.
    """
    check_range("half span", half_span_m, unit="m", low=0.02, high=12.0)
    check_range("root chord", root_chord_m, unit="m", low=0.005, high=12.0)
    check_range("straight line", straight_at, unit="of the chord", low=0.0, high=1.0)
    angles = [0.5 * math.pi * i / (_STATIONS - 1) for i in range(_STATIONS)]
    ys, cs = [math.sin(t) for t in angles], [math.cos(t) for t in angles]
    panels = sum(0.5 * (cs[i] + cs[i + 1]) * (ys[i + 1] - ys[i]) for i in range(_STATIONS - 1))
    full = 0.25 * math.pi / panels
    # The root keeps its measured chord; the missing area is spread over the rest.
    wanted = 1.0 + (full - 1.0) * panels / (panels - 0.5 * ys[1])
    sections = []
    for i, (y, c) in enumerate(zip(ys, cs, strict=True)):
        chord = root_chord_m * c * (wanted if i else 1.0)
        lead = straight_at * (root_chord_m - chord)
        sections.append(Section(y * half_span_m, lead, max(chord, 0.0), tip_rise_m * y))
    return tuple(sections)
