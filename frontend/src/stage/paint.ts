import type { Fill, Point, Stroke } from "../api/types";
import { stretches } from "./brush";
import type { Piece } from "./pieces";

export type Gradient = NonNullable<Fill["paint"]["gradient"]>;
type Paint = Fill["paint"];

/** A colour with its opacity, as CSS. */
export const css = (color: string, opacity: number) =>
  color +
  Math.round(opacity * 255)
    .toString(16)
    .padStart(2, "0");

const measuring = document.createElementNS("http://www.w3.org/2000/svg", "path");

function lengthOf(d: string): number {
  measuring.setAttribute("d", d);
  return measuring.getTotalLength();
}

/** Dashes and offset that show a stroke's dashes within its reveal; none for a whole solid line. */
export function dashesOf(stroke: Stroke, d: string): { dashes: number[]; offset: number } {
  const { dashes, dash_offset } = stroke;
  const [from, to] = [...stroke.reveal].sort((a, b) => a - b) as [number, number];
  if (from === 0 && to === 1) return { dashes, offset: dash_offset };
  const length = lengthOf(d);
  const marks = stretches(stroke, length).flatMap(([low, high]) => [low * length, high * length]);
  if (!marks.length) return { dashes: [0, length + 1], offset: 0 };
  const ends = [...marks.slice(1), (marks.at(-1) as number) + length + 1];
  return { dashes: ends.map((end, k) => end - (marks[k] as number)), offset: -(marks[0] as number) };
}

const turnOf = ({ start, end }: Gradient) => Math.atan2(end[1] - start[1], end[0] - start[0]);
const reachOf = ({ start, end }: Gradient) => Math.hypot(end[0] - start[0], end[1] - start[1]);

/** A radial gradient's focus in its own turned and squashed frame, whose middle is 0, 0. */
function focusOf(gradient: Gradient): [number, number] {
  if (!gradient.focus) return [0, 0];
  const turn = turnOf(gradient);
  const [x, y] = [gradient.focus[0] - gradient.start[0], gradient.focus[1] - gradient.start[1]];
  return [
    x * Math.cos(turn) + y * Math.sin(turn),
    (y * Math.cos(turn) - x * Math.sin(turn)) / gradient.squash,
  ];
}

/** What an SVG element for the gradient needs. */
export function gradientFrame(gradient: Gradient) {
  const [fx, fy] = focusOf(gradient);
  const degrees = (turnOf(gradient) * 180) / Math.PI;
  const transform = `translate(${gradient.start[0]} ${gradient.start[1]}) rotate(${degrees}) scale(1 ${gradient.squash})`;
  return { radius: reachOf(gradient), fx, fy, transform };
}

function withStops(made: CanvasGradient, gradient: Gradient): CanvasGradient {
  for (const stop of gradient.stops) made.addColorStop(stop.at, css(stop.color, stop.opacity));
  return made;
}

const linearOf = (context: CanvasRenderingContext2D, gradient: Gradient) =>
  withStops(context.createLinearGradient(...gradient.start, ...gradient.end), gradient);

/** A radial gradient from its focus to the circle about its middle. */
const radialOf = (
  context: CanvasRenderingContext2D,
  gradient: Gradient,
  [fx, fy]: Point,
  [x, y]: Point,
  radius: number,
) => withStops(context.createRadialGradient(fx, fy, 0, x, y, Math.max(radius, 1e-6)), gradient);

/** Fill a path, or what a stroke covers, with a paint. */
function fillWith(context: CanvasRenderingContext2D, path: Path2D, paint: Paint, rule: CanvasFillRule) {
  const { gradient } = paint;
  const alpha = context.globalAlpha;
  context.globalAlpha = alpha * paint.opacity;
  if (gradient?.kind === "radial") {
    context.save();
    context.clip(path, rule);
    context.translate(gradient.start[0], gradient.start[1]);
    context.rotate(turnOf(gradient));
    context.scale(1, gradient.squash);
    context.fillStyle = radialOf(context, gradient, focusOf(gradient), [0, 0], reachOf(gradient));
    context.fillRect(-1e6, -1e6, 2e6, 2e6);
    context.restore();
  } else {
    context.fillStyle = gradient ? linearOf(context, gradient) : paint.color;
    context.fill(path, rule);
  }
  context.globalAlpha = alpha;
}

/** A gradient for a line. A squashed one is shown round: a canvas can't squash it without squashing the line. */
function alongLine(context: CanvasRenderingContext2D, gradient: Gradient): CanvasGradient {
  if (gradient.kind === "linear") return linearOf(context, gradient);
  const radius = reachOf(gradient) * Math.sqrt(gradient.squash);
  return radialOf(context, gradient, gradient.focus ?? gradient.start, gradient.start, radius);
}

/** How wide a stroke is painted where nothing finer than a width is seen. What is filled is seen without its line. */
export const seenWidth = ({ fill, stroke }: Piece, finest: number) =>
  fill ? (stroke?.width ?? 0) : Math.max(stroke?.width ?? 0, finest);

function strokeWith(
  context: CanvasRenderingContext2D,
  path: Path2D,
  stroke: Stroke,
  piece: Piece,
  width: number,
) {
  const { gradient } = stroke.paint;
  const alpha = context.globalAlpha;
  context.globalAlpha = alpha * stroke.paint.opacity;
  context.strokeStyle = gradient ? alongLine(context, gradient) : stroke.paint.color;
  context.lineWidth = width;
  context.lineCap = stroke.cap;
  context.lineJoin = stroke.join;
  context.miterLimit = stroke.miter_limit;
  const plain = !stroke.dashes.length && stroke.reveal[0] === 0 && stroke.reveal[1] === 1;
  if (!plain) {
    const { dashes, offset } = dashesOf(stroke, piece.d);
    context.setLineDash(dashes);
    context.lineDashOffset = offset;
  }
  context.stroke(path);
  if (!plain) context.setLineDash([]);
  context.globalAlpha = alpha;
}

const paths = new WeakMap<Piece, Path2D>();

/** Paint pieces on a canvas, lines no finer than a width. */
export function paint(context: CanvasRenderingContext2D, pieces: Piece[], finest = 0) {
  for (const piece of pieces) {
    let path = paths.get(piece);
    if (!path) {
      path = piece.trace ? new Path2D() : new Path2D(piece.d);
      piece.trace?.(path);
      paths.set(piece, path);
    }
    context.globalAlpha = piece.opacity;
    if (piece.fill) fillWith(context, path, piece.fill.paint, piece.fill.rule);
    if (!piece.stroke || piece.stroke.width <= 0) continue;
    if (piece.brush) fillWith(context, new Path2D(piece.brush), piece.stroke.paint, "nonzero");
    if (!piece.brush || (finest && !piece.fill))
      strokeWith(context, path, piece.stroke, piece, piece.brush ? finest : seenWidth(piece, finest));
  }
  context.globalAlpha = 1;
}
