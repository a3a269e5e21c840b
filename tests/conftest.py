"""What all tests share: forms to morph, and a real PostgreSQL."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from sqlalchemy import Engine

from knead.store.cluster import cluster_in
from knead.store.database import engine_for, ensure_database, migrate

# each run states the same examples; `pytest --hypothesis-profile thorough` looks for new ones
shared = {"deadline": None, "suppress_health_check": list(HealthCheck)}
settings.register_profile("knead", max_examples=14, derandomize=True, **shared)
settings.register_profile("thorough", max_examples=150, **shared)
settings.load_profile("knead")

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="session")
def server() -> Iterator[str]:
    """The address of a PostgreSQL server of Knead's own."""
    cluster = cluster_in(ROOT / ".knead")
    yield cluster.start()
    cluster.stop_if_idle()


@pytest.fixture(scope="session")
def database(server: str) -> str:
    """The address of an empty, migrated database for tests."""
    address = ensure_database(server, "knead_test", fresh=True)
    engine = engine_for(address)
    migrate(engine)
    engine.dispose()
    return address


@pytest.fixture(scope="session")
def engine(database: str) -> Iterator[Engine]:
    engine = engine_for(database)
    yield engine
    engine.dispose()
