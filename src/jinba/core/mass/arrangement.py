"""The balance solver: which arrangements of what is aboard, and of ballast in stock, reach a target balance point.

A mixed-integer linear programme: the moment about the target is linear in every position and in every piece of ballast.
Least added mass first, then least work; ballast at both ends only when nothing else works.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.errors import JinbaError, check_range
from jinba.core.mass.programme import Program, Solution, Variable

MOST_MOVABLE = 40
MOST_PACKS = 6
MOST_STATIONS = 8
SMALLEST_MOVE_M = 0.002
"""Nobody moves a part by less. [m]"""

_WORK_MOVE, _WORK_SWAP, _WORK_PIECE, _WORK_PER_M, _WORK_OFF_TARGET = 1.0, 2.5, 0.3, 2.0, 0.05
"""Work in units of one moved part: another pack, gluing a piece, a metre of shifting. Common practice, no source."""

_PER_KG = 2e4
"""A gram of ballast against work: twenty moved parts, so that mass comes first in every case of this size."""

_BOTH_ENDS = 1e5
_OUT_OF_REACH = 1e8


@dataclass(frozen=True, slots=True)
class Movable:
    """Something aboard that can be moved: mass [kg], where it is and may be [m from the datum], and its side [m]."""

    key: str
    mass_kg: float
    x_m: float
    low_m: float
    high_m: float
    y_m: float = 0.0
    z_m: float = 0.0


@dataclass(frozen=True, slots=True)
class Station:
    """A place for ballast: station and side [m], and the most it takes [kg]."""

    key: str
    x_m: float
    y_m: float = 0.0
    most_kg: float = 0.5


@dataclass(frozen=True, slots=True)
class Target:
    """The balance point wanted: station and tolerance [m]; ``y_tolerance_m`` None leaves the lateral balance alone."""

    x_m: float
    tolerance_m: float = 0.001
    y_tolerance_m: float | None = None


@dataclass(frozen=True, slots=True)
class Load:
    """What the solver may arrange. ``rest_kg``, ``rest_x_m``, ``rest_y_m``: everything that stays where it is.

    ``packs``: exactly one flies, ``flown_pack`` now. ``pieces_kg``: sizes of ballast in stock; ``pieces_each`` of them.
    """

    rest_kg: float
    rest_x_m: float
    rest_y_m: float
    movable: tuple[Movable, ...] = ()
    packs: tuple[Movable, ...] = ()
    flown_pack: str = ""
    stations: tuple[Station, ...] = ()
    pieces_kg: tuple[float, ...] = ()
    pieces_each: int = 6


@dataclass(frozen=True, slots=True)
class Ballast:
    """Pieces at a station: how many of each size, and their mass. [kg]"""

    station: str
    pieces: tuple[tuple[float, int], ...]
    mass_kg: float


@dataclass(frozen=True, slots=True)
class Arrangement:
    """One way to reach the target, rounded to whole millimetres and pieces in stock, then computed again.

    ``positions_m`` of what was moved, by key; ``pack`` that flies; ``x_m``, ``y_m`` the balance point it gives;
    ``added_kg`` of ballast; ``work`` in parts moved; ``both_ends``; ``shortfall_m`` beyond the tolerance, 0 when reached.
    """

    positions_m: dict[str, float]
    pack: str
    ballast: tuple[Ballast, ...]
    x_m: float
    y_m: float
    mass_kg: float
    added_kg: float
    work: float
    both_ends: bool
    shortfall_m: float


def arrange(load: Load, target: Target, *, most: int = 3) -> tuple[Arrangement, ...]:
    """Return the best few arrangements, least added mass first, then least work.

    When the target cannot be reached, one arrangement: the nearest, with its ``shortfall_m``.
    Raises: OutOfRangeError, JinbaError when there is more than the solver takes.
    References: moment balance about the target; branch and bound of the HiGHS solver (Huangfu and Hall, Math. Prog. Comp.
    10, 2018) through scipy.optimize.milp; formulation derived here (docs/methods/balance-solver.md).
    """
    _check(load, target)
    model = _Model(load, target)
    found: list[Arrangement] = []
    for _ in range(most):
        solution = model.solve()
        if solution is None:
            break
        arrangement = model.read(solution)
        if arrangement.shortfall_m > 0 and found:
            break
        found.append(arrangement)
        if arrangement.shortfall_m > 0:
            break
        if not model.exclude(solution):
            break
    return tuple(found)


def _check(load: Load, target: Target) -> None:
    check_range("mass that stays", load.rest_kg, unit="kg", low=0.0, high=1e6)
    check_range("target", target.x_m, unit="m", low=-100.0, high=100.0)
    check_range("tolerance", target.tolerance_m, unit="m", low=1e-4, high=1.0)
    for what, count, most in (
        ("items that can be moved", len(load.movable), MOST_MOVABLE),
        ("packs", len(load.packs), MOST_PACKS),
        ("ballast stations", len(load.stations), MOST_STATIONS),
    ):
        if count > most:
            raise JinbaError(f"{count} {what}; at most {most} are solved. Fix the small ones in place.", count=count)
    for piece in load.pieces_kg:
        check_range("piece of ballast", piece, unit="kg", low=1e-5, high=100.0)


class _Model:
    """The programme of one load and target."""

    def __init__(self, load: Load, target: Target) -> None:
        self.load, self.target = load, target
        self.p = Program()
        self.at: dict[str, Variable] = {}
        self.moved: dict[str, Variable] = {}
        self.distance: list[Variable] = []
        self.chosen: dict[str, Variable] = {}
        self.pieces: dict[tuple[str, float], Variable] = {}
        self.used: dict[str, Variable] = {}
        for item in load.movable:
            self._movable(item)
        for pack in load.packs:
            self._pack(pack)
        if load.packs:
            self.p.add([(b, 1.0) for b in self.chosen.values()], 1.0, 1.0)
        for station in load.stations:
            self._station(station)
        self.both_ends = self._both_ends()
        self.off = self.p.continuous(0.0, 10.0)
        self.out = self.p.continuous(0.0, 100.0)
        self._targets()

    def _movable(self, item: Movable) -> None:
        # The position is split into the present one plus a way aft less a way forward, which only a moved item has.
        aft = self.p.continuous(0.0, max(item.high_m - item.x_m, 0.0))
        fore = self.p.continuous(0.0, max(item.x_m - item.low_m, 0.0))
        moved = self.p.binary()
        span = max(item.high_m - item.low_m, 1e-6)
        self.p.add([(aft, 1.0), (fore, 1.0), (moved, -span)], None, 0.0)
        self.p.add([(aft, 1.0), (fore, 1.0), (moved, -min(SMALLEST_MOVE_M, span))], 0.0, None)
        self.at[f"aft:{item.key}"], self.at[f"fore:{item.key}"] = aft, fore
        self.moved[item.key] = moved
        self.distance += [aft, fore]

    def _pack(self, pack: Movable) -> None:
        # u = x b: the station where it flies, zero for a pack that stays at home.
        chosen = self.p.binary()
        wide = max(abs(pack.low_m), abs(pack.high_m)) + 1.0
        u = self.p.continuous(-wide, wide)
        self.p.add([(u, 1.0), (chosen, -pack.high_m)], None, 0.0)
        self.p.add([(u, 1.0), (chosen, -pack.low_m)], 0.0, None)
        self.chosen[pack.key], self.at[f"pack:{pack.key}"] = chosen, u
        if pack.key == self.load.flown_pack:
            aft, fore = self.p.continuous(0.0, 2 * wide), self.p.continuous(0.0, 2 * wide)
            moved = self.p.binary()
            self.p.add([(u, 1.0), (chosen, -pack.x_m), (aft, -1.0), (fore, 1.0)], 0.0, 0.0)
            self.p.add([(aft, 1.0), (fore, 1.0), (moved, -2 * wide)], None, 0.0)
            self.p.add([(aft, 1.0), (fore, 1.0), (moved, -SMALLEST_MOVE_M)], 0.0, None)
            self.moved[f"pack:{pack.key}"] = moved
            self.distance += [aft, fore]

    def _station(self, station: Station) -> None:
        used = self.p.binary()
        row = []
        for size in self.load.pieces_kg:
            n = self.p.integer(0, min(self.load.pieces_each, int(station.most_kg / size + 1e-9)))
            self.pieces[station.key, size] = n
            row.append((n, size))
        if row:
            self.p.add([*row, (used, -station.most_kg)], None, 0.0)
            self.p.add([*((n, 1.0) for n, _ in row), (used, -1.0)], 0.0, None)
        self.used[station.key] = used

    def _both_ends(self) -> Variable:
        front, rear, both = self.p.binary(), self.p.binary(), self.p.binary()
        for station in self.load.stations:
            end = front if station.x_m < self.target.x_m else rear
            self.p.add([(self.used[station.key], 1.0), (end, -1.0)], None, 0.0)
        self.p.add([(front, 1.0), (rear, 1.0), (both, -1.0)], None, 1.0)
        for size in self.load.pieces_kg:
            rows = [(self.pieces[s.key, size], 1.0) for s in self.load.stations]
            if rows:
                self.p.add(rows, None, float(self.load.pieces_each))
        return both

    def _moment(self, x0: float, axis: str) -> tuple[list[tuple[Variable, float]], float]:
        """Return the moment about ``x0`` as (terms, constant) along "x" or "y". [kg m]"""
        load = self.load
        rest = load.rest_x_m if axis == "x" else load.rest_y_m
        terms: list[tuple[Variable, float]] = []
        constant = load.rest_kg * (rest - x0)
        for item in load.movable:
            constant += item.mass_kg * ((item.x_m if axis == "x" else item.y_m) - x0)
            if axis == "x":
                terms += [(self.at[f"aft:{item.key}"], item.mass_kg), (self.at[f"fore:{item.key}"], -item.mass_kg)]
        for pack in load.packs:
            if axis == "x":
                terms += [(self.at[f"pack:{pack.key}"], pack.mass_kg), (self.chosen[pack.key], -pack.mass_kg * x0)]
            else:
                terms.append((self.chosen[pack.key], pack.mass_kg * (pack.y_m - x0)))
        for station in load.stations:
            arm = (station.x_m if axis == "x" else station.y_m) - x0
            terms += [(self.pieces[station.key, size], size * arm) for size in load.pieces_kg]
        return terms, constant

    def _targets(self) -> None:
        t = self.target
        scale = self.load.rest_kg + sum(i.mass_kg for i in self.load.movable) + 1e-6
        for edge, sign in ((t.x_m + t.tolerance_m, 1.0), (t.x_m - t.tolerance_m, -1.0)):
            terms, constant = self._moment(edge, "x")
            self.p.add([*((v, sign * c) for v, c in terms), (self.out, -scale)], None, -sign * constant)
        for sign in (1.0, -1.0):
            terms, constant = self._moment(t.x_m, "x")
            self.p.add([*((v, sign * c) for v, c in terms), (self.off, -scale)], None, -sign * constant)
        if t.y_tolerance_m is not None:
            for edge, sign in ((t.y_tolerance_m, 1.0), (-t.y_tolerance_m, -1.0)):
                terms, constant = self._moment(edge, "y")
                self.p.add([*((v, sign * c) for v, c in terms), (self.out, -scale)], None, -sign * constant)

    def _work(self) -> list[tuple[Variable, float]]:
        return [
            *((m, _WORK_MOVE) for m in self.moved.values()),
            *((b, _WORK_SWAP) for key, b in self.chosen.items() if key != self.load.flown_pack),
            *((n, _WORK_PIECE) for n in self.pieces.values()),
            *((d, _WORK_PER_M) for d in self.distance),
        ]

    def solve(self) -> Solution | None:
        """Return the next best solution, None when nothing is left."""
        return self.p.minimise(
            [
                *self._work(),
                *((n, _PER_KG * size) for (_, size), n in self.pieces.items()),
                (self.both_ends, _BOTH_ENDS),
                (self.out, _OUT_OF_REACH),
                (self.off, _WORK_OFF_TARGET / self.target.tolerance_m),
            ]
        )

    def exclude(self, solution: Solution) -> bool:
        """Ask the next solution to leave out at least one action of this one. False when it had none."""
        swaps = [b for key, b in self.chosen.items() if key != self.load.flown_pack]
        done = [v for v in (*swaps, *self.moved.values(), *self.used.values()) if solution.value(v) > 0.5]
        if done:
            self.p.add([(v, 1.0) for v in done], None, len(done) - 1.0)
        return bool(done)

    def read(self, solution: Solution) -> Arrangement:
        """Return a solution rounded to hands and computed again."""
        load = self.load
        positions: dict[str, float] = {}
        for item in load.movable:
            shift = solution.value(self.at[f"aft:{item.key}"]) - solution.value(self.at[f"fore:{item.key}"])
            if abs(shift) > 5e-4:
                positions[item.key] = _whole_mm(item.x_m + shift, item)
        pack = next((k for k, b in self.chosen.items() if solution.value(b) > 0.5), "")
        if pack:
            flown = next(q for q in load.packs if q.key == pack)
            x = _whole_mm(solution.value(self.at[f"pack:{pack}"]), flown)
            if abs(x - flown.x_m) > 5e-4:
                positions[pack] = x
        ballast = []
        for station in load.stations:
            counts = [(s, round(solution.value(self.pieces[station.key, s]))) for s in load.pieces_kg]
            kept = tuple((s, n) for s, n in counts if n > 0)
            if kept:
                ballast.append(Ballast(station.key, kept, sum(s * n for s, n in kept)))
        both = solution.value(self.both_ends) > 0.5
        work = sum(c * solution.value(v) for v, c in self._work())
        return recompute(load, self.target, positions, pack, tuple(ballast), work=work, both_ends=both)


def _whole_mm(x_m: float, item: Movable) -> float:
    return min(max(round(x_m, 3), item.low_m), item.high_m)


def recompute(
    load: Load,
    target: Target,
    positions_m: dict[str, float],
    pack: str,
    ballast: tuple[Ballast, ...],
    *,
    work: float = 0.0,
    both_ends: bool = False,
) -> Arrangement:
    """Return an arrangement with its balance point computed from masses and positions, not from the solver.

    ``work``: parts moved [-].
    """
    flown = tuple(p for p in load.packs if p.key == pack)
    placed = tuple(replace(i, x_m=positions_m.get(i.key, i.x_m)) for i in (*load.movable, *flown))
    by_key = {s.key: s for s in load.stations}
    lumps = [(i.mass_kg, i.x_m, i.y_m) for i in placed]
    lumps += [(b.mass_kg, by_key[b.station].x_m, by_key[b.station].y_m) for b in ballast]
    lumps.append((load.rest_kg, load.rest_x_m, load.rest_y_m))
    mass = sum(m for m, _, _ in lumps)
    x = sum(m * x for m, x, _ in lumps) / mass
    y = sum(m * y for m, _, y in lumps) / mass
    # Rounding to a millimetre may cost a fraction of the tolerance: that is not "out of reach".
    over = abs(x - target.x_m) - target.tolerance_m
    shortfall = over if over > 0.5e-3 else 0.0
    added = sum(b.mass_kg for b in ballast)
    return Arrangement(positions_m, pack, ballast, x, y, mass, added, work, both_ends, shortfall)
