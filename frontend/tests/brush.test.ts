import { expect, test } from "vitest";
import type { Point } from "../src/api/types";
import { brushed, covered, type Line, lineOf, ringText, sampled, stretches } from "../src/stage/brush";
import { node, stroke } from "./forms";

const flat = (weights: number[], length = 90): Line => {
  const nodes = weights.map((weight, k) => node([(length * k) / (weights.length - 1), 0], { weight }));
  return lineOf({ nodes, closed: false, bounds: [] });
};

const area = (ring: Point[]) =>
  Math.abs(
    ring.reduce((sum, [x, y], k) => {
      const [px, py] = ring.at(k - 1) as Point;
      return sum + (px * y - x * py) / 2;
    }, 0),
  );
const whole = (rings: Point[][]) => rings.reduce((sum, ring) => sum + area(ring), 0);

test("an even line covers its length times its width, and round ends", () => {
  const covered = whole(brushed(flat([1, 1]), 6, [0, 1]));
  expect(covered).toBeGreaterThan(90 * 6 + Math.PI * 9 * 0.93);
  expect(covered).toBeLessThan(90 * 6 + Math.PI * 9);
});

test("the width goes evenly from point to point", () => {
  const [ring] = brushed(flat([1, 2, 0]), 10, [0, 1]);
  const widthAt = (x: number) => {
    const ys = ring?.filter((p) => Math.abs(p[0] - x) < 1e-9).map((p) => p[1]) ?? [];
    return Math.max(...ys) - Math.min(...ys);
  };
  expect(widthAt(0.028 * 45)).toBeCloseTo(11, 6);
  expect(widthAt(45)).toBeCloseTo(20, 6);
  expect(widthAt(0.5 * 45)).toBeCloseTo(15, 6);
  expect(widthAt(1.5 * 45)).toBeCloseTo(10, 6);
});

test("only the revealed stretch is covered, measured along the line", () => {
  const middle = brushed(flat([1, 1]), 2, [0.25, 0.75])[0] ?? [];
  const xs = middle.map((p) => p[0]);
  expect(Math.abs(Math.min(...xs) - 21.5)).toBeLessThan(0.2);
  expect(Math.abs(Math.max(...xs) - 68.5)).toBeLessThan(0.2);
  const nothing = whole(brushed(flat([1, 1]), 2, [0.5, 0.5]));
  expect(nothing).toBeLessThan(Math.PI + 0.01);
});

test.each([
  ["butt", [10, 5], 0, [0, 1], 6],
  ["butt", [10, 5], 5, [0, 1], 7],
  ["round", [10, 5], 0, [0, 0.5], 3],
  ["butt", [30], 0, [0, 1], 2],
] as const)(
  "a brushed line is dashed as any other: %s %j %d %j",
  (cap, dashes, dash_offset, reveal, count) => {
    const line = flat([1, 1]);
    const rings = covered(
      line,
      stroke({ width: 2, cap, dashes: [...dashes], dash_offset, reveal: [...reveal] as [number, number] }),
    );
    expect(rings).toHaveLength(count);
    const seen = stretches({ dashes: [...dashes], dash_offset, reveal: [...reveal] as [number, number] }, 90);
    const length = seen.reduce((sum, [low, high]) => sum + 90 * (high - low), 0);
    const ends = cap === "round" ? count * Math.PI : 0;
    expect(Math.abs(whole(rings) - 2 * length - ends)).toBeLessThan(0.05 * (2 * length + ends));
  },
);

test("a ring is covered between two outlines, and from a cut on when it is revealed in part", () => {
  const corners: Point[] = [
    [0, 0],
    [60, 0],
    [60, 60],
    [0, 60],
  ];
  const nodes = corners.map((p) => node(p));
  const line = lineOf({ nodes, closed: true, bounds: [] });
  const rings = brushed(line, 4, [0, 1]);
  expect(rings).toHaveLength(2);
  const [outer, inner] = rings.map(area).sort((a, b) => b - a);
  expect(outer).toBeGreaterThan(60 * 60);
  expect(inner).toBeLessThan(60 * 60);
  const [part, ...more] = brushed(line, 4, [0, 0.5]);
  expect(more).toEqual([]);
  expect(Math.min(...(part?.map((p) => p[0]) ?? []))).toBeGreaterThan(-3);
  expect(Math.max(...(part?.map((p) => p[1]) ?? []))).toBeLessThan(63);
});

test("a lone point covers nothing and is sampled as itself", () => {
  expect(brushed({ row: [0, 0, 0, 0, 0, 0], nodes: 1, closed: false, weights: [1] }, 4, [0, 1])).toEqual([]);
  expect(sampled({ nodes: [node([3, 4])], closed: false, bounds: [] })).toEqual([[3, 4]]);
});

test("samples follow the curve from end to end", () => {
  const nodes = [node([0, 0], { after: [0, 40] }), node([100, 0], { before: [100, 40] })];
  const row = sampled({ nodes, closed: false, bounds: [] });
  expect([row[0], row.at(-1)]).toEqual([
    [0, 0],
    [100, 0],
  ]);
  const [x, y] = row[Math.floor(row.length / 2)] as Point;
  expect([x, y]).toEqual([50, 30]);
  expect(
    ringText([
      [0, 1],
      [2, 3],
    ]),
  ).toBe("M0 1L2 3Z");
});
