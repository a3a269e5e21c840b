"""Shapes are kept once each, drawings as rows of them; and images."""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

from knead.core.model import Drawing

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "shape", sa.Column("hash", sa.String, primary_key=True), sa.Column("body", postgresql.JSONB, nullable=False)
    )
    op.create_table(
        "image",
        sa.Column("hash", sa.String, primary_key=True),
        sa.Column("type", sa.String, nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
    )
    connection = op.get_bind()
    old = connection.execute(sa.text("select hash, body from drawing")).all()
    op.drop_table("drawing")
    op.create_table(
        "drawing",
        sa.Column("hash", sa.String, primary_key=True),
        sa.Column("shapes", postgresql.ARRAY(sa.Text), nullable=False),
    )
    renamed: dict[str, str] = {}
    keep_shape = sa.text("insert into shape (hash, body) values (:hash, :body) on conflict do nothing")
    keep_drawing = sa.text("insert into drawing (hash, shapes) values (:hash, :shapes) on conflict do nothing")
    for name, body in old:
        drawing = Drawing.model_validate(body)
        renamed[name] = drawing.hash
        for shape in drawing.shapes:
            connection.execute(keep_shape, {"hash": shape.hash, "body": shape.model_dump_json()})
        connection.execute(keep_drawing, {"hash": drawing.hash, "shapes": [s.hash for s in drawing.shapes]})
    for scene_id, number, body in connection.execute(sa.text("select scene_id, number, body from revision")).all():
        for layer in body["layers"]:
            for key in layer["keys"]:
                key["drawing"] = renamed.get(key["drawing"], key["drawing"])
        change = sa.text("update revision set body = :body where scene_id = :scene and number = :number")
        connection.execute(change, {"body": json.dumps(body), "scene": scene_id, "number": number})


def downgrade() -> None:
    raise NotImplementedError("The old hashes are not kept.")
