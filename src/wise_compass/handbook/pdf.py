"""The handbook as one PDF: a title, its contents with page numbers and links, its pages, pictures as lines."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Iterator
from xml.etree import ElementTree
from xml.sax.saxutils import escape, quoteattr

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    Image,
    ListFlowable,
    ListItem,
    PageBreak,
    PageTemplate,
    Paragraph,
    Preformatted,
    Spacer,
    Table,
    TableStyle,
)
from reportlab.platypus.tableofcontents import TableOfContents

from wise_compass import __version__
from wise_compass.handbook.html import body_of
from wise_compass.handbook.pages import Page, picture_file
from wise_compass.outputs.pdf import POINTS, PdfSurface, register_fonts
from wise_compass.sheet.drawing import Drawing
from wise_compass.sheet.lettering import FAMILY, with_signs

INK, FAINT, LINK, CODE = "#1E2A30", "#5C6B73", "#0B5A64", "#6A3B12"
EDGE = 22 * mm
WIDE = A4[0] - 2 * EDGE
BOLD = f"{FAMILY} Bold"
LEVELS = {"h1": (18, 0), "h2": (13, 10), "h3": (10.5, 8), "h4": (9.5, 6)}
"""Of headings: how large, and how much is left above, in points."""
BODY = ParagraphStyle("body", fontName=FAMILY, fontSize=9, leading=13, textColor=INK, spaceAfter=6)
CELL = ParagraphStyle("cell", parent=BODY, fontSize=8, leading=10.5, spaceAfter=0)
HEAD_CELL = ParagraphStyle("headcell", parent=CELL, fontName=BOLD)
QUOTED = ParagraphStyle("quoted", parent=BODY, leftIndent=12, borderPadding=(0, 0, 0, 8), fontName=BOLD)
TYPED = ParagraphStyle("typed", parent=BODY, textColor=CODE, leftIndent=10, fontSize=8, leading=11)


class _Lines(Flowable):  # type: ignore[misc]
    """A drawing as lines, as wide as the column or as it is."""

    def __init__(self, make: Callable[[], Drawing]) -> None:
        super().__init__()
        self.drawing = make()
        self.factor = min(1.0, WIDE / (self.drawing.width * POINTS))
        self.width = self.drawing.width * POINTS * self.factor
        self.height = self.drawing.height * POINTS * self.factor

    def wrap(self, wide: float, high: float) -> tuple[float, float]:
        return self.width, self.height + 8

    def draw(self) -> None:
        self.canv.saveState()
        self.canv.translate(0, 6)
        self.canv.scale(self.factor * POINTS, self.factor * POINTS)
        self.canv.setLineJoin(1)
        surface = PdfSurface(self.canv)
        surface.begin()
        self.drawing.put(surface)
        self.canv.restoreState()


class _Book(BaseDocTemplate):  # type: ignore[misc]
    """Numbers its pages, and tells the contents where each heading came to stand."""

    def afterPage(self) -> None:
        self.canv.setFont(FAMILY, 7.5)
        self.canv.setFillColor(FAINT)
        self.canv.drawCentredString(A4[0] / 2, 11 * mm, str(self.page))

    def afterFlowable(self, flowable: Flowable) -> None:
        place = getattr(flowable, "begins", None)
        if place is not None:
            name, title = place
            self.canv.bookmarkPage(name)
            self.canv.addOutlineEntry(title, name, 0, closed=True)
            self.notify("TOCEntry", (0, escape(title), self.page, name))


def pdf_of(pages: Iterable[Page], title: str = "Wise Compass: the handbook") -> bytes:
    """Pages of the handbook as one PDF, each from a page of its own."""
    register_fonts()
    every = list(pages)
    known = {one.name for one in every}
    contents = TableOfContents()
    contents.levelStyles = [ParagraphStyle("toc", parent=BODY, spaceAfter=1)]
    told = f"Version {__version__}. The drawings and numbers were made by the program itself."
    head = [_heading(title, "h1"), Paragraph(told, BODY), Spacer(1, 8), contents, PageBreak()]
    flow: list[Flowable] = head if len(every) > 1 else []
    for number, one in enumerate(every):
        flow += [*([PageBreak()] if number else []), *_flowables(one, known)]
    out = io.BytesIO()
    book = _Book(out, pagesize=A4, title=title, author="Wise Compass", invariant=1)
    frame = Frame(EDGE, 18 * mm, WIDE, A4[1] - 36 * mm, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0)
    book.addPageTemplates([PageTemplate(frames=[frame])])
    book.multiBuild(flow)
    return out.getvalue()


def _heading(words: str, level: str) -> Paragraph:
    size, above = LEVELS[level]
    style = ParagraphStyle(
        level, parent=BODY, fontName=BOLD, fontSize=size, leading=size * 1.3, spaceBefore=above, keepWithNext=True
    )
    return Paragraph(words, style)


def _flowables(page: Page, known: set[str]) -> Iterator[Flowable]:
    tree = ElementTree.fromstring(f"<body>{body_of(page)}</body>")
    first = True
    for block in _Blocks(page, known).of(tree):
        if first:
            block.begins = page.name, page.title
            first = False
        yield block


class _Blocks:
    """What a page's elements become."""

    def __init__(self, page: Page, known: set[str]) -> None:
        self.page, self.known = page, known

    def of(self, tree: ElementTree.Element) -> Iterator[Flowable]:
        """The blocks of an element, one after the other."""
        for part in tree:
            yield from self._block(part)

    def _block(self, part: ElementTree.Element) -> Iterator[Flowable]:
        if part.tag in LEVELS:
            yield _heading(self.inline(part), part.tag)
        elif part.tag == "p":
            picture = part.find("img")
            yield from [Paragraph(self.inline(part), BODY)] if picture is None else self._picture(picture)
        elif part.tag in ("ul", "ol"):
            items = [ListItem(list(self._item(one)), leftIndent=16) for one in part]
            bullet = {"bulletType": "bullet", "start": "–"} if part.tag == "ul" else {"bulletType": "1"}
            yield ListFlowable(
                items, bulletFontName=FAMILY, bulletFontSize=8.5, bulletColor=FAINT, leftIndent=16, **bullet
            )
        elif part.tag == "table":
            yield self._table(part)
            yield Spacer(1, 8)
        elif part.tag == "pre":
            yield Preformatted(with_signs("".join(part.itertext()).rstrip()), TYPED, maxLineLength=98)
        elif part.tag == "blockquote":
            for one in part:
                yield Paragraph(self.inline(one), QUOTED)
        else:
            raise ValueError(f"{self.page.name}: no block is made of <{part.tag}>")

    def _item(self, item: ElementTree.Element) -> Iterator[Flowable]:
        inside = [one for one in item if one.tag in ("ul", "ol", "p")]
        yield Paragraph(self.inline(item, leave=("ul", "ol", "p")), BODY)
        for one in inside:
            yield from self._block(one)

    def _picture(self, picture: ElementTree.Element) -> Iterator[Flowable]:
        path, _ = self.page.leads_to(picture.get("src", ""))
        if path in self.page.pictures:
            yield _Lines(self.page.pictures[path])
            return
        file = picture_file(path)
        if file is not None and file.suffix == ".png":
            wide, high = ImageReader(str(file)).getSize()
            yield Image(str(file), WIDE, WIDE * high / wide)

    def _table(self, table: ElementTree.Element) -> Table:
        rows, least, longest = [], list[float](), list[float]()
        for number, row in enumerate(table.iter("tr")):
            style = HEAD_CELL if number == 0 else CELL
            rows.append([Paragraph(self.inline(cell), style) for cell in row])
            said = ["".join(cell.itertext()) for cell in row]
            words = [max(map(_wide, one.split()), default=0.0) for one in said]
            least = [max(pair) for pair in zip(least or words, words)]
            whole = [_wide(one) for one in said]
            longest = [max(pair) for pair in zip(longest or whole, whole)]
        made = Table(rows, _shared(least, longest), repeatRows=1, hAlign="LEFT")
        made.setStyle(
            TableStyle(
                [
                    ("LINEBELOW", (0, 0), (-1, -1), 0.3, colors.HexColor("#B9C3C8")),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("TOPPADDING", (0, 0), (-1, -1), 2),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
                ]
            )
        )
        return made

    def inline(self, part: ElementTree.Element, leave: Iterable[str] = ()) -> str:
        """An element's words as a paragraph takes them, without the elements that are left out."""
        words = with_signs(escape(part.text or ""))
        for one in part:
            if one.tag not in leave:
                words += self._marked(one, self.inline(one))
            words += with_signs(escape(one.tail or ""))
        return words

    def _marked(self, part: ElementTree.Element, words: str) -> str:
        if part.tag == "strong":
            return f"<b>{words}</b>"
        if part.tag == "em":
            return f'<font color="{FAINT}">{words}</font>'
        if part.tag == "code":
            return f'<font color="{CODE}">{words}</font>'
        if part.tag == "br":
            return "<br/>"
        if part.tag == "a":
            return self._link(part.get("href", ""), words)
        return words

    def _link(self, link: str, words: str) -> str:
        if "://" in link:
            return f'<a href={quoteattr(link)} color="{LINK}">{words}</a>'
        name, _ = self.page.leads_to(link)
        return f'<a href={quoteattr("#" + name)} color="{LINK}">{words}</a>' if name in self.known else words


def _wide(words: str) -> float:
    """The room of a cell's words in one line."""
    return float(stringWidth(with_signs(words), BOLD, CELL.fontSize)) + 10


def _shared(least: list[float], longest: list[float]) -> list[float]:
    """The widths of columns: none narrower than its longest word, the rest by how much each has to say."""
    spare = WIDE - sum(least)
    wanted = [max(whole - word, 0.0) for word, whole in zip(least, longest)]
    if spare <= 0 or sum(wanted) <= 0:
        return [WIDE * one / sum(least) for one in least]
    part = min(1.0, spare / sum(wanted))
    return [word + part * more for word, more in zip(least, wanted)]
