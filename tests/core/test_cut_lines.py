"""The cut line of every block: its distance from the stitch line, its corners, its notches; and the parts it is made of."""

from __future__ import annotations

import pytest
import shapely

from caddet.core.finishing.finish import CutPiece, allowance, finish_piece
from caddet.core.geometry.meeting import meet, reach_end, reach_start
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.choices import Finishing
from caddet.core.recipe.document import Document
from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, full_people, polygon

SEAM = Finishing(seam=9.0, hem=20.0, opening=14.0, slit=17.0, edge=6.0)


def _middles_keep_their_distance(cut: CutPiece, finishing: Finishing) -> int:
    """In the middle of each long segment the cut line is as far away as that edge's allowance, and not nearer."""
    line = shapely.LineString([(p.real, p.imag) for p in cut.cut.flattened(0.01)])
    seen = 0
    for edge in cut.piece.edges:
        wide = allowance(finishing, edge)
        for segment in edge.path.segments if not edge.dart else ():
            if segment.length < 90:
                continue
            for share in (0.4, 0.5, 0.6):
                path, along = Path((segment,)), segment.length * share
                at = path.point_at(along)
                out = at + path.direction_at(along) * -1j * wide
                assert shapely.Point(out.real, out.imag).distance(line) < 0.05, (edge.name, share)
                assert shapely.Point(at.real, at.imag).distance(line) == pytest.approx(wide, abs=0.6), (
                    edge.name,
                    share,
                )
                seen += 1
    return seen


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_every_block_has_a_cut_line_that_keeps_its_distance(name: str) -> None:
    for who in (full_people()[2], full_people()[9]):
        pattern = drafted(name, who).pattern
        assert pattern is not None
        for piece in pattern.pieces:
            cut = finish_piece(piece, SEAM)
            outer, net = polygon(cut.polygon(0.01)), polygon(piece.polygon(0.01))
            assert outer.is_valid and net.difference(outer.buffer(0.02)).area < 0.5, piece.name
            assert _middles_keep_their_distance(cut, SEAM) >= 3 or net.area < 90 * 90, piece.name
            widest = max(amount for _, amount in cut.allowances)
            most = net.buffer(widest, join_style="mitre", mitre_limit=10).area + 250 * len(piece.darts) * widest
            assert net.area < outer.area < most * 1.0001
            for mark, notch in zip(cut.notches, piece.notches, strict=True):
                assert len(mark.lines) == (2 if notch.double else 1)
                for start, end in mark.lines:
                    assert abs(start - end) == pytest.approx(5.0) and cut.cut.nearest(start)[0] < (
                        3.1 if notch.double else 1.0
                    )
                    assert outer.buffer(0.1).contains(shapely.Point(end.real, end.imag)), "it snips inwards"


def test_an_edge_with_a_corner_in_it_before_a_dart_gets_its_corner_and_the_dart_its_cap() -> None:
    bent = Path.polyline([0j, 60 - 12j, 100 + 0j])
    a, b = Path.polyline([100 + 0j, 110 + 90j]), Path.polyline([110 + 90j, 120 + 0j])
    right = Path.polyline([120 + 0j, 200 + 0j])
    down, bottom, up = (Path.polyline(list(pair)) for pair in ((200 + 0j, 200 + 200j), (200 + 200j, 200j), (200j, 0j)))
    edges = (
        Edge("p.top", bent, pairs=((0.0, 0.0), (1.0, 0.55))),
        Edge("p.dart.leg_a", a, dart="p.dart"),
        Edge("p.dart.leg_b", b, dart="p.dart"),
        Edge("p.top", right, pairs=((0.0, 0.55), (1.0, 1.0))),
        Edge("p.right", down),
        Edge("p.bottom", bottom, "hem"),
        Edge("p.left", up),
    )
    piece = Piece("p", "Piece", edges, darts=(Dart("p.dart", "Dart", "first"),))
    cut = finish_piece(piece, SEAM)
    assert polygon(cut.polygon()).is_valid
    peak = meet(
        0j + (60 - 12j) / abs(60 - 12j) * -1j * 9, 60 - 12j, 100 + (40 + 12j) / abs(40 + 12j) * -1j * 9, 40 + 12j
    )
    assert peak is not None and cut.cut.nearest(peak)[0] < 0.01, "the two parallels meet over the corner of the edge"
    # folded to its first leg, the cap's tip lies on the cut line beyond the second
    tip = min((p for p in cut.polygon(0.01) if 100 < p.real < 120), key=lambda p: p.imag)
    leg = (100 + 0j - (110 + 90j)) / abs(100 + 0j - (110 + 90j))
    folded = 110 + 90j + leg * leg * (tip - (110 + 90j)).conjugate()
    assert cut.cut.nearest(folded)[0] < 0.6 and tip.imag < -9.0, "the cap stands above the allowance"


