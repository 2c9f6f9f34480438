"""Proof: every promise, gate and seam walk on a pattern, with value, limit, verdict and remedies.

A check that fails to run is one line that says so; the others go on.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from types import MappingProxyType
from typing import Literal

from caddet.core.body.doubts import Doubt
from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError, Finding
from caddet.core.fitting.remedies import join_remedies, seam_remedies, trouble_remedies
from caddet.core.fitting.worn import Worn, girths, usual_passages
from caddet.core.pattern.combine import without_prefix
from caddet.core.pattern.going_round import runs_round
from caddet.core.pattern.how_often import as_often, of_layer
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.promises import CLOSES, Girth, Promise
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context
from caddet.core.recipe.document import Accepted, BlockSource
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.passages import USUAL, Gate, Passes, gate_of
from caddet.core.recipe.stages import SourceOutcome, StepOutcome
from caddet.core.sentences import Length, say
from caddet.core.truing.checks import Trouble, troubles
from caddet.core.truing.joins import Join, joins
from caddet.core.truing.walk import walk

Verdict = Literal["fails", "look", "holds"]
Kind = Literal["finding", "gate", "closure", "seam", "join", "piece"]


@dataclass(frozen=True, slots=True)
class ProofLine:
    """One check: value against limit (mm, degrees for joins), verdict, place, and what can be done."""

    name: str
    kind: Kind
    label: str
    verdict: Verdict
    value: float
    limit: float
    place: str
    sentence: str
    remedies: tuple[Remedy, ...] = ()
    accepted: str = ""  # the reason why it is fine by the user, while that stands
    measures: str = ""  # what is measured, from where to where
    promised: float | None = None  # what the draft itself promised, where steps mean to change it

    @property
    def is_note(self) -> bool:
        """Whether it only says what is good to know."""
        return self.kind == "finding" and self.verdict == "holds"

    @property
    def holds(self) -> bool:
        """Whether the check holds."""
        return self.verdict == "holds"

    @property
    def fails(self) -> bool:
        """Whether it fails and is not accepted."""
        return self.verdict == "fails" and not self.accepted

    @property
    def off(self) -> float:
        """How far beyond its limit it is (mm, degrees); 0 for a finding, which has no figure."""
        match self.kind:
            case "finding":
                return 0.0
            case "gate":
                return max(self.limit - self.value, 0.0)
            case "join" | "piece":
                return max(self.value - self.limit, 0.0)
            case _:  # the nearer of what is meant now and what was promised: that steps mean more makes nothing worse
                asked = (self.limit, self.limit if self.promised is None else self.promised)
                return min(abs(self.value - one) for one in asked)

    def accepting(self, reason: str) -> Accepted:
        """What the document keeps when this line is fine by the user."""
        return Accepted(
            kind=self.kind,
            name=self.name,
            place=self.place,
            reason=reason,
            worse=self.off,
            stops=self.verdict == "fails",
        )


_FINDINGS: Mapping[str, Verdict] = MappingProxyType({"stops": "fails", "look": "look", "note": "holds"})
_ORDER = {"fails": 0, "look": 1, "holds": 3}
NO_WAYS: Mapping[str, tuple[Remedy, ...]] = MappingProxyType({})
WORSE = 0.1  # mm or degrees by which an accepted check has to get worse before it is opened again


def prove(
    sources: Sequence[SourceOutcome],
    pattern: Pattern | None,
    findings: tuple[Finding, ...] = (),
    doubts: tuple[Doubt, ...] = (),
    accepted: tuple[Accepted, ...] = (),
    ways_out: Mapping[str, tuple[Remedy, ...]] = NO_WAYS,
    outcomes: Sequence[StepOutcome] = (),
    wearer: Context | None = None,
    drafted: Pattern | None = None,
) -> tuple[ProofLine, ...]:
    """Every check that applies, worst first; what is accepted stays listed, behind what is open.

    ``ways_out`` are remedies for findings, by their place (see :func:`stuck_remedies`); ``outcomes`` are the steps', for what
    has to pass through their parts; ``wearer`` is what is known of the body, for girths that no block says anything of,
    and ``drafted`` the garment without any step.
    """
    lines = [replace(_finding_line(finding), remedies=ways_out.get(finding.place, ())) for finding in findings] + [
        _doubt_line(doubt) for doubt in doubts
    ]
    if pattern is not None:
        for source in sources:
            lines += _source_gates(source, sources[0], pattern)
        body = wearer or sources[0].context
        for passage, sure in _of_parts(sources, outcomes, pattern):
            gate = partial(_part_gate, passage, body, pattern, sure)
            lines += _tried(gate, passage.name, "gate", passage.name.capitalize(), "")
        if wearer is not None:
            lines += _tried(
                lambda: map(_worn_line, girths(pattern, body, drafted)), "worn", "closure", "Girths as worn", ""
            )
        for promise in pattern.promises:
            check = partial(_promise_lines, pattern, promise)
            lines += _tried(check, promise.name, "closure", promise.label, place_of(pattern, promise))
        for seam in pattern.seams_of_both_sides():
            label = f"{pattern.letter(seam.name)} {seam.label}"
            lines += _tried(partial(_seam_lines, pattern, seam, sources), seam.name, "seam", label, str(seam.a[0]))
        lines += _tried(
            lambda: [_join_line(pattern, join) for join in joins(pattern)], "joins", "join", "Lines across seams", ""
        )
        traced = any(not isinstance(source.entry, BlockSource) for source in sources)
        lines += _tried(
            lambda: [_trouble_line(pattern, one) for one in troubles(pattern, traced)], "pieces", "piece", "Pieces", ""
        )
    fine = {(one.kind, one.name, one.place): one for one in accepted}
    lines = [_judged(line, fine.get((line.kind, line.name, line.place))) for line in lines]
    return tuple(sorted(lines, key=lambda line: (2 if line.accepted else _ORDER[line.verdict], line.is_note)))


def _tried(check: Callable[[], Iterable[ProofLine]], name: str, kind: Kind, label: str, place: str) -> list[ProofLine]:
    """The lines of a check; when it can't be run, one line that says why."""
    try:
        return list(check())
    except CaddetError as error:
        why = str(error)
    except Exception as error:  # a fault of ours in one check must not take the others with it
        why = f"{type(error).__name__}: {error}"
    return [ProofLine(name, kind, label, "look", 0, 0, place, say("Can't be checked any more: {why}.", why=why))]


