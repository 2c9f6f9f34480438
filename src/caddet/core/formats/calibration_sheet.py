"""Caddet's own sheet for photographs: a board of squares at true size, with a rule to check the printer by."""

from __future__ import annotations

import io

from caddet.core.lengths import Unit
from caddet.core.sentences import say, told
from caddet.core.tracing.photo.sheets import BOARD, SHEETS, SQUARE

MM = 72 / 25.4  # points of the page for a mm
PAGE = (297.0, 210.0)  # A4 lying; the board has room on Letter as well
WORDS = say(
    "Print at 100 %. The board measures {25 cm} by {17.5 cm}: measure it before you trust it. Lay it flat beside the garment."
)


def pdf_sheet(unit: Unit = "cm") -> bytes:
    """The sheet as PDF, its words in the user's unit."""
    from reportlab.pdfgen.canvas import Canvas

    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=(PAGE[0] * MM, PAGE[1] * MM), invariant=1)
    canvas.setTitle("Caddet's sheet")
    board = SHEETS["caddet"]
    left, top = (PAGE[0] - board.long) / 2, (PAGE[1] + board.short) / 2
    for row in range(BOARD[1] + 1):
        for column in range(BOARD[0] + 1):
            if (row + column) % 2 == 0:
                canvas.rect(
                    (left + column * SQUARE) * MM,
                    (top - (row + 1) * SQUARE) * MM,
                    SQUARE * MM,
                    SQUARE * MM,
                    stroke=0,
                    fill=1,
                )
    canvas.setFont("Helvetica", 8)
    canvas.drawString(left * MM, (top - board.short - 8) * MM, told(WORDS, unit))
    canvas.showPage()
    canvas.save()
    return buffer.getvalue()
