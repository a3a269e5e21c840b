"""The use cases of a scene: open, edit, preview, undo, bring in, duplicate, delete."""

from collections.abc import Iterable

import numpy as np
from sqlalchemy import Engine

from knead.core.edit import Operation, Work, carried_out
from knead.core.edit.forms import Pour
from knead.core.edit.sound import EditError
from knead.core.geometry.placing import placed
from knead.core.inbetween import SpanPlan
from knead.core.model import Drawing, Key, Layer, Scene, SceneBundle, Span, new_id
from knead.core.playback import following, frame, pace, places
from knead.core.snags.propose import proposed
from knead.formats.plan_sheet import plan_sheet
from knead.formats.svg_read import SvgDrawing
from knead.service.plans import PlanCache
from knead.service.recent import Recent
from knead.service.render import frame_svg, plain_name
from knead.service.trial import DrawingTrial, drawing_trial, pour_gaps
from knead.service.views import ProposalView, SceneView, SpanView, found_view, proposal_view, scene_view, span_view
from knead.store.scenes import Revision, SceneStore

MOST_DRAWINGS, MOST_SCENES = 2000, 64  # that are kept at hand


class Studio:
    """All that can be done with scenes. Safe to share between threads."""

    def __init__(self, engine: Engine) -> None:
        self.store = SceneStore(engine)
        self.plans = PlanCache()
        self._drawings: Recent[str, Drawing] = Recent(MOST_DRAWINGS)
        self._scenes: Recent[tuple[str, int], Scene] = Recent(MOST_SCENES)

    def drawings(self, hashes: Iterable[str]) -> dict[str, Drawing]:
        """Drawings by hash, from memory where they are there already."""
        wanted = set(hashes)
        found = self._drawings.found(wanted)
        found |= self.store.drawings(wanted - found.keys()) if wanted - found.keys() else {}
        self._drawings.keep(found)
        return found

    def _scene(self, scene_id: str, number: int) -> Scene:
        """A scene as of a revision, which never changes: from memory if it is there already. Raises NotFound."""
        name = scene_id, number
        found = self._scenes.found([name]) or {name: self.store.load_number(*name)}
        self._scenes.keep(found)
        return found[name]

    def open(self, scene_id: str) -> SceneView:
        """A scene with all its drawings. Raises NotFound."""
        revision = self.store.load(scene_id)
        return scene_view(revision, self.drawings(revision.scene.drawing_hashes()))

    def edit(self, scene_id: str, base: int, operation: Operation) -> SceneView:
        """Do an operation on revision `base` in one transaction. Raises EditError, Stale, NotFound."""
        before = self._work(self._scene(scene_id, base))
        work = carried_out(operation, before)
        kept = {shape.hash for drawing in before.drawings.values() for shape in drawing.shapes}
        revision = self.store.commit(base, work.scene, work.fresh, operation.label, kept)
        self._drawings.keep(work.fresh)
        self._scenes.keep({(scene_id, revision.number): revision.scene})
        return scene_view(revision, {**before.drawings, **work.fresh}, (before.scene, before.drawings))

    def undo(self, scene_id: str, base: int) -> SceneView:
        """One step back. Raises Stale, NotFound."""
        return self._shown(self.store.undo(scene_id, base), base)

    def redo(self, scene_id: str, base: int) -> SceneView:
        """One step on again. Raises Stale, NotFound."""
        return self._shown(self.store.redo(scene_id, base), base)

    def _shown(self, revision: Revision, base: int) -> SceneView:
        before = self._work(self._scene(revision.scene.id, base))
        return scene_view(revision, self.drawings(revision.scene.drawing_hashes()), (before.scene, before.drawings))

    def trial(self, scene_id: str, base: int, operation: Operation, key: str) -> DrawingTrial:
        """What an operation on revision `base` would make of a key's drawing. Raises EditError, NotFound."""
        work = self._work(self._scene(scene_id, base))
        before = work.drawing(key)
        gaps = pour_gaps(before, operation) if isinstance(operation, Pour) else []
        return drawing_trial(before, carried_out(operation, work).drawing(key), gaps)

    def span(self, scene_id: str, key: str) -> SpanView:
        """The in-betweens of the span after a key, even while it holds. Raises EditError, NotFound."""
        return self._span_view(self._work(self.store.scene(scene_id)), key)

    def preview(self, scene_id: str, base: int, operation: Operation, key: str, look: bool) -> SpanView:
        """The span as it would be after an operation on revision `base`. Raises EditError, NotFound.

        Without a `look` at what might be wrong with it, it takes a good third less time.
        """
        return self._span_view(carried_out(operation, self._work(self._scene(scene_id, base))), key, look)

    def _work(self, scene: Scene) -> Work:
        return Work(scene, self.drawings(scene.drawing_hashes()), planner=self.plans.get)

    def _span_view(self, work: Work, key: str, look: bool = True) -> SpanView:
        first, second = work.span(key)
        third = following(work.layer_of(key), second)
        onward = None
        if look and first.span.inbetween and second.span.inbetween and third is not None:
            onward = pace(first, second), self._plan(work, second, third), pace(second, third)
        plan, take, at = self._plan(work, first, second), first.span.take, places(first, second)
        found = found_view(plan, take, first.frame, at, onward) if look else None
        return span_view(key, plan, take, first.frame, at, found)

    def _plan(self, work: Work, first: Key, second: Key) -> SpanPlan:
        return self.plans.get(first.id, work.of(first.drawing), work.of(second.drawing), first.span.take)

    def proposals(self, scene_id: str, key: str) -> list[ProposalView]:
        """At most four hints that would help the span after a key. Raises EditError, NotFound."""
        work = self._work(self.store.scene(scene_id))
        first, second = work.span(key)
        return [proposal_view(p) for p in proposed(self._plan(work, first, second), first.span.take)]

    def sheet(self, scene_id: str, key: str) -> tuple[str, str]:
        """A name for a file and the picture of the plan after a key, an SVG document. Raises EditError, NotFound."""
        work = self._work(self.store.scene(scene_id))
        (first, second), layer = work.span(key), work.layer_of(key)
        name = plain_name(f"{work.scene.name} {layer.name} {first.frame} {second.frame}") + ".svg"
        return name, plan_sheet(work.scene, layer, first, second, self._plan(work, first, second))

    def plan_of(self, drawings: dict[str, Drawing], first: Key, second: Key) -> SpanPlan:
        """The plan between two keys of a scene."""
        return self.plans.get(first.id, drawings[first.drawing], drawings[second.drawing], first.span.take)

    def picture(self, scene: Scene, n: int, width: float) -> str:
        """Frame n of a scene as an SVG document."""
        drawings = self.drawings(scene.drawing_hashes())
        shown = frame(scene, n, drawings, lambda a, b: self.plan_of(drawings, a, b))
        return frame_svg(scene, shown, width)

    def bundle(self, scene_id: str) -> SceneBundle:
        """A scene with all its drawings, to be written to a file."""
        scene = self.store.scene(scene_id)
        images = {name: self.store.image(name) for name in scene.image_hashes()}
        return SceneBundle(scene=scene, drawings=self.drawings(scene.drawing_hashes()), images=images)

    def keep_bundle(self, bundle: SceneBundle, name: str | None = None, label: str = "Bring in") -> Revision:
        """Keep a bundle as a new scene of its own."""
        scene = bundle.scene.model_copy(update={"id": new_id(), "name": name or bundle.scene.name})
        for image in bundle.images.values():
            self.store.keep_image(image)
        return self.store.create(scene, bundle.drawings, label)

    def new(self, scene: Scene) -> Revision:
        """Keep a new scene, with a first layer and an empty key to draw on."""
        drawing = Drawing()
        layer = Layer(name="drawing", keys=(Key(frame=1, drawing=drawing.hash),))
        return self.store.create(scene.model_copy(update={"layers": (layer,)}), {drawing.hash: drawing}, "New scene")

    def from_svgs(self, name: str, svgs: list[SvgDrawing]) -> Revision:
        """A new scene whose layer has the drawings as keys, in-betweened one after the other."""
        if not any(svg.drawing.shapes for svg in svgs):
            raise EditError("There are no shapes in this file.")
        step, canvas = 12, svgs[0].canvas
        if not (1 <= canvas.width <= 20_000 and 1 <= canvas.height <= 20_000):
            raise EditError("The drawing's canvas must be between 1 and 20,000 units wide and high.")
        drawings = [_at_origin(svg) for svg in svgs]
        keys = tuple(
            Key(frame=1 + step * k, drawing=drawing.hash, span=Span(inbetween=k + 1 < len(svgs)))
            for k, drawing in enumerate(drawings)
        )
        scene = Scene(
            name=name,
            width=canvas.width,
            height=canvas.height,
            length=max(24, keys[-1].frame),
            layers=(Layer(name="drawing", keys=keys),),
        )
        return self.store.create(scene, {drawing.hash: drawing for drawing in drawings}, "Bring in")


def _at_origin(svg: SvgDrawing) -> Drawing:
    """The drawing moved so that its canvas begins at 0, 0, as a scene's does."""
    if svg.canvas.x == svg.canvas.y == 0:
        return svg.drawing
    shift = np.array([[1.0, 0.0, -svg.canvas.x], [0.0, 1.0, -svg.canvas.y]])
    return Drawing(shapes=tuple(placed(shape, shift) for shape in svg.drawing.shapes))
