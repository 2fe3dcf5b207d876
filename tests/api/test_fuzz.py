"""OpenAPI fuzzing: whatever is sent, no 5xx, and answers as the schema says."""

import tempfile
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from clothyard.api.app import create_app
from clothyard.store.shop import Shop
from tests.core.random_jobs import SOAK

_folder = tempfile.TemporaryDirectory()
_app = create_app(Shop(Path(_folder.name)), frontend=Path("none"))
schema = schemathesis.openapi.from_asgi("/api/v1/openapi.json", _app, headers={"host": "127.0.0.1"})


@schema.parametrize()
@settings(
    max_examples=20 if SOAK else 6,
    deadline=None,
    suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow],
)
def test_no_request_breaks_it(case):
    case.call_and_validate(
        base_url="http://127.0.0.1",
        checks=[
            not_a_server_error,
            status_code_conformance,
            content_type_conformance,
            response_schema_conformance,
        ],
    )
