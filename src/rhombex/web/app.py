"""The Flask application: the API, and the built front end."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from flask import Flask, Response, send_from_directory
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from pydantic import ValidationError

from rhombex.core.plain import first_error
from rhombex.devices import caliper, printer
from rhombex.jobs.background import Background
from rhombex.jobs.export import Exports
from rhombex.store.designs import Designs
from rhombex.store.shapes import Shapes
from rhombex.store.workshops import Workshops
from rhombex.web import bench, concerns, designs, exports, parts, plan, shell
from rhombex.web.api import ErrorOut
from rhombex.web.guard import error, guard
from rhombex.web.views import Desk

STATIC = Path(__file__).parent / "static"


def _invalid(e: ValidationError) -> Any:
    from flask import jsonify, make_response

    field, said = first_error(e)
    body, status = error(422, field, said, "The design is unchanged.", "Correct it and try again.")
    return make_response(jsonify(body), status)


def make_app(data: Path, hosts: set[str]) -> Flask:
    """The application on a data folder, answering to the given host names."""
    app = OpenAPI(
        __name__,
        info=Info(title="Rhombex", version="1"),
        validation_error_status=422,
        validation_error_model=ErrorOut,
        validation_error_callback=_invalid,
        static_folder=None,
        doc_ui=False,
    )
    designs_kept = Designs(data / "rhombex.db")
    app.extensions["desk"] = Desk(designs_kept, Workshops(designs_kept.engine))
    app.extensions["shapes"] = Shapes(data / "shapes")
    app.extensions["background"] = Background()
    app.extensions["exports"] = Exports(data / "exports")
    guard(app, hosts)
    for module in (designs, concerns, bench, shell, parts, exports, plan, printer, caliper):
        app.register_api(module.bp)

    def asset(name: str) -> Response:
        r = send_from_directory(STATIC / "assets", name)
        r.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return r

    def page(_rest: str = "") -> Any:
        if _rest.startswith("api/"):
            return error(404, "address", "There is nothing at this address.", "", "")
        if _rest in ("favicon.svg",):
            return send_from_directory(STATIC, _rest)
        if not (STATIC / "index.html").exists():
            return error(503, "page", "The front end is not built.", "Your designs are kept.", "Run 'make setup'.")
        r = send_from_directory(STATIC, "index.html")
        r.headers["Cache-Control"] = "no-cache"
        return r

    # plain Flask rules: these are pages and files, not part of the described API
    app.add_url_rule("/assets/<path:name>", view_func=asset)
    app.add_url_rule("/", view_func=page)
    app.add_url_rule("/<path:_rest>", view_func=page)
    return app
