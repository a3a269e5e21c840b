import type { Operation, Point, Shape } from "../../api/types";
import { useDesk } from "../../desk/state";
import { sampled } from "../../stage/brush";
import { forgetTrials, sketch, tryDrawing } from "../sketch";
import { useTools } from "../tools";
import { commit, drag, far, type Hand, shapeUnder, tryOnSpan } from "./hand";

export const pourAt = (key: string, [x, y]: Point): Operation => {
  const { brush, spare, gap } = useTools.getState();
  return { type: "pour", key, x, y, gap, fill: { paint: brush.fill ?? spare.fill, rule: "nonzero" } };
};

export async function pour(hand: Hand) {
  forgetTrials();
  await commit(pourAt(hand.key, hand.point));
}

/** Pull at a line: the farther from it, the wider it gets there. */
export function pullWidth(hand: Hand) {
  const { set } = useDesk.getState();
  const shape = hand.drawing.shapes.find((s) => s.id === shapeUnder(hand.event.target));
  if (!shape?.stroke) {
    set({ notice: { kind: "info", text: "Press on a line and pull away from it to make it wider there." } });
    return;
  }
  set({ shapes: [shape.id] });
  const rows = shape.contours.flatMap(sampled);
  const at = rows.reduce((best, p) => (far(p, hand.point) < far(best, hand.point) ? p : best));
  const operation = (point: Point): Operation => ({
    type: "pull_width",
    key: hand.key,
    shape: shape.id,
    at,
    width: Math.max(0.1, 2 * far(at, point)),
    near: 6 / hand.lens.scale,
  });
  let last: Operation | null = null;
  drag(
    hand,
    (point) => {
      last = operation(point);
      tryDrawing(last, hand.key, (trial) => {
        const changed = trial?.shapes.find((s) => s.id === shape.id);
        if (changed) sketch({ drag: { shapes: new Map([[shape.id, changed]]) } });
      });
      tryOnSpan(hand, last);
    },
    () => {
      forgetTrials(); // an answer that comes late must not cover what is done
      if (last) void commit(last);
    },
  );
}

/** Take fill and line from a shape, for what is chosen, or else for what is drawn next. */
export function pick(hand: Hand) {
  const { doc, drawings, shapes, edit, set } = useDesk.getState();
  const id = (hand.event.target as Element).closest<SVGElement>("[data-shape]")?.dataset.shape;
  const everything = doc?.scene.layers.flatMap((l) =>
    l.keys.flatMap((k) => drawings[k.drawing]?.shapes ?? []),
  );
  const shape = hand.drawing.shapes.find((s) => s.id === id) ?? everything?.find((s) => s.id === id);
  if (!shape) return set({ notice: { kind: "info", text: "Click a shape to take its colours." } });
  takeBrush(shape);
  const chosen = shapes.filter((s) => s !== shape.id);
  if (!chosen.length) return;
  const line = shape.stroke?.paint ?? null;
  void edit({ type: "repaint", key: hand.key, shapes: chosen, fill: shape.fill?.paint ?? null, line });
}

function takeBrush(shape: Shape) {
  const { brush, spare, set } = useTools.getState();
  const [fill, line] = [shape.fill?.paint ?? null, shape.stroke?.paint ?? null];
  set({
    brush: { fill, line, stroke: shape.stroke ?? brush.stroke },
    spare: { fill: fill ?? spare.fill, line: line ?? spare.line },
  });
}
