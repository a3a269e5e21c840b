import type { Shape } from "../api/types";

const inside = (part: string | null, outer: string) =>
  outer === "" || part === outer || (part?.startsWith(`${outer}/`) ?? false);

/** The part right inside `entered` that a shape is in; null if it lies there on its own, undefined if elsewhere. */
export function partWithin(shape: Shape, entered: string): string | null | undefined {
  if (!inside(shape.part, entered)) return undefined;
  const depth = entered ? entered.split("/").length : 0;
  const levels = shape.part?.split("/") ?? [];
  return levels.length > depth ? levels.slice(0, depth + 1).join("/") : null;
}

/** What a click on a shape chooses: the shape, or all of the part it is in. */
export function unitOf(shape: Shape, shapes: Shape[], entered: string): string[] {
  const part = partWithin(shape, entered);
  return part ? shapes.filter((s) => inside(s.part, part)).map((s) => s.id) : [shape.id];
}
