"""A recipe to begin with, and what the lines of one come to: for whatever takes a recipe as a text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from caddet.core.figures.language import Quantity
from caddet.core.own_pieces.made import make_pieces
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.parameters import LineNote

# a straight skirt by quarters: common practice, no source
SKIRT = """\
# A skirt by quarters. Change it, or write your own.
numbers in cm
long = 60cm
wide = hip / 4 + 1
dart = clamp(wide - waist / 4, 0.5, 2.5)

piece Skirt front
A
B = A down long
F = A down waist_to_hip
G = F out wide
C = under G, level with B
R = A up 1.5
S = R out 10
D = A swing waist / 4 + dart onto R S
H = A out waist / 9 up 0.3
J = H towards D dart
K = H to J at 1/2 square min(10, waist_to_hip * 0.6)
edge waist: A ~ H (K) J ~ D, level at A, square at D
edge side: D ~ G - C
edge hem: C - B, hem
edge centre_front: B - A, fold
level hip: F G
notch side at G

piece Skirt back, pair
# points that are not given here are those of the front
Z = A down 20
K = H to J at 1/2 square min(13, waist_to_hip * 0.75)
edge waist: A ~ H (K) J ~ D, level at A, square at D
edge side: D ~ G - C
edge hem: C - B, hem
edge centre_back: B - Z
edge zip: Z - A, opening
level hip: F G
notch side at G

piece Waistband
A
B = A out 2 * edge_skirt_front_waist + 2 * edge_skirt_back_waist
C = B down 6
D = A down 6
edge top: A - B, band
edge end: B - C, band
edge waist: C - D
edge start: D - A, band

sew skirt_front.side with skirt_back.side
sew skirt_back.centre_back with skirt_back.centre_back
sew waistband.waist with skirt_front.waist + skirt_back.waist

check waist: skirt_front.waist + skirt_back.waist = waist, within 1
check hip: level hip = hip + 4
check hips_go_through: waistband.waist + skirt_back.zip >= hip
"""

# what stands in a recipe for a piece beside others, before anything is written
PIECE = """\
piece Panel, cut 2
A
B = A out 20cm
C = B down 30cm
D = A down 30cm
edge top: A - B
edge right: B - C
edge bottom: C - D, hem
edge left: D - A
"""

# what stands in a list of points measured on a rubbed-off sheet, before anything is measured
SHEET = """\
# Draw the grain line on the sheet, and a base line square to it. Every point: so far down the grain line
# from the base line, so far out from the grain line (in with a minus). Pricked points of a paper pattern the same.
# An edge that was rubbed off along the cut line says how wide its allowance is: edge side: D - E, cut 1.5
numbers in cm

piece Front
A at 9.5, 0
B at 3, 5.5
C at 0, 8
D at 4, 20.5
E at 14, 18.5
F at 23.5, 25.5
G at 65, 26
H at 66, 0
edge neckline: A ~ B ~ C, square at A, turned
edge shoulder: C - D
edge armhole: D ~ E ~ F, turned
edge side: F - G
edge hem: G ~ H, square at H, hem
edge centre_front: H - A, fold
"""

# how the lines of a recipe are written: an example of each, and what it says
WORDING: tuple[tuple[str, str], ...] = (
    ("# a remark", "Whatever stands behind # is for you."),
    ("numbers in cm", "What a number without a unit means: cm or inches."),
    ("wide = hip / 4 + 1", "A figure: small letters, a formula of measures, numbers and other figures."),
    ("piece Front, pair, cut 2, from lining", "What follows belongs to this piece. Without more it is cut once from the main cloth."),
    ("A", "The point where the piece begins."),
    ("B = A down 20 out wide", "A point from another: down, up, out or in (to the centre), and how far. A down 20 = B says the same."),
    ("B at 20, 12", "A measured point: so far down the grain line from the base line, so far out from it."),
    ("B = A towards C 5", "So far on the way to another point."),
    ("B = A to C at 1/2 square 10", "Part of the way between two points, then square off that line: to the right as you go, with a minus to the left. “for 5” instead of “at 1/2” is a length."),
    ("B = A swing 13 onto C D", "A tape held at A meets the line through C and D."),
    ("B = A C meets D E", "Where two lines cross."),
    ("B = under A, level with C", "Straight below or above one point, on the height of another."),
    ("A_B", "In a formula: the distance between two points."),
    ("edge_front_waist", "In a formula: the length of an edge of a piece that is there already."),
    ("edge side: A - B ~ C ~ D, hem", "An edge: - is straight, ~ a curve through the points. Edges follow one another round the piece. At the end what becomes of it: hem, facing, binding, casing, band, turned, opening, fold."),
    ("edge waist: A ~ B (C) D ~ E", "A dart between B and D with its point at C. The curve is bent with the dart closed."),
    ("edge waist: A ~ E, level at A, square at E", "How a curve ends: level, upright, or square to the edge beside it."),
    ("edge crotch: A ~ B, bow 2", "A curve between two points, so far out in its middle."),
    ("edge side: A - B, cut 1.5", "The edge was traced along its cut line: the allowance is taken off, and the points lie on the cut line."),
    ("level hip: A B", "A level across the piece; line and fold likewise."),
    ("grain: A B", "The grain. Without it, straight down."),
    ("notch side at G", "A notch on an edge at a point, or so far along it; double notch for two."),
    ("sew front.side with back.side", "A seam. With + an edge follows another; gathered, eased, pleated or stretched, and turned when it runs the wrong way."),
    ("check waist: front.waist + back.waist = waist", "Held on the finished pieces, as worn; >= for at least, “, within 1” for how nearly. “level hip” is that level all round."),
)  # fmt: skip


def notes(text: str, names: Mapping[str, Quantity], pattern: Pattern) -> Sequence[LineNote]:
    """What each line of a recipe comes to, lengths in mm, or what is wrong with it."""
    return make_pieces(text, names, pattern, prefix="own.").notes
