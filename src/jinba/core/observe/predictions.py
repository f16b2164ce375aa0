"""What each measure would read for given unknowns: one closed form per measure, in the unit the pilot reports it in."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.observe.parameters import Array, P, prior_means
from jinba.core.observe.path import Release, release
from jinba.core.observe.situation import (
    APPROACH_OVER_STALL,
    CLIMB_OVER_STALL,
    FAST_OVER_CRUISE,
    LIFT_OFF_OVER_STALL,
    SLOW_OVER_STALL,
    Design,
    Situation,
    Trims,
    climb_gravity,
    load_factor,
    pitch_lag_s,
    roll_lag_s,
    roll_rate_rad_s,
    sideslip_rad,
    situation,
    trim_elevator_rad,
)

_DEG = math.degrees(1.0)
DIVE_PATH_RAD = math.radians(-35.0)
LONGEST_PULL_OUT_S = 8.0
"""Seconds to level after which a released dive has lost more height than a card allows: common practice, no source."""


@dataclass(frozen=True, slots=True)
class Moment:
    """The state of flight a measure was taken in: what the bench knew and where the surfaces rested.

    ``throttle``: the lever where it was not where the card wants it, 0 to 1 of full; None where it was.
    """

    design: Design
    trims: Trims
    throttle: float | None = None

    def power(self, asked: str) -> str | float:
        """Return the throttle a measure was taken at, for :func:`situation`: as the card asks, or as it was.

        Derived here (docs/methods/estimator.md).
        """
        return asked if self.throttle is None else self.throttle


def _cruise(x: Array, m: Moment, throttle: str | float | None = None) -> Situation:
    return situation(
        m.design, x, speed_mps=m.design.cruise_speed_mps, throttle=m.power("level") if throttle is None else throttle
    )


def _slow(x: Array, m: Moment) -> Situation:
    return _by_stall(x, m, SLOW_OVER_STALL, m.power("level"))


def _by_stall(x: Array, m: Moment, times: float, throttle: str | float) -> Situation:
    """Return the situation at so many times the model's own stall speed: whoever slows to it has no other measure of it."""
    own = times * stall_speed(x, m.design)
    # The factor of the cruise speed is that of a lever and an eye at cruise: it says nothing of where the stall is.
    return situation(m.design, x, speed_mps=own * math.exp(-float(x[P.LN_SPEED])), throttle=throttle)


def stall_speed(x: Array, design: Design) -> float:
    """Return the stall speed [m/s] for given unknowns, before the airspeed factor is applied.

    Derived here (docs/methods/stall.md).
    """
    return design.stall_speed_mps * math.exp(-0.5 * float(x[P.LN_CL_MAX]))


def pitch_rate_cruise(x: Array, m: Moment) -> float:
    """Return the hands-off path rate [deg/s, nose up positive] at cruise.

    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m)
    return _level_rate(s, m.trims.elevator_rad, s.thrust_n)


def _level_rate(s: Situation, elevator_rad: float, thrust_n: float) -> float:
    return s.path_rate_per_g * (load_factor(s, elevator_rad=elevator_rad, thrust_n=thrust_n) - 1.0) * _DEG


def trim_left_cruise(x: Array, m: Moment) -> float:
    """Return what is out of trim at cruise, as the hands-off path rate [deg/s, nose up positive] that the bench expects of it.

    How far the elevator rests from where it would hold, times the bench's own rate per angle: more of it is always more out
    of trim, whatever the margin; a rate over the true margin turns round near neutral. Derived here
    (docs/methods/estimator.md).
    """
    return _trim_left(_cruise(x, m), m)


def trim_left_fast(x: Array, m: Moment) -> float:
    """Return what is out of trim a third above cruise speed, as :func:`trim_left_cruise`. [deg/s, nose up positive]

    Derived here (docs/methods/estimator.md).
    """
    return _trim_left(
        situation(m.design, x, speed_mps=FAST_OVER_CRUISE * m.design.cruise_speed_mps, throttle=m.power("level")), m
    )


def _trim_left(s: Situation, m: Moment) -> float:
    # Resting further down than where it holds: the nose drops.
    return rate_per_rad(s, m.design) * (trim_elevator_rad(s) - m.trims.elevator_rad) * _DEG


def rate_per_rad(s: Situation, d: Design) -> float:
    """Return the path rate per angle of elevator that the bench expects [1/s], at the bench's margin. Derived here
    (docs/methods/estimator.md)."""
    local = d.static_margin - 2.0 * s.moment_square * s.lift
    stiffness = max(local, d.configuration.rules.minimum) + d.damping
    return s.path_rate_per_g * d.aero.pitch_control / (s.lift * stiffness)


def pitch_rate_lift_off(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] in the first 1.5 s at lift-off, full throttle, gaining speed, elevator at rest.

    Derived here (docs/methods/master-equation.md).
    """
    s = _by_stall(x, m, LIFT_OFF_OVER_STALL, m.power("full"))
    r = release(s, elevator_rad=m.trims.elevator_rad, thrust_n=s.thrust_n, path_rad=0.0, window_s=1.5)
    return r.mean_rate_rad_s * _DEG


