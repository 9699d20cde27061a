"""Documents as PDF: the page of a report, or a picture that makes a page of its own size."""

from __future__ import annotations

import re

from movrel.errors import EditFault

#: Characters that a document has at most.
MOST = 20_000_000


def pdf_of(document: str) -> bytes:
    """A page of HTML, or one picture in SVG, as PDF. Nothing is fetched from anywhere.

    Raises :class:`EditFault` when it is neither, or too long.
    """
    if len(document) > MOST:
        raise EditFault("this document is too long for a PDF.", hint="Show fewer runs or strips.")
    picture = re.match(r'<svg [^>]*\bwidth="([\d.]+)" height="([\d.]+)"', document)
    if picture:
        document = (
            f"<!doctype html><style>@page {{ size: {picture[1]}px {picture[2]}px; margin: 0 }} "
            f"body {{ margin: 0 }} svg {{ display: block }}</style>{document}"
        )
    elif not document.lstrip().lower().startswith("<!doctype html"):
        raise EditFault("only a page or a picture of Movrel can be made a PDF.")
    # Slow to import, and seldom needed.
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    # Only what a document carries itself.
    made = HTML(string=document, url_fetcher=URLFetcher(allowed_protocols=["data"])).write_pdf()
    assert made is not None
    return bytes(made)
