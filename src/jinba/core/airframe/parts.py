"""Parts of an airframe as frozen records. Drawing axes: x aft of the datum, y to the right wing, z up; metres, radians."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations, pairwise
from typing import Annotated

from jinba.core.declare import Change, Metres, Newtons, Opens, Radians, Share, Station
from jinba.core.errors import GeometryError, check_range, check_text
from jinba.core.spoken import a_length

LARGEST_DIMENSION_M = 12.0
MOST_SECTIONS = 24


class Role(StrEnum):
    """What a lifting surface is for."""

    WING = "wing"
    TAIL = "tail"
    CANARD = "canard"


class Camber(StrEnum):
    """Family of wing section; decides the zero-lift angle and the moment at zero lift."""

    FLAT_PLATE = "flat_plate"
    SYMMETRICAL = "symmetrical"
    SEMI_SYMMETRICAL = "semi_symmetrical"
    FLAT_BOTTOM = "flat_bottom"
    REFLEXED = "reflexed"


@dataclass(frozen=True, slots=True)
class Section:
    """One measured chord of the right half, relative to the root leading edge of its surface.

    ``y_m`` distance from the centre line, ``x_offset_m`` of the leading edge aft of the root leading edge,
    ``chord_m``, ``z_offset_m`` height above the root, ``twist_rad`` incidence against the right root (> 0 leading edge up,
    so wash-out is negative) of both halves, or of the right one when ``left_twist_rad`` was measured apart.
    """

    y_m: Metres
    x_offset_m: Metres
    chord_m: Metres
    z_offset_m: Metres = 0.0
    twist_rad: Radians = 0.0
    left_twist_rad: Radians | None = None

    def __post_init__(self) -> None:
        check_range("distance from the centre line", self.y_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)
        check_range(
            "leading edge offset", self.x_offset_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M
        )
        check_range("chord", self.chord_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)
        check_range("rise", self.z_offset_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        hint = "That is 20 degrees either way."
        check_range("twist", self.twist_rad, unit="rad", low=-0.35, high=0.35, hint=hint)
        if self.left_twist_rad is not None:
            check_range("twist of the left half", self.left_twist_rad, unit="rad", low=-0.35, high=0.35, hint=hint)

    @property
    def mean_twist_rad(self) -> float:
        """Mean of both halves: what lifts and pitches. [rad] Derived here."""
        return self.twist_rad if self.left_twist_rad is None else 0.5 * (self.twist_rad + self.left_twist_rad)

    @property
    def odd_twist_rad(self) -> float:
        """Half of right minus left: what rolls. [rad, right leading edge up positive] Derived here."""
        return 0.0 if self.left_twist_rad is None else 0.5 * (self.twist_rad - self.left_twist_rad)


REYNOLDS = (5e4, 1e5, 2e5, 4e5, 1e6)
"""Reynolds numbers at which a section's maximum lift is kept. [-]"""


@dataclass(frozen=True, slots=True)
class Foil:
    """The section of a surface by name, from the library or a coordinate file; it goes before the family.

    ``thickness``, ``camber`` [of the chord]; ``zero_lift_rad``; ``cm_zero_lift`` about the quarter chord; ``cl_max`` at the
    Reynolds numbers of :data:`REYNOLDS`; ``source`` in words.
    """

    name: str
    thickness: Share
    camber: Share
    zero_lift_rad: Radians
    cm_zero_lift: Share
    cl_max: tuple[Share, Share, Share, Share, Share]
    source: str = ""

    def __post_init__(self) -> None:
        check_text("name of the section", self.name, longest=60)
        check_text("source of the section", self.source, longest=200)
        check_range("section thickness", self.thickness, unit="of the chord", low=0.005, high=0.5)
        check_range("section camber", self.camber, unit="of the chord", low=-0.2, high=0.2)
        check_range("zero-lift angle", self.zero_lift_rad, unit="rad", low=-0.35, high=0.35)
        check_range("moment at zero lift", self.cm_zero_lift, unit="", low=-0.5, high=0.5)
        for peak in self.cl_max:
            check_range("highest lift of the section", peak, unit="", low=0.2, high=4.0)