def _judged(line: ProofLine, fine: Accepted | None) -> ProofLine:
    """The line with what was accepted; opened again when it is worse than it was then."""
    if fine is None or line.holds:
        return line
    if line.off > fine.worse + WORSE or (line.verdict == "fails" and not fine.stops):
        again = say("It was fine by you (“{reason}”), but it has become worse since.", reason=fine.reason)
        return replace(line, sentence=f"{line.sentence} {again}")
    return replace(line, accepted=fine.reason)


def _source_gates(source: SourceOutcome, first: SourceOutcome, pattern: Pattern) -> list[ProofLine]:
    """The gates of a source, on the pieces that come from it as they are now."""
    if source.pattern is None or not isinstance(source.entry, BlockSource):
        return []
    if source is first:
        return _tried(lambda: _gates(source, pattern), "gates", "gate", "Gates", "")
    prefix = f"{source.entry.id}_"
    own = without_prefix(pattern, prefix)
    lines = _tried(lambda: _gates(source, own), "gates", "gate", "Gates", "")
    return [replace(line, name=prefix + line.name, place=prefix + line.place) for line in lines]


def _finding_line(finding: Finding) -> ProofLine:
    verdict: Verdict = _FINDINGS[finding.severity]
    return ProofLine(finding.code, "finding", _title(finding), verdict, 0.0, 0.0, finding.place, finding.sentence)


def _doubt_line(doubt: Doubt) -> ProofLine:
    fixes = tuple(Remedy(fix.label, measure=(fix.code, fix.value)) for fix in doubt.fixes)
    line = _finding_line(doubt.finding)
    return replace(line, remedies=(*fixes, Remedy("It is right as it stands", sure=doubt.code)))


def _title(finding: Finding) -> str:
    words = {
        "measure": "Measures",
        "step": "A step",
        "override": "A formula",
        "draft": "The draft",
        "finish": "Allowances",
        "part": "A part",
        "option": "Options",
        "figure": "A figure",
        "cloth": "The cloth",
        "ease": "Ease",
        "trace": "The tracing",
    }
    return words.get(finding.code.partition(".")[0], "Look here")


def _gates(source: SourceOutcome, pattern: Pattern) -> list[ProofLine]:
    return [_gate_line(gate, pattern) for gate in source.block.gates(pattern, source.context, source.pattern)]


