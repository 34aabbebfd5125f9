"""The door: only this machine, only our own pages, nothing loaded from elsewhere."""

from __future__ import annotations

from typing import Any

from flask import Flask, Response, request

from rhombex.core.plain import DesignError
from rhombex.store.designs import CannotWrite, NotThere

MAX_UPLOAD_BYTES = 64_000_000
MAX_GCODE_BYTES = 1_000_000_000
CSP = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)


def error(status: int, field: str, said: str, kept: str, do: str) -> tuple[dict[str, Any], int]:
    """One error, always of the same form: what happened, what is kept, what to do."""
    return {"error": {"field": field, "said": said, "kept": kept, "do": do}}, status


def guard(app: Flask, hosts: set[str]) -> None:
    """Check Host and Origin, set headers, turn what the core raises into clear answers."""
    app.config["MAX_CONTENT_LENGTH"] = MAX_UPLOAD_BYTES

    @app.before_request
    def known_caller() -> tuple[dict[str, Any], int] | None:
        if request.host not in hosts:
            return error(421, "Host", f"this server does not answer to '{request.host[:80]}'", "", "")
        origin = request.headers.get("Origin")
        if origin is not None and origin not in {f"http://{h}" for h in hosts}:
            return error(403, "Origin", "requests from other pages are not taken", "Nothing was changed.", "")
        if request.method not in ("GET", "HEAD") and request.headers.get("Sec-Fetch-Site", "same-origin") not in (
            "same-origin",
            "none",
        ):
            return error(403, "Origin", "requests from other pages are not taken", "Nothing was changed.", "")
        if request.path == "/api/gcode" or request.path.endswith("/diary"):
            request.max_content_length = MAX_GCODE_BYTES  # read as a stream from disk, not held in memory
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
        return error(422, e.field, e.said, e.kept, e.do)

    @app.errorhandler(NotThere)
    def not_there(e: NotThere) -> tuple[dict[str, Any], int]:
        return error(404, "design", str(e), "Everything else is kept.", "Go back to the list of designs.")

    @app.errorhandler(CannotWrite)
    def cannot_write(e: CannotWrite) -> tuple[dict[str, Any], int]:
        return error(
            507,
            "disk",
            f"The change could not be written: {e}.",
            "Everything up to the last step is kept.",
            "Make room on the disk, then do it again.",
        )

    @app.errorhandler(413)
    def too_large(_e: Exception) -> tuple[dict[str, Any], int]:
        limit = (request.max_content_length or MAX_UPLOAD_BYTES) // 1_000_000
        return error(413, "file", f"The file is larger than {limit} MB.", "The design is unchanged.", "Send less.")

    @app.errorhandler(404)
    def no_page(_e: Exception) -> tuple[dict[str, Any], int]:
        return error(404, "address", "There is nothing at this address.", "", "Go back to the start.")

    @app.errorhandler(400)
    def bad_request(_e: Exception) -> tuple[dict[str, Any], int]:
        return error(
            400,
            "request",
            "The request is not whole JSON.",
            "The design is unchanged.",
            "Reload the page, try again.",
        )
