"""Ballast and moves that bring the balance point to a target station."""

from __future__ import annotations

from jinba.core.errors import UnreachableTargetError, check_range


def ballast_mass_kg(*, mass_kg: float, x_cg_m: float, x_target_m: float, x_ballast_m: float) -> float:
    """Return the ballast [kg] that brings the balance point to a target station.

    m_b = m (x_t - x_cg) / (x_b - x_t): the moment balance about the target, the ballast's own mass included.

    Parameters
    ----------
    mass_kg : mass before ballast, > 0. [kg]
    x_cg_m, x_target_m, x_ballast_m : stations aft of the datum. [m]

    Raises: OutOfRangeError for a mass of zero; UnreachableTargetError when the ballast lies on the wrong side.
    References: FAA-H-8083-1, ballast formula (from memory); derived here (docs/methods/balance.md).
    Examples
    --------
    >>> round(ballast_mass_kg(mass_kg=2.45, x_cg_m=0.078, x_target_m=0.071, x_ballast_m=-0.190) * 1000, 2)
    65.71
    """
    check_range("mass", mass_kg, unit="kg", low=1e-6)
    if x_target_m == x_cg_m:
        return 0.0
    needed = mass_kg * (x_target_m - x_cg_m)
    arm = x_ballast_m - x_target_m
    if arm == 0 or needed / arm < 0:
        raise UnreachableTargetError(
            "Ballast at this station moves the balance point the wrong way.",
            x_ballast_m=x_ballast_m,
            x_target_m=x_target_m,
        )
    return needed / arm


def item_move_m(*, total_mass_kg: float, item_mass_kg: float, cg_shift_m: float) -> float:
    """Return how far [m, aft positive] an item must move so that the balance point moves by ``cg_shift_m`` [m].

    dx = m_total * shift / m_item. Raises: OutOfRangeError for an item without mass.
    References: FAA-H-8083-25, weight-shift formula (from memory).
    """
    check_range("item mass", item_mass_kg, unit="kg", low=1e-9)
    return total_mass_kg * cg_shift_m / item_mass_kg


def tip_ballast_kg(*, mass_kg: float, y_cg_m: float, tip_arm_m: float) -> float:
    """Return the mass [kg] that levels the model when put on the light side at ``tip_arm_m`` from the centre line.

    m_t = m |y_cg| / arm, exact. Raises: OutOfRangeError for an arm of zero.
    References: moment about the centre line, derived here (docs/methods/balance.md).
    """
    check_range("tip arm", tip_arm_m, unit="m", low=0.01)
    return mass_kg * abs(y_cg_m) / tip_arm_m


def two_point_cg_m(*, front_kg: float, rear_kg: float, front_x_m: float, rear_x_m: float) -> float:
    """Return the balance point [m] from two scale readings [kg] at two support stations [m].

    References: FAA-H-8083-1, weighing on two supports (from memory).
    """
    total = front_kg + rear_kg
    check_range("sum of the two scales", total, unit="kg", low=1e-9)
    return (front_kg * front_x_m + rear_kg * rear_x_m) / total
