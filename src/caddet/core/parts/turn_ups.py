"""Turn-ups at a hem, and stabilising: stay tape and stay-stitching."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.geometry.offset import offset_path
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.parts.adding import along_path, layer_of, made_by_part, notion, run_words, with_features, with_part
from caddet.core.parts.rounds import rounds
from caddet.core.pattern.features import Bit, Feature
from caddet.core.pattern.finding import chosen_edges, only_runs, said, shapeable
from caddet.core.pattern.ids import base_name
from caddet.core.pattern.notions import Notion, Share
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.reshaping import block_of, carried_along
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Proposal, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.joins import meant


def turn_up(pattern: Pattern, context: Context, values: Values) -> Result:
    """Let a hem down by twice a turn-up: once up outside, once down again, so that it folds onto itself."""
    runs = _together(pattern, values["edges"])
    if not runs:
        raise Stuck(say("there is no hem here to turn up"), "edges")
    for piece, key in runs:
        pattern = pattern.with_piece(_let_down(pattern.piece(piece.name), key, float(values["deep"]), context.id))
    return Result(pattern, changes=meant(pattern, "pleated"))


def _together(pattern: Pattern, refs: Sequence[str]) -> list[tuple[Piece, str]]:
    """The hems that are named with those they go on into round the body; without a name, every hem."""
    own = shapeable(pattern)
    hems = [(p, k) for p in own for k in p.runs() if p.run(k)[0].finish == "hem"]
    if not refs:
        return hems
    chosen = chosen_edges(pattern, refs)
    keys = {key for _, key in chosen}
    found = dict.fromkeys(chosen)
    for one in rounds(pattern, [key for _, key in hems]) if hems else ():
        names = {part.ref.name for part in one.layer}
        if names & {base_name(key) for key in keys}:
            found |= dict.fromkeys(hit for hit in hems if base_name(hit[1]) in names)
    return list(found)


def _let_down(piece: Piece, key: str, deep: float, step: str) -> Piece:
    """A piece with two mirrored turns below its hem: the sides go up again, and down, as they would lie on each other."""
    block = block_of(piece, key)
    if block.first != block.last:
        raise Stuck(
            say("there is a dart or a seam in the {run}; turn up a whole hem", run=run_words(piece, key)), "edges"
        )
    hem = piece.edges[block.first]
    before, behind = piece.edges[block.before], piece.edges[block.behind]
    if min(before.path.length, behind.path.length) < deep + 10.0:
        raise Stuck(say("the turn-up is deeper than the side is long"), "deep")
    a, b = hem.path.start, hem.path.end
    fold = Motion.reflection(a, b)
    # below the hem the sides are those above it, mirrored; then once more as above it
    side_in = before.path.between(before.path.length - deep, before.path.length)
    side_out = behind.path.between(0.0, deep)
    assert side_in is not None and side_out is not None
    down_in, down_out = side_in.reversed().moved(fold), side_out.moved(fold)  # from the hem's corners downwards
    low_a, low_b = down_in.end, down_out.end
    second = Motion.translation(low_a - side_in.start), Motion.translation(low_b - side_out.end)
    again_in, again_out = side_in.moved(second[0]), side_out.reversed().moved(second[1])
    edges = list(piece.edges)
    first = Path.join([down_in, again_in])
    last = Path.join([again_out.reversed(), down_out.reversed()])
    (carried,) = carried_along([hem], first.end, last.start)
    edges[block.before] = before.let_in(first, at_end=True)
    edges[block.first] = hem.with_path(carried.path)
    edges[block.behind] = behind.let_in(last, at_end=False)
    made = piece.with_edges(edges)
    earlier = sum(f.role == "turn_up" and f.name.startswith(f"{step}.") for f in piece.features)
    name = f"{step}.turn_up" + (f"_{earlier + 1}" if earlier else "")
    label = say("finished length: the turn-up folds up from below")
    line = replace(along_path("fold_line", name, label, hem.path, 0.01), role="turn_up")
    up = Feature("fold_line", f"{name}_fold", say("fold up here"), (Bit(low_a, low_b),), role="turn_up_fold")
    return sound(with_features(made, [line, up]))


register_step(Step(
    "turn_up", "Turn-up",
    "The hem is folded up outside and stays there: the piece is let down by twice its depth, the first length mirrored, so that the sides lie on each other when it is folded. A lining goes no further than before.",
    (Parameter("edges", "Hems", "edges", (), why="One of a round is enough. None means every hem."),
     Parameter("deep", "Deep", "length", 40.0, 10.0, 150.0, hand=Hand("out", "edges"))),
    turn_up, lambda values: say("turn-up of {deep}", deep=Length(float(values.get("deep", 0.0)))),
    suits={"edge": 22}, symbol=((-5 - 4j, 5 - 4j, 5 + 4j, -5 + 4j, -5 - 4j), (-5 + 1j, 5 + 1j)),
    asked_as=("cuffed trousers", "turned-up hem", "cuff on the sleeve"),
    refuses=only_runs(("hem",), say("only a hem can be turned up")), fits=lambda pattern: "" if any(e.finish == "hem" for p in pattern.pieces for e in p.edges) else say("there is no hem here"),
))  # fmt: skip


# --- stabilising -----------------------------------------------------------------------------------------

STITCHED_IN = -2.0  # mm outside the seam line, so that it never shows: common practice
WAYS = (("tape", "Stay tape"), ("stitching", "Stay-stitching"), ("fusible", "A strip of interfacing"))


def stay(pattern: Pattern, context: Context, values: Values) -> Result:
    """Keep edges from stretching."""
    runs = chosen_edges(pattern, values["edges"]) if values["edges"] else wanting_stay(pattern, context)
    if not runs:
        raise Stuck(say("no edge here asks for it; say which one"), "edges")
    way = str(values["way"])
    notions: list[Notion] = []
    for number, (piece, key) in enumerate(runs):
        if way == "stitching":
            lines = [
                along_path("line", f"{context.id}.stay_{number + 1}_{n}", say("stay-stitch"), line)
                for n, edge in enumerate(piece.run(key))
                if (line := offset_path(edge.path, -STITCHED_IN)) is not None
            ]
            pattern = pattern.with_piece(with_features(pattern.piece(piece.name), lines))
            continue
        layer = layer_of(key, piece.marks)
        label = say("Stay tape") if way == "tape" else say("Interfacing, in strips of {width}", width=Length(20.0))
        notions.append(
            notion(
                context.id,
                "tape",
                label,
                [Share(layer, 1.0, run_words(piece, key))],
                [(say("to hold"), 20.0)],
                count=piece.worn,
                more=f"_{number + 1}",
            )
        )
    names = [run_words(piece, key) for piece, key in runs]
    findings = (
        Finding(
            "part.stay",
            say(
                "{way}: {edges}. It is sewn on before the edge is handled, as long as the paper edge.",
                way=dict(WAYS)[way],
                edges=", ".join(names),
            ),
            f"recipe[{context.id}]",
            "note",
        ),
    )
    return Result(with_part(pattern, notions=notions), findings=findings)


def wanting_stay(pattern: Pattern, context: Context) -> list[tuple[Piece, str]]:
    """The edges that ask for it: necklines that wait or lie on the bias, shoulders in cloth that gives, bias tops."""
    gives = context.cloth.stretch > 0.1 or context.cloth.kind == "knit"
    found: list[tuple[Piece, str]] = []
    for piece in pattern.pieces:
        if made_by_part(piece):
            continue
        for key in piece.runs():
            role = piece.run(key)[0].role
            if (
                role == "neck"
                or (role == "shoulder" and gives and piece.covers == "back")
                or (role == "top" and piece.grain.kind == "bias")
            ):
                found.append((piece, key))
    return found


def proposes_stay(pattern: Pattern, context: Context) -> Proposal | None:
    """Shoulders in cloth that gives, and edges to be faced on the bias or in soft, slippery cloth."""
    soft = context.cloth.slippery or context.cloth.drape == "soft"

    def asks(piece: Piece, key: str) -> bool:
        """Whether an edge that wants a stay in general does so in this cloth."""
        faced = any(edge.finish == "facing" for edge in piece.run(key))
        return piece.run(key)[0].role == "shoulder" or (faced and (soft or piece.grain.kind == "bias"))

    asking = [(piece, key) for piece, key in wanting_stay(pattern, context) if asks(piece, key)]
    if not asking:
        return None
    names = ", ".join(run_words(piece, key) for piece, key in asking)
    why = say(
        "This cloth grows while it waits and is worn: {edges}. A tape or a row of stitches keeps them.", edges=names
    )
    return Proposal(why, asking[0][1], {"edges": tuple(key for _, key in asking)})


register_step(Step(
    "stay_edge", "Keep from stretching",
    "Necklines, bias edges and shoulders in cloth that gives grow while they wait. A row of stitches just inside the seam line, a tape or a strip of interfacing as long as the paper edge keeps them; it goes on first.",
    (Parameter("edges", "Edges", "edges", (), why="None takes those that ask for it in this cloth: necklines, bias tops, shoulders in a knit."),
     Parameter("way", "With", "choice", "tape", choices=WAYS)),
    stay, lambda values: say("{way} on {edges}", way=dict(WAYS).get(str(values.get("way")), WAYS[0][1]).lower(), edges=", ".join(said(one) for one in values.get("edges") or ()) or say("the edges that ask for it")),
    suits={"edge": 23}, symbol=((-5 + 0j, 5 + 0j), (-5 + 2j, -3 + 2j), (-1 + 2j, 1 + 2j), (3 + 2j, 5 + 2j)),
    asked_as=("stay tape", "stay-stitch", "stabilise", "neck stretches out"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"), proposes=proposes_stay,
))  # fmt: skip
