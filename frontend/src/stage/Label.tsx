import type { Point } from "../api/types";

/** Words on the stage, as large at any zoom, on a rim that keeps them readable. */
export function Label({ at, px, children }: { at: Point; px: number; children: string }) {
  return (
    <text
      x={at[0]}
      y={at[1]}
      fontSize={12 * px}
      fill="var(--ink)"
      stroke="var(--panel)"
      strokeWidth={3.5 * px}
      paintOrder="stroke"
    >
      {children}
    </text>
  );
}