def test_a_path_is_lengthened_or_cut_back_to_its_corner() -> None:
    path = Path.polyline([0j, 10 + 0j, 20 + 0j])
    assert reach_end(path, 20 + 0j) is path and reach_start(path, 0j) is path
    assert reach_end(path, 26 + 0j).end == 26 and reach_end(path, 26 + 0j).length == pytest.approx(26)
    assert reach_end(path, 14 + 0j).end == pytest.approx(14) and reach_end(path, 14 + 0j).length == pytest.approx(14)
    assert reach_start(path, 4 + 0j).start == pytest.approx(4) and reach_start(path, 4 + 0j).length == pytest.approx(16)
    gone = reach_end(path, -5 + 3j)
    assert (gone.start, gone.end) == (0j, -5 + 3j) and gone.segments == (Line(0j, -5 + 3j),), "nothing of it is left"
    nudged = reach_end(path, 20.0004 + 0j)
    assert nudged.end == pytest.approx(20.0004) and len(nudged.segments) == 2, "a hair is no new segment"
    assert meet(0j, 1 + 0j, 5 + 5j, 1j) == 5 and meet(0j, 1 + 0j, 5 + 5j, 2 + 0j) is None


def test_exceptions_by_how_exactly_they_mean_the_edge() -> None:
    plain = Edge("front.side", Path.polyline([0j, 100j]))
    marked, other = plain.marked("s3.2"), plain.counterpart()
    finishing = Finishing(seam=15.0, exceptions={"front.side": 10.0, "front.side[s3.2]": 20.0, "front.side'": 25.0})
    assert [allowance(finishing, edge) for edge in (plain, marked, other)] == [10.0, 20.0, 25.0]
    assert allowance(Finishing(seam=15.0, exceptions={"front.side": 10.0}), other) == 10.0, "one means both sides"
    assert allowance(Finishing(seam=15.0, exceptions={"front.side'": 10.0}), plain) == 15.0
    usual = {"hem": 40.0, "casing": 40.0, "opening": 20.0, "slit": 41.0, "turned": 8.0, "binding": 0.0, "raw": 0.0,
             "fold": 0.0, "joined": 15.0, "": 15.0}  # fmt: skip
    finishing = Finishing(seam=15.0, hem=40.0, opening=20.0, slit=41.0, edge=8.0)
    for finish, wanted in usual.items():
        assert allowance(finishing, Edge("a.b", plain.path, finish)) == wanted, finish  # type: ignore[arg-type]
    assert allowance(finishing, Edge("a.leg", plain.path, dart="a.dart")) == 0.0


def test_labels_name_the_cloth_of_each_role() -> None:
    made = drafted("skirt.straight", full_people()[2])
    document: Document = made.document
    labels = {cut.piece.name: cut.labels for cut in made.cut}
    assert labels["front"][0] == "Front" and labels["front"][1] == f"cut 1 on the fold of {document.cloth}"
    assert labels["back"][1] == f"cut 2, a pair of {document.cloth}"
    assert labels["waistband"][1:3] == (f"cut 1 of {document.cloth}", "cut 1 of interfacing")
    assert labels["front"][-1] == f"{document.title} · {document.wearer}"
