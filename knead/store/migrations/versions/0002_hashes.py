"""Drawings under the hash that leaves out default values, so that new properties of shapes change no hash again."""

import json

import sqlalchemy as sa
from alembic import op

from knead.core.model import Drawing

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    connection = op.get_bind()
    renamed: dict[str, str] = {}
    for old, body in connection.execute(sa.text("select hash, body from drawing")).all():
        renamed[old] = Drawing.model_validate(body).hash
        keep = sa.text("insert into drawing (hash, body) values (:hash, :body) on conflict do nothing")
        connection.execute(keep, {"hash": renamed[old], "body": json.dumps(body)})
    for scene_id, number, body in connection.execute(sa.text("select scene_id, number, body from revision")).all():
        for layer in body["layers"]:
            for key in layer["keys"]:
                key["drawing"] = renamed.get(key["drawing"], key["drawing"])
        change = sa.text("update revision set body = :body where scene_id = :scene and number = :number")
        connection.execute(change, {"body": json.dumps(body), "scene": scene_id, "number": number})
    for old, new in renamed.items():
        if old not in renamed.values() and old != new:
            connection.execute(sa.text("delete from drawing where hash = :hash"), {"hash": old})


def downgrade() -> None:
    raise NotImplementedError("The old hashes are not kept.")
