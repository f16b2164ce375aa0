"""What to measure, in the order in which one measures a model lying on a table, each step in one sentence."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.parts import Airframe, Role, Surface

Path = tuple[str | int, ...]


@dataclass(frozen=True, slots=True)
class MeasuringStep:
    """One measure: ``path`` to the value within the airframe, its quantity, what to do, and where it stands on the drawing.

    ``focus`` names the dimension line ("surface:wing:1:chord_m"); ``negated``: shown with the other sign (wash-out).
    """

    path: Path
    part: str
    label: str
    words: str
    quantity: str
    focus: str
    negated: bool = False

    @property
    def name(self) -> str:
        """Of which part it is and what: "wing, chord, root", "fin height"."""
        return measure_name(self.part, self.label)


def measure_name(part: str, label: str) -> str:
    """Return how a measure is called in a sentence: "wing, chord, root", "fin height"."""
    words = f"{label[0].lower()}{label[1:]}"
    return words if words.startswith(part) else f"{part}, {words}"


def measuring_steps(airframe: Airframe) -> tuple[MeasuringStep, ...]:
    """Return the steps: along the body, then each surface root to tip, then angles, then fin, motor and wheels.

    Lengths come before angles, because the model lies flat for them; angles want it propped level. Derived here.
    """
    steps = [*_body(airframe)]
    for i, surface in enumerate(airframe.surfaces):
        steps += _lengths(i, surface)
    for i, surface in enumerate(airframe.surfaces):
        steps += _angles(i, surface)
    return (*steps, *_fin(airframe), *_motor(airframe), *_gear(airframe))


def _body(airframe: Airframe) -> list[MeasuringStep]:
    boom = "pod" if airframe.body.boom_y_m > 0 else "body"
    rows = (
        (
            "nose_x_m",
            "Nose, from the datum",
            f"Lay the ruler along the {boom}. From the datum to its nose; ahead is negative.",
        ),
        ("length_m", "Length", f"From the nose to the end of the {boom}."),
        ("width_m", "Greatest width", "Across the widest place."),
        ("height_m", "Greatest height", "At the deepest place, without canopy and gear."),
    )
    return [MeasuringStep(("body", k), "body", label, words, "length", f"body:{k}") for k, label, words in rows]


def _lengths(i: int, s: Surface) -> list[MeasuringStep]:
    steps = [
        MeasuringStep(
            ("surfaces", i, "x_m"),
            s.key,
            "Root leading edge, from the datum",
            f"Along the body to where the {s.key}'s leading edge meets the centre line.",
            "length",
            f"surface:{s.key}:0:x_m",
        )
    ]
    for j in range(len(s.sections)):
        steps += _chord(i, s, j)
    return steps


def _chord(i: int, s: Surface, j: int) -> list[MeasuringStep]:
    place = "root" if j == 0 else "tip" if j == len(s.sections) - 1 else f"chord {j + 1}"
    rows = [
        ("chord_m", f"Chord, {place}", f"{s.key}, {place}: leading edge to trailing edge, along the flight direction.")
    ]
    if j > 0:
        rows = [
            ("y_m", f"Centre line to {place}", f"{s.key}: from the centre line square out to the {place}."),
            (
                "x_offset_m",
                f"Leading edge behind the root's, {place}",
                "A straight edge across at the root; how far behind it the leading edge lies here.",
            ),
            *rows,
        ]
    return [
        MeasuringStep(("surfaces", i, "sections", j, k), s.key, label, words, "length", f"surface:{s.key}:{j}:{k}")
        for k, label, words in rows
    ]


def _angles(i: int, s: Surface) -> list[MeasuringStep]:
    tip = len(s.sections) - 1
    steps = [
        MeasuringStep(
            ("surfaces", i, "z_m"),
            s.key,
            "Height above the datum line",
            f"Prop the body level. {s.key}: root leading edge above the datum line; below is negative.",
            "length",
            f"surface:{s.key}:0:z_m",
        ),
        MeasuringStep(
            ("surfaces", i, "sections", tip, "z_offset_m"),
            s.key,
            "Rise of the tip",
            f"{s.key}: how much higher the tip lies than the root.",
            "length",
            f"surface:{s.key}:{tip}:z_offset_m",
        ),
        MeasuringStep(
            ("surfaces", i, "incidence_rad"),
            s.key,
            "Incidence of the root",
            f"Incidence meter on the {s.key}'s right root. Leading edge up is positive.",
            "angle",
            f"surface:{s.key}:0:twist",
        ),
    ]
    if s.role is Role.TAIL:
        return steps
    for j in range(1, tip + 1):
        place = "tip" if j == tip else f"chord {j + 1}"
        for key, side in (("twist_rad", "right"), ("left_twist_rad", "left")):
            words = f"Incidence meter on the {side} {place}, against the right root: leading edge lower is wash-out, positive. No wash-in."
            steps.append(
                MeasuringStep(
                    ("surfaces", i, "sections", j, key),
                    s.key,
                    f"Wash-out, {side} {place}",
                    words,
                    "angle",
                    f"surface:{s.key}:{j}:twist",
                    negated=True,
                )
            )
    return steps


def _fin(airframe: Airframe) -> list[MeasuringStep]:
    if airframe.fin is None:
        return []
    rows = (
        ("x_m", "Fin root leading edge, from the datum", "Along the body to the foot of the fin's leading edge."),
        ("height_m", "Fin height", "From its foot to its tip, the rudder included."),
        ("root_chord_m", "Fin root chord", "At the foot, rudder included."),
        ("tip_chord_m", "Fin tip chord", "At the top, rudder included."),
    )
    return [MeasuringStep(("fin", k), "fin", label, words, "length", f"fin:{k}") for k, label, words in rows]


def _motor(airframe: Airframe) -> list[MeasuringStep]:
    if airframe.motor is None:
        return []
    rows = (
        ("x_m", "Propeller, from the datum", "length", "Propeller off. Along the body to the propeller's plane."),
        ("z_m", "Motor height", "length", "Its shaft above the datum line; below is negative."),
        ("propeller_diameter_m", "Propeller diameter", "length", "Tip to tip, as printed on it."),
        (
            "tilt_down_rad",
            "Tilt, forward end down",
            "angle",
            "A straight rod on the shaft: forward end down is positive.",
        ),
        (
            "tilt_right_rad",
            "Tilt, forward end right",
            "angle",
            "The same from above: forward end to the right is positive.",
        ),
    )
    return [MeasuringStep(("motor", k), "motor", label, words, q, f"motor:{k}") for k, label, q, words in rows]


def _gear(airframe: Airframe) -> list[MeasuringStep]:
    if airframe.gear is None:
        return []
    rows = (
        ("main_x_m", "Main wheels, from the datum", "Body level as in flight. Along the body to below the axle."),
        ("main_y_m", "Main wheel from the centre line", "Square out to the middle of the tyre."),
        ("third_x_m", "Nose or tail wheel, from the datum", "Along the body to below its axle."),
        (
            "ground_z_m",
            "Ground below the datum line",
            "From the datum line down to where the main tyres touch; below is negative.",
        ),
    )
    return [MeasuringStep(("gear", k), "gear", label, words, "length", f"gear:{k}") for k, label, words in rows]
