"""The roughs that ship with Knead: pencil sketches of the pond, which stand in for a scanner."""

from pathlib import Path

from knead.store.scenes import NotFound

FOLDER = Path(__file__).parents[2] / "demo" / "roughs"


def rough_names() -> list[str]:
    """Their names."""
    return sorted(path.stem for path in FOLDER.glob("*.png"))


def rough(name: str) -> bytes:
    """A rough as a PNG file. Raises NotFound."""
    if name not in rough_names():
        raise NotFound("There is no such rough.")
    return (FOLDER / f"{name}.png").read_bytes()
