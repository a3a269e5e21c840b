import Flatbush from "flatbush";
import type { Contour, Drawing, Node, Point, Scene, Shape } from "../api/types";
import { stretch } from "../stage/brush";
import { SNAPS, type Snap, useTools } from "./tools";

const REACH = 7; // pixels

/** Where something was drawn to, to be shown: a point, or a line through it. */
export type Catch = { kind: Snap; at: Point; along?: "x" | "y" };
export type Snapped = { point: Point; catches: Catch[] };

type Place = { kind: Snap; at: Point };
type Stretch = { from: Node; to: Node };

type Targets = {
  things: (Place | Stretch)[];
  index: Flatbush | null;
  xs: [number, Snap][];
  ys: [number, Snap][];
  grid: number;
};

const middle = (shape: Shape): Point => {
  const at = shape.contours.flatMap((c) => c.nodes.map((n) => n.at));
  const [xs, ys] = [at.map((p) => p[0]), at.map((p) => p[1])];
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
};

/** What there is to snap to, leaving out what moves. */
function targets(drawing: Drawing, scene: Scene, moving: (shape: string, node: string) => boolean): Targets {
  const { snaps, grid } = useTools.getState();
  const things: (Place | Stretch)[] = [];
  for (const shape of drawing.shapes) {
    const nodes = shape.contours.flatMap((c) => c.nodes);
    const still = nodes.filter((n) => !moving(shape.id, n.id));
    if (snaps.points) for (const { at } of still) things.push({ kind: "points", at });
    if (still.length < nodes.length) continue;
    if (snaps.centres) things.push({ kind: "centres", at: middle(shape) });
    if (snaps.outlines) for (const contour of shape.contours) things.push(...stretches(contour));
  }
  const xs: [number, Snap][] = [];
  const ys: [number, Snap][] = [];
  if (snaps.centres) {
    xs.push([scene.width / 2, "centres"]);
    ys.push([scene.height / 2, "centres"]);
  }
  if (snaps.guides)
    for (const guide of scene.guides) (guide.way === "upright" ? xs : ys).push([guide.at, "guides"]);
  return { things, index: indexed(things), xs, ys, grid: snaps.grid ? grid : 0 };
}

const stretches = ({ nodes, closed }: Contour): Stretch[] =>
  nodes.flatMap((from, k) => {
    const to = nodes[k + 1] ?? (closed ? nodes[0] : undefined);
    return to ? [{ from, to }] : [];
  });

/** An index by place: a large key has tens of thousands of things to snap to, and every point that moves asks. */
function indexed(things: (Place | Stretch)[]): Flatbush | null {
  if (!things.length) return null;
  const index = new Flatbush(things.length);
  for (const thing of things) {
    const ends = "at" in thing ? [thing.at] : [thing.from.at, thing.from.after, thing.to.before, thing.to.at];
    const [xs, ys] = [ends.map((p) => p[0]), ends.map((p) => p[1])];
    index.add(Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys));
  }
  index.finish();
  return index;
}

function onLine(point: Point, [ax, ay]: Point, [bx, by]: Point): Point {
  const [dx, dy] = [bx - ax, by - ay];
  const along = ((point[0] - ax) * dx + (point[1] - ay) * dy) / (dx * dx + dy * dy || 1);
  const t = Math.min(1, Math.max(0, along));
  return [ax + t * dx, ay + t * dy];
}

const far = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);

function nearestPoint(point: Point, { things, index }: Targets, reach: number): Snapped | null {
  const [x, y] = point;
  const near = (index?.search(x - reach, y - reach, x + reach, y + reach) ?? [])
    .sort((a, b) => a - b)
    .map((k) => things[k] as Place | Stretch);
  let best: Catch | null = null;
  let least = reach;
  const offer = (kind: Snap, at: Point) => {
    const away = far(at, point);
    if (away < least) [best, least] = [{ kind, at }, away];
  };
  for (const thing of near) if ("at" in thing) offer(thing.kind, thing.at);
  if (!best)
    for (const thing of near)
      if ("from" in thing) {
        const row = stretch(thing.from, thing.to);
        for (let k = 1; k < row.length; k++)
          offer("outlines", onLine(point, row[k - 1] as Point, row[k] as Point));
      }
  return best && { point: (best as Catch).at, catches: [best] };
}

function nearestOn(
  value: number,
  marks: [number, Snap][],
  grid: number,
  reach: number,
): [number, Snap] | null {
  let best: [number, Snap] | null = null;
  let least = reach;
  for (const mark of marks)
    if (Math.abs(mark[0] - value) < least) [best, least] = [mark, Math.abs(mark[0] - value)];
  if (best || !grid) return best;
  const line = Math.round(value / grid) * grid;
  return Math.abs(line - value) < reach ? [line, "grid"] : null;
}

function snapOne(point: Point, found: Targets, reach: number): Snapped {
  const on = nearestPoint(point, found, reach);
  if (on) return on;
  const x = nearestOn(point[0], found.xs, found.grid, reach);
  const y = nearestOn(point[1], found.ys, found.grid, reach);
  const at: Point = [x ? x[0] : point[0], y ? y[0] : point[1]];
  const catches: Catch[] = [];
  if (x) catches.push({ kind: x[1], at, along: "y" });
  if (y) catches.push({ kind: y[1], at, along: "x" });
  return { point: at, catches };
}

export type Snapper = {
  /** A point where it snaps to, if anything is near; as it is while `free`. */
  point: (point: Point, free: boolean) => Snapped;
  /** How far several points may move together so that one of them snaps. */
  move: (anchors: Point[], by: Point, free: boolean) => { by: Point; catches: Catch[] };
};

export function snapperFor(
  drawing: Drawing,
  scene: Scene,
  scale: number,
  moving: (shape: string, node: string) => boolean = () => false,
): Snapper {
  const on = SNAPS.some((kind) => useTools.getState().snaps[kind]);
  let found: Targets | null = null;
  const reach = REACH / scale;
  const one = (point: Point, free: boolean): Snapped => {
    if (!on || free) return { point, catches: [] };
    found ??= targets(drawing, scene, moving);
    return snapOne(point, found, reach);
  };
  return {
    point: one,
    move: (anchors, by, free) => {
      let best: { by: Point; catches: Catch[] } = { by, catches: [] };
      let least = Number.POSITIVE_INFINITY;
      for (const [x, y] of anchors) {
        const from: Point = [x + by[0], y + by[1]];
        const { point, catches } = one(from, free);
        const away = far(from, point);
        if (catches.length && away < least)
          [best, least] = [{ by: [by[0] + point[0] - from[0], by[1] + point[1] - from[1]], catches }, away];
      }
      return best;
    },
  };
}
