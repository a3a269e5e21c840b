import type { Point } from "../api/types";

/** An affine map as SVG writes it: x' = a x + c y + e, y' = b x + d y + f. */
export type Matrix = [number, number, number, number, number, number];

export const matrixText = (m: Matrix) => `matrix(${m.join(" ")})`;

/** Scale about a point. */
export const scaling = ([x, y]: Point, sx: number, sy: number): Matrix => [
  sx,
  0,
  0,
  sy,
  x * (1 - sx),
  y * (1 - sy),
];

/** Turn about a point, by radians. */
export const turning = ([x, y]: Point, angle: number): Matrix => {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [c, s, -s, c, x - c * x + s * y, y - s * x - c * y];
};
