"""A model in a flight situation: every number the measurement models need, for given unknowns."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import NamedTuple

from jinba.core.airframe.parts import Surface
from jinba.core.airframe.planform import Planform
from jinba.core.configuration import Balance, Configuration, balance_of, inertia_kg_m2
from jinba.core.constants import AIR_VISCOSITY_PA_S, STANDARD_GRAVITY_MPS2
from jinba.core.errors import GeometryError
from jinba.core.frames import Axis
from jinba.core.observe.in_stream import Moments, StreamSums, stream_sums
from jinba.core.observe.parameters import Array
from jinba.core.power.propulsion import Power, power_of
from jinba.core.power.slipstream import speed_gain
from jinba.core.spoken import a_length
from jinba.core.stability.aero import AeroModel, aero_model, damping
from jinba.core.stability.heights import at_height
from jinba.core.stability.sections import reynolds_factor
from jinba.core.stability.stall import stall_speed_mps
from jinba.core.stability.unsure import unsure_m

CRUISE_OVER_STALL = 1.55
"""Cruise over stall speed when nobody has measured it: common practice, no source."""

FAST_OVER_CRUISE = 1.33
APPROACH_OVER_STALL = 1.3
SLOW_OVER_STALL = 1.25
LIFT_OFF_OVER_STALL = 1.25
CLIMB_OVER_STALL = 1.4
_SMALLEST_MANOEUVRE_MARGIN = 0.02
STEEPEST = 0.3
"""Share of the slope without heights that is kept where a far guess has no root: there nothing is read, it must stay computable."""
_STALL_STEPS = 3


@dataclass(frozen=True, slots=True, eq=False)
class Design:
    """What the bench knows of a configuration, before any flight. SI units; see the fields' sources. One a configuration, known by
    itself: :func:`design_of` makes no second.

    ``static_margin`` at no lift [-] and its ``static_margin_sigma`` (neutral point and balance reading together,
    both read well); ``damping`` D [-];
    ``z_cg_m`` height of the balance point; ``lag_s`` of the pitch response; ``roll_lag_s``. ``elevator_throw_rad``,
    ``rudder_throw_rad``: full command, as the linkages give it; ``power``: its motors together; ``stream``: what its propellers blow on.
    """

    configuration: Configuration
    aero: AeroModel
    balance: Balance
    static_margin: float
    static_margin_sigma: float
    damping: float
    stall_speed_mps: float
    cruise_speed_mps: float
    roll_inertia_kg_m2: float
    pitch_inertia_kg_m2: float
    elevator_throw_rad: float
    rudder_throw_rad: float
    density_kg_m3: float
    power: Power
    stream: StreamSums


@lru_cache(maxsize=512)
def design_of(configuration: Configuration) -> Design:
    """Return what the bench knows of a configuration: margins, damping, speeds, inertia."""
    balance = balance_of(configuration)
    mass, rho = balance.mass.mass_kg, configuration.density_kg_m3
    aero, stall = _at_stall(configuration, mass_kg=mass)
    aero = at_height(configuration.airframe, _less_sure(configuration, aero), z_cg_m=balance.mass.z_m)
    p = aero.planform
    cruise = configuration.cruise_speed_mps or CRUISE_OVER_STALL * stall
    ixx, iyy = inertia_kg_m2(configuration, mass)
    return Design(
        configuration=configuration,
        aero=aero,
        balance=balance,
        static_margin=(aero.neutral_point.x_m - balance.x_m) / p.mac_m,
        static_margin_sigma=math.hypot(aero.neutral_point.sigma_total_m, balance.sigma_m) / p.mac_m,
        damping=damping(aero, mass_kg=mass, density_kg_m3=rho),
        stall_speed_mps=stall,
        cruise_speed_mps=cruise,
        roll_inertia_kg_m2=ixx,
        pitch_inertia_kg_m2=iyy,
        elevator_throw_rad=configuration.throw_rad(Axis.PITCH),
        rudder_throw_rad=configuration.throw_rad(Axis.YAW),
        density_kg_m3=rho,
        power=power_of(configuration.airframe),
        stream=stream_sums(configuration.airframe, aero, x_cg_m=balance.x_m),
    )


def _less_sure(configuration: Configuration, aero: AeroModel) -> AeroModel:
    """Return the model with a neutral point as unsure as guesses and readings of the airframe make it."""
    c = configuration
    unsure = unsure_m(c.airframe, c.guessed, c.taken)
    if unsure == 0.0:
        return aero
    known = aero.neutral_point
    return replace(aero, neutral_point=replace(known, sigma_total_m=math.hypot(known.sigma_total_m, unsure)))


_MOST_LIFT = 6.0
"""Lift coefficient beyond which the reference wing cannot be the model's wing: derived here."""


