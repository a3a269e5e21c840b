import { useLayoutEffect, useMemo, useRef } from "react";
import type { Shape } from "../api/types";
import { Pieces } from "../stage/Pieces";
import { paint } from "../stage/paint";
import { type Box, boxOf, type Piece, pieceOf } from "../stage/pieces";
import { matrixText } from "./matrix";
import { useSketch } from "./sketch";

/** From so many on, moving pieces one by one is slower than moving a picture of them. */
const MANY = 40;
const MOST_PIXELS = 6000;

type Run = { moves: boolean; pieces: Piece[] };

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

/** Pieces next to each other that move together, or stay together. */
function runsOf(pieces: Piece[], moving: Set<string>): Run[] {
  const runs: Run[] = [];
  for (const piece of pieces) {
    const moves = moving.has(piece.id);
    const last = runs.at(-1);
    if (last?.moves === moves) last.pieces.push(piece);
    else runs.push({ moves, pieces: [piece] });
  }
  return runs;
}

type Props = { pieces: Piece[]; shapes: Shape[]; chosen: string[] };

/**
 * The drawing that is worked on. While some of it is dragged, only those pieces are drawn anew: all others stay as
 * they are.
 */
export function StagePieces({ pieces, shapes, chosen }: Props) {
  const dragged = useSketch(({ drag }) => {
    if (!drag) return null;
    return "matrix" in drag ? "chosen" : [...drag.shapes.keys()].join();
  });
  const runs = useMemo(() => {
    if (dragged === null) return null;
    return runsOf(pieces, new Set(dragged === "chosen" ? chosen : dragged.split(",")));
  }, [pieces, chosen, dragged]);
  if (!runs) return <Pieces pieces={pieces} />;
  return runs.map((run) =>
    run.moves ? (
      <MovingRun key={run.pieces[0]?.id} pieces={run.pieces} shapes={shapes} />
    ) : (
      <g key={run.pieces[0]?.id} pointerEvents="none">
        <Pieces pieces={run.pieces} />
      </g>
    ),
  );
}

function MovingRun({ pieces, shapes }: { pieces: Piece[]; shapes: Shape[] }) {
  const box = useMemo(() => {
    const ids = new Set(pieces.map((piece) => piece.id));
    return roomFor(shapes.filter((shape) => ids.has(shape.id)));
  }, [pieces, shapes]);
  const drag = useSketch((s) => s.drag);
  const shown = useMemo(() => {
    if (!drag || !("shapes" in drag)) return pieces;
    return pieces.map((piece) => {
      const shape = drag.shapes.get(piece.id);
      return shape ? pieceOf(shape) : piece;
    });
  }, [pieces, drag]);
  const picture = drag !== null && "matrix" in drag && pieces.length > MANY;
  return (
    <g pointerEvents="none" transform={drag && "matrix" in drag ? matrixText(drag.matrix) : undefined}>
      {picture && box ? <RunPicture pieces={pieces} box={box} /> : <Pieces pieces={shown} />}
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
