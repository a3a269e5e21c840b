"""Knead's own PostgreSQL cluster: found running, and refused with a sentence where it can't be run."""

from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from knead.store.cluster import Cluster, ClusterError, cluster_in
from knead.store.database import engine_for, ensure_database, migrate
from tests.conftest import ROOT


def test_a_running_cluster_is_found_again_and_not_stopped_under_others(server: str) -> None:
    cluster = cluster_in(ROOT / ".knead")
    assert cluster.start() == server
    engine = create_engine(f"{server}/postgres")
    with engine.connect() as connection:
        cluster.stop_if_idle()
        assert connection.scalar(text("SELECT 1")) == 1
    engine.dispose()


def test_databases_are_made_once_and_emptied_when_asked(server: str) -> None:
    address = ensure_database(server, "knead_names", fresh=True)
    engine = engine_for(address)
    migrate(engine)
    migrate(engine)
    with engine.begin() as connection:
        connection.execute(text("INSERT INTO drawing VALUES ('x', '{}')"))
    assert ensure_database(server, "knead_names") == address
    with engine.connect() as connection:
        assert connection.scalar(text("SELECT count(*) FROM drawing")) == 1
    engine.dispose()
    engine = engine_for(ensure_database(server, "knead_names", fresh=True))
    migrate(engine)
    with engine.connect() as connection:
        assert connection.scalar(text("SELECT count(*) FROM drawing")) == 0
    engine.dispose()


def test_a_folder_that_is_no_cluster_is_left_alone(tmp_path: Path) -> None:
    cluster = Cluster(tmp_path)
    cluster.data.mkdir()
    (cluster.data / "letters.txt").write_text("precious")
    with pytest.raises(ClusterError, match="Move it away"):
        cluster.start()
    assert (cluster.data / "letters.txt").read_text() == "precious"


def test_a_cluster_of_a_missing_version_says_what_to_install(tmp_path: Path) -> None:
    cluster = Cluster(tmp_path)
    cluster.data.mkdir()
    (cluster.data / "PG_VERSION").write_text("7\n")
    with pytest.raises(ClusterError, match="Install postgresql-7"):
        cluster.start()
