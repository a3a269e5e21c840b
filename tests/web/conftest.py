"""The application on the tests' database, with its export worker."""

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from knead.web.app import create_app


@pytest.fixture(scope="module")
def web(engine: Engine) -> Iterator[TestClient]:
    with TestClient(create_app(engine, None), base_url="http://127.0.0.1:8420") as client:
        yield client
