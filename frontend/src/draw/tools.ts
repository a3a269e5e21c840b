import { create } from "zustand";
import type { Fill, Paint, Point, Sample, Stroke } from "../api/types";
import { evenPaint, plainStroke } from "./style";

export type Form = "ellipse" | "box" | "polygon" | "star";
export const FORMS: Form[] = ["ellipse", "box", "polygon", "star"];

/** What a dragged point can be drawn to. */
export const SNAPS = ["points", "outlines", "centres", "guides", "grid"] as const;
export type Snap = (typeof SNAPS)[number];

/** A freehand line that can still be fitted anew: its samples and the shape made of them. */
export type LastLine = { key: string; shape: string; samples: Sample[]; nodes: number; closed: boolean };

export type Skin = {
  earlier: number;
  later: number;
  /** In-betweens too, not only keys. */
  between: boolean;
  fade: number;
  filled: boolean;
};

type Settings = {
  form: Form;
  /** Corners of a polygon, tips of a star. */
  points: number;
  inner: number;
  brush: { fill: Paint | null; line: Paint | null; stroke: Stroke };
  /** What was painted before it was taken away, to be given back. */
  spare: { fill: Paint; line: Paint };
  tolerance: number;
  lastLine: LastLine | null;
  gap: number;
  letters: { text: string; size: number };
  lasso: boolean;
  snaps: Record<Snap, boolean>;
  grid: number;
  /** Where shapes turn and scale about; the middle, or the far side, while nobody has moved it. */
  pivot: Point | null;
  skin: Skin;
  style: { fill: Fill | null; stroke: Stroke | null; opacity: number } | null;
};

type Tools = Settings & { set: (changes: Partial<Settings>) => void };

const KEPT = "knead draw settings";

function kept(): Partial<Settings> {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? "{}");
  } catch {
    return {};
  }
}

const begin = evenPaint("#77ab54");
const line = evenPaint("#24351f");

/** Settings of the Draw view's tools. Those of the room, not of the work at hand, outlast the session. */
export const useTools = create<Tools>((set, get) => ({
  form: "ellipse",
  points: 5,
  inner: 0.5,
  brush: { fill: begin, line, stroke: plainStroke(line, 3) },
  spare: { fill: begin, line },
  tolerance: 2,
  lastLine: null,
  gap: 4,
  letters: { text: "Pond", size: 120 },
  lasso: false,
  snaps: { points: false, outlines: false, centres: false, guides: true, grid: false },
  grid: 20,
  pivot: null,
  skin: { earlier: 1, later: 1, between: false, fade: 0.5, filled: false },
  style: null,
  ...kept(),
  set: (changes) => {
    set(changes);
    const { snaps, grid, skin, gap } = get();
    localStorage.setItem(KEPT, JSON.stringify({ snaps, grid, skin, gap }));
  },
}));

/** The fill that new shapes get. */
export const brushFill = (): Fill | null => {
  const { fill } = useTools.getState().brush;
  return fill && { paint: fill, rule: "nonzero" };
};

/** The line that new shapes get. */
export const brushStroke = (): Stroke | null => {
  const { line, stroke } = useTools.getState().brush;
  return line && { ...stroke, paint: line };
};

/** The line of a freehand stroke, which has one always. */
export const penStroke = (): Stroke => {
  const { spare, brush } = useTools.getState();
  return { ...brush.stroke, paint: brush.line ?? spare.line };
};
