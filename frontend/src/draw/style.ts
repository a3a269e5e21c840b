import type { Operation, Paint, Stroke } from "../api/types";

/** What one change of paint says; each shape keeps the rest of its own. */
export type Change = Partial<Omit<Extract<Operation, { type: "repaint" }>, "type" | "key" | "shapes">>;

export const evenPaint = (color: string, opacity = 1): Paint => ({
  color,
  opacity,
  gradient: null,
  swatch: null,
});

export const plainStroke = (paint: Paint, width: number): Stroke => ({
  paint,
  width,
  cap: "round",
  join: "round",
  miter_limit: 4,
  dashes: [],
  dash_offset: 0,
  reveal: [0, 1],
});
