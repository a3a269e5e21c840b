import {
  type PointerEvent as ReactPointerEvent,
  type RefObject,
  useEffect,
  useLayoutEffect,
  useState,
} from "react";
import type { Operation, Point, Shape } from "../api/types";
import { useScene } from "../desk/state";
import { Label } from "../stage/Label";
import type { Box } from "../stage/pieces";
import { follow, type Lens, toScene } from "../stage/viewport";
import { drawnBox } from "./gestures/choose";
import { type Matrix, matrixText, scaling, turning } from "./matrix";
import { sketch, useSketch } from "./sketch";
import { snapperFor } from "./snap";
import { useTools } from "./tools";

export type Operate = { try: (operation: Operation) => void; done: (operation: Operation) => void };

type Props = {
  shapes: Shape[];
  keyId: string;
  group: RefObject<SVGGElement | null>;
  lens: Lens;
  operate: Operate;
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

/**
 * The box around the chosen shapes: eight knobs scale, the round one over it turns (Shift: evenly, or in steps;
 * Ctrl: about the middle). The ringed cross is what they turn and scale about; it can be moved.
 */
export function ArrangeHandles({ shapes, keyId, group, lens, operate }: Props) {
  const scene = useScene();
  const drag = useSketch((s) => s.drag);
  const { pivot, set } = useTools();
  const [box, setBox] = useState<Box | null>(null);
  const [words, setWords] = useState("");
  const ids = shapes.map((s) => s.id);
  const chosen = ids.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew when the shapes change
  useLayoutEffect(() => setBox(drawnBox(group.current?.parentElement ?? null, ids)), [shapes, group]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: other shapes begin with no pivot of their own
  useEffect(() => set({ pivot: null }), [chosen]);
  if (!box) return null;
  const px = 1 / lens.scale;
  const centre: Point = pivot ?? [box.x + box.width / 2, box.y + box.height / 2];
  // a small box has no room for the knobs in the middle of its sides
  const places = PLACES.filter(
    ([u, v]) => (u !== 0.5 || box.width > 30 * px) && (v !== 0.5 || box.height > 30 * px),
  );

  type At = (point: Point, event: PointerEvent) => { matrix: Matrix; words: string };
  const start = (event: ReactPointerEvent, at: At) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    let matrix: Matrix | null = null;
    const operation = (m: Matrix): Operation => ({
      type: "transform_shapes",
      key: keyId,
      shapes: ids,
      matrix: m,
    });
    follow(
      (move) => {
        const found = at(toScene(lens, svg, move), move);
        matrix = found.matrix;
        setWords(found.words);
        sketch({ drag: { matrix } });
        operate.try(operation(matrix));
      },
      () => {
        setWords("");
        if (matrix) operate.done(operation(matrix));
      },
      () => setWords(""),
    );
  };

  const scale = (u: number, v: number) => (event: ReactPointerEvent) => {
    const knob: Point = [box.x + u * box.width, box.y + v * box.height];
    const opposite: Point = [box.x + (1 - u) * box.width, box.y + (1 - v) * box.height];
    start(event, ([x, y], move) => {
      const about = pivot ?? (move.ctrlKey || move.metaKey ? centre : opposite);
      const keep = (s: number) => (Math.abs(s) < 0.01 ? 0.01 : s);
      let sx = u === 0.5 ? 1 : keep((x - about[0]) / (knob[0] - about[0] || 1));
      let sy = v === 0.5 ? 1 : keep((y - about[1]) / (knob[1] - about[1] || 1));
      if (move.shiftKey && u !== 0.5 && v !== 0.5) sx = sy = Math.max(sx, sy);
      const size = [sx * box.width, sy * box.height].map((n) => Math.round(Math.abs(n)));
      return {
        matrix: scaling(about, sx, sy),
        words: `${size.join(" × ")} · ${Math.round(sx * 100)} % ${Math.round(sy * 100)} %`,
      };
    });
  };

  const turn = (event: ReactPointerEvent) => {
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    const [x0, y0] = toScene(lens, svg, event);
    const first = Math.atan2(y0 - centre[1], x0 - centre[0]);
    start(event, ([x, y], move) => {
      const step = Math.PI / 12;
      let angle = Math.atan2(y - centre[1], x - centre[0]) - first;
      if (move.shiftKey) angle = Math.round(angle / step) * step;
      const degrees = ((((angle * 180) / Math.PI + 180) % 360) + 360) % 360;
      return { matrix: turning(centre, angle), words: `${Math.round(degrees - 180)}°` };
    });
  };

  const movePivot = (event: ReactPointerEvent) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    const snapper = snapperFor({ shapes }, scene, lens.scale);
    follow(
      (move) => {
        const { point, catches } = snapper.point(toScene(lens, svg, move), move.altKey);
        set({ pivot: point });
        sketch({ catches });
      },
      () => sketch({ catches: [] }),
      () => set({ pivot }),
    );
  };

  const line = { fill: "none", stroke: "var(--rye)", strokeWidth: 1.25 * px };
  const knobs = { fill: "var(--panel)", stroke: "var(--rye)", strokeWidth: 1.5 * px };
  const top: Point = [box.x + box.width / 2, box.y - 22 * px];
  const shift = drag && "matrix" in drag ? drag.matrix.slice(4) : [];
  const moved = shift.map((n) => `${n < 0 ? "−" : "+"}${Math.abs(Math.round(n))}`).join(" ");
  return (
    <>
      <g transform={drag && "matrix" in drag ? matrixText(drag.matrix) : undefined} data-testid="arrange-box">
        <rect x={box.x} y={box.y} width={box.width} height={box.height} {...line} pointerEvents="none" />
        <line x1={top[0]} x2={top[0]} y1={box.y} y2={top[1]} {...line} />
        <circle
          cx={top[0]}
          cy={top[1]}
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
      {(pivot || (box.width > 60 * px && box.height > 60 * px)) && (
        // biome-ignore lint/a11y/noStaticElementInteractions: a handle for the pointer; turning about a middle needs none
        <g
          data-knob="pivot"
          cursor="move"
          onPointerDown={movePivot}
          onDoubleClick={() => set({ pivot: null })}
          opacity={pivot ? 1 : 0.55}
        >
          <circle
            cx={centre[0]}
            cy={centre[1]}
            r={6 * px}
            fill="var(--panel)"
            fillOpacity={0.5}
            stroke="var(--rye)"
            strokeWidth={1.25 * px}
          />
          <path
            d={`M${centre[0] - 9 * px} ${centre[1]}h${18 * px}M${centre[0]} ${centre[1] - 9 * px}v${18 * px}`}
            stroke="var(--rye)"
            strokeWidth={1.25 * px}
          />
        </g>
      )}
      {(words || moved) && (
        <g data-testid="arrange-words" transform={words ? undefined : `translate(${shift.join(" ")})`}>
          <Label at={[box.x + box.width + 8 * px, box.y + box.height + 16 * px]} px={px}>
            {words || moved}
          </Label>
        </g>
      )}
    </>
  );
}
