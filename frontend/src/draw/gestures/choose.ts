import type { Point } from "../../api/types";
import { useDesk } from "../../desk/state";
import type { Box } from "../../stage/pieces";
import { unitOf } from "../parts";
import { sketch } from "../sketch";
import { useTools } from "../tools";
import { drag, type Hand, layerUnder, shapeUnder } from "./hand";

const within = ([x, y]: Point, ring: Point[]) => {
  let inside = false;
  ring.forEach(([ax, ay], k) => {
    const [bx, by] = ring[(k + ring.length - 1) % ring.length] as Point;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  });
  return inside;
};

const boxRing = ([x0, y0]: Point, [x1, y1]: Point): Point[] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

/** Draw a box or a lasso; then choose the shapes, or the points, that are wholly in it. */
export function chooseAround(hand: Hand, what: "shapes" | "points") {
  const { set, shapes, nodes, part } = useDesk.getState();
  const add = hand.event.shiftKey;
  const lasso = useTools.getState().lasso;
  let ring: Point[] = [hand.point];
  drag(
    hand,
    (point) => {
      if (lasso) {
        ring = [...ring, point];
        sketch({ lasso: ring });
      } else {
        ring = boxRing(hand.point, point);
        sketch({ box: { ends: [hand.point, point], form: null } });
      }
    },
    (moved) => {
      sketch({ lasso: null, box: null });
      if (!moved) {
        if (shapeUnder(hand.event.target)) return add ? undefined : set({ nodes: [] });
        if (!add) set({ shapes: [], nodes: [], part: "" });
        otherLayer(hand);
        return;
      }
      if (what === "points") {
        const chosen = hand.drawing.shapes.filter((s) => !shapes.length || shapes.includes(s.id));
        const found = chosen.flatMap((s) =>
          s.contours
            .flatMap((c) => c.nodes.filter((n) => within(n.at, ring)))
            .map((n) => [s.id, n.id] as const),
        );
        set({
          shapes: shapes.length ? shapes : [...new Set(found.map(([shape]) => shape))],
          nodes: [...new Set([...(add ? nodes : []), ...found.map(([, node]) => node)])],
        });
        return;
      }
      const found = hand.drawing.shapes.filter((shape) =>
        shape.contours.every((c) => c.nodes.every((n) => within(n.at, ring))),
      );
      const units = found.flatMap((shape) => unitOf(shape, hand.drawing.shapes, part));
      set({ shapes: [...new Set([...(add ? shapes : []), ...units])], nodes: [] });
    },
  );
}

/** A click on what another layer shows says so, and offers to go there. */
function otherLayer(hand: Hand) {
  const { doc, layer, set } = useDesk.getState();
  const id = layerUnder(hand.event.target);
  const other = doc?.scene.layers.find((l) => l.id === id);
  const own = doc?.scene.layers.find((l) => l.id === layer);
  if (!other || !own) return;
  set({
    notice: {
      kind: "info",
      text: `That is on layer “${other.name}”. Layer “${own.name}” is at hand.`,
      action: {
        name: `Go to ${other.name}`,
        run: () => set({ layer: other.id, shapes: [], nodes: [], part: "" }),
      },
    },
  });
}

/** The drawn box around shapes, as the browser measures it. */
export function drawnBox(group: Element | null, ids: string[]): Box | null {
  const chosen = new Set(ids);
  const which = ids.length === 1 ? `[data-shape="${ids[0]}"]` : "[data-shape]";
  const boxes = [...(group?.querySelectorAll<SVGPathElement>(`[data-at-hand] ${which}`) ?? [])]
    .filter((path) => chosen.has(path.dataset.shape ?? ""))
    .map((path) => path.getBBox());
  if (!boxes.length) return null;
  const x = Math.min(...boxes.map((b) => b.x));
  const y = Math.min(...boxes.map((b) => b.y));
  return {
    x,
    y,
    width: Math.max(...boxes.map((b) => b.x + b.width)) - x,
    height: Math.max(...boxes.map((b) => b.y + b.height)) - y,
  };
}