def pitch_rate_power(x: Array, m: Moment, throttle: str) -> float:
    """Return the mean path rate [deg/s] in the first 1.2 s after a throttle step from level cruise, ``throttle`` "full" or "idle".

    Derived here (docs/methods/master-equation.md).
    """
    # The elevator stays where cruise left it: what is seen at first is the thrust line, and what the thrust carries.
    s = situation(m.design, x, speed_mps=m.design.cruise_speed_mps, throttle=throttle, stepped=True)
    r = release(s, elevator_rad=m.trims.elevator_rad, thrust_n=s.thrust_n, path_rad=0.0, window_s=POWER_WINDOW_S)
    return r.mean_rate_rad_s * _DEG


def pitch_seen_power(x: Array, m: Moment, throttle: str) -> float:
    """Return the path rate [deg/s] that a watcher sees of a throttle step from level cruise: he looks for a good second, once it begins.

    Derived here (docs/methods/master-equation.md).
    """
    return pitch_rate_power(x, m, throttle) / power_share(m)


POWER_WINDOW_S = 1.2
WATCHED_S = (0.2, 1.5)
"""From when to when a watcher judges what a step of power does to the nose [s]: common practice, no source."""


def power_share(m: Moment) -> float:
    """Return how much of what a watcher sees of a step of power is in its first 1.2 s [-]: what builds up late shows less in them.

    Means of 1 - exp(-t/T) over the two times, T the lag of the pitch response as the bench has it. Derived here
    (docs/methods/master-equation.md).
    """
    lag = pitch_lag_s(_cruise(prior_means(), m))
    return _built_up(lag, 0.0, POWER_WINDOW_S) / _built_up(lag, *WATCHED_S)


def clicks_full_power(x: Array, m: Moment) -> float:
    """Return the elevator clicks that hold full power at cruise speed, climbing as it does [clicks, trailing edge down positive].

    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m, "full")
    return (
        trim_elevator_rad(s, gravity=climb_gravity(s)) - m.trims.elevator_rad
    ) / m.design.configuration.elevator.rad_per_click


def pitch_rate_go_round(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] in the first 1.2 s after full power from an approach, stick held still.

    Derived here (docs/methods/master-equation.md).
    """
    s, full = (_by_stall(x, m, APPROACH_OVER_STALL, throttle) for throttle in ("idle", "full"))
    held, path = (
        trim_elevator_rad(s),
        -math.atan(s.design.aero.cd_zero / s.lift + s.design.aero.induced_factor * s.lift),
    )
    # As for a step at cruise: the stream is still that of the approach.
    r = release(s, elevator_rad=held, thrust_n=full.thrust_n, path_rad=path, window_s=POWER_WINDOW_S)
    return r.mean_rate_rad_s * _DEG


def dive_rate(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] in the first two seconds after letting go in a 35 degree dive, in trim at cruise before.

    Derived here (docs/methods/master-equation.md).
    """
    return _dive(x, m, 2.0).mean_rate_rad_s * _DEG


def rate_to_level(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] until a released 35 degree dive is level: 35 degrees over the seconds it takes.

    One that is not level in time: the mean rate until then, which meets the other where it just is. The more nose-heavy, the
    sooner: a mean over fixed seconds would count what comes round by itself. Derived here (docs/methods/master-equation.md).
    """
    r = _dive(x, m, LONGEST_PULL_OUT_S)
    if r.time_to_level_s is None:
        return r.mean_rate_rad_s * _DEG
    return -DIVE_PATH_RAD * _DEG / r.time_to_level_s


