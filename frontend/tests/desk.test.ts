import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api, Problem, Unreachable } from "../src/api/client";
import type { Operation, SceneView, SpanView } from "../src/api/types";
import { atHand, useDesk } from "../src/desk/state";
import { box, key, layer, scene, until, view } from "./forms";

const RENAME: Operation = { type: "set_scene", name: "Pond" } as Operation;
const pond = () => scene([layer("tadpole", [key("k1", 1, "d1", true), key("k2", 13, "d2")])]);
const drawings = {
  d1: { shapes: [box("body", 0, 0), box("eye", 2, 2)] },
  d2: { shapes: [box("body", 50, 0)] },
};
const desk = () => useDesk.getState();

beforeEach(async () => {
  vi.spyOn(api, "open").mockResolvedValue(view(pond(), drawings, 7));
  await desk().open("pond");
});

afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

test("edits wait for each other, each on the revision that the one before it made", async () => {
  const bases: number[] = [];
  let answer: (view: SceneView) => void = () => {};
  vi.spyOn(api, "edit").mockImplementation((_, base) => {
    bases.push(base);
    return new Promise((done) => {
      answer = done;
    });
  });
  const both = [desk().edit(RENAME), desk().edit(RENAME)];
  await until(() => expect(bases).toEqual([7]));
  expect(desk().saving).toBe(true);
  answer(view(pond(), {}, 8));
  await until(() => expect(bases).toEqual([7, 8]));
  answer(view(pond(), {}, 9));
  expect(await Promise.all(both)).toEqual([true, true]);
  expect(desk().saving).toBe(false);
  expect(desk().doc?.revision).toBe(9);
});

test("an edit that can't reach the server is tried until it does, and the screen says so meanwhile", async () => {
  vi.useFakeTimers();
  const ask = vi
    .spyOn(api, "edit")
    .mockRejectedValueOnce(new Unreachable("The server can't be reached."))
    .mockRejectedValueOnce(new Problem(503, "The database can't be reached."))
    .mockResolvedValue(view(pond(), {}, 8));
  const done = desk().edit(RENAME);
  await vi.advanceTimersByTimeAsync(0);
  expect(desk().trouble).toContain("Not saved yet: The server can't be reached.");
  await vi.advanceTimersByTimeAsync(1500);
  expect(desk().trouble).toContain("The database can't be reached.");
  await vi.advanceTimersByTimeAsync(1500);
  expect(await done).toBe(true);
  expect(ask).toHaveBeenCalledTimes(3);
  expect([desk().trouble, desk().saving, desk().notice]).toEqual([null, false, null]);
});

test("a refused edit is told until one is done, and leaves the scene as it was", async () => {
  const ask = vi.spyOn(api, "edit").mockRejectedValue(new Problem(422, "Layer 'tadpole' is locked."));
  desk().set({ preview: { key: "k1", span: {} as SpanView } });
  expect(await desk().edit(RENAME)).toBe(false);
  expect(desk().notice).toEqual({ kind: "error", text: "Layer 'tadpole' is locked." });
  expect(desk().preview).toBeNull();
  expect(desk().doc?.revision).toBe(7);
  expect(api.open).toHaveBeenCalledTimes(1);
  ask.mockResolvedValue(view(pond(), {}, 8));
  expect(await desk().edit(RENAME)).toBe(true);
  expect(desk().notice).toBeNull();
});

test("when the scene went on elsewhere, it is opened anew", async () => {
  vi.spyOn(api, "edit").mockRejectedValue(new Problem(409, "The scene has been changed elsewhere."));
  vi.spyOn(api, "open").mockResolvedValue(view(pond(), {}, 12));
  expect(await desk().edit(RENAME)).toBe(false);
  await until(() => expect(desk().doc?.revision).toBe(12));
  expect(desk().notice?.text).toContain("changed elsewhere");
});

test("a drawing that is sent in part keeps the very shapes that did not change", async () => {
  const [body, eye] = drawings.d1.shapes;
  const moved = box("eye", 4, 2);
  const next = {
    ...view(pond(), {}, 8),
    drawings: { d3: { base: "d1", order: ["eye", "body"], shapes: [moved] } },
  };
  vi.spyOn(api, "edit").mockResolvedValue(next);
  await desk().edit(RENAME);
  expect(desk().drawings.d3?.shapes).toEqual([moved, body]);
  expect(desk().drawings.d3?.shapes[1]).toBe(body);
  expect(desk().drawings.d1?.shapes[1]).toBe(eye);
});

test("undo is asked for only where there is something to undo", async () => {
  const undo = vi.spyOn(api, "undo").mockResolvedValue(view(pond(), {}, 8));
  await desk().step("undo");
  expect(undo).not.toHaveBeenCalled();
  vi.spyOn(api, "edit").mockResolvedValue({ ...view(pond(), {}, 8), undo: "Rename" });
  await desk().edit(RENAME);
  await desk().step("undo");
  expect(undo).toHaveBeenCalledWith("pond", 8);
});

test("after a change the frame stays within the scene, and a layer that is gone gives way to the front one", async () => {
  desk().set({ frame: 20, layer: "tadpole" });
  const shorter = scene([layer("water", [key("k", 1, "d1")])], { length: 12 });
  vi.spyOn(api, "edit").mockResolvedValue(view(shorter, {}, 8));
  await desk().edit(RENAME);
  expect([desk().frame, desk().layer]).toEqual([12, "water"]);
});

test("a preview keeps what is equal to the last one, and the answer to an edit ends it", async () => {
  const track = (x: number) => ({ first: "body", points: [[x, 0]] });
  const span = (x: number) => ({ key: "k1", tracks: [track(x), track(5)] }) as unknown as SpanView;
  const ask = vi.spyOn(api, "preview").mockResolvedValueOnce(span(1)).mockResolvedValueOnce(span(2));
  desk().tryOut(RENAME, "k1");
  await until(() => expect(desk().preview?.span.tracks[0]?.points).toEqual([[1, 0]]));
  const kept = desk().preview?.span.tracks[1];
  desk().tryOut(RENAME, "k1");
  await until(() => expect(desk().preview?.span.tracks[0]?.points).toEqual([[2, 0]]));
  expect(desk().preview?.span.tracks[1]).toBe(kept);
  ask.mockReturnValue(new Promise(() => {}));
  desk().tryOut(RENAME, "k1");
  vi.spyOn(api, "edit").mockResolvedValue(view(pond(), {}, 8));
  await desk().edit(RENAME);
  expect(desk().preview).toBeNull();
});

test("what is at hand: a key is edited, an in-between is not, the last key keeps the span before it", () => {
  const doc = desk().doc;
  const at = (frame: number) => atHand({ doc, layer: "tadpole", frame });
  expect([at(1).editing?.id, at(1).first?.id, at(1).second?.id]).toEqual(["k1", "k1", "k2"]);
  expect([at(5).editing, at(5).first?.id]).toEqual([null, "k1"]);
  expect([at(13).editing?.id, at(13).first?.id, at(13).second?.id]).toEqual(["k2", "k1", "k2"]);
  expect([at(20).editing?.id, at(20).first?.id]).toEqual(["k2", "k1"]);
  expect(atHand({ doc, layer: "gone", frame: 1 })).toMatchObject({ layer: null, editing: null, first: null });
});
