"""What is noticed on a flight and stands on no card: one tap, words, a photo or a voice; gone through before the next flight."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from jinba.core.configuration import Configuration
from jinba.core.errors import UnknownKeyError
from jinba.core.said import Said, finding


@dataclass(frozen=True, slots=True)
class Noticed:
    """A thing that is noticed by one tap: what is said of the model, and what is to be looked at before it flies again.

    ``powered``: only a model with a motor does it.
    """

    key: str
    words: str
    look: str
    powered: bool = False


NOTICED: tuple[Noticed, ...] = (
    # Common practice, no source: what is written down in a pilot's book and looked into before the next flight.
    Noticed(
        "flutter",
        "something buzzed or fluttered",
        "Not as fast again before it is found: play in hinges, horns and pushrods, a servo's gears and screws, a surface that bends.",
    ),
    Noticed(
        "late",
        "it answered late, or not at all",
        "Plugs and switch, aerials, the receiver's supply with all servos moving; then the range check again, motor running.",
    ),
    Noticed(
        "loose",
        "something came loose or off",
        "Every part, screw and glue joint; where a part has left it, the balance and the directions again.",
    ),
    Noticed(
        "smoke",
        "smoke, a smell or heat",
        "Pack out, into the open, watched. Nothing is switched on before the cause is found: wires, controller, motor, servos.",
    ),
    Noticed(
        "sound",
        "motor or propeller sounded wrong",
        "Pack out first. Propeller for nicks, balance and its nut; motor for its screws, bearings and mount.",
        powered=True,
    ),
    Noticed(
        "faded",
        "power faded or cut out",
        "The pack's volts under load and its age; the controller's cut-off and its cooling air; plugs; with a tank, filter and plumbing.",
        powered=True,
    ),
)
_BY_KEY = {n.key: n for n in NOTICED}


def noticed_by(configuration: Configuration) -> tuple[Noticed, ...]:
    """Return what may be noticed of a model: nothing of a motor where there is none."""
    return tuple(n for n in NOTICED if configuration.airframe.motor is not None or not n.powered)


def noticed(key: str) -> Noticed:
    """Return a thing by its key. Raises: UnknownKeyError."""
    if key not in _BY_KEY:
        raise UnknownKeyError(f"Nothing is noticed by the name of {key!r}.", key=key)
    return _BY_KEY[key]


@dataclass(frozen=True, slots=True)
class Note:
    """What was noted: ``what`` by one tap (a key, or empty), in words, as a photo or a voice, on which card, and what was found since."""

    what: str = ""
    words: str = ""
    card_id: str = ""
    photo: bool = False
    voice: bool = False
    found: str = ""

    @property
    def open(self) -> bool:
        """Whether somebody still has to go through it. Words alone are a remark: who wrote them knows what they say.

        A note of which nothing has come, because its photo or its voice is on its way or was refused, is not known: it is open.
        """
        alone = self.words != "" and not self.photo and not self.voice
        return not self.found and (self.what != "" or not alone)


NOT_HERE = "something of which neither photo nor voice has come"


def note_words(note: Note) -> str:
    """Return what a note says in one line: the tap, else the words, else what is to be looked at or listened to."""
    if note.what:
        return noticed(note.what).words
    if note.words:
        return note.words
    there = [words for words, has in (("a photo", note.photo), ("a voice note", note.voice)) if has]
    return " and ".join(there) or NOT_HERE


def noted_stops(notes: Iterable[Note]) -> tuple[Said, ...]:
    """Return what was noted and nobody has gone through: each stops the next flight, what was noted alike is said once.

    Common practice, no source.
    """
    alike: dict[tuple[str, str], list[Note]] = {}
    for n in notes:
        if n.open:
            alike.setdefault((n.what, "" if n.what else note_words(n)), []).append(n)
    return tuple(finding("noted", _stop_words(same), *_cards(same), stops=True) for same in alike.values())


def _cards(notes: list[Note]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(n.card_id for n in notes if n.card_id))


def _stop_words(notes: list[Note]) -> str:
    first, cards = notes[0], _cards(notes)
    when = f" on {', '.join(cards)}" if cards else ""
    often = f", {len(notes)} times" if len(notes) > 1 else ""
    if first.what:
        return f"Noted{when}{often}: {noticed(first.what).words}. {noticed(first.what).look} Then say what was found."
    means = "listen to it" if first.voice else "look at it" if first.photo else "ask who noted it"
    return f"Noted{when}{often}: {note_words(first)}. Nobody has gone through it: {means}, then say what it was."
