import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { Cycle, Operation } from "../src/api/types";
import { CycleSection } from "../src/cycle/CycleSection";
import { placeText, sourceOf } from "../src/cycle/place";
import { StatusLine } from "../src/desk/StatusLine";
import { useDesk } from "../src/desk/state";
import { playedAt } from "../src/timeline/exposure";
import { key, layer, scene, until, view } from "./forms";

const desk = () => useDesk.getState();
const user = userEvent.setup();
let sent: Operation[] = [];

const cycle: Cycle = {
  layer: "reeds",
  start: 3,
  stretch: 2,
  pivot: [10, 20],
  scale: 0.5,
  turn: 30,
  move: [4, -4],
};
const keys = [key("k1", 1, "d1", true), key("k2", 5, "d2")];
const reeds = layer("reeds", keys, { repeat: "there and back" });
const again = layer("reeds 2", [], { cycle });
const pond = scene([reeds, again]);
const drawings = { d1: { shapes: [] }, d2: { shapes: [] } };

/** The layer at hand at a frame, where its key k1 is played again so many frames on. */
async function atFrame(frame: number, number: number) {
  const shown = view(pond, drawings);
  for (const row of Object.values(shown.sheet)) row[frame - 1] = { key: "k1", number, place: number / 4 };
  vi.spyOn(api, "open").mockResolvedValue(shown);
  await desk().open("pond");
  desk().set({ frame, layer: "reeds", view: "time" });
}

beforeEach(() => {
  sent = [];
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(pond, {});
  });
});

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

test("a cycle says whose keys it plays, and is timed, placed and cut loose by its numbers", async () => {
  await atFrame(1, 0);
  render(<CycleSection layer={again} cycle={cycle} />);
  expect(screen.getByText("“reeds 2” plays “reeds”")).toBeTruthy();
  for (const [label, text] of [
    ["Starts at", "-6"],
    ["Size %", "80"],
    ["Down by", "9"],
  ] as const) {
    await user.clear(screen.getByLabelText(label));
    await user.type(screen.getByLabelText(label), `${text}{Enter}`);
  }
  await user.click(screen.getByText("Cut loose"));
  const own = { type: "set_cycle", layer: "reeds 2" };
  await until(() =>
    expect(sent).toEqual([
      { ...own, start: -6 },
      { ...own, scale: 0.8 },
      { ...own, move: [4, 9] },
      { type: "cut_loose", layer: "reeds 2" },
    ]),
  );
});

test("a cycle is scaled and turned about its pivot, and then moved", () => {
  expect(placeText(cycle)).toBe("translate(14 16) rotate(30) scale(0.5) translate(-10 -20)");
  expect([sourceOf(pond, again), sourceOf(pond, reeds)]).toEqual([reeds, reeds]);
});

test("what is played again is told from what is held, and an edit of it says where it counts", async () => {
  const exposure = { key: "k1", number: 2, place: 0.5 };
  expect(playedAt(reeds, exposure, 7)).toBe(3);
  expect(playedAt(reeds, exposure, 3)).toBe(3);
  expect(playedAt({ ...reeds, repeat: "once" }, exposure, 7)).toBe(7);
  await atFrame(7, 2);
  const { rerender } = render(<StatusLine />);
  expect(screen.getByRole("status").textContent).toBe(
    "Frame 3 on reeds, played again at 7. X makes a key here",
  );
  await atFrame(9, 0);
  rerender(<StatusLine />);
  expect(screen.getByRole("status").textContent).toMatch(
    /^Frame 1 on reeds, played again at 9: an edit changes/,
  );
});
