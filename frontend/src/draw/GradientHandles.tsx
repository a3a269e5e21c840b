import type { PointerEvent as ReactPointerEvent } from "react";
import type { Gradient, Operation, Point, Shape } from "../api/types";
import { follow, type Lens, toScene } from "../stage/viewport";
import type { Operate } from "./ArrangeHandles";
import { replaced } from "./gestures/hand";
import { mixed } from "./gradient";
import { useDragged } from "./sketch";
import { useStop } from "./stops";

type Props = { shape: Shape | undefined; keyId: string; lens: Lens; operate: Operate };
type Part = "fill" | "line";

const gradientIn = (shape: Shape, part: Part): Gradient | null =>
  (part === "fill" ? shape.fill : shape.stroke)?.paint.gradient ?? null;

function withGradient(shape: Shape, part: Part, gradient: Gradient): Shape {
  const name = part === "fill" ? "fill" : "stroke";
  const old = shape[name];
  return old ? { ...shape, [name]: { ...old, paint: { ...old.paint, gradient } } } : shape;
}

/** A gradient on the stage: its two ends and its stops can be dragged; a double click on its line adds a stop. */
export function GradientHandles({ shape: chosen, keyId, lens, operate }: Props) {
  const [shape] = useDragged(chosen ? [chosen] : []);
  const { part, index, set } = useStop();
  const gradient = shape && gradientIn(shape, part);
  if (!shape || !gradient) return null;
  const px = 1 / lens.scale;
  const { start, end, stops } = gradient;
  const at = (share: number): Point => [
    start[0] + share * (end[0] - start[0]),
    start[1] + share * (end[1] - start[1]),
  ];
  const operation = (to: Gradient): Operation => {
    const paint = (part === "fill" ? shape.fill : shape.stroke)?.paint;
    return {
      type: "repaint",
      key: keyId,
      shapes: [shape.id],
      [part]: { ...paint, gradient: to },
    } as Operation;
  };
  const svgOf = (event: { currentTarget: EventTarget }) =>
    (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;

  const press = (to: (point: Point) => Gradient) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    const svg = svgOf(event);
    let last: Gradient | null = null;
    follow(
      (move) => {
        last = to(toScene(lens, svg, move));
        replaced([withGradient(shape, part, last)]);
        operate.try(operation(last));
      },
      () => last && operate.done(operation(last)),
    );
  };

  const shareAt = ([x, y]: Point) => {
    const [dx, dy] = [end[0] - start[0], end[1] - start[1]];
    const share = ((x - start[0]) * dx + (y - start[1]) * dy) / (dx * dx + dy * dy || 1);
    return Math.min(1, Math.max(0, share));
  };
  const moveStop = (k: number) => (point: Point) => {
    const [low, high] = [stops[k - 1]?.at ?? 0, stops[k + 1]?.at ?? 1];
    const share = Math.min(high, Math.max(low, shareAt(point)));
    return { ...gradient, stops: stops.map((s, n) => (n === k ? { ...s, at: share } : s)) };
  };
  const shift = (p: Point | null | undefined, by: Point): Point | null =>
    p ? [p[0] + by[0], p[1] + by[1]] : null;

  return (
    <g data-testid="gradient">
      <line x1={start[0]} y1={start[1]} x2={end[0]} y2={end[1]} stroke="var(--panel)" strokeWidth={4 * px} />
      {/* biome-ignore lint/a11y/noStaticElementInteractions: stops are added by the panel's button, too */}
      <line
        x1={start[0]}
        y1={start[1]}
        x2={end[0]}
        y2={end[1]}
        stroke="var(--ink)"
        strokeWidth={1.5 * px}
        cursor="copy"
        onDoubleClick={(event) => {
          event.stopPropagation();
          const share = shareAt(toScene(lens, svgOf(event), event));
          const next = [...stops, mixed(stops, share)].sort((a, b) => a.at - b.at);
          operate.done(operation({ ...gradient, stops: next }));
        }}
      />
      <End
        at={start}
        name="start"
        px={px}
        press={press((p) =>
          gradient.kind === "radial"
            ? {
                ...gradient,
                start: p,
                end: shift(end, [p[0] - start[0], p[1] - start[1]]) as Point,
                focus: shift(gradient.focus as Point | null, [p[0] - start[0], p[1] - start[1]]),
              }
            : { ...gradient, start: p },
        )}
      />
      <End at={end} name="end" px={px} press={press((p) => ({ ...gradient, end: p }))} />
      {stops.map((stop, k) => {
        const [x, y] = at(stop.at);
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: a stop is known by its place among the stops
            key={k}
            data-stop={k}
            x={x - 5 * px}
            y={y - 5 * px}
            width={10 * px}
            height={10 * px}
            transform={`rotate(45 ${x} ${y})`}
            fill={stop.color}
            stroke={k === index ? "var(--crust)" : "var(--panel)"}
            strokeWidth={2.5 * px}
            cursor="move"
            onPointerDown={(event) => {
              set({ index: k });
              press(moveStop(k))(event);
            }}
          />
        );
      })}
    </g>
  );
}

type EndProps = { at: Point; name: string; px: number; press: (event: ReactPointerEvent) => void };

const End = ({ at, name, px, press }: EndProps) => (
  <circle
    data-gradient={name}
    cx={at[0]}
    cy={at[1]}
    r={11 * px}
    fill="transparent"
    stroke="var(--ink)"
    strokeWidth={1.5 * px}
    cursor="move"
    onPointerDown={press}
  />
);
