import { beforeEach, expect, test } from "vitest";
import type { Point } from "../src/api/types";
import { snapperFor } from "../src/draw/snap";
import { type Snap, useTools } from "../src/draw/tools";
import { box, scene } from "./forms";

const drawing = { shapes: [box("stone", 100, 100, 40, 20), box("fish", 300, 300, 40, 20)] };
const pond = scene([], {
  guides: [
    { way: "upright", at: 500 },
    { way: "level", at: 50 },
  ],
});

const none = { points: false, outlines: false, centres: false, guides: false, grid: false };
const snapping = (...kinds: Snap[]) =>
  useTools
    .getState()
    .set({ snaps: { ...none, ...Object.fromEntries(kinds.map((k) => [k, true])) }, grid: 20 });
const at = (point: Point, free = false) => snapperFor(drawing, pond, 1).point(point, free);

beforeEach(() => snapping());

test("each kind catches what it is called after, and only while it is on", () => {
  const cases: [Snap, Point, Point][] = [
    ["points", [103, 98], [100, 100]],
    ["outlines", [120, 103], [120, 100]],
    ["centres", [122, 111], [120, 110]],
    ["guides", [497, 52], [500, 50]],
    ["grid", [244, 263], [240, 260]],
  ];
  for (const [kind, near, place] of cases) {
    snapping();
    expect(at(near), `${kind} off`).toEqual({ point: near, catches: [] });
    snapping(kind);
    expect(at(near).point, kind).toEqual(place);
    expect(at(near).catches.map((c) => c.kind)).toEqual(Array(at(near).catches.length).fill(kind));
    expect(at(near, true), "Alt held").toEqual({ point: near, catches: [] });
  }
});

test("the middle of the paper is a centre, upright and level on its own", () => {
  snapping("centres");
  expect(at([483, 400]).point).toEqual([480, 400]);
  expect(at([600, 268]).point).toEqual([600, 270]);
});

test("a point goes before the outline it stands on, and a guide before the grid", () => {
  snapping("points", "outlines");
  expect(at([104, 101]).catches[0]?.kind).toBe("points");
  expect(at([115, 101]).catches[0]?.kind).toBe("outlines");
  snapping("guides", "grid");
  expect(at([503, 271]).catches.map((c) => c.kind)).toEqual(["guides"]);
  expect(at([503, 278]).point).toEqual([500, 280]);
});

test("the closer one looks, the nearer a thing must be", () => {
  snapping("points");
  expect(snapperFor(drawing, pond, 4).point([103, 100], false).catches).toEqual([]);
  expect(snapperFor(drawing, pond, 0.5).point([110, 100], false).point).toEqual([100, 100]);
});

test("what moves is not drawn to itself", () => {
  snapping("points", "outlines", "centres");
  const snapper = snapperFor(drawing, pond, 1, (shape) => shape === "stone");
  expect(snapper.point([101, 101], false).catches).toEqual([]);
  expect(snapper.point([301, 301], false).point).toEqual([300, 300]);
  const [corner] = drawing.shapes[0]?.contours[0]?.nodes ?? [];
  const one = snapperFor(drawing, pond, 1, (_, node) => node === corner?.id);
  expect(one.point([101, 101], false).catches, "the outline bends with its point").toEqual([]);
  expect(one.point([139, 101], false).point, "its other points stay").toEqual([140, 100]);
});

test("of several points that move together, the one with the least way to go snaps, and takes the others along", () => {
  snapping("points");
  const snapper = snapperFor(drawing, pond, 1);
  const anchors: Point[] = [
    [0, 0],
    [41, 0],
  ];
  const { by, catches } = snapper.move(anchors, [97, 95], false);
  expect(by).toEqual([99, 100]);
  expect(catches).toEqual([{ kind: "points", at: [140, 100] }]);
  expect(snapper.move(anchors, [97, 95], true)).toEqual({ by: [97, 95], catches: [] });
});

test("in a large key every outline catches, wherever it bends", () => {
  snapping("outlines");
  const large = {
    shapes: Array.from({ length: 400 }, (_, k) =>
      box(`b${k}`, 60 * (k % 20), 60 * Math.floor(k / 20), 40, 20),
    ),
  };
  const snapper = snapperFor(large, pond, 1);
  for (const k of [0, 19, 210, 399]) {
    const [x, y] = [60 * (k % 20), 60 * Math.floor(k / 20)];
    const [{ point }, nothing] = [
      snapper.point([x + 13, y + 23], false),
      snapper.point([x + 50, y + 40], false),
    ];
    expect(point[0]).toBeCloseTo(x + 13);
    expect(point[1], `below box ${k}`).toBeCloseTo(y + 20);
    expect(nothing.catches, `between boxes ${k}`).toEqual([]);
  }
});