@dataclass(frozen=True, slots=True)
class Surface:
    """A lifting surface, mirrored about the centre line.

    ``x_m``, ``z_m``: root leading edge from the datum. ``incidence_rad`` of the root against the body axis.
    ``sections`` from root to tip. ``hinge_fraction``: chord fraction of the hinge line (0.7 = surface is the last 30 %);
    ``control_inner``, ``control_outer``: span fractions between which the control surface lies.
    """

    key: str
    role: Role
    x_m: Station
    z_m: Metres
    sections: tuple[Section, ...]
    incidence_rad: Radians = 0.0
    camber: Camber = Camber.SYMMETRICAL
    hinge_fraction: Share = 0.75
    control_inner: Share = 0.0
    control_outer: Share = 1.0
    foil: Foil | None = None

    def __post_init__(self) -> None:
        check_text("surface name", self.key, longest=40)
        check_range("root leading edge station", self.x_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("root height", self.z_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("incidence", self.incidence_rad, unit="rad", low=-0.35, high=0.35)
        check_range("hinge line", self.hinge_fraction, unit="of the chord", low=0.0, high=0.98)
        check_range("control inner end", self.control_inner, unit="of the half span", low=0.0, high=1.0)
        check_range("control outer end", self.control_outer, unit="of the half span", low=self.control_inner, high=1.0)
        _check_sections(self.key, self.sections)

    @property
    def half_span_m(self) -> float:
        """Distance of the outermost section from the centre line. [m] Derived here."""
        return self.sections[-1].y_m


def _check_sections(key: str, sections: tuple[Section, ...]) -> None:
    if not 2 <= len(sections) <= MOST_SECTIONS:
        raise GeometryError(f"{key} needs 2 to {MOST_SECTIONS} measured chords, root to tip; it has {len(sections)}.")
    for inner, outer in pairwise(sections):
        if outer.y_m <= inner.y_m:
            raise GeometryError(
                f"{key}: the chord at {a_length(outer.y_m)} lies inside the one before it "
                f"({a_length(inner.y_m)}); list the chords from root to tip."
            )
    if sum(s.chord_m for s in sections) <= 0 or sections[0].chord_m <= 0:
        raise GeometryError(f"{key}: the root chord is zero; measure it along the body.")


@dataclass(frozen=True, slots=True)
class Fin:
    """A vertical fin; ``y_m`` > 0 means a pair, one each side. ``x_m``, ``z_m``: root leading edge from the datum."""

    x_m: Station
    z_m: Metres
    height_m: Metres
    root_chord_m: Metres
    tip_chord_m: Metres
    sweep_offset_m: Metres = 0.0
    y_m: Metres = 0.0
    hinge_fraction: Share = 0.65

    def __post_init__(self) -> None:
        check_range("fin height", self.height_m, unit="m", low=0.01, high=LARGEST_DIMENSION_M)
        check_range("fin root chord", self.root_chord_m, unit="m", low=0.01, high=LARGEST_DIMENSION_M)
        check_range("fin tip chord", self.tip_chord_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)
        check_range("rudder hinge line", self.hinge_fraction, unit="of the chord", low=0.0, high=0.98)
        check_range("fin sweep", self.sweep_offset_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("fin station", self.x_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("fin root height", self.z_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("fin distance from the centre line", self.y_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)

    @property
    def count(self) -> int:
        """1 on the centre line, 2 when mounted off it."""
        return 2 if self.y_m > 0 else 1

    @property
    def area_m2(self) -> float:
        """Area of all fins together. [m2] Derived here."""
        return self.count * 0.5 * (self.root_chord_m + self.tip_chord_m) * self.height_m


@dataclass(frozen=True, slots=True)
class Body:
    """Fuselage, pod or nacelle: nose station, length, greatest width and height.

    ``boom_y_m`` > 0 draws twin booms there. ``y_m`` > 0 means a pair, one each side; ``z_m`` height of its middle line.
    """

    nose_x_m: Station
    length_m: Metres
    width_m: Metres
    height_m: Metres
    boom_y_m: Metres = 0.0
    y_m: Metres = 0.0
    z_m: Metres = 0.0

    def __post_init__(self) -> None:
        check_range("nose station", self.nose_x_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("body length", self.length_m, unit="m", low=0.02, high=LARGEST_DIMENSION_M)
        check_range("body width", self.width_m, unit="m", low=0.001, high=2.0)
        check_range("body height", self.height_m, unit="m", low=0.001, high=2.0)
        check_range("boom distance", self.boom_y_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)
        check_range("body distance from the centre line", self.y_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)
        check_range("body height", self.z_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)

    @property
    def count(self) -> int:
        """1 on the centre line, 2 when mounted off it."""
        return 2 if self.y_m > 0 else 1


_TILT = Opens(Change.THRUST_LINE, "thrust line shimmed")


class Drive(StrEnum):
    """How a motor drives: a propeller ahead of its mount, one behind it, or a fan in a duct."""

    TRACTOR = "tractor"
    PUSHER = "pusher"
    FAN = "fan"


@dataclass(frozen=True, slots=True)
class Motor:
    """Motor and propeller: station, height, full-throttle static thrust, propeller diameter, tilt of the thrust axis.

    ``tilt_down_rad`` > 0: forward end of the axis down; ``tilt_right_rad`` > 0: forward end to the right.
    ``bolt_spacing_m``: distance of the mount's bolt rows, which turns washers into degrees.
    ``turns_right``: the propeller turns clockwise as seen from behind (its torque rolls the model to the left).
    ``y_m`` > 0 means a pair, one each side, each with that thrust; ``counter_rotating``: the pair's torques cancel.
    ``drive``: None for the one its place suggests, a pusher behind the balance point.
    """

    x_m: Station
    z_m: Metres
    static_thrust_n: Newtons
    propeller_diameter_m: Metres
    tilt_down_rad: Annotated[Radians, _TILT] = 0.0
    tilt_right_rad: Annotated[Radians, _TILT] = 0.0
    bolt_spacing_m: Metres = 0.025
    turns_right: bool = True
    y_m: Metres = 0.0
    counter_rotating: bool = False
    drive: Drive | None = None

    def __post_init__(self) -> None:
        check_range("motor station", self.x_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("motor height", self.z_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("static thrust", self.static_thrust_n, unit="N", low=0.05, high=1e6)
        check_range("propeller diameter", self.propeller_diameter_m, unit="m", low=0.02, high=4.0)
        check_range("thrust tilt down", self.tilt_down_rad, unit="rad", low=-0.35, high=0.35)
        check_range("thrust tilt right", self.tilt_right_rad, unit="rad", low=-0.35, high=0.35)
        check_range("bolt spacing", self.bolt_spacing_m, unit="m", low=0.004, high=0.5)
        check_range("motor distance from the centre line", self.y_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)

    @property
    def count(self) -> int:
        """1 on the centre line, 2 when mounted off it."""
        return 2 if self.y_m > 0 else 1

    @property
    def total_thrust_n(self) -> float:
        """Static thrust of all of them together. [N] Derived here."""
        return self.count * self.static_thrust_n


@dataclass(frozen=True, slots=True)
class Gear:
    """Wheels on the ground: stations of the main pair and of the nose or tail wheel, distance of the mains, ground height.

    ``main_y_m`` from the centre line; ``third_x_m`` ahead of the mains is a nose wheel, behind them a tail wheel or skid;
    ``ground_z_m`` where the wheels stand on the ground, below the datum line negative. ``folds``: it is put away in flight.
    """

    main_x_m: Station
    main_y_m: Metres
    third_x_m: Station
    ground_z_m: Metres
    folds: bool = False

    def __post_init__(self) -> None:
        check_range("main wheel station", self.main_x_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("main wheel distance", self.main_y_m, unit="m", low=0.0, high=LARGEST_DIMENSION_M)
        check_range("third wheel station", self.third_x_m, unit="m", low=-LARGEST_DIMENSION_M, high=LARGEST_DIMENSION_M)
        check_range("height of the ground", self.ground_z_m, unit="m", low=-LARGEST_DIMENSION_M, high=0.0)
        if abs(self.third_x_m - self.main_x_m) < 0.02:
            raise GeometryError(
                f"The nose or tail wheel stands within {a_length(0.02)} of the main wheels: measure both from the datum."
            )

    @property
    def has_nose_wheel(self) -> bool:
        """Whether the third wheel stands ahead of the mains."""
        return self.third_x_m < self.main_x_m


_SAME_HEIGHT_M = 0.002


def _check_apart(one: Surface, other: Surface) -> None:
    """Refuse two surfaces whose roots run through each other: a typing error, and nothing that could be computed."""
    ends = [(s.x_m, s.x_m + s.sections[0].chord_m) for s in (one, other)]
    overlap = min(ends[0][1], ends[1][1]) - max(ends[0][0], ends[1][0])
    if overlap > 0 and abs(one.z_m - other.z_m) < _SAME_HEIGHT_M:
        raise GeometryError(
            f"{one.key} and {other.key} run through each other: their root chords overlap by {a_length(overlap)} at the "
            "same height. Measure the station or the height of one of them."
        )


def _motor_words(before: Airframe, after: Airframe) -> str:
    if before.motor is None:
        return "motor fitted"
    return "motor taken out" if after.motor is None else "motor or propeller changed"


@dataclass(frozen=True, slots=True)
class Airframe:
    """A fixed-wing airframe. The first surface with role ``wing`` is the reference for area, span and MAC."""

    surfaces: tuple[Surface, ...]
    body: Body
    fin: Fin | None = None
    motor: Annotated[Motor | None, Opens(Change.POWER, _motor_words)] = None
    nacelles: tuple[Body, ...] = ()
    further_motors: Annotated[tuple[Motor, ...], Opens(Change.POWER, "further motors changed")] = ()
    gear: Gear | None = None

    def __post_init__(self) -> None:
        keys = [s.key for s in self.surfaces]
        if len(set(keys)) != len(keys):
            raise GeometryError("Two surfaces have the same name; give each its own.")
        if not any(s.role is Role.WING for s in self.surfaces):
            raise GeometryError(
                "The airframe has no wing; one surface must be the wing, the reference for area and chord."
            )
        if len(self.surfaces) > 6:
            raise GeometryError("At most six lifting surfaces are computed.")
        if len(self.nacelles) > 4 or len(self.further_motors) > 3:
            raise GeometryError("At most four rows of nacelles and four rows of motors, each single or a pair.")
        for one, other in combinations(self.surfaces, 2):
            _check_apart(one, other)

    @property
    def wing(self) -> Surface:
        """The reference wing."""
        return next(s for s in self.surfaces if s.role is Role.WING)

    @property
    def pitch_surface(self) -> Surface | None:
        """The surface that carries the elevator, or None for a wing alone."""
        return next((s for s in self.surfaces if s.role in (Role.TAIL, Role.CANARD)), None)


def degrees(radians: float) -> float:
    """Return an angle in degrees; shorthand for texts only. Derived here. ``radians`` [rad]."""
    return math.degrees(radians)
