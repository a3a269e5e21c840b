"""The scene bundle: one JSON file with a whole scene, by the core's models."""

import json

from pydantic import ValidationError

from knead.core.model import SceneBundle

MOST_BYTES = 100 * 1024 * 1024


class BadBundle(ValueError):
    """A file that is no scene bundle; the message is a sentence for the user."""


def write_bundle(bundle: SceneBundle) -> bytes:
    """The file's bytes. `read_bundle` gives an equal bundle."""
    return bundle.model_dump_json(indent=1).encode()


def read_bundle(data: bytes, what: str = "The file") -> SceneBundle:
    """Read a bundle of any version. Raises BadBundle with a sentence that begins with `what`."""
    if len(data) > MOST_BYTES:
        raise BadBundle(f"{what} is larger than {MOST_BYTES // 2**20} MB.")
    try:
        return SceneBundle.model_validate_json(data).renewed()
    except ValidationError as error:
        first = error.errors()[0]
        where = " / ".join(str(part) for part in first["loc"]) or "the start"
        raise BadBundle(
            f"{what} is not a scene bundle of Knead, or it is damaged: {first['msg']} (at {where})."
        ) from error


def bundle_schema() -> str:
    """The JSON Schema of the bundle, as kept in docs/scene-bundle.schema.json."""
    schema = {"$schema": "https://json-schema.org/draft/2020-12/schema", **SceneBundle.model_json_schema()}
    return json.dumps(schema, indent=2, sort_keys=True) + "\n"
