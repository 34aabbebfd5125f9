"""A server with an empty folder, requests as our own page makes them, and *Wren* mended on its shelf."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from rhombex.core.design import Design
from rhombex.web.app import make_app

HOST = "localhost:8137"


class Calls:
    """Requests as our own page makes them."""

    def __init__(self, client: FlaskClient) -> None:
        self.client = client

    def get(self, path: str, **kw: Any) -> Any:
        return self.client.get(path, base_url=f"http://{HOST}", **kw)

    def post(self, path: str, body: Any = None, **kw: Any) -> Any:
        return self.client.post(path, json=body, base_url=f"http://{HOST}", **kw)

    def upload(self, path: str, name: str, data: bytes) -> Any:
        return self.client.post(path, data={"file": (io.BytesIO(data), name)}, base_url=f"http://{HOST}")


@pytest.fixture
def client(tmp_path: Path) -> FlaskClient:
    return make_app(tmp_path, {HOST}).test_client()


@pytest.fixture
def call(client: FlaskClient) -> Calls:
    return Calls(client)


@pytest.fixture
def state(call: Calls, good_wren: Design) -> Any:
    return call.upload("/api/designs/read", "d.json", good_wren.model_dump_json().encode()).json


@pytest.fixture
def at(state: Any) -> str:
    return f"/api/designs/{state['id']}"
