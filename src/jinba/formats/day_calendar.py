"""The day at the field as iCalendar, for whatever calendar its reader keeps."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from icalendar import Calendar, Event, vGeo


@dataclass(frozen=True, slots=True)
class FieldDay:
    """One day at the field: ``uid`` the same for the same sortie, from ``begins`` to ``ends``, where, and what is to be brought and done."""

    uid: str
    begins: datetime
    ends: datetime
    summary: str
    lines: tuple[str, ...]
    where: str = ""
    geo_deg: tuple[float, float] | None = None


def write_day(day: FieldDay, *, stamped: datetime) -> bytes:
    """Return a calendar of one event. References: RFC 5545, sections 3.6.1 and 3.8, written by the library icalendar."""
    calendar = Calendar()
    calendar.add("prodid", "-//Jinba//field day//EN")
    calendar.add("version", "2.0")
    event = Event()
    event.add("uid", day.uid)
    event.add("dtstamp", stamped.astimezone(UTC))
    event.add("dtstart", day.begins.astimezone(UTC))
    event.add("dtend", day.ends.astimezone(UTC))
    event.add("summary", day.summary)
    event.add("description", "\n".join(day.lines))
    if day.where:
        event.add("location", day.where)
    if day.geo_deg is not None:
        event.add("geo", vGeo(day.geo_deg))
    calendar.add_component(event)
    written: bytes = calendar.to_ical()
    return written
