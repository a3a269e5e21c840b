"""In-betweens from file to file: two SVG keys in, numbered SVG files out. Needs no server and no database."""

import json
import os
import shutil
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Blend, Drawing, Ease, Hint, HintEnd, Model, Point, Shape, Take
from knead.core.pace.ease import eased
from knead.formats.svg_read import SvgDrawing, read_svg_file
from knead.formats.svg_write import drawing_paths, root_element

MOST_FRAMES = 10_000
AT_ONCE = 24  # so many in-betweens are held at a time


class MorphError(ValueError):
    """Input that can't be used; the message is a sentence for the user."""


class FileHintEnd(Model):
    """One end of a hint in a hints file: an element's id and a point."""

    shape: str
    point: Point


class FileHint(Model):
    """A hint in a hints file; its keys are `from` and `to`."""

    model_config = {"populate_by_name": True}
    name: str = ""
    source: FileHintEnd
    target: FileHintEnd


def morph_files(
    first_file: Path,
    second_file: Path,
    out: Path,
    count: int,
    blend: Blend = "auto",
    ease: Ease | None = None,
    hints_file: Path | None = None,
    report_file: Path | None = None,
) -> None:
    """Write count + 2 files `out/0000.svg` ...; number i stands at i / (count + 1) before easing.

    Raises MorphError, or BadSvg, with a sentence; then nothing is written. An `out` made by an earlier run is replaced.
    """
    started = time.perf_counter()
    if not 0 <= count <= MOST_FRAMES:
        raise MorphError(f"--count must be between 0 and {MOST_FRAMES}.")
    first, second = read_svg_file(first_file), read_svg_file(second_file)
    for what, svg in ((first_file, first), (second_file, second)):
        if not svg.drawing.shapes:
            raise MorphError(f"{what.name} has no shapes to in-between.")
    hints = _read_hints(hints_file, first, second) if hints_file else ()
    plan = plan_span(_unnamed(first.drawing), _unnamed(second.drawing), Take(hints=hints, blend=blend))
    places = eased(ease or Ease(), np.arange(count + 2) / (count + 1)).tolist()
    mark = _marks(plan, first, second)
    box = (first.canvas.x, first.canvas.y, first.canvas.width, first.canvas.height)
    with _replaced(out) as folder:
        for start in range(0, len(places), AT_ONCE):
            for number, drawing in enumerate(plan.over(places[start : start + AT_ONCE]), start):
                text = root_element(drawing_paths(drawing, mark), first.canvas.width, first.canvas.height, box)
                (folder / f"{number:04d}.svg").write_text(text, encoding="utf-8")
    if report_file:
        report = _report(plan, first, second, time.perf_counter() - started)
        with tempfile.NamedTemporaryFile("w", dir=report_file.absolute().parent, delete=False, suffix=".part") as part:
            json.dump(report, part, indent=2)
        os.chmod(part.name, 0o644)
        os.replace(part.name, report_file)


def _unnamed(drawing: Drawing) -> Drawing:
    """The drawing without names: element ids in files are often given by tools and must not pair shapes."""
    plain = {"name": "shape", "part": None}
    return Drawing(shapes=tuple(shape.model_copy(update=plain) for shape in drawing.shapes))


class _replaced:
    """A temporary folder that takes the place of `out` when all went well. Foreign files in `out` are never touched."""

    def __init__(self, out: Path) -> None:
        self.out = out

    def __enter__(self) -> Path:
        if self.out.exists():
            if not self.out.is_dir():
                raise MorphError(f"{self.out} is a file, not a folder.")
            strange = [p for p in self.out.iterdir() if not (p.suffix == ".svg" and p.stem.isdigit())]
            if strange:
                raise MorphError(f"{self.out} holds other files ({strange[0].name}); choose an empty or new folder.")
        try:
            self.out.absolute().parent.mkdir(parents=True, exist_ok=True)
            self.folder = Path(tempfile.mkdtemp(prefix=".knead-", dir=self.out.absolute().parent))
        except OSError as error:
            raise MorphError(f"{self.out} can't be written: {error.strerror or error}.") from error
        return self.folder

    def __exit__(self, kind: Any, error: BaseException | None, trace: Any) -> None:
        if error is not None:
            shutil.rmtree(self.folder, ignore_errors=True)
            if isinstance(error, OSError):
                raise MorphError(f"{self.out} can't be written: {error.strerror or error}.") from error
            return
        self.folder.chmod(0o755)
        if self.out.exists():
            shutil.rmtree(self.out)
        os.replace(self.folder, self.out)


def _read_hints(path: Path, first: SvgDrawing, second: SvgDrawing) -> tuple[Hint, ...]:
    try:
        entries = json.loads(path.read_text(encoding="utf-8"))["hints"]
        parsed = [
            FileHint(
                name=entry.get("name", ""),
                source=FileHintEnd.model_validate(entry["from"]),
                target=FileHintEnd.model_validate(entry["to"]),
            )
            for entry in entries
        ]
    except OSError as error:
        raise MorphError(f"{path.name} can't be opened: {error.strerror or error}.") from error
    except (ValueError, KeyError, TypeError, AttributeError, ValidationError) as error:
        shape = '{"hints": [{"from": {"shape": "id", "point": [x, y]}, "to": {...}}]}'
        raise MorphError(f"{path.name} is not a hints file; it should look like {shape}.") from error
    left, right = {v: k for k, v in first.ids.items()}, {v: k for k, v in second.ids.items()}
    hints = []
    for number, entry in enumerate(parsed, start=1):
        for end, known, which in ((entry.source, left, "first"), (entry.target, right, "second")):
            if end.shape not in known:
                raise MorphError(
                    f"{path.name}: hint {number} names '{end.shape}', which the {which} key does not have."
                )
        one = HintEnd(shape=left[entry.source.shape], at=entry.source.point)
        two = HintEnd(shape=right[entry.target.shape], at=entry.target.point)
        hints.append(Hint(name=entry.name or f"hint {number}", first=one, second=two))
    return tuple(hints)


def _marks(plan: SpanPlan, first: SvgDrawing, second: SvgDrawing) -> Callable[[Shape], dict[str, str | None]]:
    """What marks an in-between's shape: the elements it is made of."""
    marks = {
        identity: {"data-from": first.ids.get(one or ""), "data-to": second.ids.get(two or "")}
        for pair in plan.pairs
        for identity, one, two in pair.origins
    }
    return lambda shape: marks[shape.id]


def _report(plan: SpanPlan, first: SvgDrawing, second: SvgDrawing, seconds: float) -> dict[str, Any]:
    lost = [
        f"{which} key: {words} left out" for which, svg in (("First", first), ("Second", second)) for words in svg.lost
    ]
    return {
        "pairs": [
            {
                "from": first.ids.get(one or ""),
                "to": second.ids.get(two or ""),
                "confidence": pair.pair.confidence,
                "reason": pair.pair.reason,
                "blend": pair.way,
            }
            for pair in plan.pairs
            for _, one, two in pair.origins
        ],
        "warnings": [*(trouble.text for trouble in plan.troubles), *lost],
        "seconds": round(seconds, 4),
    }
