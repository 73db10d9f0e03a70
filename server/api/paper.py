"""Sheets of text and tables as PDF: worksheets, keys, value sheets."""

from functools import cache
from html import escape
from io import BytesIO
from pathlib import Path
from typing import Any

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from api.problems import Refused

#: Debian's package fonts-dejavu-core: it has the letters and signs of the trade.
FONTS = Path("/usr/share/fonts/truetype/dejavu")
MARGIN = 18 * mm
#: Width of the text on a page: its frame keeps six points on either side. [pt]
ROOM = A4[0] - 2 * MARGIN - 12.0


@cache
def _register_fonts() -> None:
    for name, file in (("Text", "DejaVuSans.ttf"), ("Bold", "DejaVuSans-Bold.ttf")):
        if not (FONTS / file).is_file():
            raise Refused(
                "For printing the server needs Debian's package fonts-dejavu-core; ask who runs it.", code="no_fonts"
            )
        pdfmetrics.registerFont(TTFont(name, str(FONTS / file)))


def as_pdf(sheet: dict[str, Any], foot: str) -> bytes:
    """A sheet as the core gives it, as plain data, on A4; ``foot`` stands under every page with its number."""
    _register_fonts()
    text = ParagraphStyle("text", fontName="Text", fontSize=9.5, leading=13)
    small = ParagraphStyle("small", parent=text, fontSize=8.5, leading=11.5)
    strong = ParagraphStyle("strong", parent=text, fontName="Bold")
    title = ParagraphStyle("title", parent=strong, fontSize=15, leading=20)
    story: list[Any] = [Paragraph(escape(sheet["title"]), title)]
    story += [Paragraph(escape(line), small) for line in sheet["lines"]]
    for block in sheet["blocks"]:
        head: list[Any] = [Spacer(1, 6 * mm), Paragraph(escape(block["title"]), strong)]
        head += [Paragraph(escape(part), text) for part in block["text"].split("\n\n") if part.strip()]
        story.append(KeepTogether(head))
        if block["rows"]:
            story += [Spacer(1, 2 * mm), _table(block["rows"], small)]
    made = BytesIO()

    def _foot(canvas: Any, page: Any) -> None:
        canvas.setFont("Text", 7.5)
        canvas.drawString(MARGIN, 9 * mm, foot[:110])
        canvas.drawRightString(A4[0] - MARGIN, 9 * mm, str(page.page))

    document = SimpleDocTemplate(
        made,
        pagesize=A4,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN,
        bottomMargin=MARGIN,
        title=sheet["title"],
    )
    document.build(story, onFirstPage=_foot, onLaterPages=_foot)
    return made.getvalue()


def _table(rows: list[list[str]], style: ParagraphStyle) -> Table:
    """No word is broken; what room is left goes to the columns with the longest texts."""
    columns = max(len(row) for row in rows)
    filled = [[*row, *[""] * (columns - len(row))] for row in rows]
    by_column = [[row[k] for row in filled] for k in range(columns)]
    least = [_widest([word for cell in cells for word in cell.split()], style) for cells in by_column]
    wanted = [min(_widest(cells, style), ROOM / 2) for cells in by_column]
    left, more = ROOM - sum(least), [max(want - has, 0.0) for want, has in zip(wanted, least, strict=True)]
    widths = [has + left * part / max(sum(more), 1.0) for has, part in zip(least, more, strict=True)]
    cells = [[Paragraph(escape(cell), style) for cell in row] for row in filled]
    table = Table(cells, colWidths=widths, repeatRows=1, hAlign="LEFT")
    table.setStyle(
        TableStyle(
            [
                ("LINEABOVE", (0, 0), (-1, 0), 0.8, colors.black),
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, colors.grey),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("RIGHTPADDING", (0, 0), (-1, -1), 4),
            ]
        )
    )
    return table


def _widest(texts: list[str], style: ParagraphStyle) -> float:
    """The width of the widest, with the room around it. [pt]"""
    return max((pdfmetrics.stringWidth(text, style.fontName, style.fontSize) for text in texts), default=0.0) + 7.0
