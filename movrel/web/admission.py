"""Who may ask: pages of this very server, under a name by which it is known, and programs on this machine.

A page of another site can make a browser send requests to a server on loopback. It can neither read their answers nor
send ours its mark; what it could send, forms and plain text, is refused here, and so is a name that somebody else's
name server points at this machine.
"""

from __future__ import annotations

import os
from urllib.parse import urlsplit

from flask import Request, Response

from movrel.views.fault_view import Fault
from movrel.web.wire import answer

#: The header that our own pages send with whatever changes something; a foreign form cannot.
MARK = "X-Movrel"
#: Names of the server beside those in ``MOVREL_HOSTS``, parted by commas.
LOOPBACK = ("127.0.0.1", "localhost", "::1")
#: Kinds of content that a form, or a script without leave, can send to any server.
FORMS = ("application/x-www-form-urlencoded", "multipart/form-data", "text/plain")
CHANGING = ("POST", "PUT", "PATCH", "DELETE")
#: What pages may load and run: what this server gives, no code within a page, and no frame around them.
POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "font-src 'self' data:",
        "connect-src 'self' data: blob:",
        "media-src 'self' blob:",
        "worker-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)


def refusal(request: Request) -> Response | None:
    """Why a request is not carried out; None when it may be."""
    name = urlsplit(f"//{request.host}").hostname or ""
    if name not in known_hosts():
        return answer(
            Fault(
                f"this server is not known as '{name[:100]}'.",
                "Open it as 127.0.0.1, or list its name in MOVREL_HOSTS.",
                None,
            ),
            421,
        )
    site, origin = request.headers.get("Sec-Fetch-Site"), request.headers.get("Origin")
    foreign = site not in (None, "same-origin", "none") or (
        origin is not None and urlsplit(origin).netloc != request.host
    )
    if request.method in CHANGING:
        from_browser = site is not None or origin is not None
        unmarked = MARK not in request.headers and (from_browser or _is_form(request))
        if foreign or unmarked:
            return _from_elsewhere("nothing was changed")
    elif foreign and request.path.startswith("/api/"):
        return _from_elsewhere("it was not answered")
    return None


def known_hosts() -> tuple[str, ...]:
    """The names under which this server answers."""
    listed = os.environ.get("MOVREL_HOSTS", "").split(",")
    return (*LOOPBACK, *(name.strip().lower() for name in listed if name.strip()))


def _is_form(request: Request) -> bool:
    return bool(request.content_length) and request.mimetype in FORMS


def _from_elsewhere(consequence: str) -> Response:
    return answer(
        Fault(
            f"this request came from another site; {consequence}.",
            "Open Movrel at its own address.",
            None,
        ),
        403,
    )
