"""The API's description is valid and complete: calls drawn from it are answered as it says, and never with a fault."""

from __future__ import annotations

import io
import os
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from rhombex.core.design import Design
from rhombex.web.app import make_app

HOST = "localhost:8137"
LONG: set[str] = set()
EXAMPLES = int(os.environ.get("RHOMBEX_API_EXAMPLES", "3"))  # for each of some fifty calls: twenty seconds


@pytest.fixture(scope="module")
def api(tmp_path_factory: pytest.TempPathFactory) -> Any:
    from rhombex.demo.scenario import wren

    app = make_app(tmp_path_factory.mktemp("api"), {HOST})
    client = app.test_client()
    document = wren().model_dump_json().encode()
    made = client.post("/api/designs/read", data={"file": (io.BytesIO(document), "d.json")}, base_url=f"http://{HOST}")
    description = client.get("/api/openapi.json", base_url=f"http://{HOST}").json
    # calls are drawn for the design that is there, else every one of them would end at the door
    for path in description["paths"].values():
        for call in path.values():
            for p in call.get("parameters", ()):
                if p["in"] == "path" and p["name"] == "id":
                    p["schema"] = {"type": "string", "enum": [made.json["id"], made.json["id"], "0" * 12]}
                if p["in"] == "path" and p["name"] == "part":
                    p["schema"] = {"type": "string", "enum": ["base", "lid", "nothing"]}
                if p["in"] == "path" and p["name"] == "key":
                    p["schema"] = {"type": "string", "enum": ["bench-220", "sbc-85x56", "nothing"]}
    schema = schemathesis.openapi.from_dict(description)
    schema.app = app
    return schema


CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
SHARES = 4  # so that two workers can take them


@pytest.mark.parametrize("share", range(SHARES))
def test_every_call_answers_as_described(api: Any, share: int) -> None:
    operations = sorted((o.ok() for o in api.get_all_operations()), key=lambda o: str(o.label))
    for operation in operations[share::SHARES]:
        if operation.label in LONG:
            continue

        @settings(
            max_examples=EXAMPLES,
            deadline=None,
            derandomize=True,
            database=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(case=operation.as_strategy())
        def answers(case: schemathesis.Case) -> None:
            response = case.call(base_url=f"http://{HOST}", headers={"Host": HOST})
            case.validate_response(response, checks=CHECKS)

        answers()


def _nulls(node: Any, path: str = "") -> list[str]:
    items = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    if node is None:
        return [] if "/default" in path or "/enum/" in path or path.endswith("/const") else [path]
    return [x for k, v in items for x in _nulls(v, f"{path}/{k}")]


def test_the_description_is_valid_openapi(tmp_path: Path) -> None:
    """Against the meta-schema of OpenAPI 3.1 that the reference validator ships."""
    client = make_app(tmp_path, {HOST}).test_client()
    description = client.get("/api/openapi.json", base_url=f"http://{HOST}").json
    assert description["openapi"].startswith("3.1")
    calls = [c for p in description["paths"].values() for c in p.values()]
    assert len(calls) > 50
    for c in calls:
        assert c["operationId"] and {"400", "422", "500", "507"} <= set(c["responses"])
        assert any(code.startswith("2") for code in c["responses"]), c["operationId"]
    assert _nulls(description) == []
    assert Design.__name__ in description["components"]["schemas"]