def _gate_line(gate: Gate, pattern: Pattern) -> ProofLine:
    value = gate.value + pattern.opened(pattern.role_at(gate.place))  # with what steps have made to open there
    verdict: Verdict = "holds" if value >= gate.limit - 1e-6 else "fails"
    return ProofLine(gate.name, "gate", gate.label, verdict, value, gate.limit, gate.place, gate.why, gate.remedies)


def _of_parts(
    sources: Sequence[SourceOutcome], outcomes: Sequence[StepOutcome], pattern: Pattern
) -> list[tuple[Passes, bool]]:
    """What has to pass through what parts were put on (True), and through a garment of which no block says it.

    What a block says of the same thing goes before.
    """
    known = {one.name for source in sources for one in source.block.passes}
    by_block = any(source.block.needs for source in sources)  # a block that is drafted on the body says what passes
    asked = [(one, False) for one in (() if by_block else usual_passages(pattern))]
    asked += [(one, True) for outcome in outcomes for one in outcome.passes]
    return list({one.name: (one, sure) for one, sure in asked if one.name not in known}.values())


def _part_gate(one: Passes, context: Context, pattern: Pattern, sure: bool) -> list[ProofLine]:
    if not runs_round(pattern, one.through, one.on):
        return []  # a later step took the edge away
    body = USUAL[one.name].body if one.name in USUAL else None
    if body is not None and body(context) is None:
        words = say(
            "It can't be checked without the {measure}: measure it.", measure=MEASURES[body.measure].label.lower()
        )
        place = runs_round(pattern, one.through, one.on)[0][1]
        return [ProofLine(one.name, "gate", USUAL[one.name].words, "look", 0.0, 0.0, place, words)]
    gate = gate_of(one, pattern, context)
    if gate is None:
        return []
    line = _gate_line(gate, pattern)
    if sure or line.holds:
        return [line]
    words = say(
        "{label}: {value}, and {limit} are needed. Nothing is said yet to open there; put the zip, the buttons or the slit on that it has, and it is counted.",
        label=line.label,
        value=Length(line.value),
        limit=Length(line.limit),
    )
    return [replace(_finding_line(Finding("worn.opening", words, line.place, "note")), label=line.label)]


def _worn_line(one: Worn) -> ProofLine:
    return ProofLine(one.name, "closure", one.label, "fails", one.value, one.limit, one.place, one.sentence)


def place_of(pattern: Pattern, promise: Promise) -> str:
    """Where a promise can be looked at: an edge, a piece, or a level."""
    levels = [one.level for one in promise.of if isinstance(one, Girth)]
    found = (f.name for piece in pattern.pieces for f in piece.features if levels and f.role == levels[0])
    return promise.place or next(found, pattern.pieces[0].name if pattern.pieces else "")


def _promise_lines(pattern: Pattern, promise: Promise) -> list[ProofLine]:
    """A promise measured on the pattern; what a step means to change of it counts as promised."""
    value = pattern.promised(promise)
    meant = [one for one in pattern.meant if one.promise == promise.name]
    wanted = promise.target + sum(one.amount for one in meant)
    off = value - wanted
    good = off >= -promise.tolerance if promise.kind == "least" else abs(off) <= promise.tolerance
    verdict: Verdict = "holds" if good else "fails"
    sentence = say("Measured on the pattern, {why}.", why=promise.why) if promise.why else "Measured on the pattern."
    if meant:
        by = ", ".join(dict.fromkeys(one.step for one in meant))
        sentence += (
            say(" Meant by step {by}.", by=by)
            if verdict == "holds"
            else say(" Part of it is meant by step {by}.", by=by)
        )
    if verdict == "fails":
        sentence += " The outline does not come to it; at the machine it will be found out."
    return [
        ProofLine(
            promise.name,
            "closure",
            promise.label,
            verdict,
            value,
            wanted,
            place_of(pattern, promise),
            sentence,
            measures=promise.words(),
            promised=promise.target if meant else None,
        )
    ]


def _drafted_so(sources: Sequence[SourceOutcome], seam: Seam, layer: int) -> str:
    """What is said of a seam that does not meet as it was drafted: then no step is to blame; "" when one is."""
    for source in sources:
        for drafted in source.pattern.seams if source.pattern is not None else ():
            if isinstance(source.entry, BlockSource) and drafted.name == seam.name and source.pattern is not None:
                if walk(source.pattern, drafted, layer).holds:
                    return ""
                if source.block.needs:
                    return " It is drafted so: the block itself is at fault, with these measures and choices."
                return " It is written so: change the points or formulas of its two edges."
    return ""


