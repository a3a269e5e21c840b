import { beforeAll, expect, test, vi } from "vitest";
import type { Gradient, Point } from "../src/api/types";
import { asKind, mixed } from "../src/draw/gradient";
import { groundOf, PATCH } from "../src/stage/ground";
import { css, dashesOf, gradientFrame, paint as paintOn, seenWidth } from "../src/stage/paint";
import { box, key, layer, paint, stroke } from "./forms";

const LENGTH = 100;

beforeAll(() => {
  // jsdom measures nothing: every path of these tests is 100 long
  Object.assign(SVGElement.prototype, { getTotalLength: () => LENGTH });
});

/** Where a dashed line is seen, at every half unit of its length. */
function seen({ dashes, offset }: { dashes: number[]; offset: number }): boolean[] {
  const pattern = dashes.length % 2 ? [...dashes, ...dashes] : dashes;
  const period = pattern.reduce((sum, d) => sum + d, 0);
  return Array.from({ length: 2 * LENGTH }, (_, k) => {
    let at = (((k / 2 + 0.25 + offset) % period) + period) % period;
    for (const [index, dash] of pattern.entries()) {
      if (at < dash) return index % 2 === 0;
      at -= dash;
    }
    return false;
  });
}

test("a whole line keeps its own dashes", () => {
  expect(dashesOf(stroke({ dashes: [4, 2], dash_offset: 1 }), "")).toEqual({ dashes: [4, 2], offset: 1 });
});

test("of a solid line the revealed stretch is seen, whichever end is named first", () => {
  for (const reveal of [
    [0.2, 0.7],
    [0.7, 0.2],
  ] as [number, number][]) {
    const row = seen(dashesOf(stroke({ reveal }), ""));
    expect(row).toEqual(row.map((_, k) => k >= 40 && k < 140));
  }
});

test("of a dashed line those dashes are seen that lie in the revealed stretch, where they would lie in the whole line", () => {
  for (const dashes of [
    [7, 3],
    [5, 2, 1],
    [12, 9, 3, 1],
  ])
    for (const dash_offset of [0, 4, -6])
      for (const reveal of [
        [0, 0.5],
        [0.33, 0.81],
        [0.05, 1],
      ] as [number, number][]) {
        const whole = seen({ dashes, offset: dash_offset });
        const part = seen(dashesOf(stroke({ dashes, dash_offset, reveal }), ""));
        const [from, to] = [reveal[0] * 2 * LENGTH, reveal[1] * 2 * LENGTH];
        expect(part, `${dashes} ${dash_offset} ${reveal}`).toEqual(
          whole.map((on, k) => on && k + 0.5 > from && k + 0.5 < to),
        );
      }
});

test("a line revealed in a gap of its dashes, or nowhere, is not seen", () => {
  const gap = seen(dashesOf(stroke({ dashes: [10, 40], reveal: [0.2, 0.4] }), ""));
  const nowhere = seen(dashesOf(stroke({ reveal: [0.4, 0.4] }), ""));
  expect([...gap, ...nowhere].some(Boolean)).toBe(false);
});

const radial = (start: Point, end: Point, focus: Point | null, squash = 1): Gradient => ({
  kind: "radial",
  start,
  end,
  squash,
  focus,
  stops: [],
});

