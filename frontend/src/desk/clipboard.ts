import type { Shape } from "../api/types";

const NAME = "copied";
let here: Shape[] = [];

/** What was copied, in any tab of this browser. What is too much for its memory stays in this tab. */
export const clipboard = {
  put(shapes: Shape[]) {
    here = shapes;
    localStorage.removeItem(NAME);
    try {
      localStorage.setItem(NAME, JSON.stringify(shapes));
    } catch {
      // too much: `here` has it
    }
  },
  get(): Shape[] {
    const text = localStorage.getItem(NAME);
    return text ? (JSON.parse(text) as Shape[]) : here;
  },
};
