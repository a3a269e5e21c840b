import { type PointerEvent as ReactPointerEvent, type RefObject, useLayoutEffect, useState } from "react";
import type { Point, Shape } from "../api/types";
import type { Box } from "../stage/pieces";
import { follow, type Lens, toScene } from "../stage/viewport";
import type { Drag } from "./DrawStage";
import { type Matrix, matrixText, scaling, turning } from "./matrix";

type Props = {
  shapes: Shape[];
  group: RefObject<SVGGElement | null>;
  lens: Lens;
  drag: Drag;
  onDrag: (matrix: Matrix) => void;
  onDone: (matrix: Matrix) => void;
};

const PLACES = [
  [0, 0],
  [0.5, 0],
  [1, 0],
  [1, 0.5],
  [1, 1],
  [0.5, 1],
  [0, 1],
  [0, 0.5],
] as const;

/** The drawn box around shapes, as the browser measures it. */
export function drawnBox(group: SVGGElement | null, ids: string[]): Box | null {
  const boxes = [...(group?.querySelectorAll<SVGPathElement>("[data-shape]") ?? [])]
    .filter((path) => ids.includes(path.dataset.shape ?? ""))
    .map((path) => path.getBBox());
  if (!boxes.length) return null;
  const x = Math.min(...boxes.map((b) => b.x));
  const y = Math.min(...boxes.map((b) => b.y));
  return {
    x,
    y,
    width: Math.max(...boxes.map((b) => b.x + b.width)) - x,
    height: Math.max(...boxes.map((b) => b.y + b.height)) - y,
  };
}

/** The box around the chosen shapes: eight knobs scale, the round one over it turns (Shift: in steps, or evenly). */
export function ArrangeHandles({ shapes, group, lens, drag, onDrag, onDone }: Props) {
  const [box, setBox] = useState<Box | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew when the shapes change
  useLayoutEffect(
    () =>
      setBox(
        drawnBox(
          group.current,
          shapes.map((s) => s.id),
        ),
      ),
    [shapes.map((s) => s.id).join(), JSON.stringify(shapes), group],
  );
  if (!box) return null;
  const px = 1 / lens.scale;
  // a small box has no room for the knobs in the middle of its sides
  const places = PLACES.filter(
    ([u, v]) => (u !== 0.5 || box.width > 30 * px) && (v !== 0.5 || box.height > 30 * px),
  );

  const start = (event: ReactPointerEvent, matrixAt: (point: Point, shift: boolean) => Matrix) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    let matrix: Matrix | null = null;
    follow(
      (move) => {
        matrix = matrixAt(toScene(lens, svg, move), move.shiftKey);
        onDrag(matrix);
      },
      () => matrix && onDone(matrix),
    );
  };

  const scale = (u: number, v: number) => (event: ReactPointerEvent) => {
    const pivot: Point = [box.x + (1 - u) * box.width, box.y + (1 - v) * box.height];
    const knob: Point = [box.x + u * box.width, box.y + v * box.height];
    start(event, ([x, y], shift) => {
      const keep = (s: number) => (Math.abs(s) < 0.01 ? 0.01 : s);
      let sx = u === 0.5 ? 1 : keep((x - pivot[0]) / (knob[0] - pivot[0] || 1));
      let sy = v === 0.5 ? 1 : keep((y - pivot[1]) / (knob[1] - pivot[1] || 1));
      if (shift && u !== 0.5 && v !== 0.5) sx = sy = Math.max(sx, sy);
      return scaling(pivot, sx, sy);
    });
  };

  const turn = (event: ReactPointerEvent) => {
    const pivot: Point = [box.x + box.width / 2, box.y + box.height / 2];
    start(event, ([x, y], shift) => {
      const angle = Math.atan2(y - pivot[1], x - pivot[0]) + Math.PI / 2;
      const step = Math.PI / 12;
      return turning(pivot, shift ? Math.round(angle / step) * step : angle);
    });
  };

  const line = { fill: "none", stroke: "var(--rye)", strokeWidth: 1.25 * px };
  const knobs = { fill: "var(--panel)", stroke: "var(--rye)", strokeWidth: 1.5 * px };
  return (
    <g transform={drag && "matrix" in drag ? matrixText(drag.matrix) : undefined} data-testid="arrange-box">
      <rect x={box.x} y={box.y} width={box.width} height={box.height} {...line} pointerEvents="none" />
      <line x1={box.x + box.width / 2} x2={box.x + box.width / 2} y1={box.y} y2={box.y - 22 * px} {...line} />
      <circle
        cx={box.x + box.width / 2}
        cy={box.y - 22 * px}
        r={6 * px}
        {...knobs}
        cursor="grab"
        data-knob="turn"
        onPointerDown={turn}
      />
      {places.map(([u, v]) => (
        <rect
          key={`${u} ${v}`}
          data-knob={`${u} ${v}`}
          x={box.x + u * box.width - 4.5 * px}
          y={box.y + v * box.height - 4.5 * px}
          width={9 * px}
          height={9 * px}
          rx={2 * px}
          {...knobs}
          cursor="pointer"
          onPointerDown={scale(u, v)}
        />
      ))}
    </g>
  );
}
