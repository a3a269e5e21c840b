import type { Fill, Stroke } from "../api/types";

const even = (color: string, opacity = 1) => ({ color, opacity, gradient: null });

export const evenFill = (color: string): Fill => ({ paint: even(color), rule: "nonzero" });

export const evenStroke = (color: string, width: number): Stroke => ({
  paint: even(color),
  width,
  cap: "round",
  join: "round",
  miter_limit: 4,
  dashes: [],
  dash_offset: 0,
  reveal: [0, 1],
});

/** The same with another colour, everything else left as it is. */
export const recolored = <T extends Fill | Stroke>(part: T, color: string): T => ({
  ...part,
  paint: even(color, part.paint.opacity),
});
