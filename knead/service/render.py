"""Rendering a range of a scene's frames into a file, with progress."""

from collections.abc import Callable, Iterator, Mapping
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from knead.core import playback
from knead.core.model import Drawing, Layer, Model, Scene
from knead.formats.animated_svg import animated_svg
from knead.formats.exposure_sheet import exposure_sheet
from knead.formats.film import film
from knead.formats.pictures import animated, png_of, zipped
from knead.formats.svg_write import paper_rect, root_element, scene_content

ExportFormat = Literal["animated-svg", "mp4", "webm", "gif", "apng", "png-sequence", "svg-sequence", "exposure-sheet"]
MOST_PIXELS = 4096


class Cancelled(RuntimeError):
    """The user cancelled the export."""


class ExportOptions(Model):
    """What to export: format, picture width in pixels, first and last frame, and whether the paper is painted.

    `there_and_back` plays the range forwards and back again, without showing either end twice in a row.
    """

    format: ExportFormat
    width: Annotated[int, Field(ge=16, le=MOST_PIXELS)] = 960
    first: Annotated[int, Field(ge=1)] = 1
    last: Annotated[int, Field(ge=1)] = 1
    paper: bool = True
    there_and_back: bool = False

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.last < self.first:
            raise ValueError("the last frame must not stand before the first")
        return self

    def frames(self) -> list[int]:
        """Frame numbers in the order they are shown."""
        there = list(range(self.first, self.last + 1))
        return there + there[-2:0:-1] if self.there_and_back else there


SUFFIX: Mapping[ExportFormat, str] = {
    "animated-svg": ".svg",
    "mp4": ".mp4",
    "webm": ".webm",
    "gif": ".gif",
    "apng": ".png",
    "png-sequence": "-png.zip",
    "svg-sequence": "-svg.zip",
    "exposure-sheet": "-exposures.csv",
}


def file_name(scene: Scene, options: ExportOptions) -> str:
    """A file name from the scene's name."""
    return plain_name(scene.name) + SUFFIX[options.format]


def plain_name(name: str) -> str:
    """A name as it may stand in that of any file: letters and digits, hyphens between them, 60 at most."""
    plain = "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-") or "scene"
    return plain[:60]


def frame_svg(scene: Scene, shown: list[tuple[Layer, Drawing]], width: float | None = None, paper: bool = True) -> str:
    """One frame of a scene as an SVG document."""
    content = scene_content((layer.name, layer.opacity, drawing) for layer, drawing in shown)
    under = paper_rect(scene.width, scene.height, scene.paper) + "\n" if paper else ""
    size = width or scene.width
    return root_element(under + content, size, size * scene.height / scene.width, (0.0, 0.0, scene.width, scene.height))


def render(
    scene: Scene,
    drawings: Mapping[str, Drawing],
    plan_of: playback.PlanOf,
    options: ExportOptions,
    progress: Callable[[float], None] = lambda _: None,
) -> bytes:
    """The file's bytes. `progress` gets shares from 0 to 1 and may raise Cancelled."""
    frames = options.frames()
    if options.format == "exposure-sheet":
        return exposure_sheet(scene, frames)

    def counted() -> Iterator[list[tuple[Layer, Drawing]]]:
        for k, n in enumerate(frames):
            progress(k / len(frames))
            yield playback.frame(scene, n, drawings, plan_of)

    if options.format == "animated-svg":
        return _animated_svg(scene, list(counted()), options).encode()
    width = options.width
    paper = options.paper or options.format == "mp4"  # which can't be see-through
    svgs = (frame_svg(scene, shown, width, paper) for shown in counted())
    if options.format == "svg-sequence":
        return zipped((f"{k:04d}.svg", svg.encode()) for k, svg in enumerate(svgs, start=1))
    pngs = (png_of(svg, width) for svg in svgs)
    if options.format == "png-sequence":
        return zipped((f"{k:04d}.png", png) for k, png in enumerate(pngs, start=1))
    if options.format in ("mp4", "webm"):
        return film(pngs, scene.rate, options.format, not paper)
    return animated(pngs, scene.rate, options.format)


def _animated_svg(scene: Scene, frames: list[list[tuple[Layer, Drawing]]], options: ExportOptions) -> str:
    by_frame = [{layer.id: drawing for layer, drawing in shown} for shown in frames]
    layers = [
        (layer.opacity, [shown.get(layer.id) for shown in by_frame]) for layer in scene.layers if not layer.hidden
    ]
    paper = scene.paper if options.paper else None
    return animated_svg(layers, scene.rate, (scene.width, scene.height), float(options.width), paper)