def _check_lift(wing: Surface, p: Planform, peak: float) -> None:
    if peak > _MOST_LIFT:
        raise GeometryError(
            f"{wing.key}: {a_length(p.span_m)} from tip to tip and {a_length(p.mac_m)} of chord carry nothing beside the other surfaces. "
            "Has a digit or a unit slipped? Measure both again."
        )


def _at_stall(configuration: Configuration, *, mass_kg: float) -> tuple[AeroModel, float]:
    """Return the aerodynamic model with its maximum lift at the Reynolds number of the stall, and the stall speed. [m/s]"""
    aero, rho = aero_model(configuration.airframe), configuration.density_kg_m3
    factor = 1.0
    stall = 0.0
    for _ in range(_STALL_STEPS):
        peak = aero.cl_max * factor
        _check_lift(configuration.airframe.wing, aero.planform, peak)
        stall = stall_speed_mps(mass_kg=mass_kg, area_m2=aero.planform.area_m2, cl_max=peak, density_kg_m3=rho)
        factor = reynolds_factor(configuration.airframe.wing, rho * stall * aero.planform.mac_m / AIR_VISCOSITY_PA_S)
    return replace(aero, cl_max=peak), stall


def stall_speed_of(configuration: Configuration) -> float:
    """Return the stall speed of a configuration [m/s]: that of :func:`design_of`, without the rest of it. Source: as there."""
    return _at_stall(configuration, mass_kg=balance_of(configuration).mass.mass_kg)[1]


@dataclass(frozen=True, slots=True)
class Trims:
    """Where the surfaces rest hands-off, in the signs of ``core.frames``. [rad]"""

    elevator_rad: float
    aileron_rad: float
    rudder_rad: float

    def of(self, axis: Axis) -> float:
        """Return the resting position of one axis. [rad] Derived here (docs/methods/master-equation.md)."""
        return {Axis.PITCH: self.elevator_rad, Axis.ROLL: self.aileron_rad, Axis.YAW: self.rudder_rad}[axis]

    def moved(self, axis: Axis, angle_rad: float) -> Trims:
        """Return the trims with one axis resting at ``angle_rad``."""
        if axis is Axis.PITCH:
            return replace(self, elevator_rad=angle_rad)
        if axis is Axis.ROLL:
            return replace(self, aileron_rad=angle_rad)
        return replace(self, rudder_rad=angle_rad)


def resting_trims(configuration: Configuration) -> Trims:
    """Return the resting surface positions a configuration starts a sortie with."""
    c = configuration
    return Trims(c.elevator.resting_rad, c.aileron.resting_rad, c.rudder.resting_rad)