def _seam_lines(pattern: Pattern, seam: Seam, sources: Sequence[SourceOutcome] = ()) -> list[ProofLine]:
    """A seam walked: one line for each further layer; and one where its sides are not there equally often."""
    lines = []
    if seam in pattern.seams and not as_often(pattern, seam):
        lines.append(_often_line(pattern, seam))
    lines += _stretch_lines(pattern, seam, sources)
    for layer in range(1, len(seam.layers)):
        walked = walk(pattern, seam, layer)
        sentence = (
            "The two sides meet within what cloth forgives."
            if walked.holds
            else ("One side is longer than the other: at the machine it puckers, or a step is left at the hem.")
        )
        if not walked.holds:
            sentence += _drafted_so(sources, seam, layer)
        words = f"{pattern.letter(seam.name)} {seam.label}" + (f", layer {layer + 1}" if layer > 1 else "")
        remedies = () if walked.holds or seam not in pattern.seams else seam_remedies(pattern, walked)
        lines.append(
            ProofLine(
                seam.name,
                "seam",
                words,
                "holds" if walked.holds else "fails",
                walked.length_b,
                walked.wanted,
                str(seam.a[0]),
                sentence,
                remedies,
                measures="both sides along their stitch lines, darts left out",
            )
        )
    return lines


ON_THE_BIAS = 0.1  # as much as woven cloth gives on the bias, at least; common practice, no source


def _stretch_lines(pattern: Pattern, seam: Seam, sources: Sequence[SourceOutcome]) -> list[ProofLine]:
    """A line for a side that is stretched onto the other by more than its cloth gives."""
    context = next((source.context for source in sources if source.context is not None), None)
    fragments = pattern.layer_fragments(seam.layers[0])
    if seam.kind != "stretched" or context is None or not fragments or not fragments[0].piece.cuts:
        return []
    piece, need = fragments[0].piece, seam.joins[0].amount - 1
    cloth = context.cloths.get(piece.cuts[0].cloth, context.cloth)
    gives = max(cloth.stretch, ON_THE_BIAS if piece.grain.kind == "bias" else 0.0)
    if need <= gives + 0.005:
        return []
    words = say(
        "The {piece} has to stretch by {need} to reach along here, and {cloth} gives {gives}: make it longer, or cut it from a cloth that stretches.",
        piece=piece.label.lower(),
        need=f"{need:.0%}",
        cloth=cloth.name,
        gives=f"{gives:.0%}",
    )
    label = say("{letter} {seam}, stretched", letter=pattern.letter(seam.name), seam=seam.label)
    return [ProofLine(f"{seam.name}.stretch", "seam", label, "fails", need, gives, str(seam.a[0]), words)]


def _often_line(pattern: Pattern, seam: Seam) -> ProofLine:
    counts = [max((one.count for one in of_layer(pattern, seam, layer)), default=0) for layer in seam.layers]
    words = say(
        "One side of this seam is cut {few} times and the other {many}: cut as many of both, or sew it on one side only.",
        few=str(min(counts)),
        many=str(max(counts)),
    )
    label = say("{letter} {seam}, how often", letter=pattern.letter(seam.name), seam=seam.label)
    return ProofLine(f"{seam.name}.often", "seam", label, "fails", min(counts), max(counts), str(seam.a[0]), words)


def _trouble_line(pattern: Pattern, trouble: Trouble) -> ProofLine:
    return ProofLine(
        trouble.name,
        "piece",
        trouble.label,
        "look",
        trouble.value,
        trouble.limit,
        trouble.place,
        trouble.sentence,
        trouble_remedies(pattern, trouble),
    )


def _join_line(pattern: Pattern, join: Join) -> ProofLine:
    verdict: Verdict = "holds" if join.angle <= join.limit else "look"
    sentence = (
        "The line runs on smoothly where the pieces meet."
        if verdict == "holds"
        else "Where the pieces meet, this line has a corner; sewn, it shows as a peak or a dip."
    )
    ways = () if verdict == "holds" else join_remedies(pattern, join)
    return ProofLine(join.name, "join", join.label, verdict, join.angle, join.limit, join.place, sentence, ways)


__all__ = ["CLOSES", "ProofLine", "prove"]
