"""From commands to servos: combined surfaces, free mixes, differential, trim, and where the travel runs out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jinba.core.controls.fitting import Command, ControlRole, Fitting, sense_of
from jinba.core.declare import Share
from jinba.core.errors import JinbaError, check_range

Grid = NDArray[np.float64]
COMBINED: dict[ControlRole, tuple[Command, Command]] = {
    ControlRole.LEFT_ELEVON: (Command.PITCH, Command.ROLL),
    ControlRole.RIGHT_ELEVON: (Command.PITCH, Command.ROLL),
    ControlRole.LEFT_V_TAIL: (Command.PITCH, Command.YAW),
    ControlRole.RIGHT_V_TAIL: (Command.PITCH, Command.YAW),
    ControlRole.LEFT_FLAPERON: (Command.FLAP, Command.ROLL),
    ControlRole.RIGHT_FLAPERON: (Command.FLAP, Command.ROLL),
}


@dataclass(frozen=True, slots=True)
class Weights:
    """How much of its travel a combined surface gives to each command, 1 = full servo travel at full command."""

    pitch: Share = 0.7
    roll: Share = 0.7
    yaw: Share = 0.6
    flap: Share = 0.5

    def __post_init__(self) -> None:
        for name in ("pitch", "roll", "yaw", "flap"):
            check_range(f"mix weight for {name}", getattr(self, name), unit="share", low=0.05, high=1.5)

    def of(self, role: ControlRole, command: Command) -> float:
        """Return the weight of a command on a surface: 1 on a surface with one task.

        Derived here (docs/methods/mixing.md).
        """
        if role not in COMBINED or command not in COMBINED[role]:
            return 1.0
        return float(getattr(self, command.value))


@dataclass(frozen=True, slots=True)
class Mix:
    """A free mix: ``share`` of the target's full throw for full source, > 0 in the target's positive sense.

    Signs of ``core.frames``: pitch > 0 nose down, roll > 0 right, yaw > 0 left. ``share_other``: for the negative half of the
    source, None for the same. Every mix reads the sticks (with rates and expo), never another mix: no loops.
    """

    source: Command
    target: Command
    share: Share
    share_other: Share | None = None

    def __post_init__(self) -> None:
        if self.source is self.target:
            raise JinbaError(f"A mix from {self.source.value} to itself does nothing: use its rate.", name="mix")
        if self.target in (Command.FLAP, Command.THROTTLE):
            raise JinbaError(f"Nothing may be mixed to the {self.target.value}.", name="mix")
        for share in (self.share, self.share if self.share_other is None else self.share_other):
            check_range(f"mix {self.source.value} to {self.target.value}", share, unit="share", low=-1.0, high=1.0)

    def gives(self, value: Grid) -> Grid:
        """Return what the mix adds to the target for values of the source."""
        other = self.share if self.share_other is None else self.share_other
        return np.where(value >= 0.0, self.share, other) * value


@dataclass(frozen=True, slots=True)
class Output:
    """What one servo is asked and what it gets, shares of its full throw, trailing edge down (rudder: left) positive.

    ``wanted`` and ``given`` differ where the travel runs out, which is never silent: ``clipped`` says so. ``pulse``: what
    is sent, a share of 500 microseconds: the full throw of each way is its end point.
    """

    role: ControlRole
    wanted: Grid
    given: Grid
    pulse: Grid

    @property
    def clipped(self) -> NDArray[np.bool_]:
        """Where the servo gets less than it is asked. Derived here (docs/methods/mixing.md)."""
        return np.asarray(np.abs(self.wanted - self.given) > 1e-9)


Commands = dict[Command, Grid]


def mixed_commands(commands: Commands, mixes: tuple[Mix, ...]) -> Commands:
    """Return the commands with every mix added; each reads the commands as they came in."""
    result = dict(commands)
    for mix in mixes:
        source = commands.get(mix.source)
        if source is not None:
            result[mix.target] = result.get(mix.target, np.zeros_like(source)) + mix.gives(source)
    return result


def servo_output(
    fitting: Fitting,
    commands: Commands,
    *,
    weights: Weights,
    differential: float = 0.0,
    crow: float = 0.0,
    inverted_v: bool = False,
    trim_share: float = 0.0,
) -> Output:
    """Return what a servo is asked and gets for commands on a grid.

    wanted = sum of weight x sense x command, + trim; of a roll the surface that goes down is cut by ``differential``;
    ``crow`` lifts both ailerons by this share at full flap. Cut at the full throw, whose pulse is the end point of that way.
    Derived here (docs/methods/mixing.md). ``differential``, ``crow`` [-].
    """
    role = fitting.role
    wanted = np.zeros_like(next(iter(commands.values()))) + trim_share
    for command, value in commands.items():
        asked = weights.of(role, command) * sense_of(role, command, inverted_v=inverted_v) * value
        if command is Command.ROLL:
            asked = np.where(
                asked > 0.0, (1.0 - max(differential, 0.0)) * asked, (1.0 + min(differential, 0.0)) * asked
            )
        if command is Command.FLAP and role in (ControlRole.LEFT_AILERON, ControlRole.RIGHT_AILERON):
            asked = -crow * value
        wanted = wanted + asked
    given = np.clip(wanted, -1.0, 1.0)
    return Output(role, wanted, given, given * np.where(given > 0.0, fitting.end_point_down, fitting.end_point_up))


def motor_outputs(throttle: Grid, yaw: Grid, *, share: float) -> tuple[Grid, Grid]:
    """Return the left and the right motor's throttle [0, 1] with differential thrust.

    yaw > 0 (nose left) speeds the right motor up and slows the left one. With the throttle closed nothing turns, whatever
    the rudder does: a rudder stick must never start a propeller. Derived here.
    """
    check_range("differential thrust", share, unit="share", low=0.0, high=1.0)
    opened = throttle > 0.0
    left = np.where(opened, np.clip(throttle - share * yaw * throttle, 0.0, 1.0), 0.0)
    right = np.where(opened, np.clip(throttle + share * yaw * throttle, 0.0, 1.0), 0.0)
    return left, right


@dataclass(frozen=True, slots=True)
class SaturationMap:
    """Where a pair of combined surfaces runs out of travel over the whole stick box.

    ``across``, ``up``: the commands of the two directions; ``rows`` (n, n) from the bottom row (stick back) up, each from
    stick left to right: 0 free, 1 left surface cut, 2 right one, 3 both. ``cut_share`` of the box. ``across_left_at_full_up`` and
    ``up_left_at_full_across``: share of a command's response that is left while the other is held full.
    """

    across: Command
    up: Command
    rows: tuple[tuple[int, ...], ...]
    cut_share: float
    across_left_at_full_up: float
    up_left_at_full_across: float


def saturation_map(
    left: Fitting,
    right: Fitting,
    *,
    weights: Weights,
    full_across: float = 1.0,
    full_up: float = 1.0,
    held: Commands | None = None,
    mixes: tuple[Mix, ...] = (),
    differential: float = 0.0,
    crow: float = 0.0,
    inverted_v: bool = False,
    trim_shares: tuple[float, float] = (0.0, 0.0),
    steps: int = 41,
) -> SaturationMap:
    """Return where a left and a right surface run out of travel.

    ``full_across``, ``full_up``: the rates, shares of full throw at the ends of the box; ``held``: other commands, e.g. flap.
    Across is roll or yaw, up is pitch; surfaces that roll only are mapped over roll and pitch too, and show the flap held.
    Throws and shares without unit [-].
    """
    across, up = _pair_of(left.role)
    line = np.linspace(-1.0, 1.0, steps)
    # Seen from above the radio: left is left (a yaw to the left is positive), the bottom is stick back (nose up, negative).
    x, y = np.meshgrid(line * full_across * (-1.0 if across is Command.YAW else 1.0), line * full_up)
    commands: Commands = {across: x, up: y}
    for command, value in (held or {}).items():
        commands[command] = np.zeros_like(x) + value
    commands = mixed_commands(commands, mixes)
    out = [
        servo_output(
            f,
            commands,
            weights=weights,
            differential=differential,
            crow=crow,
            inverted_v=inverted_v,
            trim_share=trim,
        )
        for f, trim in zip((left, right), trim_shares, strict=True)
    ]
    codes = out[0].clipped.astype(int) + 2 * out[1].clipped.astype(int)
    last = steps - 1
    # Points on the edge stand for half a cell, in the corners for a quarter.
    width = np.where((np.arange(steps) % last) == 0, 0.5, 1.0) / last
    area = np.outer(width, width)
    return SaturationMap(
        across=across,
        up=up,
        rows=tuple(tuple(int(v) for v in row) for row in codes),
        cut_share=float(np.sum((codes > 0) * area)),
        across_left_at_full_up=min(_left(out, -1, [(row, last), (row, 0)]) for row in (0, last)),
        up_left_at_full_across=min(_left(out, +1, [(last, col), (0, col)]) for col in (0, last))
        if _pair_of(left.role)[1] in COMBINED.get(left.role, ())
        else 1.0,
    )


def _left(out: list[Output], sign: int, ends: list[tuple[int, int]]) -> float:
    """Return the given over the wanted response between two corners; ``sign`` -1 for opposed surfaces, +1 for together."""

    def response(grids: tuple[Grid, Grid]) -> float:
        both = grids[0] + sign * grids[1]
        return float(both[ends[0]] - both[ends[1]])

    wanted = response((out[0].wanted, out[1].wanted))
    given = response((out[0].given, out[1].given))
    return 1.0 if abs(wanted) < 1e-9 else max(0.0, given / wanted)


def _pair_of(role: ControlRole) -> tuple[Command, Command]:
    if role in (ControlRole.LEFT_V_TAIL, ControlRole.RIGHT_V_TAIL):
        return Command.YAW, Command.PITCH
    return Command.ROLL, Command.PITCH
