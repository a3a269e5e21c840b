/** Width of the layers' heads, and of the margin before the first frame, in pixels. */
export const HEAD = 250;
/** Height of a row, and of the play bar and the ruler above the rows. */
export const [ROW, ABOVE] = [34, 67];
const MARGIN = 10;
const [NARROWEST, WIDEST, BEYOND] = [12, 36, 4];
const STEPS = [1, 2, 4, 6, 12, 24];

/** How frames lie along the timeline. */
export type Measure = {
  /** Width of a frame, in pixels. */
  cell: number;
  width: number;
  /** Every so many frames bear their number. */
  step: number;
  /** The middle of a frame, from the end of the heads. */
  xOf: (frame: number) => number;
  /** The frame at a distance from the end of the heads. */
  frameOf: (x: number) => number;
};

/** All frames and a few beyond the end fill the pane, unless they would be too narrow, or too wide, to work with. */
export function measureOf(frames: number, pane: number): Measure {
  const fitting = Math.floor((pane - HEAD - MARGIN) / (frames + BEYOND));
  const cell = Math.max(NARROWEST, Math.min(WIDEST, fitting));
  return {
    cell,
    width: MARGIN + (frames + BEYOND) * cell,
    step: STEPS.find((step) => step * cell >= 40) ?? 24,
    xOf: (frame) => MARGIN + (frame - 0.5) * cell,
    frameOf: (x) => Math.ceil((x - MARGIN) / cell),
  };
}
