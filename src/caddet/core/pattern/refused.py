"""What a verb on a piece says when it can't be done."""

from __future__ import annotations

from caddet.core.errors import CaddetError


class Refused(CaddetError):
    """A verb can't be done here; the reason in the trade's words, and whether the place or the amount is at fault."""

    def __init__(self, reason: str, about: str = "") -> None:
        super().__init__(reason)
        self.about = about
