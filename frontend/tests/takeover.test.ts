import { expect, test } from "vitest";
import { takenOver } from "../src/desk/takeover";

const answer = () => ({
  key: "a",
  tracks: [
    { first: "one", points: [[0, 1], [], [2, 3]], looks: [{ fill: null, opacity: 1 }] },
    { first: "two", points: [[4, 5], [], [6, 7]], looks: [{ fill: null, opacity: 0.5 }] },
  ],
  hints: [] as { id: string }[],
});

test("what an answer has in common with the last one stays the very same, and the rest is the answer's", () => {
  const old = answer();
  expect(takenOver(old, answer())).toBe(old);
  const moved = answer();
  moved.tracks[1]?.points[2]?.splice(0, 1, 9);
  const found = takenOver(old, moved);
  expect(found).toEqual(moved);
  expect(found.tracks[0]).toBe(old.tracks[0]);
  expect(found.tracks[1]).not.toBe(old.tracks[1]);
  expect(found.tracks[1]?.looks).toBe(old.tracks[1]?.looks);
  expect(found.tracks[1]?.points[0]).toBe(old.tracks[1]?.points[0]);
});

test.each([
  [{ a: 1 }, { a: 1, b: undefined }],
  [
    { a: undefined, c: 1 },
    { b: undefined, c: 1 },
  ],
  [[1, 2], [1]],
  [[[1]], [[1], [2]]],
  [[], { a: 1 }],
  [{ a: [] }, { a: null }],
  [[null], [1]],
  [[1], [{}]],
])("what differs in kind or extent is new: %j, %j", (old: unknown, now: unknown) => {
  expect(takenOver(old, now)).toStrictEqual(now);
});
