"""Connecting to the database and bringing it up to date."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, text

MIGRATIONS = Path(__file__).parent / "migrations"


def engine_for(url: str) -> Engine:
    """An engine for a `postgresql+psycopg://` address; broken connections are noticed and renewed."""
    return create_engine(url, pool_pre_ping=True, pool_size=8)


def migrate(engine: Engine) -> None:
    """Bring the tables up to the newest version."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def ensure_database(server: str, name: str, fresh: bool = False) -> str:
    """The address of a database on a server, made if it is missing; `fresh` empties it first."""
    engine = create_engine(f"{server}/postgres", isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        if fresh:
            connection.execute(text(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)'))
        found = connection.execute(text("SELECT 1 FROM pg_database WHERE datname = :name"), {"name": name}).first()
        if not found:
            connection.execute(text(f'CREATE DATABASE "{name}"'))
    engine.dispose()
    return f"{server}/{name}"
