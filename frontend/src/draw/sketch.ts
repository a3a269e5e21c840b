import { create } from "zustand";
import { api } from "../api/client";
import type { DrawingTrial, Node, Operation, Point, Sample, Shape } from "../api/types";
import { Newest } from "../desk/newest";
import { useDesk } from "../desk/state";
import { onTakenBack } from "../stage/viewport";
import type { Matrix } from "./matrix";
import type { Catch } from "./snap";
import type { Form } from "./tools";

/** Shapes of the key at hand as they are while the hand moves: all chosen under a map, or some as other shapes. */
export type Drag = { matrix: Matrix } | { shapes: Map<string, Shape> } | null;

type State = {
  drag: Drag;
  /** Two corners: of a form that is drawn, or of a box that chooses. */
  box: { ends: [Point, Point]; form: Form | null } | null;
  lasso: Point[] | null;
  /** What the hand drew so far, how many points that takes, and whether it comes back to where it began. */
  line: { samples: Sample[]; nodes: number | null; closed: boolean } | null;
  /** Points placed so far, and where the next would go. */
  path: { nodes: Node[]; hover: Point | null } | null;
  catches: Catch[];
  trial: DrawingTrial | null;
};

const nothing: State = {
  drag: null,
  box: null,
  lasso: null,
  line: null,
  path: null,
  catches: [],
  trial: null,
};

/** What is under way on the stage and not done yet. */
export const useSketch = create<State>(() => nothing);
export const sketch = (changes: Partial<State>) => useSketch.setState(changes);
export const clearSketch = () => useSketch.setState(nothing);

onTakenBack(clearSketch);

/** Shapes as they are while the hand moves. */
export function useDragged(shapes: Shape[]): Shape[] {
  const drag = useSketch((s) => s.drag);
  return drag && "shapes" in drag ? shapes.map((s) => drag.shapes.get(s.id) ?? s) : shapes;
}

const trials = new Newest();

/** Ask what an operation would make of a key's drawing; null where it can't be done. */
export function tryDrawing(operation: Operation, key: string, seen: (trial: DrawingTrial | null) => void) {
  const doc = useDesk.getState().doc;
  if (doc) trials.ask(() => api.trial(doc.scene.id, doc.revision, operation, key), seen);
}

/** What was asked counts no more. */
export function forgetTrials() {
  trials.forget();
  sketch({ trial: null });
}
