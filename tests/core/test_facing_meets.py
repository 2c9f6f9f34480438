"""Facings of edges whose neighbours lean in under them, and of two pieces that are sewn to each other beside the edge."""

from __future__ import annotations

import shapely

from caddet.core.pattern.piece import Piece
from caddet.core.recipe.values import Place
from tests.making import drafted, nine, pattern_of, step

WIDTH = 60.0


def polygon(piece: Piece) -> shapely.Polygon:
    """The piece's outline, darts open as it is drawn."""
    return shapely.Polygon([(p.real, p.imag) for edge in piece.edges for p in edge.path.flattened(0.05)[1:]])


def as_wide(facing: Piece, run: str) -> list[float]:
    """How far the inner edge lies from the faced one, in mm, at every half centimetre of its middle two thirds."""
    faced, inner = (facing.run(f"{facing.made}.{name}")[0].path for name in (run, "inner"))
    line = shapely.LineString([(p.real, p.imag) for p in faced.flattened(0.05)])
    places = [inner.point_at(inner.length * (1 / 6 + n * 4 / 600)) for n in range(101)]
    return [float(shapely.distance(line, shapely.Point(p.real, p.imag))) for p in places]


def test_the_facing_of_a_hollow_wrap_edge_ends_at_the_waist() -> None:
    """It ran past the waist and back, and was refused on every body."""
    for who in nine():
        made = drafted(
            "bodice.darted",
            who,
            steps=(step("wrap_front", hollow=20.0), step("facing", edges=("front.neckline",), width=WIDTH)),
        )
        assert not made.evaluated.outcomes[-1].stuck, who.name
        facing, front = (pattern_of(made).piece(name) for name in ("s3.front_neckline", "front"))
        assert polygon(facing).is_valid
        assert polygon(facing).difference(polygon(front).buffer(0.3)).area < 1.0, who.name
        assert all(abs(width - WIDTH) < 1.0 for width in as_wide(facing, "neckline")), who.name


def test_the_facings_of_princess_pieces_end_at_the_same_place_of_their_seam() -> None:
    """The side's crossed itself, and the centre's ran 2 cm farther along the seam than the side's."""
    faced = 0
    for who in nine():
        made = drafted(
            "bodice.darted",
            who,
            sleeve=False,
            steps=(
                step("princess", dart=("front.bust_dart",), to=Place(edge="front.armhole", share=0.5)),
                step("facing", edges=("front.armhole",), width=WIDTH),
            ),
        )
        if any(outcome.stuck for outcome in made.evaluated.outcomes):
            continue  # on two of the nine there is no bust dart
        pattern = pattern_of(made)
        facings = [piece for piece in pattern.pieces if piece.role == "facing"]
        legs = {e.own: e.path.length for piece in facings for e in piece.edges if e.own in ("leg_a", "leg_b")}
        assert len(legs) == 2 and abs(legs["leg_a"] - legs["leg_b"]) < 0.5, (who.name, legs)
        assert 0.98 * WIDTH < legs["leg_a"] < 1.6 * WIDTH
        for piece in facings:
            own = next(p for p in pattern.pieces if p.role != "facing" and polygon(p).intersects(polygon(piece)) and polygon(piece).difference(polygon(p).buffer(0.3)).area < 1.0)  # fmt: skip
            assert polygon(piece).is_valid and polygon(piece).area < 0.7 * polygon(own).area
        faced += 1
    assert faced >= 7
