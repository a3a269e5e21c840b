import type { PointerEvent as ReactPointerEvent } from "react";
import type { Operation, PairView, Point } from "../api/types";
import { useDesk } from "../desk/state";
import { follow, type Lens } from "../stage/viewport";

type Path = [Point, Point];

const plus = (a: Point, b: Point): Point => [a[0] + b[0], a[1] + b[1]];

/** The drawn path of the chosen pair, from middle to middle, with a handle at either end to bend it. */
export function PathHandles({ spanKey, pair, lens }: { spanKey: string; pair: PairView; lens: Lens }) {
  const { edit, tryOut } = useDesk.getState();
  const path = pair.travel.path as Path | null;
  if (!path) return null;
  const px = 1 / lens.scale;
  const [start, end] = pair.middles as [Point, Point];
  const knobs: Path = [plus(start, path[0]), plus(end, path[1])];
  const drag = (which: 0 | 1) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    let operation: Operation | null = null;
    follow(
      (move) => {
        const by: Point = [(move.clientX - event.clientX) * px, (move.clientY - event.clientY) * px];
        const bent: Path = which === 0 ? [plus(path[0], by), path[1]] : [path[0], plus(path[1], by)];
        operation = {
          type: "set_travel",
          key: spanKey,
          first: pair.first,
          second: pair.second,
          path: bent,
        } as Operation;
        tryOut(operation, spanKey);
      },
      () => operation && void edit(operation),
    );
  };
  return (
    <g data-testid="travel-path">
      <path
        d={`M${start}C${knobs[0]} ${knobs[1]} ${end}`}
        fill="none"
        stroke="var(--rye)"
        strokeWidth={2 * px}
        pointerEvents="none"
      />
      {([0, 1] as const).map((which) => {
        const from = which === 0 ? start : end;
        return (
          <g key={which}>
            <line
              x1={from[0]}
              y1={from[1]}
              x2={knobs[which][0]}
              y2={knobs[which][1]}
              stroke="var(--rye)"
              strokeWidth={1.2 * px}
              strokeDasharray={`${4 * px} ${3 * px}`}
            />
            <circle
              data-path-knob={which}
              cx={knobs[which][0]}
              cy={knobs[which][1]}
              r={7 * px}
              fill="var(--panel)"
              stroke="var(--rye)"
              strokeWidth={2 * px}
              cursor="move"
              onPointerDown={drag(which)}
            />
          </g>
        );
      })}
    </g>
  );
}
