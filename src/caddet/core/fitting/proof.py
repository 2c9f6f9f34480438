"""Proof: every closure, gate and seam walk on a pattern, with value, limit, verdict and remedies."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from caddet.core.body.doubts import Doubt
from caddet.core.errors import CaddetError, Finding
from caddet.core.figures.sums import Sum
from caddet.core.pattern.combine import without_prefix
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Accepted, BlockSource
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.registry import Block, step_entry
from caddet.core.recipe.stages import SourceOutcome
from caddet.core.truing.joins import Join, joins
from caddet.core.truing.walk import walk

CLOSES = 0.1  # mm, within which a draft closes on the body

Verdict = Literal["fails", "look", "holds"]
Kind = Literal["finding", "gate", "closure", "seam", "join"]


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
            case "join":
                return max(self.value - self.limit, 0.0)
            case _:
                return abs(self.value - self.limit)

    def accepting(self, reason: str) -> Accepted:
        """What the document keeps when this line is fine by the user."""
        return Accepted(kind=self.kind, name=self.name, place=self.place, reason=reason, worse=self.off,
                        stops=self.verdict == "fails")  # fmt: skip


_ORDER = {"fails": 0, "look": 1, "holds": 3}
WORSE = 0.1  # mm or degrees by which an accepted check has to get worse before it is opened again


def prove(
    sources: Sequence[SourceOutcome],
    pattern: Pattern | None,
    findings: tuple[Finding, ...] = (),
    doubts: tuple[Doubt, ...] = (),
    accepted: tuple[Accepted, ...] = (),
) -> tuple[ProofLine, ...]:
    """Every check that applies, worst first; what is accepted stays listed, behind what is open."""
    lines = [_finding_line(finding) for finding in findings] + [_doubt_line(doubt) for doubt in doubts]
    if pattern is not None:
        for source in sources:
            lines += _source_gates(source, sources[0], pattern)
        lines += _closures(pattern)
        lines += _seams(pattern)
        lines += [_join_line(join) for join in joins(pattern)]
    fine = {(one.kind, one.name, one.place): one for one in accepted}
    lines = [_judged(line, fine.get((line.kind, line.name, line.place))) for line in lines]
    return tuple(sorted(lines, key=lambda line: 2 if line.accepted else _ORDER[line.verdict]))


def _judged(line: ProofLine, fine: Accepted | None) -> ProofLine:
    """The line with what was accepted; opened again when it is worse than it was then."""
    if fine is None or line.holds:
        return line
    if line.off > fine.worse + WORSE or (line.verdict == "fails" and not fine.stops):
        again = f"It was fine by you (“{fine.reason}”), but it has become worse since."
        return replace(line, sentence=f"{line.sentence} {again}")
    return replace(line, accepted=fine.reason)


def _source_gates(source: SourceOutcome, first: SourceOutcome, pattern: Pattern) -> list[ProofLine]:
    """The gates of a source, on the pieces that come from it as they are now."""
    if source.pattern is None or not isinstance(source.entry, BlockSource):
        return []
    if source is first:
        return _gates(source.block, pattern, source.sums, source.measures)
    prefix = f"{source.entry.id}_"
    lines = _gates(source.block, without_prefix(pattern, prefix), source.sums, source.measures)
    return [replace(line, name=prefix + line.name, place=prefix + line.place) for line in lines]


def _finding_line(finding: Finding) -> ProofLine:
    verdict: Verdict = "fails" if finding.severity == "stops" else "look"
    return ProofLine(finding.code, "finding", _title(finding), verdict, 0.0, 0.0, finding.place, finding.sentence)


def _doubt_line(doubt: Doubt) -> ProofLine:
    fixes = tuple(Remedy(fix.label, measure=(fix.code, fix.value)) for fix in doubt.fixes)
    line = _finding_line(doubt.finding)
    return replace(line, remedies=(*fixes, Remedy("It is right as it stands", sure=doubt.code)))


def _title(finding: Finding) -> str:
    words = {
        "measure": "Measures", "step": "A step is stuck", "override": "A formula", "draft": "The draft",
        "finish": "Allowances", "option": "Options", "figure": "A figure", "cloth": "The cloth", "ease": "Ease",
    }  # fmt: skip
    return words.get(finding.code.partition(".")[0], "Look here")


def _gates(block: Block, pattern: Pattern, sums: Mapping[str, Sum], measures: Mapping[str, float]) -> list[ProofLine]:
    try:
        gates = block.gates(pattern, sums, measures)
    except CaddetError as error:
        return [ProofLine("gates", "gate", "Gates", "look", 0, 0, "", f"Can't be checked any more: {error}.")]
    return [
        ProofLine(gate.name, "gate", gate.label, "holds" if gate.value >= gate.limit - 1e-6 else "fails",
                  gate.value, gate.limit, gate.place, gate.why, gate.remedies)
        for gate in gates
    ]  # fmt: skip


def _closures(pattern: Pattern) -> list[ProofLine]:
    lines = []
    for closure in pattern.closures:
        place = f"{closure.terms[0].piece}.{closure.terms[0].run}"
        try:
            value = closure.measured(pattern)
        except CaddetError as error:
            lines.append(ProofLine(closure.name, "closure", closure.label, "look", 0, closure.target, place,
                                   f"Can't be measured any more: {error}."))  # fmt: skip
            continue
        off = value - closure.target
        verdict: Verdict = "holds" if abs(off) <= CLOSES else "fails"
        sentence = f"Measured on the pattern, {closure.why}."
        if verdict == "fails":
            sentence += " A step after the draft has changed it; at the machine it will be found out."
        lines.append(ProofLine(closure.name, "closure", closure.label, verdict, value, closure.target, place, sentence))
    return lines


def _seams(pattern: Pattern) -> list[ProofLine]:
    lines = []
    for seam in pattern.seams:
        place = str(seam.a[0])
        try:
            walked = walk(pattern, seam)
        except CaddetError as error:
            lines.append(ProofLine(seam.name, "seam", f"{seam.name} {seam.label}", "look", 0, 0, place,
                                   f"Can't be walked any more: {error}."))  # fmt: skip
            continue
        verdict: Verdict = "holds" if walked.holds else "fails"
        sentence = "The two sides meet within what cloth forgives." if walked.holds else (
            "One side is longer than the other: at the machine it puckers, or a step is left at the hem."
        )  # fmt: skip
        lines.append(
            ProofLine(seam.name, "seam", f"{seam.name} {seam.label}", verdict, walked.length_b,
                      seam.wanted_b(walked.length_a), place, sentence, _seam_remedies(seam.a[0].piece, walked.off)
                      if not walked.holds and len(seam.a) == len(seam.b) == 1 else ())
        )  # fmt: skip
    return lines


def _seam_remedies(piece: str, off: float) -> tuple[Remedy, ...]:
    """For two single edges: lengthen or shorten side A at half its height to meet B."""
    step = step_entry("lengthen", {"piece": piece, "at": 400.0, "amount": round(off, 1)})
    return (Remedy(f"Take it from the {piece}: {off / 10:+.1f} cm at 40 cm below the waist", step=step),)


def _join_line(join: Join) -> ProofLine:
    verdict: Verdict = "holds" if join.angle <= join.limit else "look"
    sentence = (
        "The line runs on smoothly where the pieces meet."
        if verdict == "holds"
        else "Where the pieces meet, this line has a corner; sewn, it shows as a peak or a dip."
    )
    return ProofLine(join.name, "join", join.label, verdict, join.angle, join.limit, join.place, sentence)
