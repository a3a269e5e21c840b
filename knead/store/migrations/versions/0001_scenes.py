"""Drawings, scenes, revisions, exports, and the job queue's own tables."""

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects.postgresql import JSONB

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "drawing", sa.Column("hash", sa.String(), primary_key=True), sa.Column("body", JSONB(), nullable=False)
    )
    op.create_table(
        "scene",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("head", sa.Integer(), nullable=False),
        sa.Column("last", sa.Integer(), nullable=False),
        sa.Column("deleted", sa.Boolean(), nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.create_table(
        "revision",
        sa.Column("scene_id", sa.String(), sa.ForeignKey("scene.id"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("previous", sa.Integer()),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("body", JSONB(), nullable=False),
    )
    op.create_index("revision_previous", "revision", ["scene_id", "previous"])
    op.create_table(
        "export",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("scene_id", sa.String(), sa.ForeignKey("scene.id"), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("options", JSONB(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("message", sa.String(), nullable=False),
        sa.Column("file_name", sa.String(), nullable=False),
        sa.Column("file", sa.LargeBinary()),
        sa.Column("made", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.get_bind().exec_driver_sql(SchemaManager.get_schema().replace("%", "%%"))


def downgrade() -> None:
    raise NotImplementedError("The first version has nothing before it.")
