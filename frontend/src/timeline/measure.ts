/** Width of a frame, of the layers' heads, and of the margin before the first frame, in pixels. */
export const CELL = 17;
export const HEAD = 250;
const MARGIN = 10;

/** The middle of a frame, from the end of the heads. */
export const xOf = (frame: number) => MARGIN + (frame - 0.5) * CELL;

/** The frame at a distance from the end of the heads. */
export const frameOf = (x: number) => Math.ceil((x - MARGIN) / CELL);
