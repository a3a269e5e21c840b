import type { Paint, Stroke } from "../api/types";

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
