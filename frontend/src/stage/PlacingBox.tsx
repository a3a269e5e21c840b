import { type PointerEvent as ReactPointerEvent, useState } from "react";
import type { Point } from "../api/types";
import { Label } from "./Label";
import { follow, type Lens, toScene } from "./viewport";

/** Where something lies that is placed as a whole: its middle, its size and its turn in degrees. */
export type Placed = { at: Point; scale: number; turn: number };

type Props = {
  name: string;
  placed: Placed;
  /** Its width and height at scale 1. */
  size: readonly [number, number];
  lens: Lens;
  /** Shows it elsewhere while it is dragged. */
  show: (placed: Placed) => void;
  keep: (changes: Partial<Placed>) => Promise<unknown>;
};

/** A box around what is placed: drag it to move that, a corner to scale it, the round knob to turn it. */
export function PlacingBox({ name, placed, size, lens, show, keep }: Props) {
  const [draft, setDraft] = useState<Partial<Placed> | null>(null);
  const px = 1 / lens.scale;
  const { at, scale, turn } = { ...placed, ...draft };
  const [w, h] = [size[0] * scale, size[1] * scale];
  const [x, y] = at;

  const start = (event: ReactPointerEvent, change: (point: Point, move: PointerEvent) => Partial<Placed>) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    let last: Partial<Placed> | null = null;
    follow(
      (move) => {
        last = change(toScene(lens, svg, move), move);
        setDraft(last);
        show({ ...placed, ...last });
      },
      async () => {
        if (last) await keep(last);
        setDraft(null);
      },
      () => {
        setDraft(null);
        show(placed);
      },
    );
  };

  const move = (event: ReactPointerEvent) => {
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    const [x0, y0] = toScene(lens, svg, event);
    start(event, (p) => ({ at: [placed.at[0] + p[0] - x0, placed.at[1] + p[1] - y0] }));
  };
  const corner = (event: ReactPointerEvent) =>
    start(event, (p) => {
      const reach = Math.hypot(...size) / 2;
      return { scale: Math.max(0.01, Math.hypot(p[0] - x, p[1] - y) / reach) };
    });
  const swing = (event: ReactPointerEvent) =>
    start(event, (p, m) => {
      const angle = (Math.atan2(p[1] - y, p[0] - x) * 180) / Math.PI + 90;
      return { turn: m.shiftKey ? Math.round(angle / 15) * 15 : angle };
    });

  const line = { fill: "none", stroke: "var(--rye)", strokeWidth: 1.25 * px };
  const knobs = { fill: "var(--panel)", stroke: "var(--rye)", strokeWidth: 1.5 * px };
  return (
    <g transform={`translate(${x} ${y}) rotate(${turn})`} data-testid={name}>
      <rect
        x={-w / 2}
        y={-h / 2}
        width={w}
        height={h}
        {...line}
        fill="transparent"
        strokeDasharray={`${6 * px} ${4 * px}`}
        cursor="move"
        onPointerDown={move}
      />
      <line x1={0} x2={0} y1={-h / 2} y2={-h / 2 + 22 * px} {...line} />
      <circle cx={0} cy={-h / 2 + 22 * px} r={6 * px} {...knobs} cursor="grab" onPointerDown={swing} />
      {[-0.5, 0.5].flatMap((u) =>
        [-0.5, 0.5].map((v) => (
          <rect
            key={`${u} ${v}`}
            x={u * w - 5 * px}
            y={v * h - 5 * px}
            width={10 * px}
            height={10 * px}
            rx={2 * px}
            {...knobs}
            cursor="nwse-resize"
            onPointerDown={corner}
          />
        )),
      )}
      {draft && (
        <Label at={[-w / 2, h / 2 + 16 * px]} px={px}>
          {`${Math.round(w)} × ${Math.round(h)} · ${Math.round(turn)}°`}
        </Label>
      )}
    </g>
  );
}
