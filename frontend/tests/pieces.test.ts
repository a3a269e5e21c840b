import { expect, test } from "vitest";
import type { SpanView, Track } from "../src/api/types";
import { boxOf, outlineOf, pieceOf, piecesOfSpan, piecesShown } from "../src/stage/pieces";
import { box, key, layer, node, paint, shape, stroke } from "./forms";

const row = (x: number, y: number) => [x, y, x, y, x, y];
const look = { fill: { paint: paint(), rule: "nonzero" as const }, stroke: null, opacity: 1 };
const track = (changes: Partial<Track>): Track => ({
  first: "a",
  second: "a",
  contours: [{ nodes: 2, closed: true }],
  points: [
    [...row(0, 0), ...row(9, 0)],
    [...row(5, 5), ...row(14, 5)],
    [...row(10, 10), ...row(19, 10)],
  ],
  looks: [look],
  weights: null,
  ...changes,
});
const span = (tracks: Track[], order: number[][]) => ({ key: "k1", tracks, order }) as unknown as SpanView;

test("an outline is written as curves from node to node; a closed one comes back to its first", () => {
  const nodes = [node([0, 0], { after: [1, 1] }), node([9, 0], { before: [8, 1] })];
  const open = shape("line", [], { contours: [{ nodes, closed: false, bounds: [] }] });
  expect(outlineOf(open)).toBe("M0,0C1,1 8,1 9,0");
  const ring = { ...open, contours: [{ nodes, closed: true, bounds: [] }] };
  expect(outlineOf(ring)).toBe("M0,0C1,1 8,1 9,0C9,0 0,0 0,0Z");
  expect(outlineOf(shape("empty", []))).not.toContain("C");
});

test("a shape has one piece as long as it is the same shape; its line is a brush where its width changes", () => {
  const plain = box("a", 0, 0, 10, 10, { stroke: stroke() });
  expect(pieceOf(plain)).toBe(pieceOf(plain));
  expect(pieceOf(plain).brush).toBeUndefined();
  expect(pieceOf({ ...plain })).not.toBe(pieceOf(plain));
  const nodes = plain.contours[0]?.nodes.map((n, k) => ({ ...n, weight: k ? 1 : 2 })) ?? [];
  expect(pieceOf({ ...plain, contours: [{ nodes, closed: true, bounds: [] }] }).brush).toMatch(/^M.*Z$/);
});

test("frames of a span list their pieces in that frame's order", () => {
  const pair = span(
    [track({ first: "a", second: "a" }), track({ first: "b", second: "b" })],
    [
      [0, 1],
      [1, 0],
      [1, 0],
    ],
  );
  expect([0, 1].map((k) => piecesOfSpan(pair, k).map((p) => p.id))).toEqual([
    ["a", "b"],
    ["b", "a"],
  ]);
  expect(piecesOfSpan(pair, 1)).toBe(piecesOfSpan(pair, 1));
  expect(piecesOfSpan(pair, 1)[1]?.d).toBe("M5 5C5 5 14 5 14 5C14 5 5 5 5 5Z");
});

test("of a shape that divides each piece has an id of its own, else one would stay behind on the stage", () => {
  const parts = [track({ first: "a", second: "b" }), track({ first: "a", second: "c" })];
  expect(piecesOfSpan(span(parts, [[1, 0]]), 0).map((p) => p.id)).toEqual(["a 2", "a"]);
});

test("what is not there yet has no piece, and is called after what it becomes", () => {
  const fresh = track({ first: null, second: "rings", points: [[], [...row(5, 5), ...row(14, 5)], []] });
  const pair = span([fresh], [[0], [0], [0]]);
  expect(piecesOfSpan(pair, 0)).toEqual([]);
  expect(piecesOfSpan(pair, 1).map((p) => p.id)).toEqual(["rings appears"]);
});

test("an answer that shares tracks with the last one shares their pieces", () => {
  const [same, moved] = [track({ first: "a" }), track({ first: "b" })];
  const before = span([same, moved], [[0, 1]]);
  const after = span([same, track({ first: "b" })], [[0, 1]]);
  const [first, second] = piecesOfSpan(before, 0);
  expect(piecesOfSpan(after, 0)[0]).toBe(first);
  expect(piecesOfSpan(after, 0)[1]).not.toBe(second);
});

test("a frame's own look is used where looks change, the only one where they do not", () => {
  const looks = [0, 0.5, 1].map((opacity) => ({ ...look, opacity }));
  const pair = span([track({ looks })], [[0], [0], [0]]);
  expect([0, 1, 2].map((k) => piecesOfSpan(pair, k)[0]?.opacity)).toEqual([0, 0.5, 1]);
});

test("a layer shows its key's drawing where it is held, and the in-between where there is one", () => {
  const pond = layer("tadpole", [key("k1", 1, "d1", true), key("k2", 3, "d2")]);
  const drawings = { d1: { shapes: [box("a", 0, 0)] }, d2: { shapes: [box("a", 50, 0)] } };
  const spans = { k1: span([track({})], [[0], [0], [0]]) };
  const shown = (exposure: { key: string; number: number; place: number } | null) =>
    piecesShown(pond, exposure, drawings, spans).map((p) => p.d.split("C")[0]);
  expect(shown({ key: "k1", number: 0, place: 0 })).toEqual(["M0,0"]);
  expect(shown({ key: "k1", number: 1, place: 0.5 })).toEqual(["M5 5"]);
  expect(shown({ key: "k2", number: 0, place: 0 })).toEqual(["M50,0"]);
  expect(shown(null)).toEqual([]);
  expect(piecesShown(pond, { key: "k1", number: 1, place: 0.5 }, drawings, {})).toEqual([]);
});

test("a box goes around all that is drawn, bows that go out beyond their nodes too, and there is none around nothing", () => {
  expect(boxOf([box("a", 0, 5), box("b", 40, -5, 2, 2)])).toEqual({ x: 0, y: -5, width: 42, height: 20 });
  const nodes = [node([0, 0], { after: [0, 8] }), node([10, 0], { before: [10, 8] })];
  const bow = shape("bow", [], { contours: [{ nodes, closed: false, bounds: [] }] });
  expect(boxOf([bow])).toEqual({ x: 0, y: 0, width: 10, height: 6 });
  expect(boxOf([])).toBeNull();
});
