"""What every application of the server has: admission, faults as sentences, health, events, the page and its files."""

from __future__ import annotations

import logging
from dataclasses import replace
from pathlib import Path

from flask import Response, g, request, send_from_directory
from flask_compress import Compress
from flask_openapi3 import Info, OpenAPI
from peewee import DataError, InterfaceError, OperationalError, ProgrammingError
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

import movrel
from movrel.errors import MovrelError, NotFound
from movrel.views.fault_view import Fault, fault_view
from movrel.web import admission, server_routes
from movrel.web.clean_text import check_texts
from movrel.web.events import Switchboard
from movrel.web.schema import Health
from movrel.web.wire import answer
from movrel.workspace.database import connect
from movrel.workspace.faults import StaleRevision
from movrel.workspace.tables import Project, database

STATIC = Path(__file__).parent / "static"
#: What PostgreSQL and the system say of a full disk.
FULL = "No space left on device"
#: Largest body of a request, in bytes.
BODY_LIMIT = 20_000_000


def fault_answer(fault: MovrelError) -> Response:
    """The response to a fault: 404, 409 or 422 with the sentence."""
    status = (
        404 if isinstance(fault, NotFound) else 409 if isinstance(fault, StaleRevision) else 422
    )
    view = fault_view(fault)
    return answer(
        replace(view, current=fault.current) if isinstance(fault, StaleRevision) else view, status
    )


def _plain_fault(message: str, status: int, hint: str = "") -> Response:
    return answer(Fault(message, hint, None), status)


def _bad_request(fault: ValidationError) -> Response:
    first = fault.errors()[0]
    field = ".".join(str(part) for part in first["loc"])
    return _plain_fault(f"the request is not valid: {field}: {first['msg']}.", 422)


def attach(app: OpenAPI, url: str, connections: int) -> None:
    """Give the application its database, with so many connections at most."""
    connect(url, connections)
    app.config["MOVREL_DATABASE"] = url
    app.extensions["switchboard"] = Switchboard(url)


def base_app() -> OpenAPI:
    """An application without a database that answers how the server is, streams events and gives the page."""
    app = OpenAPI(
        __name__, info=Info(title="Movrel", version=movrel.__version__), static_folder=None,
        validation_error_status=422, validation_error_callback=_bad_request, doc_ui=False,
    )  # fmt: skip
    app.config["MAX_CONTENT_LENGTH"] = BODY_LIMIT
    app.register_api(server_routes.api)
    app.before_request(_admit)
    app.before_request(_open_connection)
    app.teardown_request(_close_connection)
    app.after_request(_finish)
    app.config |= {
        "COMPRESS_ALGORITHM": ["gzip"],
        "COMPRESS_LEVEL": 3,
        "COMPRESS_MIN_SIZE": 2000,
        "COMPRESS_STREAMS": False,
    }
    Compress(app)
    app.register_error_handler(MovrelError, fault_answer)
    app.register_error_handler(HTTPException, _http_fault)
    app.register_error_handler(DataError, _out_of_range)
    app.register_error_handler(OperationalError, _database_fault)
    app.register_error_handler(InterfaceError, _database_fault)
    app.register_error_handler(MemoryError, _too_large)
    app.register_error_handler(Exception, _unexpected)
    app.add_url_rule("/healthz", view_func=_alive, endpoint="alive")
    app.add_url_rule("/readyz", view_func=_ready, endpoint="ready")
    app.add_url_rule("/", view_func=_page, endpoint="page")
    app.add_url_rule("/<path:path>", view_func=_page, endpoint="page_below")
    return app


def _admit() -> Response | None:
    check_texts(request)
    # Whoever watches the server may know it by any name; these answers tell nothing.
    return None if request.path in ("/healthz", "/readyz") else admission.refusal(request)


def _alive() -> Response:
    """That the web process answers."""
    return answer(Health(version=movrel.__version__))


def _ready() -> Response:
    """That the database answers and has its tables: 503 where it does not."""
    with database.connection_context():
        try:
            Project.select().limit(1).execute()
        except ProgrammingError:
            return _plain_fault(
                "the tables are not there yet.", 503, "Wait until the server is up."
            )
    return _alive()


def _open_connection() -> None:
    if request.path.startswith("/api/") and request.path != "/api/events":
        g.opened = database.connect(reuse_if_open=True)
        try:
            database.execute_sql("SELECT 1")
        except (InterfaceError, OperationalError):
            # The database was restarted since; connections from before are of no use.
            database.close()
            database.close_idle()
            database.connect()


def _close_connection(_: BaseException | None) -> None:
    if g.get("opened") and not database.is_closed():
        database.close()


def _finish(response: Response) -> Response:
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    response.headers.setdefault("Content-Security-Policy", admission.POLICY)
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response


def _http_fault(fault: HTTPException) -> Response:
    words = {
        404: "there is nothing at this address.",
        405: "this address does not take that method.",
        413: "the upload is too large.",
    }
    code = fault.code or 500
    return _plain_fault(words.get(code, f"{fault.description or fault.name}"), code)


def _database_fault(fault: Exception) -> Response:
    logging.getLogger(__name__).error("database: %s", fault)
    if FULL in str(fault):
        return _plain_fault(
            "the server's disk is full; nothing was changed.",
            507,
            "Make room: 'movrel tidy' says what uses it.",
        )
    # After a restart of its server no connection from before is of use.
    database.close_idle()
    return _plain_fault(
        "the database does not answer; nothing was changed.", 503, "Try again in a moment."
    )


def _out_of_range(_: Exception) -> Response:
    return _plain_fault("a number in this request is too large for anything here.", 422)


def _too_large(_: Exception) -> Response:
    return _plain_fault(
        "this needs more memory than one request may have; nothing was changed.",
        422,
        "Make the model or the request smaller; whoever runs the server can raise the limit.",
    )


def _unexpected(fault: Exception) -> Response:
    logging.getLogger(__name__).exception("unexpected fault")
    return _plain_fault(
        f"an internal fault occurred ({type(fault).__name__}); nothing was changed.",
        500,
        "The server's log has the details.",
    )


def _page(path: str = "") -> Response:
    """The single page and its files; unknown addresses below /api are no pages."""
    if path.startswith("api/") or path == "api":
        return _plain_fault("there is nothing at this address.", 404)
    if path and (STATIC / path).is_file():
        response = send_from_directory(STATIC, path)
        if path.startswith("assets/"):
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response
    if not (STATIC / "index.html").is_file():
        return _plain_fault(
            "the interface has not been built.", 503, "Start with bin/demo, which builds it."
        )
    response = send_from_directory(STATIC, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response
