import { useLayoutEffect, useMemo, useRef } from "react";
import type { Shape } from "../api/types";
import { PiecePath } from "../stage/Pieces";
import { paint } from "../stage/paint";
import { type Box, boxOf, type Piece, pieceOf } from "../stage/pieces";
import { matrixText } from "./matrix";
import { useSketch } from "./sketch";

/** From so many on, moving pieces one by one is slower than moving a picture of them. */
const MANY = 40;
const MOST_PIXELS = 6000;

/** The box that shapes are painted in, their handles and lines included. */
function roomFor(shapes: Shape[]): Box | null {
  const box = boxOf(shapes);
  if (!box) return null;
  const handles = shapes.flatMap((s) =>
    s.contours.flatMap((c) => c.nodes.flatMap((n) => [n.before, n.after])),
  );
  const wide = Math.max(0, ...shapes.map((s) => 4 * (s.stroke?.width ?? 0)));
  const [xs, ys] = [handles.map((p) => p[0]), handles.map((p) => p[1])];
  const least = (low: number, row: number[]) => row.reduce((a, b) => Math.min(a, b), low) - wide;
  const most = (high: number, row: number[]) => row.reduce((a, b) => Math.max(a, b), high) + wide;
  const [x, y] = [least(box.x, xs), least(box.y, ys)];
  return { x, y, width: most(box.x + box.width, xs) - x, height: most(box.y + box.height, ys) - y };
}

type Props = { pieces: Piece[]; shapes: Shape[]; chosen: string[] };

/** The drawing that is worked on. While some of it is dragged, only that is drawn anew. */
export function StagePieces({ pieces, shapes, chosen }: Props) {
  const dragged = useSketch(({ drag }) => {
    if (!drag) return null;
    return "matrix" in drag ? "chosen" : [...drag.shapes.keys()].join();
  });
  const moving = useMemo(
    () => new Set(dragged === null ? [] : dragged === "chosen" ? chosen : dragged.split(",")),
    [chosen, dragged],
  );
  const many = dragged === "chosen" && moving.size > MANY;
  return (
    <>
      {pieces.map((piece) =>
        moving.has(piece.id) && !many ? (
          <MovingPiece key={piece.id} piece={piece} />
        ) : (
          <PiecePath key={piece.id} piece={piece} hidden={many && moving.has(piece.id)} />
        ),
      )}
      {many && <MovingPicture pieces={pieces} shapes={shapes} moving={moving} />}
    </>
  );
}

/** A piece as it is while the hand moves. */
function MovingPiece({ piece }: { piece: Piece }) {
  const drag = useSketch((s) => s.drag);
  const shape = drag && "shapes" in drag ? drag.shapes.get(piece.id) : undefined;
  return (
    <g transform={drag && "matrix" in drag ? matrixText(drag.matrix) : undefined} pointerEvents="none">
      <PiecePath piece={shape ? pieceOf(shape) : piece} />
    </g>
  );
}

type MovingProps = { pieces: Piece[]; shapes: Shape[]; moving: Set<string> };

function MovingPicture({ pieces, shapes, moving }: MovingProps) {
  const drag = useSketch((s) => s.drag);
  const shown = useMemo(() => pieces.filter((piece) => moving.has(piece.id)), [pieces, moving]);
  const box = useMemo(() => roomFor(shapes.filter((shape) => moving.has(shape.id))), [shapes, moving]);
  if (!box) return null;
  return (
    <g transform={drag && "matrix" in drag ? matrixText(drag.matrix) : undefined} pointerEvents="none">
      <RunPicture pieces={shown} box={box} />
    </g>
  );
}

/** Many pieces as one picture of what the stage shows of them: the browser moves it at once. */
function RunPicture({ pieces, box }: { pieces: Piece[]; box: Box }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const canvas = ref.current;
    const context = canvas?.getContext("2d");
    const matrix = (canvas?.closest("foreignObject") as SVGForeignObjectElement | null)?.getScreenCTM();
    if (!canvas || !context || !matrix) return;
    const wanted = matrix.a * (window.devicePixelRatio || 1);
    const scale = Math.min(wanted, MOST_PIXELS / Math.max(box.width, box.height));
    canvas.width = box.width * scale;
    canvas.height = box.height * scale;
    context.setTransform(scale, 0, 0, scale, -box.x * scale, -box.y * scale);
    paint(context, pieces);
  }, [pieces, box]);
  return (
    <foreignObject {...box}>
      <canvas ref={ref} style={{ width: box.width, height: box.height, display: "block" }} />
    </foreignObject>
  );
}
