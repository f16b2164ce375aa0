"""Nomenclature as data: the one glossary of symbols, names, units and signs, for the docs and for on-screen explanations."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Symbol:
    """One symbol: how it is written, its name in code, unit, sign convention and meaning."""

    symbol: str
    name: str
    unit: str
    sign: str
    meaning: str


SYMBOLS: tuple[Symbol, ...] = (
    Symbol("x", "x_m", "m", "aft of the datum", "station along the body"),
    Symbol("y", "y_m", "m", "to the right wing, as seated in the cockpit", "distance from the centre line"),
    Symbol("z", "z_m", "m", "up", "height above the datum"),
    Symbol("S", "area_m2", "m2", "", "projected area of the reference wing"),
    Symbol("b", "span_m", "m", "", "span of the reference wing"),
    Symbol("MAC, c", "mac_m", "m", "", "mean aerodynamic chord, (2/S) int c^2 dy"),
    Symbol(
        "x_np",
        "x_np_m",
        "m",
        "aft of the datum",
        "neutral point: balance there and pitch is neither stable nor unstable",
    ),
    Symbol("x_cg", "x_cg_m", "m", "aft of the datum", "balance point (centre of gravity)"),
    Symbol("SM", "static_margin", "-", "positive stable", "(x_np - x_cg) / MAC"),
    Symbol(
        "D",
        "damping",
        "-",
        "positive",
        "pitch damping term -C_mq/(2 mu) about the neutral point; SM + D is the manoeuvre margin",
    ),
    Symbol("mu", "-", "-", "", "2 m / (rho S c)"),
    Symbol("CL", "lift", "-", "toward the canopy", "lift coefficient, W/(q S) in level flight"),
    Symbol("C_m0", "cm_zero, pitch_moment", "-", "nose up", "pitching moment about the neutral point"),
    Symbol(
        "V_d",
        "pitch_control",
        "1/rad",
        "nose down for trailing edge down, as a positive number",
        "elevator moment about the neutral point per radian",
    ),
    Symbol("de", "elevator_rad", "rad", "trailing edge down", "elevator deflection"),
    Symbol("da", "aileron_rad", "rad", "right aileron up, which rolls right", "aileron deflection, each side"),
    Symbol("dr", "rudder_rad", "rad", "trailing edge left, which yaws left", "rudder deflection"),
    Symbol("alpha", "alpha", "rad", "nose up", "angle of attack"),
    Symbol("beta", "sideslip_rad", "rad", "wind from the right", "sideslip"),
    Symbol("p, q, r", "roll_rate, ...", "rad/s", "right wing down, nose up, nose right", "rates in body axes"),
    Symbol("n", "load_factor", "-", "toward the canopy", "load factor"),
    Symbol("gamma", "path_rad", "rad", "climbing", "flight-path angle"),
    Symbol(
        "z_T", "thrust_arm_m", "m", "thrust above the balance point (power pitches the nose down)", "arm of the thrust"
    ),
    Symbol(
        "tau_v, tau_s", "tilt_down_rad, tilt_right_rad", "rad", "forward end of the axis down; right", "thrust tilt"
    ),
    Symbol("theta", "twist_rad", "rad", "right tip washed out", "linear tip twist, each side"),
    Symbol("y_cg", "lateral_cg", "fraction of span", "right", "lateral balance"),
    Symbol("V_s", "stall_speed_mps", "m/s", "", "stall speed"),
    Symbol("rho", "density_kg_m3", "kg/m3", "", "air density"),
    Symbol("a, h, L", "arm_m, horn_m, rod_m", "m", "", "servo arm, horn, rod between its pins"),
    Symbol("t", "servo_rad", "rad", "arm's pin towards the surface", "servo rotation from neutral"),
    Symbol("delta", "deflection_rad", "rad", "trailing edge down (rudder: left)", "deflection of one surface"),
    Symbol("c_h", "hinge_moment", "-", "negative closes", "hinge moment over q S_f c_f"),
    Symbol("k", "expo", "-", "softer round the centre", "expo, (1 - k) x + k x^3"),
    Symbol("w", "weights", "-", "", "share of a combined surface's throw given to one command"),
    Symbol("theta_ref", "level_rad", "rad", "nose up", "level reference of a flight controller"),
)
