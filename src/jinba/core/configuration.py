"""A model as it stands on the bench: airframe, items, balance reading, controls, class and limits. Immutable."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Annotated

from jinba.core.airframe.parts import Airframe
from jinba.core.airframe.planform import planform_of
from jinba.core.airframe.taken import Readings
from jinba.core.atmosphere.standard import site_density_kg_m3
from jinba.core.controls.deflections import mean_throw_rad
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.setup import COMMAND_OF, ControlSetup, starting_setup
from jinba.core.controls.surface_control import Control
from jinba.core.controls.travel import ruler_m
from jinba.core.declare import (
    OPENS_NOTHING,
    CameOrWent,
    Change,
    Count,
    Kelvin,
    Kilograms,
    Metres,
    MetresPerSecond,
    Minutes,
    Opens,
    Sister,
    Station,
)
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.frames import Axis, forward_or_aft
from jinba.core.mass.items import ITEMS, Item, ItemKind, MassSum, sum_items
from jinba.core.mass.readings import AxisReading, BenchOrder, SwungInertia
from jinba.core.spoken import a_length
from jinba.core.uncertainty import MISREAD_SHARE, root_sum_square
from jinba.core.wish import Wanted, Wish

STATION_SIGMA_M = 0.004
"""How well the station of an item is known by ruler, one standard deviation."""


class ModelClass(StrEnum):
    """What the model is for; decides the wanted static margin."""

    TRAINER = "trainer"
    CAMERA_SHIP = "camera_ship"
    SPORT = "sport"
    AEROBATIC = "aerobatic"
    GLIDER = "glider"


@dataclass(frozen=True, slots=True)
class ClassRules:
    """Static margins of a class: ``minimum`` never to be behind, ``target`` for the settled model, ``band`` each way."""

    words: str
    minimum: float
    target: float
    band: float


CLASS_RULES: dict[ModelClass, ClassRules] = {
    # Common practice, no source: forward for steady machines, further aft for aerobatics.
    ModelClass.TRAINER: ClassRules("trainer", 0.05, 0.12, 0.03),
    ModelClass.CAMERA_SHIP: ClassRules("camera or survey ship", 0.05, 0.11, 0.03),
    ModelClass.SPORT: ClassRules("sport model", 0.04, 0.09, 0.03),
    ModelClass.AEROBATIC: ClassRules("aerobatic model", 0.02, 0.06, 0.03),
    ModelClass.GLIDER: ClassRules("glider", 0.04, 0.10, 0.03),
}


_AGREE_SIGMAS = 2.5 * 2.0**0.5


@dataclass(frozen=True, slots=True)
class JigReading:
    """A measured balance point: station, one sigma, what the items summed to when it was read, and how it was read.

    ``again_m``: what a second reading said, another way, of the same model; None when it was read once.
    """

    x_m: Station
    sigma_m: Metres
    items_x_m: Station
    how: str = ""
    again_m: Station | None = None

    @property
    def agrees(self) -> bool:
        """Whether it was read twice, and both say the same: no further apart than 2.5 sigmas of their difference. Derived here."""
        return self.again_m is not None and abs(self.again_m - self.x_m) <= _AGREE_SIGMAS * self.sigma_m

    def __post_init__(self) -> None:
        check_range("jig reading", self.x_m, unit="m", low=-12.0, high=12.0)
        if self.again_m is not None:
            check_range("second reading", self.again_m, unit="m", low=-12.0, high=12.0)
        check_range("accuracy of the jig", self.sigma_m, unit="m", low=0.0002, high=0.1)
        check_text("how the balance was read", self.how, longest=300)


@dataclass(frozen=True, slots=True)
class PublishedPoint:
    """The maker's or plan's balance point: station from the datum, where it is from, and why it is used all the same.

    ``reason``: the pilot's own, written down; without one a point behind the safe limit is not to be used.
    """

    x_m: Station
    source: str = ""
    reason: str = ""

    def __post_init__(self) -> None:
        check_range("published balance point", self.x_m, unit="m", low=-12.0, high=12.0)
        check_text("source of the published point", self.source, longest=200)
        check_text("reason for the published point", self.reason, longest=300)


class Launch(StrEnum):
    """How a model gets into the air."""

    WHEELS = "wheels"
    HAND = "hand"
    BUNGEE = "bungee"


_MOST_MEASURES = 600


class Experience(StrEnum):
    """How used the pilot is to models like this one."""

    LEARNING = "learning"
    PRACTISED = "practised"
    SEASONED = "seasoned"


@dataclass(frozen=True, slots=True)
class PilotLimits:
    """What this pilot and model accept: steady wind, gust spread, crosswind [m/s]; and how used to such models the pilot is."""

    wind_mps: MetresPerSecond = 7.0
    gust_spread_mps: MetresPerSecond = 3.5
    crosswind_mps: MetresPerSecond = 4.0
    experience: Experience = Experience.PRACTISED

    def __post_init__(self) -> None:
        for name, value in (("wind", self.wind_mps), ("gust", self.gust_spread_mps), ("crosswind", self.crosswind_mps)):
            check_range(f"{name} limit", value, unit="m/s", low=0.5, high=30.0)


@dataclass(frozen=True, slots=True)
class BallastStation:
    """A place where ballast may go: station and side [m], and the most it takes [kg]."""

    name: str
    x_m: Station
    y_m: Metres = 0.0
    most_kg: Kilograms = 0.5

    def __post_init__(self) -> None:
        check_text("ballast station", self.name, longest=60)
        check_range("ballast station", self.x_m, unit="m", low=-12.0, high=12.0)
        check_range("side of the ballast station", self.y_m, unit="m", low=-12.0, high=12.0)
        check_range("most ballast there", self.most_kg, unit="kg", low=0.0005, high=50.0)


@dataclass(frozen=True, slots=True)
class BallastStock:
    """Ballast at hand: sizes of the pieces [kg], how many of each, and the places for it."""

    pieces_kg: tuple[Kilograms, ...]
    pieces_each: Count = 6
    stations: tuple[BallastStation, ...] = ()

    def __post_init__(self) -> None:
        if not 0 <= len(self.pieces_kg) <= 8 or len(self.stations) > 8:
            raise JinbaError("At most eight sizes of ballast and eight places for it.")
        for piece in self.pieces_kg:
            check_range("piece of ballast", piece, unit="kg", low=0.0001, high=20.0)
        check_range("pieces of each size", self.pieces_each, unit="pieces", low=1, high=50)


def _linkage(name: str, kind: Change) -> Opens:
    return Opens(kind, f"{name} linkage reset", covers=(Change.RADIO_TRIM,))


_READ_AGAIN_M = 0.0005
"""A balance read within this of where it was known to be has found nothing new."""


def _jig_kinds(before: Configuration, after: Configuration) -> tuple[Change, ...]:
    return (Change.BALANCE,) if abs(balance_of(after).x_m - balance_of(before).x_m) > _READ_AGAIN_M else ()


def _jig_words(before: Configuration, after: Configuration) -> str:
    shift = (balance_of(after).x_m - balance_of(before).x_m) * 1000
    return f"balance read {a_length(abs(shift) / 1000)} further {forward_or_aft(shift)}"


def _across_kinds(before: Configuration, after: Configuration) -> tuple[Change, ...]:
    return (Change.LATERAL,) if abs(balance_of(after).mass.y_m - balance_of(before).mass.y_m) > _READ_AGAIN_M else ()


def _across_words(before: Configuration, after: Configuration) -> str:
    shift = (balance_of(after).mass.y_m - balance_of(before).mass.y_m) * 1000
    return f"balance read {a_length(abs(shift) / 1000)} further {'right' if shift > 0 else 'left'}"


_DESCRIBED = Opens(
    Change.CONTROLS,
    lambda _, after: (
        "controls described for the first time" if after.controls is not None else "controls no longer described"
    ),
)
"""Directions, throws and fail-safe that were checked before anybody wrote them down were checked against nothing."""


@dataclass(frozen=True, slots=True)
class Configuration:
    """Everything about a model that a change can touch. Stations aft of the datum, SI units.

    ``cruise_speed_mps``: trim speed if known, else computed. ``pack_minutes``: till the pack is empty, a guess
    that holds until a pack is named and has flown.
    ``flown_inverted``: whether inverted cards may be offered; ``launch``: how it takes off. ``ballast``: what is in stock, None for common sizes.
    ``across``, ``height``: the balance read right of the centre line and above the datum line; ``swung``: inertia measured;
    ``order``: the bench work that is under way. ``controls``: linkages, rates, mixes and radio, None while nobody has set them;
    ``guessed``: measures of the airframe that a silhouette has guessed and nobody has taken (``airframe.guesses``); ``taken``: the readings
    of those that were taken, where they are known (``airframe.taken``);
    ``site_temperature_k``: of the air at the site, None for the standard one; ``wish``: what it is balanced for, None for what its class is.
    """

    airframe: Annotated[Airframe, Opens(Change.AIRFRAME, "airframe measured anew or altered"), Sister.INHERITS]
    items: Annotated[tuple[Item, ...], ITEMS, Sister.INHERITS]
    elevator: Annotated[Control, _linkage("elevator", Change.ELEVATOR), Sister.INHERITS]
    aileron: Annotated[Control, _linkage("aileron", Change.AILERON_RUDDER), Sister.INHERITS]
    rudder: Annotated[Control, _linkage("rudder", Change.AILERON_RUDDER), Sister.INHERITS]
    model_class: Annotated[ModelClass, OPENS_NOTHING, Sister.INHERITS] = ModelClass.SPORT
    datum: Annotated[str, OPENS_NOTHING, Sister.INHERITS] = "wing root leading edge"
    jig: Annotated[JigReading | None, Opens(_jig_kinds, _jig_words), Sister.ANEW] = None
    published: Annotated[PublishedPoint | None, OPENS_NOTHING, Sister.INHERITS] = None
    limits: Annotated[PilotLimits, OPENS_NOTHING, Sister.INHERITS] = PilotLimits()
    site_elevation_m: Annotated[Metres, OPENS_NOTHING, Sister.INHERITS] = 0.0
    cruise_speed_mps: Annotated[MetresPerSecond | None, OPENS_NOTHING, Sister.INHERITS] = None
    pack_minutes: Annotated[Minutes, OPENS_NOTHING, Sister.INHERITS] = 8.0
    flown_inverted: Annotated[bool, OPENS_NOTHING, Sister.INHERITS] = False
    launch: Annotated[Launch, OPENS_NOTHING, Sister.INHERITS] = Launch.WHEELS
    ballast: Annotated[BallastStock | None, OPENS_NOTHING, Sister.INHERITS] = None
    across: Annotated[AxisReading | None, Opens(_across_kinds, _across_words), Sister.ANEW] = None
    height: Annotated[AxisReading | None, OPENS_NOTHING, Sister.ANEW] = None
    swung: Annotated[SwungInertia | None, OPENS_NOTHING, Sister.ANEW] = None
    order: Annotated[BenchOrder | None, OPENS_NOTHING, Sister.ANEW] = None
    site_temperature_k: Annotated[Kelvin | None, OPENS_NOTHING, Sister.INHERITS] = None
    controls: Annotated[ControlSetup | None, CameOrWent(_DESCRIBED), OPENS_NOTHING, Sister.INHERITS] = None
    guessed: Annotated[tuple[str, ...], OPENS_NOTHING, Sister.INHERITS] = ()
    taken: Annotated[tuple[Readings, ...], OPENS_NOTHING, Sister.ANEW] = ()
    wish: Annotated[Wish | None, OPENS_NOTHING, Sister.INHERITS] = None

    def __post_init__(self) -> None:
        check_text("datum", self.datum, longest=80)
        if max(len(self.guessed), len(self.taken)) > _MOST_MEASURES:
            raise JinbaError("More measures are said to be guessed or taken than an airframe has.", name="guessed")
        for key in self.guessed:
            check_text("guessed measure", key, longest=80)
        if self.wish is not None and self.wish.behaviour is Wanted.PUSH and not self.flown_inverted:
            raise JinbaError(
                "Push held inverted can only be asked of a model that is flown inverted: say that you fly it so, or ask for something else.",
                name="wish",
            )
        check_range("site elevation", self.site_elevation_m, unit="m", low=-500.0, high=5000.0)
        if self.site_temperature_k is not None:
            check_range("air temperature", self.site_temperature_k, unit="K", low=230.0, high=330.0)
        check_range("minutes till the pack is empty", self.pack_minutes, unit="min", low=0.5, high=600.0)
        if self.cruise_speed_mps is not None:
            check_range("cruise speed", self.cruise_speed_mps, unit="m/s", low=2.0, high=150.0)

    @property
    def rules(self) -> ClassRules:
        """Static-margin rules of the class."""
        return CLASS_RULES[self.model_class]

    @property
    def density_kg_m3(self) -> float:
        """Air density at the site: standard pressure of its height, air temperature if known. [kg/m3]

        Derived here.
        """
        return site_density_kg_m3(elevation_m=self.site_elevation_m, temperature_k=self.site_temperature_k)

    @property
    def control_setup(self) -> ControlSetup:
        """The control set-up as described, or the one to start from."""
        if self.controls is not None:
            return self.controls
        return starting_setup(self.airframe, elevator=self.elevator, aileron=self.aileron, rudder=self.rudder)

    def throw_rad(self, axis: Axis) -> float:
        """Return the throw of an axis at full command: nose up, right wing down, nose right. [rad]

        The mean over its surfaces by linkage, end points and weights, where they are described; else, and where they cannot
        be fitted as described or nothing moves the axis, what the silhouette starts from. Derived here.
        """
        start = self.control(axis).throw_rad
        if self.controls is None:
            return start
        try:
            return mean_throw_rad(self.controls, axis, 1.0 if axis is Axis.ROLL else -1.0) or start
        except LinkageError:
            return start

    def chord_m(self, axis: Axis) -> float:
        """Return the chord at which the surfaces of an axis are read with a ruler: hinge line to trailing edge. [m]

        Derived here.
        """
        moving = () if self.controls is None else self.controls.moving(COMMAND_OF[axis])
        return moving[0].chord_m if moving else self.control(axis).chord_m

    def ruler_mm(self, axis: Axis, angle_rad: float) -> float:
        """Return how far a surface of an axis stands off fair for an angle, straight, as a ruler reads it; never signed. [mm]

        Derived here.
        """
        return 1000.0 * ruler_m(self.chord_m(axis), angle_rad)

    def control(self, axis: Axis) -> Control:
        """Return the control of an axis: elevator, aileron or rudder."""
        return {Axis.PITCH: self.elevator, Axis.ROLL: self.aileron, Axis.YAW: self.rudder}[axis]

    def with_control(self, control: Control) -> Configuration:
        """Return the configuration with the control of its axis replaced."""
        if control.axis is Axis.PITCH:
            return replace(self, elevator=control)
        if control.axis is Axis.ROLL:
            return replace(self, aileron=control)
        return replace(self, rudder=control)

    @property
    def battery(self) -> Item | None:
        """The heaviest battery on board, the first thing to move."""
        packs = [i for i in self.items if i.kind is ItemKind.BATTERY and i.fitted]
        return max(packs, key=lambda i: i.mass_kg) if packs else None


@dataclass(frozen=True, slots=True)
class Balance:
    """Where the model balances: station and one sigma [m], mass sum, and the disagreement of jig and items [m].

    ``misread``: the chance that it was read wrongly before any flight [-], none where two readings agree."""

    x_m: float
    sigma_m: float
    mass: MassSum
    from_jig: bool
    disagreement_m: float | None
    misread: float = MISREAD_SHARE


def balance_of(configuration: Configuration) -> Balance:
    """Return where a configuration balances; a jig reading rules over the sum of items, which carries later moves.

    With a jig reading x = x_jig + (items now - items when read); of two that agree the mean, known better by the root of two; of two that
    do not, the mean, and no better than they differ. Sigma without a reading: :data:`STATION_SIGMA_M` per
    item, weighted by mass. References: moment sum; error propagation, derived here (docs/methods/balance.md).
    """
    mass = sum_items(configuration.items)
    across, height, jig = configuration.across, configuration.height, configuration.jig
    mass = replace(
        mass,
        y_m=mass.y_m if across is None else across.at(mass.y_m),
        z_m=mass.z_m if height is None else height.at(mass.z_m),
    )
    if jig is not None:
        read, sigma = jig.x_m, jig.sigma_m
        if jig.again_m is not None:
            read = 0.5 * (jig.x_m + jig.again_m)
            sigma = sigma / 2.0**0.5 if jig.agrees else max(sigma, 0.5 * abs(jig.again_m - jig.x_m))
        misread = 0.0 if jig.agrees else MISREAD_SHARE
        return Balance(read + mass.x_m - jig.items_x_m, sigma, mass, True, read - jig.items_x_m, misread)
    shares = [i.mass_kg / mass.mass_kg * STATION_SIGMA_M for i in configuration.items if i.fitted]
    return Balance(mass.x_m, max(root_sum_square(shares), 0.0015), mass, False, None)


def with_carried_jig(before: Configuration, after: Configuration) -> Configuration:
    """Return ``after`` with the readings of ``before`` carried over a change of items, added and removed mass included.

    The reading says where the model balanced; the moment of what the items gained is added to that, so that
    x = (m x_read + sum dm x)/(m + sum dm) stays exact. Without a reading nothing changes. Derived here.
    """
    was, old, new = balance_of(before), sum_items(before.items), sum_items(after.items)

    def carried(read: float, items_were: float, items_are: float) -> float:
        gained = new.mass_kg * items_are - old.mass_kg * items_were
        return (old.mass_kg * read + gained) / new.mass_kg

    jig, across, height = before.jig, before.across, before.height
    return replace(
        after,
        jig=None if jig is None else _carried(jig, carried(was.x_m, old.x_m, new.x_m), new.x_m),
        across=None
        if across is None
        else replace(across, value_m=carried(was.mass.y_m, old.y_m, new.y_m), items_m=new.y_m),
        height=None
        if height is None
        else replace(height, value_m=carried(was.mass.z_m, old.z_m, new.z_m), items_m=new.z_m),
    )


def _carried(jig: JigReading, x_m: float, items_x_m: float) -> JigReading:
    """Return a reading as it would be read of a model that balances at ``x_m``; of two, both are moved alike."""
    shift = x_m - (jig.x_m if jig.again_m is None else 0.5 * (jig.x_m + jig.again_m))
    again = None if jig.again_m is None else jig.again_m + shift
    return replace(jig, x_m=jig.x_m + shift, items_x_m=items_x_m, again_m=again)


def inertia_kg_m2(configuration: Configuration, mass_kg: float) -> tuple[float, float]:
    """Return (roll, pitch) moments of inertia [kg m2].

    Measured by swinging where that was done; else I = m (R b/2)^2 and m (R L/2)^2 with R_x = 0.25, R_y = 0.38 of half span
    and half length; sigma 20 %.
    References: non-dimensional radii of gyration, Raymer, Aircraft Design, table 16.1 (from memory).
    """
    span = planform_of(configuration.airframe.wing).span_m
    a = configuration.airframe
    rear = max(s.x_m + s.sections[0].chord_m for s in a.surfaces)
    length = max(rear, a.body.nose_x_m + a.body.length_m) - min(a.body.nose_x_m, *(s.x_m for s in a.surfaces))
    swung = configuration.swung or SwungInertia()
    return (
        swung.roll_kg_m2 or mass_kg * (0.25 * span / 2.0) ** 2,
        swung.pitch_kg_m2 or mass_kg * (0.38 * length / 2.0) ** 2,
    )
