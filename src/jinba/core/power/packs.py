"""Battery packs, what flights took from them, and what they give at once."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.errors import OutOfRangeError, check_range, check_text
from jinba.core.power.cells import CELLS, CHARGED, Charge, Chemistry, charge_of

COULOMBS_PER_MAH = 3.6

MOST_PUT_BACK = 1.15
"""Share of the rated capacity beyond which nothing is put back into a pack: charging losses and an honest label; common practice, no source."""


@dataclass(frozen=True, slots=True)
class Pack:
    """A pack by the name written on it: ``cells`` in series, rated ``capacity_c`` [C].

    ``rating_per_h``: the current it may give all the time over its capacity [1/h], the number before the C on its label;
    ``resistance_ohm``: of the whole pack [ohm]; ``mass_kg`` with its lead [kg]. None: not known.
    """

    key: str
    name: str
    chemistry: Chemistry
    cells: int
    capacity_c: float
    rating_per_h: float | None = None
    resistance_ohm: float | None = None
    mass_kg: float | None = None

    def __post_init__(self) -> None:
        check_text("name of the pack", self.name, longest=40)
        check_range("cells in series", self.cells, unit="", low=1, high=30)
        check_range(
            "capacity", self.capacity_c / COULOMBS_PER_MAH, unit="mAh", low=20.0, high=100_000.0, hint="2200 for 2.2 Ah"
        )
        if self.rating_per_h is not None:
            check_range("rating", self.rating_per_h, unit="C", low=0.5, high=250.0, hint="the number before the C")
        if self.resistance_ohm is not None:
            check_range(
                "internal resistance of the pack", 1000.0 * self.resistance_ohm, unit="milliohm", low=0.2, high=3000.0
            )
        if self.mass_kg is not None:
            check_range("mass of the pack", self.mass_kg, unit="kg", low=0.002, high=20.0)

    @property
    def nominal_v(self) -> float:
        """Return the mean volts of the pack while it is emptied [V]. References: :data:`jinba.core.power.cells.CELLS`."""
        return self.cells * CELLS[self.chemistry].nominal_v

    @property
    def energy_j(self) -> float:
        """Return the energy of the pack as rated [J]: capacity times nominal volts. Derived here."""
        return self.capacity_c * self.nominal_v

    @property
    def most_a(self) -> float | None:
        """Return the current the pack may give all the time [A], by the definition of its rating; None where that is not known. Derived here."""
        return None if self.rating_per_h is None else self.rating_per_h * self.capacity_c / 3600.0

    def charge(self, cell_v: float | None) -> Charge | None:
        """Return how full the pack is by the volts of a cell at rest [V]; unread it is taken for charged, None where volts do not tell.

        References: :func:`jinba.core.power.cells.charge_of`.
        """
        return CHARGED if cell_v is None else charge_of(self.chemistry, cell_v)

    def loaded_v(self, rest_v: float, current_a: float) -> float | None:
        """Return the volts of the pack under a current [A] from those at rest [V], None where its resistance is not known.

        U = U_0 - I R. References: Ohm's law.
        """
        return None if self.resistance_ohm is None else rest_v - current_a * self.resistance_ohm


@dataclass(frozen=True, slots=True)
class Flight:
    """What one flight took from one pack: ``minutes`` in the air, volts of a cell at rest before and after [V], charge put back [C].

    ``pack``, ``model``: keys of both, the model empty for one that is not here. ``motor_minutes``: of them with the motor running;
    ``full_a``, ``cruise_a``: current in the air at full throttle and in level cruise [A]. None: not read.
    """

    pack: str
    model: str
    minutes: float
    before_v: float | None = None
    after_v: float | None = None
    put_back_c: float | None = None
    motor_minutes: float | None = None
    full_a: float | None = None
    cruise_a: float | None = None

    @property
    def motor_share(self) -> float | None:
        """Return the share of the flight with the motor running [-]; None where it was not read, or is more than all of it. Derived here."""
        if not self.motor_minutes or self.motor_minutes > _CLOCKS_DIFFER * self.minutes:
            return None
        return min(self.motor_minutes / self.minutes, 1.0)


_CLOCKS_DIFFER = 1.1
"""Motor minutes over minutes in the air that two clocks make alone: more is a slip. Set here."""


def check_flight(pack: Pack, *, before_v: float | None, after_v: float | None, put_back_c: float | None) -> None:
    """Refuse what one flight cannot have taken from a pack: volts of a cell at rest [V], charge put back [C]. Common practice, no source.

    Raises: OutOfRangeError with the likely slip.
    """
    if put_back_c is not None:
        most = MOST_PUT_BACK * pack.capacity_c / COULOMBS_PER_MAH
        hint = f"{pack.name} holds {pack.capacity_c / COULOMBS_PER_MAH:.0f} mAh: a slipped digit, or another pack?"
        check_range("charge put back", put_back_c / COULOMBS_PER_MAH, unit="mAh", low=0.0, high=most, hint=hint)
    if before_v is not None and after_v is not None and after_v > before_v + 0.02:
        raise OutOfRangeError(
            "volts after the flight",
            after_v,
            unit="V",
            high=before_v,
            hint=f"Before it a cell showed {before_v:.2f} V: were before and after swapped?",
        )
