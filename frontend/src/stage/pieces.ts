import type {
  Drawing,
  Exposure,
  Fill,
  Layer,
  Look,
  Node,
  Shape,
  SpanView,
  Stroke,
  Track,
} from "../api/types";
import { covered, type Line, lineOf, ringText, sampled } from "./brush";

/** A shape ready to be painted. */
export type Piece = {
  id: string;
  d: string;
  /** Draws the outline without going through text. */
  trace?: (pen: Path2D) => void;
  fill: Fill | null;
  stroke: Stroke | null;
  opacity: number;
  /** Where the stroke's width changes: what the pen covers, to be filled with the stroke's paint. */
  brush?: string;
};

const segment = (from: Node, to: Node) => `C${from.after} ${to.before} ${to.at}`;

export function outlineOf(shape: Shape): string {
  return shape.contours
    .map(({ nodes, closed }) => {
      const [first] = nodes;
      if (!first) return "";
      const parts = [`M${first.at}`];
      for (let k = 1; k < nodes.length; k++) parts.push(segment(nodes[k - 1] as Node, nodes[k] as Node));
      if (closed) parts.push(segment(nodes[nodes.length - 1] as Node, first), "Z");
      return parts.join("");
    })
    .join("");
}

const shapePieces = new WeakMap<Shape, Piece>();

export function pieceOf(shape: Shape): Piece {
  const known = shapePieces.get(shape);
  if (known) return known;
  const piece: Piece = {
    id: shape.id,
    d: outlineOf(shape),
    fill: shape.fill,
    stroke: shape.stroke,
    opacity: shape.opacity,
  };
  const nodes = shape.contours.flatMap((c) => c.nodes);
  if (shape.stroke && nodes.some((n) => n.weight !== 1))
    piece.brush = brushOf(shape.stroke, shape.contours.map(lineOf));
  shapePieces.set(shape, piece);
  return piece;
}

const brushOf = (stroke: Stroke, lines: Line[]) =>
  lines
    .flatMap((line) => covered(line, stroke))
    .map(ringText)
    .join("");

function trackBrush(track: Track, number: number, row: number[], stroke: Stroke): string {
  let at = 0;
  const weights = track.weights?.[number] ?? [];
  return brushOf(
    stroke,
    track.contours.map(({ nodes, closed }) => {
      const line = { row: row.slice(at * 6), nodes, closed, weights: weights.slice(at) };
      at += nodes;
      return line;
    }),
  );
}

export const piecesOfDrawing = (drawing: Drawing): Piece[] => drawing.shapes.map(pieceOf);

type Pen = Pick<Path2D, "moveTo" | "bezierCurveTo" | "closePath">;

/** Draw a track's outline at a frame with a pen: a canvas path, or one that writes SVG. */
function trace(track: Track, row: number[], pen: Pen) {
  let at = 0;
  const n = (node: number, k: number) => row[at + node * 6 + k] as number;
  for (const { nodes, closed } of track.contours) {
    pen.moveTo(n(0, 2), n(0, 3));
    for (let k = 1; k < nodes + (closed ? 1 : 0); k++) {
      const end = k % nodes;
      pen.bezierCurveTo(n(k - 1, 4), n(k - 1, 5), n(end, 0), n(end, 1), n(end, 2), n(end, 3));
    }
    if (closed) pen.closePath();
    at += nodes * 6;
  }
}

function trackOutline(track: Track, row: number[]): string {
  const parts: string[] = [];
  trace(track, row, {
    moveTo: (x, y) => parts.push(`M${x} ${y}`),
    bezierCurveTo: (...numbers) => parts.push(`C${numbers.join(" ")}`),
    closePath: () => parts.push("Z"),
  });
  return parts.join("");
}

const trackPieces = new WeakMap<Track, (Piece | undefined)[]>();

