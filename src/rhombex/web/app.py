"""The Flask application: the API, and the built front end."""

from __future__ import annotations

import os
import shutil
from pathlib import Path
from typing import Any

from flask import Flask, Response, jsonify, make_response, send_from_directory
from flask_openapi3.models.info import Info
from pydantic import ValidationError

from rhombex.core.plain import first_error
from rhombex.core.trail import built
from rhombex.devices import caliper, printer
from rhombex.jobs.broker import SETTING, broker
from rhombex.jobs.job import Job
from rhombex.jobs.jobs import Jobs
from rhombex.jobs.kinds import KINDS, Made
from rhombex.store.designs import Designs
from rhombex.store.shapes import Shapes
from rhombex.store.trouble import CannotOpen, explain
from rhombex.store.workshops import Workshops
from rhombex.web import (
    bench,
    concerns,
    cuts,
    designs,
    diary,
    hardware,
    jobs,
    openings,
    parts,
    plan,
    session,
    shell,
    workshop,
)
from rhombex.web.api import ErrorOut
from rhombex.web.description import Described
from rhombex.web.desk import Desk
from rhombex.web.guard import error, guard
from rhombex.web.session import COOKIE, Keys, lock

STATIC = Path(__file__).parent / "static"


def _invalid(e: ValidationError) -> Any:
    field, message = first_error(e)
    body, status = error(422, field, message, "The design is unchanged.", "Correct it and try again.")
    return make_response(jsonify(body), status)


def _jobs(data: Path) -> Jobs:
    """The jobs of a server on this folder. What one before it left is gone: it can be asked for again."""
    for name in ("exports", "incoming", "jobs"):
        shutil.rmtree(data / name, ignore_errors=True)
    for left in data.glob("jobs.db*"):
        left.unlink()

    def dropped(job: Job) -> None:
        if isinstance(job.result, Made):
            (data / "exports" / job.result.file).unlink(missing_ok=True)

    return Jobs(broker(os.environ.get(SETTING, ""), data), KINDS, dropped=dropped)


def make_app(data: Path, hosts: set[str], keys: Keys | None = None) -> Flask:
    """The application on a data folder, answering to the given host names; with keys, to whoever has one of them. Raises
    CannotOpen where the folder cannot be used."""
    app = Described(
        __name__,
        info=Info(title="Rhombex", version="1"),
        validation_error_status=422,
        validation_error_model=ErrorOut,
        validation_error_callback=_invalid,
        security_schemes={"session": {"type": "apiKey", "in": "cookie", "name": COOKIE}},
        static_folder=None,
        doc_ui=False,
    )
    built()  # its threads find every kind of value ready
    app.extensions["folder"] = data
    designs_kept = Designs(data / "rhombex.db")
    app.extensions["desk"] = Desk(designs_kept, Workshops(designs_kept.engine))
    try:
        app.extensions["shapes"] = Shapes(data / "shapes")
        app.extensions["jobs"] = _jobs(data)
    except OSError as e:
        raise CannotOpen(*explain(e)) from e
    guard(app, hosts)
    lock(app, keys)
    for module in (
        session,
        designs,
        concerns,
        bench,
        shell,
        parts,
        cuts,
        openings,
        hardware,
        jobs,
        plan,
        diary,
        workshop,
        printer,
        caliper,
    ):
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

    def described() -> Any:
        return jsonify(app.api_doc)

    # plain Flask rules: these are pages and files, not part of the described API
    app.add_url_rule("/assets/<path:name>", view_func=asset)
    app.add_url_rule("/api/openapi.json", view_func=described)
    app.add_url_rule("/", view_func=page)
    app.add_url_rule("/<path:_rest>", view_func=page)
    return app
