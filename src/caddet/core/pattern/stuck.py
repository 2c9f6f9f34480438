"""Why a block can't be drafted or a step can't be done: the reason, and the value at fault."""

from __future__ import annotations

from caddet.core.errors import CaddetError
from caddet.core.pattern.ids import Reference
from caddet.core.sentences import say


class CannotDraft(CaddetError):
    """A block can't be drafted on this body: the reason, and the figure or measure at fault."""

    def __init__(self, reason: str, place: str) -> None:
        super().__init__(reason)
        self.place = place


class Stuck(CaddetError):
    """A step can't be done on this pattern: the reason, and the parameter at fault."""

    def __init__(self, reason: str, parameter: str = "") -> None:
        super().__init__(reason)
        self.parameter = parameter


class Lost(Stuck):
    """A step names something that is not there: which, and where it was named. The evaluation adds the reason."""

    def __init__(self, ref: Reference, what: str, parameter: str = "") -> None:
        super().__init__(say("nothing here is called “{ref}”", ref=ref), parameter)
        self.ref = ref
        self.what = what