class Situation(NamedTuple):
    """A flight situation; a tuple, because an estimate makes ten thousand of them. Non-dimensional unless the name carries a unit; signs as in ``core.frames``.

    ``lift`` = W/(q S) at one g; ``static_margin``, ``damping``; ``pitch_control`` V_d; ``pitch_moment`` C_m0 about the
    neutral point; ``moment_square`` of the lift squared, by the heights of the surfaces: all as the propeller's stream has them at
    ``thrust_n``; ``thrust_n`` and its arm ``thrust_arm_m`` above the balance point (> 0: power pitches the nose down).
    """

    design: Design
    speed_mps: float
    dynamic_pressure_pa: float
    lift: float
    static_margin: float
    damping: float
    pitch_control: float
    pitch_moment: float
    moment_square: float
    thrust_n: float
    thrust_arm_m: float
    thrust_right_rad: float
    thrust_lever_m: float
    lateral_cg: float
    twist_rad: float
    yaw_offset_rad: float
    torque_scale: float
    aileron_scale: float

    @property
    def manoeuvre_margin(self) -> float:
        """SM + D, kept above a small positive number so that a far guess stays computable.

        Derived here (docs/methods/master-equation.md).
        """
        return max(self.static_margin + self.damping, _SMALLEST_MANOEUVRE_MARGIN)

    @property
    def path_rate_per_g(self) -> float:
        """Flight-path rate per unit of load factor, g / V. [rad/s] Derived here (docs/methods/master-equation.md)."""
        return STANDARD_GRAVITY_MPS2 / self.speed_mps

    def moment_at(self, lift: float) -> float:
        """Return the pitching moment coefficient about the balance point at a lift coefficient [-], elevator fair, no thrust; nose up
        positive: C_m0 - SM C_L + K C_L^2.

        Derived here (docs/methods/pendulum.md).
        """
        return self.pitch_moment - self.static_margin * lift + self.moment_square * lift * lift

    def balanced_load(self, moment: float, square: float) -> float:
        """Return the load factor n [-] of (SM + D) n - ``square`` n^2 = ``moment``, both per lift at one g [-]: the root that goes with
        n = moment/(SM + D) where heights do nothing.

        Derived here (docs/methods/pendulum.md).
        """
        margin = self.manoeuvre_margin
        root = math.sqrt(max(margin * margin - 4.0 * square * moment, (STEEPEST * margin) ** 2))
        return 2.0 * moment / (margin + root)

    def thrust_moment(self, thrust_n: float) -> float:
        """Return the pitching moment coefficient of a thrust [N]; nose-up positive.

        Derived here (docs/methods/master-equation.md).
        """
        p = self.design.aero.planform
        return -thrust_n * self.thrust_arm_m / (self.dynamic_pressure_pa * p.area_m2 * p.mac_m)

    def thrust_load(self, thrust_n: float, load_factor: float) -> float:
        """Return what thrust along the raised nose adds to the load factor [-]: T/W sin(alpha) at an aerodynamic one.

        Derived here (docs/methods/master-equation.md).
        """
        # A raised nose points the thrust upwards: it carries part of the weight, and the wing needs less lift.
        weight = self.design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
        alpha = (load_factor * self.lift - self.design.aero.cl_zero) / self.design.aero.lift_slope
        # A far guess of the solver may ask for angles at which nothing here holds: the sine is kept computable.
        return thrust_n / weight * math.sin(max(-0.4, min(0.4, alpha)))


THRUST_BY_THROTTLE = 1.5
"""Power of the lever with which thrust grows: between the square (turns by the lever, thrust by turns squared) and the straight
line that some controllers give. Common practice, no source."""


def thrust_at(full_n: float, throttle: float) -> float:
    """Return the thrust [N] of a lever 0 to 1 of full. ``full_n``: at full throttle [N]. Derived here (docs/methods/estimator.md)."""
    return float(full_n * throttle**THRUST_BY_THROTTLE)


def situation(
    design: Design, x: Array, *, speed_mps: float, throttle: str | float = "level", stepped: bool = False
) -> Situation:
    """Return the situation at a nominal airspeed [m/s] for unknowns ``x`` (COUNT,).

    The true airspeed is the nominal one times exp(x[P.LN_SPEED]). ``throttle``: ``"level"`` (thrust equals drag),
    ``"full"`` or ``"idle"``, or the lever itself, 0 to 1; ``stepped``: just now, so that the stream is still that of level flight.
    Raises: nothing; callers choose speeds within the envelope.
    """
    return _situation(design, tuple(x.tolist()), speed_mps, throttle, stepped)


