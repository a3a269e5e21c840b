import { memo, useDeferredValue, useLayoutEffect, useMemo, useRef } from "react";
import type { Shape } from "../api/types";
import { PATCH } from "./ground";
import { Pieces } from "./Pieces";
import { paint } from "./paint";
import { type Box, boxOf, type Piece, pieceOf } from "./pieces";

const MARGIN = 3;
/** Finer lines are not seen in a small picture, in pixels. */
const FINEST = 1.1;

/** How many pixels a unit takes where the box fills so many by so many, but for a margin. */
const filling = (box: Box, width: number, height: number) =>
  Math.min((width - 2 * MARGIN) / Math.max(box.width, 1), (height - 2 * MARGIN) / Math.max(box.height, 1));

type Props = { width: number; height: number; pieces: Piece[]; box: Box | null; paper?: string };

/** Pieces on a small canvas, the box filling it. */
export const Picture = memo(function Picture({ width, height, pieces, box, paper }: Props) {
  const ref = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const canvas = ref.current;
    const context = canvas?.getContext("2d");
    if (!canvas || !context) return;
    const dense = window.devicePixelRatio || 1;
    canvas.width = width * dense;
    canvas.height = height * dense;
    if (paper) {
      context.fillStyle = paper;
      context.fillRect(0, 0, canvas.width, canvas.height);
    }
    if (!box) return;
    const scale = filling(box, width, height);
    const [x, y] = [
      (width - box.width * scale) / 2 - box.x * scale,
      (height - box.height * scale) / 2 - box.y * scale,
    ];
    context.setTransform(scale * dense, 0, 0, scale * dense, x * dense, y * dense);
    paint(context, pieces, FINEST / scale);
  }, [width, height, pieces, box, paper]);
  return <canvas ref={ref} style={{ width, height, display: "block", borderRadius: 4 }} />;
});

type ThumbProps = { shapes: Shape[]; width: number; height: number; paper: string };

const sameShapes = (a: { shapes: Shape[] }, b: { shapes: Shape[] }) =>
  a.shapes.length === b.shapes.length && a.shapes.every((shape, k) => shape === b.shapes[k]);

/** The box of shapes and of their strokes: of a dot with a broad stroke, the points alone would be all stroke. */
function extentOf(shapes: Shape[]): Box | null {
  const box = boxOf(shapes);
  const half = Math.max(0, ...shapes.map((shape) => shape.stroke?.width ?? 0)) / 2;
  return (
    box && { x: box.x - half, y: box.y - half, width: box.width + 2 * half, height: box.height + 2 * half }
  );
}

/** The stage comes first: small pictures follow when there is time. */
function useLater(shapes: Shape[]) {
  const later = useDeferredValue(shapes);
  return useMemo(() => ({ pieces: later.map(pieceOf), box: extentOf(later) }), [later]);
}

/** A small picture of a drawing, painted anew only when it shows other shapes. */
export const Thumb = memo(
  function Thumb({ shapes, width, height, paper }: ThumbProps) {
    return <Picture width={width} height={height} {...useLater(shapes)} paper={paper} />;
  },
  (a, b) => a.width === b.width && a.height === b.height && a.paper === b.paper && sameShapes(a, b),
);

type SampleProps = { shapes: Shape[]; width: number; height: number };

/**
 * A few shapes in a row of a list. No canvas: each would be a surface of its own, and the browser goes through all of
 * them for every frame of a drag.
 */
export const Sample = memo(function Sample({ shapes, width, height }: SampleProps) {
  const { pieces, box } = useLater(shapes);
  const scale = box ? filling(box, width, height) : 1;
  const [wide, high] = [width / scale, height / scale];
  const [x, y] = box ? [box.x + (box.width - wide) / 2, box.y + (box.height - high) / 2] : [0, 0];
  return (
    <svg
      aria-hidden
      width={width}
      height={height}
      viewBox={`${x} ${y} ${wide} ${high}`}
      style={{ flexShrink: 0, borderRadius: 4, background: PATCH }}
    >
      <Pieces pieces={pieces} finest={FINEST / scale} />
    </svg>
  );
}, sameShapes);