def _dive(x: Array, m: Moment, window_s: float) -> Release:
    s = _cruise(x, m)
    return release(
        s,
        # Whoever dives has just let it fly level by itself: it rests where it holds. An elevator out of trim would turn the reading
        # round, and what was left over is in the measure's persistent error.
        elevator_rad=trim_elevator_rad(s),
        thrust_n=s.thrust_n,
        path_rad=DIVE_PATH_RAD,
        speed_ratio=1.12,
        window_s=window_s,
    )


def pitch_rate_left(x: Array, m: Moment, *, seconds: float) -> float:
    """Return the mean path rate [deg/s, nose up positive] in the first ``seconds`` hands off from level cruise.

    The speed that a rising or falling nose costs or gains is followed, which :func:`pitch_rate_cruise` leaves out.
    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m)
    r = release(s, elevator_rad=m.trims.elevator_rad, thrust_n=s.thrust_n, path_rad=0.0, window_s=seconds)
    return r.mean_rate_rad_s * _DEG


def up_line_rate(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s, toward the canopy = the ground] on an inverted 45 degree up-line, full power.

    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m, m.power("full"))
    r = release(
        s,
        elevator_rad=m.trims.elevator_rad,
        thrust_n=s.thrust_n,
        path_rad=math.radians(45.0),
        inverted=True,
        speed_ratio=1.1,
    )
    return r.mean_rate_rad_s * _DEG


def inverted_push(x: Array, m: Moment) -> float:
    """Return the stick held inverted at cruise, fraction of full, push positive.

    de_inverted - de_rest = 2 SM CL / V_d when trimmed; measured against where the elevator rests.
    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m)
    # Upside down the lift needed is negative: the margin's term changes its sign; C_m0, heights and thrust keep theirs.
    needed = (s.moment_at(-s.lift) + s.thrust_moment(s.thrust_n)) / s.pitch_control
    return (needed - m.trims.elevator_rad) / m.design.elevator_throw_rad


def push_in_trim(x: Array, m: Moment) -> float:
    """Return the stick a model in trim holds inverted at cruise, fraction of full, push positive: wherever its elevator rests for that.

    de_inverted - de_upright = 2 SM CL / V_d: a moment without lift, and the thrust line, cancel. Derived here
    (docs/methods/master-equation.md).
    """
    s = _cruise(x, m)
    needed = (s.moment_at(-s.lift) + s.thrust_moment(s.thrust_n)) / s.pitch_control
    return (needed - trim_elevator_rad(s)) / m.design.elevator_throw_rad


def moment_upside_down(design: Design) -> float:
    """Return the stick that a moment nobody computed asks for upside down, over the path rate it leaves upright. [of full per deg/s]

    Upright it is read as what is out of trim, at the bench's stiffness; upside down as the elevator that holds it, over the throw.
    Derived here (docs/methods/estimator.md).
    """
    if design.elevator_throw_rad <= 0.0:
        # Nothing moves it: no stick says anything.
        return 0.0
    s = situation(design, prior_means(), speed_mps=design.cruise_speed_mps)
    return 1.0 / (rate_per_rad(s, design) * _DEG * design.elevator_throw_rad)


def climb_stick(x: Array, m: Moment) -> float:
    """Return the back stick held in the climb at full throttle, fraction of full, pull positive.

    Derived here (docs/methods/master-equation.md).
    """
    s = _by_stall(x, m, CLIMB_OVER_STALL, m.power("full"))
    return -(trim_elevator_rad(s) - m.trims.elevator_rad) / m.design.elevator_throw_rad


def slow_stick(x: Array, m: Moment) -> float:
    """Return the back stick held a quarter above stall speed, fraction of full, pull positive.

    Derived here (docs/methods/master-equation.md).
    """
    # The elevator is positive trailing edge down, the stick asked for is positive back.
    return -(trim_elevator_rad(_slow(x, m)) - m.trims.elevator_rad) / m.design.elevator_throw_rad


def touchdown_stick(x: Array, m: Moment) -> float:
    """Return the back stick at touchdown (10 % above stall, idle), fraction of full, pull positive.

    Derived here (docs/methods/master-equation.md).
    """
    s = _by_stall(x, m, 1.1, m.power("idle"))
    return -(trim_elevator_rad(s) - m.trims.elevator_rad) / m.design.elevator_throw_rad


