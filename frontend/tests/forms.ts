import { vi } from "vitest";
import type {
  Drawing,
  Key,
  Layer,
  Node,
  Paint,
  Point,
  Scene,
  SceneView,
  Shape,
  Stroke,
} from "../src/api/types";
import { plainStroke } from "../src/draw/style";

/** Waits for what is so soon, though not at once; on a slow machine soon may be seconds. */
export const until = <T>(isSo: () => T) => vi.waitFor(isSo, { timeout: 30_000 });

/** Things to test with, plain but whole. */

export const paint = (color = "#77ab54"): Paint => ({ color, opacity: 1, gradient: null, swatch: null });

export const stroke = (changes: Partial<Stroke> = {}): Stroke => ({ ...plainStroke(paint(), 4), ...changes });

let made = 0;

/** A node without handles. */
export const node = ([x, y]: Point, changes: Partial<Node> = {}): Node => ({
  id: `n${made++}`,
  at: [x, y],
  before: [x, y],
  after: [x, y],
  kind: "corner",
  weight: 1,
  ...changes,
});

/** A shape of straight lines through points. */
export const shape = (id: string, points: Point[], changes: Partial<Shape> = {}): Shape => ({
  id,
  name: id,
  contours: [{ nodes: points.map((p) => node(p)), closed: true, bounds: [] }],
  fill: { paint: paint(), rule: "nonzero" },
  stroke: null,
  opacity: 1,
  part: null,
  ...changes,
});

export const box = (
  id: string,
  x: number,
  y: number,
  width = 10,
  height = 10,
  changes: Partial<Shape> = {},
) =>
  shape(
    id,
    [
      [x, y],
      [x + width, y],
      [x + width, y + height],
      [x, y + height],
    ],
    changes,
  );

const take: Key["span"]["take"] = {
  name: "take 1",
  note: "",
  chart: [],
  hints: [],
  pairs: [],
  travels: [],
  blend: "auto",
  ease: { into: 0, out: 0, anticipation: 0, overshoot: 0 },
  exposure: 1,
  tolerance: 0.3,
};

export const key = (id: string, frame: number, drawing: string, inbetween = false): Key => ({
  id,
  frame,
  drawing,
  name: null,
  breakdown: false,
  span: { inbetween, take, others: [] },
});

export const layer = (id: string, keys: Key[], changes: Partial<Layer> = {}): Layer => ({
  id,
  name: id,
  keys,
  locked: false,
  hidden: false,
  opacity: 1,
  tag: "none",
  picture: null,
  cycle: null,
  repeat: "once",
  ...changes,
});

export const scene = (layers: Layer[], changes: Partial<Scene> = {}): Scene => ({
  id: "pond",
  name: "Pond",
  width: 960,
  height: 540,
  rate: 12,
  length: 24,
  paper: "#ffffff",
  layers,
  palette: [],
  guides: [],
  ...changes,
});

/** What the server answers for a scene: every frame shows the last key before it, or an in-between. */
export function view(of: Scene, drawings: Record<string, Drawing>, revision = 1): SceneView {
  const sheet = Object.fromEntries(
    of.layers.map(({ id, keys }) => [
      id,
      Array.from({ length: of.length }, (_, k) => {
        const index = keys.findLastIndex((own) => own.frame <= k + 1);
        const own = keys[index];
        const next = keys[index + 1];
        if (!own) return null;
        const number = own.span.inbetween && next ? k + 1 - own.frame : 0;
        return { key: own.id, number, place: next ? number / (next.frame - own.frame) : 0 };
      }),
    ]),
  );
  const parts = Object.entries(drawings).map(([name, { shapes }]) => [
    name,
    { base: null, order: shapes.map((s) => s.id), shapes },
  ]);
  return { scene: of, revision, undo: null, redo: null, drawings: Object.fromEntries(parts), sheet };
}
