import type { Node, Operation, Point, Sample } from "../../api/types";
import { newId } from "../../desk/ids";
import { useDesk } from "../../desk/state";
import { sketch, tryDrawing, useSketch } from "../sketch";
import { brushFill, brushStroke, penStroke, useTools } from "../tools";
import { commit, drag, far, type Hand, snapFor } from "./hand";

/** The corners of a form drawn from one point to another: Shift makes it even, Ctrl begins at its middle. */
function corners(start: Point, [x, y]: Point, even: boolean, middle: boolean): [Point, Point] {
  let [dx, dy] = [x - start[0], y - start[1]];
  if (even) {
    const side = Math.max(Math.abs(dx), Math.abs(dy));
    [dx, dy] = [(Math.sign(dx) || 1) * side, (Math.sign(dy) || 1) * side];
  }
  const from: Point = middle ? [start[0] - dx, start[1] - dy] : start;
  return [from, [start[0] + dx, start[1] + dy]];
}

export function drawForm(hand: Hand) {
  const { form, points, inner } = useTools.getState();
  const snapper = snapFor(hand);
  const start = snapper.point(hand.point, hand.event.altKey).point;
  let ends: [Point, Point] = [start, start];
  drag(
    hand,
    (point, event) => {
      const snapped = snapper.point(point, event.altKey);
      ends = corners(start, snapped.point, event.shiftKey, event.ctrlKey || event.metaKey);
      sketch({ box: { ends, form }, catches: snapped.catches });
    },
    () => {
      const [[x0, y0], [x1, y1]] = ends;
      const [width, height] = [Math.abs(x1 - x0), Math.abs(y1 - y0)];
      if (width <= 1 || height <= 1) return sketch({ box: null, catches: [] });
      const place = { x: Math.min(x0, x1), y: Math.min(y0, y1), width, height, points, inner };
      void commit({
        type: "add_form",
        key: hand.key,
        form,
        ...place,
        fill: brushFill(),
        stroke: brushStroke(),
      });
    },
  );
}

type Pen = { pointerType: string; pressure: number };
const pressure = (event: Pen) => (event.pointerType === "mouse" ? 0.5 : event.pressure);

const MEETS = 9; // pixels; so near to where it began, a line or a form is shut

/** Whether a line comes back to where it began, after it was well away from it: an eye is small, and its gap smaller. */
function comesBack(samples: Sample[], scale: number) {
  const [first] = samples;
  const away = samples.map((s) => (first ? far([first.x, first.y], [s.x, s.y]) * scale : 0));
  return (away.at(-1) ?? 0) < Math.min(MEETS, Math.max(...away) / 4);
}

/** Draw a line by hand. One that ends where it began is a form, and gets a fill; with Alt held it stays a line. */
export function drawLine(hand: Hand) {
  const { tolerance, set } = useTools.getState();
  let closed = false;
  const shape = newId();
  const samples: Sample[] = [{ x: hand.point[0], y: hand.point[1], pressure: pressure(hand.event) }];
  const operation = (): Operation => ({
    type: "add_freehand",
    key: hand.key,
    shape,
    samples,
    tolerance: tolerance / hand.lens.scale,
    stroke: closed && brushFill() ? brushStroke() : penStroke(),
    fill: closed ? brushFill() : null,
    closed,
  });
  sketch({ line: { samples: [...samples], nodes: null, closed } });
  drag(
    hand,
    (_, event) => {
      const box = hand.svg.getBoundingClientRect();
      for (const each of event.getCoalescedEvents?.().length ? event.getCoalescedEvents() : [event]) {
        const x = (each.clientX - box.left - hand.lens.left) / hand.lens.scale;
        const y = (each.clientY - box.top - hand.lens.top) / hand.lens.scale;
        samples.push({ x, y, pressure: pressure(each) });
      }
      closed = !event.altKey && comesBack(samples, hand.lens.scale);
      sketch({ line: { samples: [...samples], nodes: useSketch.getState().line?.nodes ?? null, closed } });
      tryDrawing(operation(), hand.key, (trial) => {
        const line = useSketch.getState().line;
        if (line && trial) sketch({ line: { ...line, nodes: trial.nodes[1] } });
      });
    },
    async () => {
      if (samples.length < 2) return sketch({ line: null });
      if (!(await commit(operation()))) return;
      const { doc, layer, drawings } = useDesk.getState();
      const key = doc?.scene.layers.find((l) => l.id === layer)?.keys.find((k) => k.id === hand.key);
      const made = key && drawings[key.drawing]?.shapes.find((s) => s.id === shape);
      const nodes = made?.contours[0]?.nodes.length ?? 0;
      set({ lastLine: { key: hand.key, shape, samples, nodes, closed } });
    },
  );
}

/** Place a point: a click for a corner, a drag for a smooth one; on the first point the form closes. */
export function placePoint(hand: Hand) {
  const { path } = useSketch.getState();
  const nodes = path?.nodes ?? [];
  const [first] = nodes;
  const closing = first && nodes.length > 1 && far(first.at, hand.point) * hand.lens.scale < MEETS;
  const at = closing ? first.at : snapFor(hand).point(hand.point, hand.event.altKey).point;
  const pulled = (to: Point): Node => ({
    id: closing ? first.id : newId(),
    at,
    before: [2 * at[0] - to[0], 2 * at[1] - to[1]],
    after: to,
    kind: to === at ? "corner" : "symmetric",
    weight: 1,
  });
  let node: Node = closing ? first : pulled(at);
  const shown = () => (closing ? [node, ...nodes.slice(1)] : [...nodes, node]);
  sketch({ path: { nodes: shown(), hover: null } });
  drag(
    hand,
    (point) => {
      node = closing ? { ...pulled(point), after: first.after, kind: "smooth" } : pulled(point);
      sketch({ path: { nodes: shown(), hover: null } });
    },
    () => closing && finishPath(hand.key, true),
    () => sketch({ path }),
  );
}

/** Draw the line, or the closed form, through the points placed so far. */
export function finishPath(key: string, closed = false) {
  const nodes = useSketch.getState().path?.nodes ?? [];
  sketch({ path: null });
  if (nodes.length < 2) return;
  const stroke = brushStroke() ?? (closed ? null : penStroke());
  void commit({ type: "add_path", key, nodes, closed, stroke, fill: closed ? brushFill() : null });
}

/** Take the last placed point back. */
export function unplacePoint() {
  const nodes = useSketch.getState().path?.nodes ?? [];
  sketch({ path: nodes.length > 1 ? { nodes: nodes.slice(0, -1), hover: null } : null });
}

export function placeLetters(hand: Hand) {
  const { text, size } = useTools.getState().letters;
  const { set } = useDesk.getState();
  if (!text.trim()) return set({ notice: { kind: "info", text: "Type the letters in the panel first." } });
  const [x, y] = snapFor(hand).point(hand.point, hand.event.altKey).point;
  const fill = brushFill();
  const stroke = brushStroke() ?? (fill ? null : penStroke());
  void commit({ type: "add_letters", key: hand.key, text, size, x, y, fill, stroke });
}
