import type { Drawing, Point, Scene, Shape } from "../api/types";
import { sampled } from "../stage/brush";
import { SNAPS, type Snap, useTools } from "./tools";

const REACH = 7; // pixels

/** Where something was drawn to, to be shown: a point, or a line through it. */
export type Catch = { kind: Snap; at: Point; along?: "x" | "y" };
export type Snapped = { point: Point; catches: Catch[] };

type Targets = {
  points: [Point, Snap][];
  lines: Point[][];
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
  const found: Targets = { points: [], lines: [], xs: [], ys: [], grid: snaps.grid ? grid : 0 };
  for (const shape of drawing.shapes) {
    const nodes = shape.contours.flatMap((c) => c.nodes);
    const still = nodes.filter((n) => !moving(shape.id, n.id));
    if (snaps.points) found.points.push(...still.map((n): [Point, Snap] => [n.at, "points"]));
    if (still.length < nodes.length) continue;
    if (snaps.centres) found.points.push([middle(shape), "centres"]);
    if (snaps.outlines) found.lines.push(...shape.contours.map(sampled));
  }
  if (snaps.centres) {
    found.xs.push([scene.width / 2, "centres"]);
    found.ys.push([scene.height / 2, "centres"]);
  }
  if (snaps.guides)
    for (const guide of scene.guides)
      (guide.way === "upright" ? found.xs : found.ys).push([guide.at, "guides"]);
  return found;
}

function onLine(point: Point, [ax, ay]: Point, [bx, by]: Point): Point {
  const [dx, dy] = [bx - ax, by - ay];
  const along = ((point[0] - ax) * dx + (point[1] - ay) * dy) / (dx * dx + dy * dy || 1);
  const t = Math.min(1, Math.max(0, along));
  return [ax + t * dx, ay + t * dy];
}

const far = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);

function nearestPoint(point: Point, { points, lines }: Targets, reach: number): Snapped | null {
  let best: Catch | null = null;
  let least = reach;
  for (const [at, kind] of points) {
    const away = far(at, point);
    if (away < least) [best, least] = [{ kind, at }, away];
  }
  if (best) return { point: best.at, catches: [best] };
  for (const row of lines)
    for (let k = 1; k < row.length; k++) {
      const at = onLine(point, row[k - 1] as Point, row[k] as Point);
      const away = far(at, point);
      if (away < least) [best, least] = [{ kind: "outlines", at }, away];
    }
  return best && { point: best.at, catches: [best] };
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