@lru_cache(maxsize=4096)
def _situation(
    design: Design, u: tuple[float, ...], speed_mps: float, throttle: str | float, stepped: bool
) -> Situation:
    """Return :func:`situation`; kept, because the measures of a sortie ask for the same few."""
    # In the order of P.
    margin, moment, down, right, across, twist, yaw, ln_elevator, ln_torque, ln_speed, _, ln_aileron, _ = u
    a, p, motor = design.aero, design.aero.planform, design.power.line
    # Scale factors are unknown in their logarithm: no step of the solver can make a speed or a control power negative.
    v = speed_mps * math.exp(ln_speed)
    q = 0.5 * design.density_kg_m3 * v * v
    weight = design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
    lift = weight / (q * p.area_m2)
    drag = q * p.area_m2 * (a.cd_zero + a.induced_factor * lift * lift)
    full = design.power.full_n(v / design.cruise_speed_mps)
    # In level flight thrust equals drag, and no motor gives more than its full thrust.
    thrust = 0.0 if motor is None else _thrust_n(throttle, full, drag)
    arm = lever = tilt_right = 0.0
    if motor is not None:
        lever = design.balance.x_m - motor.x_m
        tilt = motor.tilt_down_rad + down
        # z_T = z_prop cos(tau) + x_prop sin(tau): the signed lever makes a pusher's down-thrust pitch the nose up.
        arm = (motor.z_m - design.balance.mass.z_m) * math.cos(tilt) + lever * math.sin(tilt)
        tilt_right = motor.tilt_right_rad + right
    streams = _thrust_n("level", full, drag) if stepped and motor is not None else thrust
    gain = speed_gain(streams, speed_mps=v, density_kg_m3=design.density_kg_m3, disk_area_m2=design.stream.disk_area_m2)
    blown = design.stream.moments(
        gain,
        Moments(a.cm_zero + moment, design.static_margin + margin, a.cm_square),
    )
    control = design.stream.control_gain(gain)
    return Situation(
        design=design,
        speed_mps=v,
        dynamic_pressure_pa=q,
        lift=lift,
        static_margin=blown.margin,
        damping=design.damping * control,
        pitch_control=a.pitch_control * math.exp(ln_elevator) * control,
        pitch_moment=blown.none,
        moment_square=blown.square,
        thrust_n=thrust,
        thrust_arm_m=arm,
        thrust_right_rad=tilt_right,
        thrust_lever_m=lever,
        lateral_cg=design.balance.mass.y_m / p.span_m + across,
        twist_rad=twist,
        yaw_offset_rad=yaw,
        torque_scale=math.exp(ln_torque),
        aileron_scale=math.exp(ln_aileron),
    )


def _thrust_n(throttle: str | float, full_n: float, drag_n: float) -> float:
    if isinstance(throttle, str):
        return {"idle": 0.0, "full": full_n}.get(throttle, min(drag_n, full_n))
    return thrust_at(full_n, throttle)


def trim_elevator_rad(s: Situation, *, gravity: float = 1.0) -> float:
    """Return the elevator angle [rad, trailing edge down positive] that holds a straight path in a situation, ``gravity`` = cos(path).

    de = (C_m0 - SM CL + K CL^2 + C_mT) / V_d, CL less what the thrust carries.
    References: docs/methods/master-equation.md, equation 1 (derived here).
    """
    lift = s.lift * (gravity - s.thrust_load(s.thrust_n, gravity))
    return (s.moment_at(lift) + s.thrust_moment(s.thrust_n)) / s.pitch_control


STEEPEST_CLIMB = 0.9
"""Sine of the steepest path that is still called a climb: common practice, no source."""


def climb_gravity(s: Situation) -> float:
    """Return cos(path) [-] of the straight climb or glide that the thrust of a situation holds at its speed.

    sin(path) = T/W - (CD0 + k CL^2)/CL. Derived here (docs/methods/master-equation.md).
    """
    weight = s.design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
    a = s.design.aero
    climb = s.thrust_n / weight - a.cd_zero / s.lift - a.induced_factor * s.lift
    return math.sqrt(1.0 - min(abs(climb), STEEPEST_CLIMB) ** 2)


def load_factor(s: Situation, *, elevator_rad: float, thrust_n: float, gravity: float = 1.0) -> float:
    """Return the hands-off load factor [-], thrust included, with the elevator at rest.

    CL [SM n - K CL n^2 + D (n - g)] = C_m0 - V_d de + C_mT, ``gravity`` = cos(path) upright, -cos(path) inverted.
    References: docs/methods/master-equation.md, equation 2 (derived here).
    """
    # Equation 2 has the aerodynamic load factor on its left: what the thrust carries is taken out and put back.
    moment = s.pitch_moment - s.pitch_control * elevator_rad + s.thrust_moment(thrust_n)
    carried = s.thrust_load(thrust_n, gravity)
    per_lift = moment / s.lift + s.damping * (gravity - carried)
    return s.balanced_load(per_lift, s.moment_square * s.lift) + carried