test("a radial gradient's frame is turned to its end, and its focus keeps its place in it", () => {
  const { radius, fx, fy, transform } = gradientFrame(radial([10, 20], [10, 50], [10, 35], 0.5));
  expect(radius).toBe(30);
  expect([fx, fy].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([15, 0]);
  expect(transform).toBe("translate(10 20) rotate(90) scale(1 0.5)");
  const aside = gradientFrame(radial([0, 0], [30, 0], [0, 5], 0.5));
  expect([aside.fx, aside.fy]).toEqual([0, 10]);
});

test("a small picture shows a line with a radial gradient, round about its middle", () => {
  const made = { addColorStop: vi.fn() };
  const context = {
    globalAlpha: 1,
    createRadialGradient: vi.fn(() => made),
    stroke: vi.fn(),
    strokeStyle: null as unknown,
  };
  const stops = [{ at: 0.5, color: "#204060", opacity: 1, swatch: null }];
  const gradient = { ...radial([10, 20], [10, 60], null, 0.25), stops };
  const line = { ...stroke(), paint: { ...paint(), gradient } };
  const piece = { id: "a", d: "", trace: () => {}, fill: null, stroke: line, opacity: 1 };
  vi.stubGlobal("Path2D", class {});
  paintOn(context as never, [piece]);
  expect(context.createRadialGradient).toHaveBeenCalledWith(10, 20, 0, 10, 20, 20);
  expect(made.addColorStop).toHaveBeenCalledWith(0.5, "#204060ff");
  expect([context.strokeStyle, context.stroke.mock.calls.length]).toEqual([made, 1]);
  vi.unstubAllGlobals();
});

test("no line is too fine for a small picture, and what is filled keeps its own", () => {
  const [thin, broad] = [stroke({ width: 3 }), stroke({ width: 20 })];
  const fill = { paint: paint(), rule: "nonzero" } as const;
  const piece = { id: "a", d: "", opacity: 1, fill: null };
  expect(seenWidth({ ...piece, stroke: thin }, 8)).toBe(8);
  expect(seenWidth({ ...piece, stroke: broad }, 8)).toBe(20);
  expect(seenWidth({ ...piece, fill, stroke: thin }, 8)).toBe(3);
  expect(seenWidth({ ...piece, stroke: thin }, 0), "as it is on the stage").toBe(3);
});

test("a stop put between two changes nothing", () => {
  const stops = [
    { at: 0.2, color: "#000000", opacity: 1, swatch: null },
    { at: 0.6, color: "#204060", opacity: 0.5, swatch: null },
  ];
  expect(mixed(stops, 0.4)).toEqual({ at: 0.4, color: "#102030", opacity: 0.75, swatch: null });
  expect(mixed(stops, 0.1)).toMatchObject({ at: 0.1, color: "#000000", opacity: 1 });
  expect(mixed(stops, 0.9)).toMatchObject({ at: 0.9, color: "#204060", opacity: 0.5 });
});

test("a paint made a gradient lies over its shape, keeps its stops from kind to kind, and its first colour when even again", () => {
  const form = box("a", 10, 20, 40, 60);
  const linear = asKind(paint("#204060"), "linear", form);
  expect(linear.gradient).toMatchObject({ kind: "linear", start: [30, 20], end: [30, 80] });
  expect(linear.gradient?.stops[0]?.color).toBe("#204060");
  const round = asKind(linear, "radial", form);
  expect(round.gradient).toMatchObject({ kind: "radial", start: [30, 50], end: [60, 50] });
  expect(round.gradient?.stops).toEqual(linear.gradient?.stops);
  expect(asKind(round, "even", form)).toMatchObject({ color: "#204060", gradient: null });
});

test("a colour with its opacity is one colour for the canvas", () => {
  expect([css("#204060", 1), css("#204060", 0), css("#204060", 0.5)]).toEqual([
    "#204060ff",
    "#20406000",
    "#20406080",
  ]);
});

test("a layer that hardly stands out from the paper is shown on a patch by itself, most others on the paper", () => {
  const painted = (id: string, size: number, color: string) =>
    box(id, 0, 0, size, size, { fill: { paint: paint(color), rule: "nonzero" } });
  const night = "#2b2d55";
  const ground = (...shapes: ReturnType<typeof box>[]) =>
    groundOf(layer("l", [key("k", 1, "d")]), { d: { shapes } }, night);
  expect(ground(painted("reed", 40, "#1d3b2f"))).toBe(PATCH);
  expect(ground(painted("reed", 40, "#1d3b2f"), painted("glint", 4, "#ffffff"))).toBe(PATCH);
  expect(ground(painted("frog", 40, "#77ab54"), painted("pupil", 4, "#101010"))).toBe(night);
  expect(ground()).toBe(night);
});
