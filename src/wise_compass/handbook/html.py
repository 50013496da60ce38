"""Pages as HTML, by the same converter that the handbook's site is made with."""

from __future__ import annotations

import re

from wise_compass.handbook.pages import Page

EXTENSIONS = ("tables", "toc", "sane_lists")
"""Of the converter: what pages use beside plain Markdown. ``toc`` gives each heading a name to be led to."""
_SPACE = re.compile(r"\s+")


def body_of(page: Page) -> str:
    """A page's text as a piece of XHTML: headings, paragraphs, lists, tables, code and pictures."""
    from markdown import Markdown

    return str(Markdown(extensions=list(EXTENSIONS), output_format="xhtml").convert(page.text))


def words_of(text: str) -> str:
    """The words of a Markdown text without its signs, in one line."""
    text = re.sub(r"!?\[([^\]]*)\]\([^)]*\)", r"\1", text)
    return _SPACE.sub(" ", re.sub(r"[\\`*_#>|]|-{3,}", " ", text)).strip()