/** A track's piece at a frame, under an id. Tracks that an answer shares with the last one keep their pieces. */
function trackPiece(track: Track, number: number, id: string): Piece | undefined {
  let frames = trackPieces.get(track);
  if (!frames) {
    frames = [];
    trackPieces.set(track, frames);
  }
  const row = track.points[number];
  if (frames[number]?.id !== id && row?.length) {
    const look = (track.looks[number] ?? track.looks[0]) as Look;
    let outline: string | undefined;
    frames[number] = {
      id,
      get d() {
        outline ??= trackOutline(track, row); // only the stage needs it as text
        return outline;
      },
      trace: (pen) => trace(track, row, pen),
      fill: look.fill as Fill | null,
      stroke: look.stroke as Stroke | null,
      opacity: look.opacity,
    };
    if (track.weights && look.stroke)
      frames[number].brush = trackBrush(track, number, row, look.stroke as Stroke);
  }
  return frames[number];
}

/** An id for each track: that of the first key's shape; of a shape that divides, the others are numbered. */
function idsOf(tracks: Track[]): string[] {
  const known = new Map<string, number>();
  return tracks.map((track) => {
    const id = track.first ?? `${track.second} appears`;
    const count = (known.get(id) ?? 0) + 1;
    known.set(id, count);
    return count === 1 ? id : `${id} ${count}`;
  });
}

const spanPieces = new WeakMap<SpanView, { ids: string[]; frames: Piece[][] }>();

/** The pieces of a span's frame, counted from its first key. */
export function piecesOfSpan(span: SpanView, number: number): Piece[] {
  let known = spanPieces.get(span);
  if (!known) {
    known = { ids: idsOf(span.tracks), frames: [] };
    spanPieces.set(span, known);
  }
  const { ids, frames } = known;
  frames[number] ??= (span.order[number] ?? []).flatMap((index) => {
    const track = span.tracks[index];
    return (track && trackPiece(track, number, ids[index] as string)) ?? [];
  });
  return frames[number];
}

/** What a layer shows at a frame. */
export function piecesShown(
  layer: Layer,
  exposure: Exposure | null | undefined,
  drawings: Record<string, Drawing>,
  spans: Record<string, SpanView>,
): Piece[] {
  if (!exposure) return [];
  const key = layer.keys.find((k) => k.id === exposure.key);
  const span = spans[exposure.key];
  if (exposure.number > 0) return span ? piecesOfSpan(span, exposure.number) : [];
  const drawing = key && drawings[key.drawing];
  return drawing ? piecesOfDrawing(drawing) : [];
}

export type Box = { x: number; y: number; width: number; height: number };

const shapeBoxes = new WeakMap<Shape, Box>();

/** The box around what is drawn, without strokes. */
export function boxOf(shapes: Shape[]): Box | null {
  const boxes = shapes.filter((s) => s.contours.some((c) => c.nodes.length)).map(boxOfShape);
  if (!boxes.length) return null;
  const [x, y] = [least(boxes.map((b) => b.x)), least(boxes.map((b) => b.y))];
  const [right, bottom] = [most(boxes.map((b) => b.x + b.width)), most(boxes.map((b) => b.y + b.height))];
  return { x, y, width: right - x, height: bottom - y };
}

function boxOfShape(shape: Shape): Box {
  const known = shapeBoxes.get(shape);
  if (known) return known;
  const points = shape.contours.flatMap(sampled);
  const [xs, ys] = [points.map((p) => rounded(p[0])), points.map((p) => rounded(p[1]))];
  const [x, y] = [least(xs), least(ys)];
  const box = { x, y, width: most(xs) - x, height: most(ys) - y };
  shapeBoxes.set(shape, box);
  return box;
}

/** Points along a curve come with a rounding error. */
const rounded = (value: number) => Math.round(value * 1e6) / 1e6 + 0;
const least = (values: number[]) => values.reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY);
const most = (values: number[]) => values.reduce((a, b) => Math.max(a, b), Number.NEGATIVE_INFINITY);
