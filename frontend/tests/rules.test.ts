import { afterEach, expect, test, vi } from "vitest";
import type { Point } from "../src/api/types";
import { scaling, turning } from "../src/draw/matrix";
import { partWithin, unitOf } from "../src/draw/parts";
import { roundOf } from "../src/review/playback";
import { follow, onTakenBack, toScene } from "../src/stage/viewport";
import { measureOf } from "../src/timeline/measure";
import { box } from "./forms";

afterEach(() => vi.unstubAllGlobals());

const mapped = ([a, b, c, d, e, f]: number[], [x, y]: Point): Point =>
  [a, b, c, d, e, f].every((v) => v !== undefined)
    ? [
        (a as number) * x + (c as number) * y + (e as number),
        (b as number) * x + (d as number) * y + (f as number),
      ]
    : [Number.NaN, Number.NaN];

test("scaling and turning leave their pivot where it is", () => {
  const pivot: Point = [30, -7];
  expect(mapped(scaling(pivot, 2, -1), pivot)).toEqual(pivot);
  expect(mapped(scaling(pivot, 2, -1), [31, -6])).toEqual([32, -8]);
  const [x, y] = mapped(turning(pivot, Math.PI / 2), [40, -7]);
  expect([x, y].map(Math.round)).toEqual([30, 3]);
});

test("a click chooses a whole part, inside it the next smaller one, and at last the shape", () => {
  const [lid, iris, nose] = [
    box("lid", 0, 0, 1, 1, { part: "head/eye" }),
    box("iris", 0, 0, 1, 1, { part: "head/eye" }),
    box("nose", 0, 0, 1, 1, { part: "head" }),
  ];
  const all = [lid, iris, nose, box("tail", 0, 0), box("header", 0, 0, 1, 1, { part: "header" })];
  expect(unitOf(lid, all, "")).toEqual(["lid", "iris", "nose"]);
  expect(unitOf(lid, all, "head")).toEqual(["lid", "iris"]);
  expect(unitOf(lid, all, "head/eye")).toEqual(["lid"]);
  expect(unitOf(nose, all, "head")).toEqual(["nose"]);
  expect(partWithin(nose, "head/eye"), "elsewhere").toBeUndefined();
  expect(partWithin(nose, "head"), "on its own there").toBeNull();
});

test("there and back shows neither end twice", () => {
  expect(roundOf(3, 6, false)).toEqual([3, 4, 5, 6]);
  expect(roundOf(3, 6, true)).toEqual([3, 4, 5, 6, 5, 4]);
  expect(roundOf(3, 4, true)).toEqual([3, 4]);
  expect(roundOf(3, 3, true)).toEqual([3]);
});

test("every frame is found where it stands on the timeline, over the whole of its width", () => {
  for (const frames of [3, 24, 60, 500]) {
    const { cell, width, xOf, frameOf } = measureOf(frames, 1280);
    for (let frame = 1; frame <= frames; frame++)
      expect([0.01 - cell / 2, 0, cell / 2].map((by) => frameOf(xOf(frame) + by))).toEqual([
        frame,
        frame,
        frame,
      ]);
    expect(xOf(frames + 1)).toBeLessThan(width);
  }
});

test("a scene's frames fill the timeline, and scroll only where they would be too narrow", () => {
  expect(measureOf(48, 1280).cell).toBeGreaterThan(measureOf(72, 1280).cell);
  expect(measureOf(48, 1280).width).toBeLessThanOrEqual(1280);
  expect(measureOf(500, 1280).cell).toBe(measureOf(400, 1280).cell);
  expect(measureOf(500, 1280).width).toBeGreaterThan(1280);
});

test("a place on the stage is a place in the scene, however it is moved and zoomed", () => {
  const element = { getBoundingClientRect: () => ({ left: 100, top: 50 }) } as unknown as Element;
  const lens = { scale: 2, left: 20, top: 10 };
  expect(toScene(lens, element, { clientX: 120, clientY: 60 })).toEqual([0, 0]);
  expect(toScene(lens, element, { clientX: 160, clientY: 40 })).toEqual([20, -10]);
});

test("a pointer is followed until it is let go, or taken away: then it is as if it had not been", () => {
  const cleared = vi.fn();
  onTakenBack(cleared);
  for (const [end, calls] of [
    ["pointerup", [1, 1, 0, 0]],
    ["pointercancel", [1, 0, 1, 1]],
  ] as const) {
    const told = [vi.fn(), vi.fn(), vi.fn()] as const;
    follow(...told);
    window.dispatchEvent(new Event("pointermove"));
    window.dispatchEvent(new Event(end));
    window.dispatchEvent(new Event("pointermove"));
    window.dispatchEvent(new Event(end));
    expect([...told, cleared].map((f) => f.mock.calls.length)).toEqual(calls);
  }
});
