"""Sections of an open library, computed once: see ``bench/section_table.py``, which writes this file.

Coordinates from aerosandbox 4.2.10's airfoil database, polars from neuralfoil 0.3.3 (computed; both MIT). Maximum lift is the first
peak; below Re 1e5 such polars read high, so that column is taken at 0.9 (docs/methods/stall.md).
"""

from __future__ import annotations

from jinba.core.airframe.parts import Camber
from jinba.core.stability.sections import LibrarySection

SECTIONS: dict[str, LibrarySection] = {
    s.key: s
    for s in (
        LibrarySection(
            "naca0006", "NACA 0006", Camber.SYMMETRICAL, 0.0600, 0.0000, 0.00, 0.0000, (0.58, 0.7, 0.71, 0.72, 0.76)
        ),
        LibrarySection(
            "naca0009", "NACA 0009", Camber.SYMMETRICAL, 0.0900, 0.0000, 0.00, 0.0000, (0.69, 0.81, 0.88, 1.0, 1.23)
        ),
        LibrarySection(
            "naca0012", "NACA 0012", Camber.SYMMETRICAL, 0.1200, 0.0000, 0.00, 0.0000, (0.78, 0.99, 1.11, 1.2, 1.36)
        ),
        LibrarySection(
            "naca0015", "NACA 0015", Camber.SYMMETRICAL, 0.1500, 0.0000, 0.00, 0.0000, (0.84, 1.12, 1.2, 1.22, 1.37)
        ),
        LibrarySection("e168", "E168", Camber.SYMMETRICAL, 0.1243, 0.0000, 0.00, 0.0000, (0.85, 1.05, 1.1, 1.13, 1.25)),
        LibrarySection(
            "naca1412",
            "NACA 1412",
            Camber.SEMI_SYMMETRICAL,
            0.1200,
            0.0100,
            -1.17,
            -0.0335,
            (0.92, 1.15, 1.22, 1.27, 1.43),
        ),
        LibrarySection(
            "naca2412",
            "NACA 2412",
            Camber.SEMI_SYMMETRICAL,
            0.1201,
            0.0200,
            -2.35,
            -0.0578,
            (1.06, 1.29, 1.31, 1.33, 1.49),
        ),
        LibrarySection(
            "naca2415",
            "NACA 2415",
            Camber.SEMI_SYMMETRICAL,
            0.1501,
            0.0200,
            -2.03,
            -0.0561,
            (1.08, 1.33, 1.3, 1.33, 1.48),
        ),
        LibrarySection(
            "e197", "E197", Camber.SEMI_SYMMETRICAL, 0.1348, 0.0280, -2.51, -0.0658, (1.05, 1.18, 1.17, 1.17, 1.34)
        ),
        LibrarySection(
            "rg15", "RG15", Camber.SEMI_SYMMETRICAL, 0.0892, 0.0176, -1.66, -0.0534, (0.96, 1.13, 1.17, 1.23, 1.35)
        ),
        LibrarySection(
            "s3021", "S3021", Camber.SEMI_SYMMETRICAL, 0.0947, 0.0296, -3.33, -0.0630, (1.09, 1.26, 1.26, 1.27, 1.37)
        ),
        LibrarySection(
            "mh32", "MH32", Camber.SEMI_SYMMETRICAL, 0.0870, 0.0240, -2.77, -0.0628, (1.02, 1.19, 1.21, 1.25, 1.35)
        ),
        LibrarySection(
            "e205", "E205", Camber.FLAT_BOTTOM, 0.1047, 0.0301, -3.14, -0.0584, (1.09, 1.15, 1.15, 1.24, 1.35)
        ),
        LibrarySection(
            "clarky", "Clark Y", Camber.FLAT_BOTTOM, 0.1171, 0.0343, -3.93, -0.0876, (1.12, 1.38, 1.38, 1.41, 1.51)
        ),
        LibrarySection(
            "naca4412", "NACA 4412", Camber.FLAT_BOTTOM, 0.1202, 0.0400, -4.44, -0.1030, (1.27, 1.32, 1.39, 1.44, 1.59)
        ),
        LibrarySection(
            "naca4415", "NACA 4415", Camber.FLAT_BOTTOM, 0.1502, 0.0400, -4.39, -0.1011, (0.8, 1.41, 1.41, 1.47, 1.59)
        ),
        LibrarySection(
            "sd7037", "SD7037", Camber.FLAT_BOTTOM, 0.0920, 0.0302, -3.44, -0.0778, (1.15, 1.31, 1.33, 1.35, 1.46)
        ),
        LibrarySection(
            "ag35", "AG35", Camber.FLAT_BOTTOM, 0.0872, 0.0437, -4.29, -0.0471, (1.05, 1.25, 1.28, 1.33, 1.46)
        ),
        LibrarySection(
            "s4083", "S4083", Camber.FLAT_BOTTOM, 0.0800, 0.0345, -3.55, -0.0830, (1.18, 1.36, 1.37, 1.39, 1.51)
        ),
        LibrarySection(
            "s1223", "S1223", Camber.FLAT_BOTTOM, 0.1214, 0.0868, -10.28, -0.2797, (1.05, 2.0, 2.23, 2.25, 2.29)
        ),
        LibrarySection("mh45", "MH45", Camber.REFLEXED, 0.0984, 0.0171, -1.20, -0.0125, (0.97, 1.19, 1.22, 1.24, 1.42)),
        LibrarySection("mh60", "MH60", Camber.REFLEXED, 0.1008, 0.0182, -1.33, -0.0154, (1.0, 1.19, 1.2, 1.22, 1.37)),
        LibrarySection("mh64", "MH64", Camber.REFLEXED, 0.0858, 0.0149, -1.38, -0.0200, (0.9, 1.06, 1.09, 1.14, 1.25)),
        LibrarySection("e186", "E186", Camber.REFLEXED, 0.1027, 0.0131, -0.70, 0.0086, (0.85, 1.0, 1.01, 1.04, 1.12)),
        LibrarySection(
            "s5010", "S5010", Camber.REFLEXED, 0.0982, 0.0220, -1.38, -0.0075, (0.98, 1.25, 1.25, 1.29, 1.44)
        ),
        LibrarySection(
            "s5020", "S5020", Camber.REFLEXED, 0.0840, 0.0262, -1.37, -0.0060, (1.0, 1.25, 1.24, 1.29, 1.43)
        ),
    )
}
