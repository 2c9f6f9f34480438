"""A tape measure that sends its readings: what Caddet expects of one, and a simulated one.

Whoever listens is told of events in the order in which they happen. A reading counts only when it has
come whole (:class:`TapeRead`); what a tape shows while it is pulled out (:class:`TapePulled`) is for the
eye, and is dropped when the link is lost before the button was pressed. Lengths in mm.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol


@dataclass(frozen=True, slots=True)
class TapeLinked:
    """The tape is there. ``battery`` in percent."""

    name: str
    battery: int


@dataclass(frozen=True, slots=True)
class TapePulled:
    """The tape is being pulled out; it shows ``mm`` now."""

    mm: float


@dataclass(frozen=True, slots=True)
class TapeRead:
    """The button was pressed: a whole reading."""

    mm: float


@dataclass(frozen=True, slots=True)
class TapeBattery:
    """The charge has changed."""

    percent: int


@dataclass(frozen=True, slots=True)
class TapeLost:
    """The link is gone; ``in_reading`` when the tape was out and had not been read."""

    reason: str
    in_reading: bool


TapeEvent = TapeLinked | TapePulled | TapeRead | TapeBattery | TapeLost
Listener = Callable[[TapeEvent], None]
LOW_BATTERY = 15


class TapeDevice(Protocol):
    """A tape that can be linked. A real one would be reached through the same four."""

    @property
    def linked(self) -> bool:
        """Whether readings can come."""

    def listen(self, listener: Listener) -> None:
        """Tell this listener of every event from now on."""

    def link(self) -> None:
        """Find the tape and link it; the outcome comes as an event."""

    def unlink(self) -> None:
        """End the link."""


class SimulatedTape:
    """The stand-in: it is pulled out and read by hand or by a test, with noise, a battery and a link that can fail.

    ``noise`` is the spread of a reading in mm (one standard deviation); with the battery low it is four
    times that. Every reading takes ``drain`` percent; an empty battery ends the link.
    """

    name = "Practice tape"
    longest = 3000.0

    def __init__(self, seed: int = 1, noise: float = 0.6, battery: int = 80, drain: int = 1) -> None:
        self._random = random.Random(seed)
        self.noise, self.battery, self.drain = noise, battery, drain
        self.out = 0.0
        self._linked = False
        self._listeners: list[Listener] = []

    @property
    def linked(self) -> bool:
        """Whether readings can come."""
        return self._linked

    def listen(self, listener: Listener) -> None:
        """Tell this listener of every event from now on."""
        self._listeners.append(listener)

    def _tell(self, event: TapeEvent) -> None:
        for listener in self._listeners:
            listener(event)

    def link(self) -> None:
        """Make the link; with an empty battery it fails at once."""
        if self.battery <= 0:
            self._tell(TapeLost("its battery is empty", False))
            return
        self._linked = True
        self._tell(TapeLinked(self.name, self.battery))

    def unlink(self) -> None:
        """End the link in good order."""
        if self._linked:
            self._linked = False
            self._tell(TapeLost("it was put away", self.out > 0))

    def lose_link(self) -> None:
        """The link breaks off, as it does when somebody walks away with the tape."""
        if self._linked:
            self._linked = False
            self._tell(TapeLost("it is out of reach", self.out > 0))

    def extend(self, mm: float) -> None:
        """Pull the tape out to a length in mm."""
        self.out = min(max(mm, 0.0), self.longest)
        if self._linked:
            self._tell(TapePulled(self.out))

    def charge(self, percent: int) -> None:
        """Set the battery; at nothing the link ends."""
        self.battery = min(max(percent, 0), 100)
        if not self._linked:
            return
        self._tell(TapeBattery(self.battery))
        if self.battery == 0:
            self._linked = False
            self._tell(TapeLost("its battery is empty", self.out > 0))

    def press(self) -> None:
        """Press the button: send the reading, if the tape is out and linked."""
        if not self._linked or self.out <= 0:
            return
        spread = self.noise * (4 if self.battery <= LOW_BATTERY else 1)
        reading = max(self.out + self._random.gauss(0, spread), 0.1)
        self.out = 0.0
        self._tell(TapeRead(round(reading, 1)))
        self.charge(self.battery - self.drain)