def touchdown_in_trim(x: Array, m: Moment) -> float:
    """Return the back stick at touchdown, as :func:`touchdown_stick`, of a model that is in trim at cruise: wherever its elevator rests.

    Derived here (docs/methods/master-equation.md).
    """
    s = _by_stall(x, m, 1.1, "idle")
    return -(trim_elevator_rad(s) - trim_elevator_rad(_cruise(x, m))) / m.design.elevator_throw_rad


def roll_rate_cruise(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate at cruise [deg/s, right wing down positive].

    Derived here (docs/methods/roll.md).
    """
    s = _cruise(x, m)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG


def roll_rate_slow(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate a quarter above stall [deg/s, right wing down positive].

    Derived here (docs/methods/roll.md).
    """
    s = _slow(x, m)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG


def roll_rate_approach(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate on the approach, with as much power as holds it [deg/s, right wing down positive].

    Derived here (docs/methods/roll.md).
    """
    s = _by_stall(x, m, APPROACH_OVER_STALL, "level" if m.throttle is None else m.throttle)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG


def roll_rate_inverted(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate inverted at cruise [deg/s, the model's right wing toward its belly positive].

    Derived here (docs/methods/roll.md).
    """
    s = _cruise(x, m)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n, inverted=True) * _DEG


def roll_rate_full_power(x: Array, m: Moment) -> float:
    """Return the roll rate [deg/s] that a watcher sees after full throttle from level cruise, a tenth faster by then.

    It rolls as it did before, and goes over to how it rolls with full power with the lag of roll: the mean over the time for which he
    looks, :data:`WATCHED_S`. Derived here (docs/methods/roll.md).
    """
    before = _cruise(x, m, "level")
    after = situation(m.design, x, speed_mps=1.1 * m.design.cruise_speed_mps, throttle="full")
    level, full = (roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG for s in (before, after))
    return level + (full - level) * _built_up(roll_lag_s(after), *WATCHED_S)


def _built_up(lag_s: float, begin_s: float, end_s: float) -> float:
    """Return how much of a step is there in the mean between two times after it [-], with a first-order lag. Derived here."""
    return 1.0 - lag_s / (end_s - begin_s) * (math.exp(-begin_s / lag_s) - math.exp(-end_s / lag_s))


def crab_cruise(x: Array, m: Moment) -> float:
    """Return where the nose points at cruise against the path [deg, right positive].

    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m)
    # Wind from the right means the nose lies left of the path.
    return -sideslip_rad(s, rudder_rad=m.trims.rudder_rad, thrust_n=s.thrust_n) * _DEG


def crab_full_power(x: Array, m: Moment) -> float:
    """Return where the nose points at full throttle [deg, right positive].

    Derived here (docs/methods/master-equation.md).
    """
    s = _cruise(x, m, "full")
    return -sideslip_rad(s, rudder_rad=m.trims.rudder_rad, thrust_n=s.thrust_n) * _DEG


def wing_drop(x: Array, m: Moment) -> float:
    """Return what decides the wing at the stall [deg/s]: slow-flight roll, less the washed-in wing letting go first.

    The tip with more incidence stalls first, so wash-out on the right (twist > 0) drops the *left* wing; 3 deg/s per
    degree is a judgement, hence the wide noise of this measure. Derived here (docs/methods/roll.md).
    """
    return float(roll_rate_slow(x, m) - 3.0 * float(x[P.TWIST]) * _DEG)


def cruise_speed(x: Array, m: Moment) -> float:
    """Return the true cruise speed [m/s]. Derived here (docs/methods/master-equation.md)."""
    return m.design.cruise_speed_mps * math.exp(float(x[P.LN_SPEED]))


def break_speed(x: Array, m: Moment) -> float:
    """Return the speed of the stall break [m/s]. Derived here (docs/methods/stall.md)."""
    return stall_speed(x, m.design)


def margin(x: Array, m: Moment) -> float:
    """Return the static margin [% MAC]. Derived here (docs/methods/master-equation.md)."""
    return float(100.0 * (m.design.static_margin + x[P.STATIC_MARGIN]))
