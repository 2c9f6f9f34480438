"""SVG in millimetres, with a named group for each piece and layer."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from caddet.core.finishing.finish import CutPiece
from caddet.core.formats.paper import LineChoice, Stroke, Text, arrange
from caddet.core.geometry.sinks import SvgPath, draw
from caddet.core.laying.plan import LayPlan

MARGIN = 10.0
STYLES = {
    "cut": 'stroke-width="0.5"',
    "stitch": 'stroke-width="0.35" stroke-dasharray="4 2"',
    "dart": 'stroke-width="0.35"',
    "notch": 'stroke-width="0.5"',
    "grain": 'stroke-width="0.35"',
    "fold": 'stroke-width="0.7" stroke-dasharray="12 2 2 2"',
    "mark": 'stroke-width="0.2" stroke-dasharray="1 2"',
}


def svg_pieces(cut: Sequence[CutPiece], title: str, lines: LineChoice = "both") -> str:
    """All pieces on one drawing, at true size, as SVG text."""
    sheet = arrange(cut, lines)
    width, height = sheet.width + 2 * MARGIN, sheet.height + 2 * MARGIN
    parts = [_head(width, height, title)]
    for name, strokes, texts in sheet.pieces:
        parts.append(f'<g id="{escape(name)}" transform="translate({MARGIN} {MARGIN})">')
        for layer, style in STYLES.items():
            inside = [_path(stroke) for stroke in strokes if stroke.layer == layer]
            if inside:
                parts.append(f'<g id="{escape(name)}-{layer}" class="{layer}" {style}>')
                parts += [*inside, "</g>"]
        parts.append(f'<g id="{escape(name)}-labels" stroke="none" fill="black">')
        parts += [_text(text) for text in texts]
        parts.append("</g></g>")
    parts.append("</g></svg>\n")
    return "\n".join(parts)


def svg_lay(plan: LayPlan, title: str) -> str:
    """The lay plan as SVG text, at true size: x along the cloth."""
    height = plan.width
    parts = [
        _head(plan.length + 2 * MARGIN, height + 2 * MARGIN, title),
        f'<g transform="translate({MARGIN} {MARGIN})">',
    ]
    parts.append(f'<rect id="cloth" width="{plan.length:.2f}" height="{plan.width:.2f}" stroke-width="1"/>')
    for placed in plan.placed:
        points = " ".join(f"{p.real:.2f},{p.imag:.2f}" for p in placed.outline)
        parts.append(f'<polygon points="{points}" stroke-width="0.5"><title>{escape(placed.named)}</title></polygon>')
        parts.append(_text(Text(placed.middle, placed.named, 18)))
    parts.append("</g></g></svg>\n")
    return "\n".join(parts)


def _head(width: float, height: float, title: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}">\n<title>{escape(title)}</title>\n'
        '<g fill="none" stroke="black" stroke-linejoin="round">'
    )


def _path(stroke: Stroke) -> str:
    sink = SvgPath()
    draw(stroke.path, sink, closed=stroke.closed)
    return f'<path d="{sink}"/>'


def _text(text: Text) -> str:
    return (
        f'<text x="{text.at.real:.2f}" y="{text.at.imag:.2f}" font-size="{text.size:.2f}" fill="black" stroke="none" '
        f'text-anchor="middle" font-family="IBM Plex Sans, sans-serif">{escape(text.words)}</text>'
    )
