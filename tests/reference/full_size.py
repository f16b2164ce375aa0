"""Mass properties read at test time from the data files of jsbsim 1.3.3 (installed wheel, LGPL); nothing is copied."""

from __future__ import annotations

import math
import xml.etree.ElementTree as ET
from pathlib import Path

import jsbsim

from jinba.core.mass.items import Item

INCH, POUND = 0.0254, 0.45359237


def _root(name: str) -> Path:
    return Path(jsbsim.get_default_root_dir()) / "aircraft" / name / f"{name}.xml"


def full_size_items(name: str) -> tuple[tuple[Item, ...], float, tuple[float, float, float]]:
    """Return (items, weight in lb, balance point in inches) of an aircraft, the last two as the package computes them."""
    fdm = jsbsim.FGFDMExec(jsbsim.get_default_root_dir())
    fdm.set_debug_level(0)
    fdm.load_model(name)
    fdm.run_ic()
    balance = ET.parse(_root(name)).getroot().find("mass_balance")
    assert balance is not None
    location = next(e for e in balance.findall("location") if e.get("name") == "CG")
    rows = [("empty", _number(balance, "emptywt"), *_xyz(location))]
    for i, p in enumerate(balance.findall("pointmass")):
        place = p.find("location")
        assert place is not None
        rows.append((f"point {i}", _number(p, "weight"), *_xyz(place)))
    i = 0
    while (contents := fdm.get_property_value(f"propulsion/tank[{i}]/contents-lbs")) > 0:
        tank = ET.parse(_root(name)).getroot().findall("propulsion/tank")[i].find("location")
        assert tank is not None
        rows.append((f"tank {i}", contents, *_xyz(tank)))
        i += 1
    items = tuple(Item(k, k, w * POUND, x * INCH, y * INCH, z * INCH) for k, w, x, y, z in rows if w > 0)
    cg = tuple(fdm.get_property_value(f"inertia/cg-{a}-in") for a in "xyz")
    weight = fdm.get_property_value("inertia/weight-lbs")
    assert not math.isnan(weight)
    return items, weight, (cg[0], cg[1], cg[2])


def _number(node: ET.Element, tag: str) -> float:
    child = node.find(tag)
    assert child is not None
    assert child.text is not None
    return float(child.text)


def _xyz(node: ET.Element) -> tuple[float, float, float]:
    factor = 12.0 if node.get("unit") == "FT" else 1.0
    return tuple(_number(node, a) * factor for a in "xyz")  # type: ignore[return-value]
