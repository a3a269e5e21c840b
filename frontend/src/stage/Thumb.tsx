import { memo, useDeferredValue, useLayoutEffect, useMemo, useRef } from "react";
import type { Shape } from "../api/types";
import { paint } from "./paint";
import { type Box, boxOf, type Piece, pieceOf } from "./pieces";

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
    const margin = 3;
    const scale = Math.min(
      (width - 2 * margin) / Math.max(box.width, 1),
      (height - 2 * margin) / Math.max(box.height, 1),
    );
    const [x, y] = [
      (width - box.width * scale) / 2 - box.x * scale,
      (height - box.height * scale) / 2 - box.y * scale,
    ];
    context.setTransform(scale * dense, 0, 0, scale * dense, x * dense, y * dense);
    paint(context, pieces);
  }, [width, height, pieces, box, paper]);
  return <canvas ref={ref} style={{ width, height, display: "block", borderRadius: 4 }} />;
});

type ThumbProps = { shapes: Shape[]; width: number; height: number; paper?: string };

/** A small picture of shapes, painted anew only when it shows others. */
export const Thumb = memo(
  function Thumb({ shapes, width, height, paper = "#ffffff" }: ThumbProps) {
    // the stage comes first: small pictures follow when there is time
    const later = useDeferredValue(shapes);
    const pieces = useMemo(() => later.map(pieceOf), [later]);
    const box = useMemo(() => boxOf(later), [later]);
    return <Picture width={width} height={height} pieces={pieces} box={box} paper={paper} />;
  },
  (a, b) =>
    a.width === b.width &&
    a.height === b.height &&
    a.paper === b.paper &&
    a.shapes.length === b.shapes.length &&
    a.shapes.every((shape, k) => shape === b.shapes[k]),
);
