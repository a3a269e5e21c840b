import type { PointerEvent as ReactPointerEvent } from "react";
import type { Drawing, Operation, Point, Scene, Shape } from "../../api/types";
import { useDesk } from "../../desk/state";
import { follow, type Lens, toScene } from "../../stage/viewport";
import { clearSketch, sketch } from "../sketch";
import { type Snapper, snapperFor } from "../snap";

/** A press on the stage, and what a gesture that begins with it needs. */
export type Hand = {
  key: string;
  /** The key the span at hand begins with, whose in-betweens are tried out. */
  span: string | null;
  drawing: Drawing;
  scene: Scene;
  point: Point;
  event: ReactPointerEvent;
  svg: Element;
  lens: Lens;
};

export const snapFor = (hand: Hand, moving?: (shape: string, node: string) => boolean): Snapper =>
  snapperFor(hand.drawing, hand.scene, hand.lens.scale, moving);

export const far = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** Follow the pointer in scene units. `moved` begins once it has left its place. */
export function drag(
  hand: Hand,
  moved: (point: Point, event: PointerEvent) => void,
  done: (moved: boolean, event: PointerEvent) => void,
  takenBack?: () => void,
) {
  let under = false;
  follow(
    (event) => {
      const away = Math.hypot(event.clientX - hand.event.clientX, event.clientY - hand.event.clientY);
      if (!under && away < 3) return;
      under = true;
      moved(toScene(hand.lens, hand.svg, event), event);
    },
    (event) => done(under, event),
    takenBack,
  );
}

/** Try an operation out on the span at hand: its cards follow. */
export function tryOnSpan(hand: Pick<Hand, "span">, operation: Operation) {
  if (hand.span) useDesk.getState().tryOut(operation, hand.span);
}

/** Do it, and clear what was sketched once it is there. */
export async function commit(operation: Operation) {
  const done = await useDesk.getState().edit(operation);
  clearSketch();
  return done;
}

export const shapeUnder = (target: EventTarget): string | undefined =>
  (target as Element).closest<SVGElement>("[data-at-hand] [data-shape]")?.dataset.shape;

export const layerUnder = (target: EventTarget): string | undefined =>
  (target as Element).closest<SVGElement>("[data-layer-shown]")?.dataset.layerShown;

/** The node triples of shapes with other places, as an edit and as shapes to show meanwhile. */
export function replaced(shapes: Shape[]) {
  sketch({ drag: { shapes: new Map(shapes.map((shape) => [shape.id, shape])) } });
}
