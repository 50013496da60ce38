"""A page of the handbook as it is read in the window: its text, its pictures drawn as wide as the column."""

from __future__ import annotations

import re
from collections.abc import Iterable
from html import escape

from PySide6.QtCore import QRectF, QSize, Qt, QUrl, Signal
from PySide6.QtGui import QImage, QPainter, QResizeEvent, QTextDocument
from PySide6.QtWidgets import QTextBrowser, QWidget

from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, HAIRLINE, INK, PAPER, SOFT, TEAL, on_paper, px, shade
from wise_compass.handbook.finding import Hit
from wise_compass.handbook.html import body_of
from wise_compass.handbook.pages import Page, picture_file
from wise_compass.sheet.drawing import Drawing
from wise_compass.sheet.lettering import FAMILY

MARGIN = 22
_PICTURE = re.compile(r'<img [^>]*src="([^"]*)"')
_PICTURED, _CLOSE = re.compile(r"<p>(?=<img )"), '<p style="line-height: 100%">'
"""The paragraph of a picture, whose lines would stand as far apart as those of words."""
_RULES = """
body {{ font-family: "{family}"; color: {ink}; font-size: {text}px; }}
h1 {{ font-size: {h1}px; margin-top: 4px; margin-bottom: 8px; }}
h2 {{ font-size: {h2}px; margin-top: 20px; margin-bottom: 4px; }}
h3 {{ font-size: {h3}px; margin-top: 14px; margin-bottom: 2px; }}
p, li {{ line-height: 135%; margin-top: 4px; margin-bottom: 6px; }}
a {{ color: {link}; text-decoration: none; }}
em {{ font-style: normal; color: {soft}; }}
code, pre {{ font-family: "{family}"; color: {code}; }}
pre {{ margin: 8px 0px 8px 14px; white-space: pre-wrap; }}
blockquote {{ margin: 8px 14px; font-weight: bold; }}
table {{ border-collapse: collapse; }}
th {{ text-align: left; color: {soft}; padding: 3px 12px 3px 0px; border-bottom: 1px solid {hair}; }}
td {{ padding: 3px 12px 3px 0px; border-bottom: 1px solid {hair}; }}
"""


class PageView(QTextBrowser):
    """Shows a page; a link that is followed is told by the page and the place on it that it leads to."""

    followed = Signal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setOpenLinks(False)
        self.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.setObjectName("handbookpage")
        self.setAccessibleName("The page")
        self.page: Page | None = None
        self._body = ""
        self._laid: QTextDocument | None = None
        self.anchorClicked.connect(self._follow)

    def show_page(self, page: Page, body: str, place: str = "") -> None:
        """Show a page by its HTML, from a place on it where one is told."""
        self.page, self._body = page, body
        self._lay_out()
        if place:
            self.scrollToAnchor(place)

    def show_hits(self, words: str, hits: Iterable[Hit]) -> None:
        """Show what was found, each page with the words about it."""
        found = list(hits)
        rows = "".join(
            f'<p><a href="{hit.name}.md"><b>{escape(hit.title)}</b></a><br/><em>{escape(hit.about)}</em></p>'
            for hit in found
        )
        none = "<p>No page has these words. Try fewer of them, or another school’s.</p>"
        title = f"Found: {words}"
        self.show_page(Page("found", title, ""), f"<h1>{escape(title)}</h1>{rows or none}")

    def _lay_out(self) -> None:
        """A document of its own for every page: its pictures are handed to it, and it asks for nothing else."""
        made, before = QTextDocument(self), self._laid
        made.setDocumentMargin(MARGIN)
        made.setDefaultStyleSheet(_style())
        for source in _PICTURE.findall(self._body):
            made.addResource(QTextDocument.ResourceType.ImageResource, QUrl(source), self._picture(source))
        made.setHtml(f"<body>{_PICTURED.sub(_CLOSE, self._body)}</body>")
        self.setDocument(made)
        self._laid = made
        if before is not None:
            before.deleteLater()

    def _picture(self, source: str) -> QImage:
        """A picture of the page, drawn or read as wide as the column."""
        assert self.page is not None
        path, _ = self.page.leads_to(source)
        wide = max(self.viewport().width() - 2 * MARGIN - 4, 120)
        sharp = self.devicePixelRatioF()
        if path in self.page.pictures:
            return _drawn(self.page.pictures[path](), wide, sharp)
        file = picture_file(path)
        return _none() if file is None else _read(str(file), wide, sharp)

    def _follow(self, url: QUrl) -> None:
        if self.page is not None and not url.scheme():
            self.followed.emit(*self.page.leads_to(url.toString()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._body and event.size().width() != event.oldSize().width():
            bar = self.verticalScrollBar()
            part = bar.value() / max(bar.maximum(), 1)
            self._lay_out()
            bar.setValue(round(part * bar.maximum()))

    def sizeHint(self) -> QSize:
        return QSize(px(480), px(600))


def read_page(page: Page) -> tuple[Page, str]:
    """A page with its HTML."""
    return page, body_of(page)


def _none() -> QImage:
    image = QImage(1, 1, QImage.Format.Format_RGB32)
    image.fill(on_paper(PAPER))
    return image


def _drawn(drawing: Drawing, wide: int, sharp: float) -> QImage:
    zoom = wide * sharp / drawing.width
    image = QImage(round(drawing.width * zoom), round(drawing.height * zoom), QImage.Format.Format_RGB32)
    image.fill(on_paper(PAPER))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    drawing.put(PainterSurface(painter, Glass(zoom, 0.0, 0.0, drawing.height), least=1.0))
    painter.end()
    image.setDevicePixelRatio(sharp)
    return image


def _read(file: str, wide: int, sharp: float) -> QImage:
    image = QImage(file)
    if not file.endswith(".svg"):
        image = image.scaledToWidth(round(wide * sharp), Qt.TransformationMode.SmoothTransformation)
    else:  # as large as it is wanted, not as its millimetres are
        from PySide6.QtSvg import QSvgRenderer

        high = round(wide * sharp * image.height() / max(image.width(), 1))
        image = QImage(round(wide * sharp), high, QImage.Format.Format_RGB32)
        image.fill(on_paper(PAPER))
        painter = QPainter(image)
        QSvgRenderer(file).render(painter, QRectF(0, 0, image.width(), high))
        painter.end()
    image.setDevicePixelRatio(sharp)
    return image


def _style() -> str:
    return _RULES.format(
        family=FAMILY,
        ink=shade(INK),
        soft=shade(SOFT),
        link=shade(TEAL),
        code=shade(COPPER),
        hair=shade(HAIRLINE),
        paper=shade(PAPER),
        text=px(14),
        h1=px(22),
        h2=px(17),
        h3=px(14),
    )