def elevator_for_load_rad(s: Situation, *, load: float, thrust_n: float, gravity: float = 1.0) -> float:
    """Return the elevator angle [rad, trailing edge down positive] that holds a load factor, ``load`` [-]: the way back of
    :func:`load_factor`.

    References: docs/methods/master-equation.md, equation 2 (derived here).
    """
    carried = s.thrust_load(thrust_n, gravity)
    n = load - carried
    per_lift = s.manoeuvre_margin * n - s.moment_square * s.lift * n * n - s.damping * (gravity - carried)
    return (s.pitch_moment + s.thrust_moment(thrust_n) - per_lift * s.lift) / s.pitch_control


def sideslip_rad(s: Situation, *, rudder_rad: float, thrust_n: float) -> float:
    """Return the steady sideslip [rad, wind from the right positive, nose left of the path] without roll.

    beta = -(C_n,rudder (dr + offset) + C_nT) / C_n,beta; the fin offset acts like rudder. Zero without a fin.
    Derived here (docs/methods/roll.md).
    """
    a, p = s.design.aero, s.design.aero.planform
    # Without weathercock stability there is no steady sideslip to name: the closed form would divide by nothing.
    if a.cn_beta <= 0:
        return 0.0
    side = thrust_n * math.sin(s.thrust_right_rad) * s.thrust_lever_m
    cn = a.cn_rudder * (rudder_rad + s.yaw_offset_rad) + side / (s.dynamic_pressure_pa * p.area_m2 * p.span_m)
    return -cn / a.cn_beta


def roll_rate_rad_s(s: Situation, trims: Trims, *, thrust_n: float, inverted: bool = False) -> float:
    """Return the hands-off steady roll rate [rad/s], right wing down positive in the model's own axes.

    p b/2V = [C_l,twist twist + C_l,da da + CL_body y_cg/b + C_l,torque + C_l,beta beta] / |C_lp|; body lift is negative
    inverted. Validity: the first 30 degrees of bank. References: docs/methods/roll.md (derived here).
    """
    a, p = s.design.aero, s.design.aero.planform
    beta = sideslip_rad(s, rudder_rad=trims.rudder_rad, thrust_n=thrust_n)
    torque = s.torque_scale * thrust_n * s.design.power.torque_arm_m
    cl = (
        a.cl_twist * s.twist_rad
        + a.cl_aileron * s.aileron_scale * trims.aileron_rad
        # Inverted, lift points to the belly: a heavy wing then rolls the other way in the model's own axes, a twist does not.
        # This is what tells the two apart.
        + (-s.lift if inverted else s.lift) * s.lateral_cg
        + torque / (s.dynamic_pressure_pa * p.area_m2 * p.span_m)
        + a.cl_beta * beta
    )
    return cl / abs(a.cl_p) * 2.0 * s.speed_mps / p.span_m


def pitch_lag_s(s: Situation) -> float:
    """Return the time constant [s] with which the load factor follows.

    [q S a/(m V) + |C_mq| q S c^2/(2 V Iy)] / [q S c a (SM + D)/Iy]. References: docs/methods/master-equation.md (derived here).
    """
    a, p = s.design.aero, s.design.aero.planform
    qs, mass = s.dynamic_pressure_pa * p.area_m2, s.design.balance.mass.mass_kg
    iy = s.design.pitch_inertia_kg_m2
    # Both roots of the short period together: their sum over their product. 1.4: the downwash lag adds to C_mq (from memory).
    rate = qs * a.lift_slope / (mass * s.speed_mps) + 1.4 * abs(a.cm_q) * qs * p.mac_m**2 / (2.0 * s.speed_mps * iy)
    stiffness = qs * p.mac_m * a.lift_slope * max(s.manoeuvre_margin, 0.05) / iy
    return max(0.05, min(0.6, rate / stiffness))


def roll_lag_s(s: Situation) -> float:
    """Return the roll time constant [s]: Ixx / (|C_lp| q S b^2 / (2 V)). References: Nelson, 1998, sec. 5.3 (from memory)."""
    p = s.design.aero.planform
    damping_moment = abs(s.design.aero.cl_p) * s.dynamic_pressure_pa * p.area_m2 * p.span_m**2 / (2.0 * s.speed_mps)
    return s.design.roll_inertia_kg_m2 / damping_moment
