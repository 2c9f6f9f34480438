"""Errors and findings: what can be wrong, said with its place and what was expected.

A programmer's misuse raises from :class:`CaddetError`. Problems of content are collected as
:class:`Finding` values, so that one stuck step or one bad formula does not hide the rest.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


class CaddetError(Exception):
    """The root of every error that Caddet raises on purpose. Its text is fit for a user."""


class InputError(CaddetError):
    """Input from outside (a file, a field, a command line) that can't be used; exit code 2."""

    def __init__(self, sentence: str, place: str = "") -> None:
        super().__init__(f"{place}: {sentence}" if place else sentence)
        self.sentence = sentence
        self.place = place


Severity = Literal["stops", "look", "note"]


@dataclass(frozen=True, slots=True)
class Finding:
    """One located remark about the content.

    ``place`` is a path such as ``recipe[3].amount``, ``front.side`` or ``figures.front_dart``.
    """

    code: str
    sentence: str
    place: str = ""
    severity: Severity = "look"
