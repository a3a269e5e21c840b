import type { Contour, Node, Point, Stroke } from "../api/types";

/** A contour as the stage gets it: node triples (handle before, node, handle after), flat, six numbers a node. */
export type Line = { row: number[]; nodes: number; closed: boolean; weights: number[] };

const STEPS = 10;
const MOST_DASHES = 1000;

export const lineOf = ({ nodes, closed }: Contour): Line => ({
  row: nodes.flatMap((n) => [...n.before, ...n.at, ...n.after]),
  nodes: nodes.length,
  closed,
  weights: nodes.map((n) => n.weight),
});

/** Points along a contour, close enough to each other to stand for it. */
export function sampled(contour: Contour): Point[] {
  const last = contour.closed ? contour.nodes.length : contour.nodes.length - 1;
  if (last < 1) return contour.nodes.map((n) => n.at);
  return sample(
    lineOf(contour),
    Array.from({ length: last * STEPS + 1 }, (_, k) => k / STEPS),
  );
}

/** Points along one stretch of a contour, between a node and the next. */
export const stretch = (from: Node, to: Node): Point[] =>
  sampled({ nodes: [from, to], closed: false, bounds: [] });

function sample(line: Line, params: number[]): Point[] {
  const { row, nodes } = line;
  const n = (node: number, k: number) => row[(node % nodes) * 6 + k] as number;
  const last = line.closed ? nodes : nodes - 1;
  return params.map((param) => {
    const k = Math.min(Math.floor(param), last - 1);
    const [t, s] = [param - k, 1 - param + k];
    const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    const at = (axis: number) =>
      a * n(k, 2 + axis) + b * n(k, 4 + axis) + c * n(k + 1, axis) + d * n(k + 1, 2 + axis);
    return [at(0), at(1)];
  });
}

/** Lengths from the start of a line to its places at some parameters. */
function lengthsOf(line: Line, params: number[]): number[] {
  const points = sample(line, params);
  const lengths = [0];
  points.slice(1).forEach(([x, y], k) => {
    const [px, py] = points[k] as Point;
    lengths.push((lengths[k] as number) + Math.hypot(x - px, y - py));
  });
  return lengths;
}

/** The parameters between two shares of a line's length. */
function between(line: Line, params: number[], [from, to]: [number, number]): number[] {
  const lengths = lengthsOf(line, params);
  const whole = lengths.at(-1) || 1;
  let k = 0;
  return lengths.map((length) => {
    const aim = from * whole + (to - from) * length;
    while (k < lengths.length - 2 && (lengths[k + 1] as number) < aim) k++;
    const [low, high] = [lengths[k] as number, lengths[k + 1] as number];
    const share = high > low ? Math.min(1, Math.max(0, (aim - low) / (high - low))) : 0;
    return (params[k] as number) + share * ((params[k + 1] as number) - (params[k] as number));
  });
}

type Seen = Pick<Stroke, "dashes" | "dash_offset" | "reveal">;

/** The stretches of a line of some length that are seen, as shares of it: by its reveal, and its dashes. */
export function stretches({ dashes, dash_offset, reveal }: Seen, length: number): [number, number][] {
  const [from, to] = [...reveal].sort((a, b) => a - b) as [number, number];
  const pattern = dashes.length % 2 ? [...dashes, ...dashes] : dashes;
  const turn = pattern.reduce((sum, dash) => sum + dash, 0);
  if (turn <= 0) return to > from ? [[from, to]] : [];
  const found: [number, number][] = [];
  let at = -(((dash_offset % turn) + turn) % turn);
  for (let k = 0; at < to * length && found.length < MOST_DASHES; k++) {
    const next = at + (pattern[k % pattern.length] as number);
    const [low, high] = [Math.max(at, from * length), Math.min(next, to * length)];
    if (k % 2 === 0 && high > low) found.push([low / length, high / length]);
    at = next;
  }
  return found;
}

/** What a stroke of changing width covers, as polygons to be filled by the nonzero rule. */
export function covered(line: Line, stroke: Stroke): Point[][] {
  const dashed = stroke.dashes.some((dash) => dash > 0);
  const length = dashed ? (lengthsOf(line, everyPart(line)).at(-1) ?? 0) : 0;
  const round = !dashed || stroke.cap === "round";
  return stretches(stroke, length).flatMap((stretch) => brushed(line, stroke.width, stretch, round));
}

function everyPart(line: Line): number[] {
  const last = line.closed ? line.nodes : line.nodes - 1;
  return Array.from({ length: last * STEPS + 1 }, (_, k) => k / STEPS);
}

/** What a pen of changing width covers between two shares of a line. */
export function brushed(line: Line, width: number, reveal: [number, number], round = true): Point[][] {
  const last = line.closed ? line.nodes : line.nodes - 1;
  if (last < 1) return [];
  let params = everyPart(line);
  const whole = reveal[0] === 0 && reveal[1] === 1;
  if (!whole) params = between(line, params, reveal);
  // a short stretch, as a dash, needs few points
  const step = Math.max(1, Math.floor(0.25 / Math.max(reveal[1] - reveal[0], 1e-3)));
  params = params.filter((_, k) => k % step === 0 || k === params.length - 1);
  const points = sample(line, params);
  const count = points.length;
  const weight = (param: number) => {
    const k = Math.min(Math.floor(param), last - 1);
    const [a, b] = [line.weights[k] ?? 1, line.weights[(k + 1) % line.nodes] ?? 1];
    return a + (param - k) * (b - a);
  };
  const ring = line.closed && whole;
  const [left, right]: [Point[], Point[]] = [[], []];
  let way: Point = [1, 0];
  const ways: Point[] = points.map((_, k) => {
    const before = points[k > 0 ? k - 1 : ring ? count - 2 : 0] as Point;
    const after = points[k < count - 1 ? k + 1 : ring ? 1 : count - 1] as Point;
    const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
    const length = Math.hypot(dx, dy);
    if (length > 1e-9) way = [dx / length, dy / length];
    return way;
  });
  const radii = params.map((param) => (width / 2) * weight(param));
  points.forEach(([x, y], k) => {
    const [[dx, dy], r] = [ways[k] as Point, radii[k] as number];
    left.push([x - dy * r, y + dx * r]);
    right.push([x + dy * r, y - dx * r]);
  });
  if (ring) return [left, right.reverse()];
  const cap = (k: number, sign: 1 | -1): Point[] =>
    (round ? [1, 2, 3, 4, 5] : []).map((step) => {
      const angle = (Math.PI * step) / 6;
      const [[x, y], [dx, dy], r] = [points[k] as Point, ways[k] as Point, (radii[k] as number) * sign];
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      return [x + r * (dx * s - dy * c), y + r * (dy * s + dx * c)];
    });
  return [[...left, ...cap(count - 1, 1), ...right.reverse(), ...cap(0, -1)]];
}

export const ringText = (ring: Point[]) => `M${ring.map((p) => p.join(" ")).join("L")}Z`;
