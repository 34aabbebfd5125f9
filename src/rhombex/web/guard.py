"""The door: only known names, only our own pages, whole JSON, and one form for every error."""

from __future__ import annotations

import logging
import uuid
from typing import Any

from flask import Flask, Response, request
from flask.json.provider import DefaultJSONProvider
from werkzeug.exceptions import BadRequest, HTTPException

from rhombex.core.plain import DesignError
from rhombex.store.designs import NotThere, Unreadable
from rhombex.store.trouble import CannotWrite

MAX_UPLOAD_BYTES = 64_000_000
MAX_GCODE_BYTES = 1_000_000_000
MAX_JSON_BYTES = 4_000_000
CSP = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
log = logging.getLogger("rhombex")


class StrictJson(DefaultJSONProvider):
    """JSON as the standard has it: no NaN, no infinity."""

    def loads(self, s: str | bytes, **kw: Any) -> Any:
        return super().loads(s, parse_constant=_no_number, **kw)


def _no_number(name: str) -> Any:
    raise ValueError(f"{name} is no number of JSON")


def error(status: int, field: str, message: str, kept: str, do: str) -> tuple[dict[str, Any], int]:
    """One error, always of the same form: what happened, what is kept, what to do."""
    return {"error": {"field": field, "message": message, "kept": kept, "do": do}}, status


def guard(app: Flask, hosts: set[str]) -> None:
    """Check Host, Origin and JSON, set headers, turn what the core raises into clear answers."""
    app.config["MAX_CONTENT_LENGTH"] = MAX_UPLOAD_BYTES
    app.json = StrictJson(app)

    @app.before_request
    def known_caller() -> tuple[dict[str, Any], int] | None:
        if request.host not in hosts:
            return error(421, "Host", f"this server does not answer to '{request.host[:80]}'", "", "")
        origin = request.headers.get("Origin")
        if origin is not None and origin not in {f"{scheme}://{h}" for h in hosts for scheme in ("http", "https")}:
            return error(403, "Origin", "requests from other pages are not taken", "Nothing was changed.", "")
        if request.method not in ("GET", "HEAD") and request.headers.get("Sec-Fetch-Site", "same-origin") not in (
            "same-origin",
            "none",
        ):
            return error(403, "Origin", "requests from other pages are not taken", "Nothing was changed.", "")
        if request.path == "/api/gcode" or request.path.endswith("/diary"):
            request.max_content_length = MAX_GCODE_BYTES  # read as a stream from disk, not held in memory
        return None

    @app.before_request
    def whole_json() -> tuple[dict[str, Any], int] | None:
        if request.mimetype != "application/json":
            return None
        request.max_content_length = MAX_JSON_BYTES
        try:
            request.get_json()
        except (RecursionError, BadRequest) as e:
            if isinstance(e, BadRequest) and e.code != 400:
                raise
            return not_json()
        return None

    @app.after_request
    def headers(r: Response) -> Response:
        r.headers["Content-Security-Policy"] = CSP
        r.headers["X-Content-Type-Options"] = "nosniff"
        r.headers["Referrer-Policy"] = "no-referrer"
        r.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        r.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return r

    @app.errorhandler(DesignError)
    def design_error(e: DesignError) -> tuple[dict[str, Any], int]:
        return error(422, e.field, e.message, e.kept, e.do)

    @app.errorhandler(NotThere)
    def not_there(e: NotThere) -> tuple[dict[str, Any], int]:
        return error(404, "design", str(e), "Everything else is kept.", "Go back to the list of designs.")

    @app.errorhandler(Unreadable)
    def unreadable(e: Unreadable) -> tuple[dict[str, Any], int]:
        return error(422, "document", e.message, "It is kept as it is stored; undo and earlier revisions work.", e.do)

    @app.errorhandler(CannotWrite)
    def cannot_write(e: CannotWrite) -> tuple[dict[str, Any], int]:
        message = f"The change could not be written: {e}."
        return error(507, "disk", message, "Everything up to the last step is kept.", e.do)

    @app.errorhandler(RecursionError)
    def too_deep(_e: Exception) -> tuple[dict[str, Any], int]:
        return not_json()

    def not_json() -> tuple[dict[str, Any], int]:
        message = "The request is not whole JSON, or it is nested too deep."
        return error(400, "request", message, "The design is unchanged.", "Reload the page, try again.")

    @app.errorhandler(413)
    def too_large(_e: Exception) -> tuple[dict[str, Any], int]:
        limit = (request.max_content_length or MAX_UPLOAD_BYTES) // 1_000_000
        return error(413, "file", f"The file is larger than {limit} MB.", "The design is unchanged.", "Send less.")

    @app.errorhandler(404)
    def no_page(_e: Exception) -> tuple[dict[str, Any], int]:
        return error(404, "address", "There is nothing at this address.", "", "Go back to the start.")

    @app.errorhandler(HTTPException)
    def refused(e: HTTPException) -> Any:
        if e.response is not None:  # a check of a request's form that has its answer already
            return e.response
        code = e.code or 500
        words = {
            400: "The request cannot be read.",
            405: f"{request.method} is not done at this address.",
            415: "The request is of a kind that is not read here.",
        }
        r = app.make_response(
            error(code, "request", words.get(code, e.name), "Nothing was changed.", "Reload the page.")
        )
        if code == 405:
            r.headers["Allow"] = ", ".join(getattr(e, "valid_methods", None) or ())
        return r

    @app.errorhandler(Exception)
    def broke(e: Exception) -> tuple[dict[str, Any], int]:
        mark = uuid.uuid4().hex[:8]
        log.exception("%s %s broke (%s)", request.method, request.path, mark, exc_info=e)
        return error(
            500,
            "Rhombex",
            f"This broke ({type(e).__name__}, note {mark}). It is a fault of Rhombex, not yours.",
            "Everything up to the last step is kept.",
            "Undo the last step or reload the page. The note is in the server's output.",
        )
