import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { Operation, SnagView } from "../src/api/types";
import { actions } from "../src/desk/actions";
import { clipboard } from "../src/desk/clipboard";
import { useDesk } from "../src/desk/state";
import { useTools } from "../src/draw/tools";
import { box, key, layer, scene, until, view } from "./forms";

const shapes = [
  box("body", 0, 0, 40, 40),
  box("eye", 5, 5, 4, 4, { part: "head" }),
  box("mouth", 5, 20, 9, 2, { part: "head" }),
];
const drawings = { d1: { shapes }, d2: { shapes: [box("body", 90, 0)] } };
const desk = () => useDesk.getState();
let sent: Operation[] = [];

beforeEach(async () => {
  localStorage.clear();
  clipboard.put([]);
  sent = [];
  const pond = scene([layer("tadpole", [key("k1", 1, "d1", true), key("k2", 13, "d2")])]);
  vi.spyOn(api, "open").mockResolvedValue(view(pond, drawings));
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(pond, {});
  });
  await desk().open("pond");
  desk().set({ view: "draw", tool: "arrange", notice: null });
});

afterEach(() => vi.restoreAllMocks());

const sentOne = async () => {
  await until(() => expect(sent).toHaveLength(1));
  return sent[0];
};

test("frames stay within the scene, and stepping on from the last begins anew", () => {
  actions.goTo(99);
  expect(desk().frame).toBe(24);
  actions.frameBy(1);
  expect(desk().frame).toBe(1);
  actions.frameBy(-1);
  expect(desk().frame).toBe(24);
  actions.goTo(-3);
  expect(desk().frame).toBe(1);
});

test("stepping by keys goes to those of the layer at hand, and no further than the last", () => {
  actions.goTo(5);
  actions.keyBy(1);
  expect(desk().frame).toBe(13);
  actions.keyBy(1);
  expect(desk().frame).toBe(13);
  actions.goTo(20);
  actions.keyBy(-1);
  actions.keyBy(-1);
  expect(desk().frame).toBe(1);
});

test("a breakdown is kept from an in-between only, and the frame goes there", async () => {
  actions.keepBreakdown();
  expect(desk().notice?.text).toContain("this frame shows a key");
  actions.keepBreakdown(7);
  expect(await sentOne()).toEqual({ type: "new_key", layer: "tadpole", frame: 7, source: "shown" });
  await until(() => expect(desk().frame).toBe(7));
});

test("what parts or joins a span says which of its takes went with it", async () => {
  const first = key("k1", 1, "d1", true);
  const own = { ...first, span: { ...first.span, others: [{ ...first.span.take, name: "calm" }] } };
  const pond = scene([layer("tadpole", [own, key("k2", 13, "d2")])]);
  desk().set({ doc: view(pond, drawings), frame: 7 });
  actions.newKey("empty");
  await until(() => expect(sent).toHaveLength(1));
  expect(desk().notice).toBeNull();
  for (const parts of [() => actions.newKey("shown"), () => actions.keepBreakdown(7)]) {
    desk().set({ doc: view(pond, drawings), frame: 7, notice: null });
    parts();
    await until(() => expect(desk().notice?.text).toMatch(/^“calm”, kept beside .* went with the old span/));
  }
  desk().set({ doc: view(pond, drawings), frame: 13, notice: null });
  actions.removeKey();
  await until(() => expect(desk().notice?.text).toContain("“calm”"));
});

test("what is chosen is copied, pasted by another tab too, and refused where no drawing is", async () => {
  actions.paste();
  expect(desk().notice?.text).toBe("Nothing is copied yet.");
  desk().set({ shapes: ["eye", "body"] });
  actions.copy();
  const inAnotherTab = JSON.parse(localStorage.getItem("copied") ?? "[]");
  expect(inAnotherTab.map((s: { id: string }) => s.id)).toEqual(["body", "eye"]);
  actions.goTo(5);
  actions.paste();
  expect(desk().notice?.text).toContain("Frame 5 has no drawing to paste into");
  expect(sent).toEqual([]);
  actions.goTo(13);
  actions.paste();
  expect(await sentOne()).toMatchObject({ type: "add_shapes", key: "k2", shapes: inAnotherTab });
});

test("what is more than the browser can keep stays in this tab", () => {
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  clipboard.put([box("huge", 0, 0)]);
  expect(clipboard.get().map((s) => s.id)).toEqual(["huge"]);
});

test("duplicating leaves what was copied alone", async () => {
  clipboard.put([box("kept", 0, 0)]);
  desk().set({ shapes: ["mouth"] });
  actions.duplicateShapes();
  expect(await sentOne()).toMatchObject({ type: "add_shapes", key: "k1", shapes: [{ id: "mouth" }] });
  expect(clipboard.get().map((s) => s.id)).toEqual(["kept"]);
});

test("a removed point on which a hint stands is asked about first, another is not", async () => {
  const point = drawings.d1.shapes[0]?.contours[0]?.nodes[0]?.id as string;
  const doc = desk().doc;
  if (!doc) throw new Error("no scene");
  const end = { shape: "body", at: [0, 0] as [number, number], node: point };
  doc.scene.layers[0]?.keys[0]?.span.take.hints.push({
    id: "h",
    name: "chin",
    first: end,
    second: end,
  } as never);
  desk().set({ tool: "points", shapes: ["body"], nodes: [point] });
  actions.removeChosen();
  expect(desk().notice?.text).toContain("The hint “chin” stands here.");
  expect(sent).toEqual([]);
  desk().notice?.action?.run();
  expect(await sentOne()).toEqual({ type: "remove_nodes", key: "k1", nodes: [point] });
  await until(() => expect(desk().notice).toBeNull());
  const other = drawings.d1.shapes[0]?.contours[0]?.nodes[1]?.id as string;
  desk().set({ nodes: [other] });
  actions.removeChosen();
  await until(() => expect(sent).toHaveLength(2));
  doc.scene.layers[0]?.keys[0]?.span.take.hints.pop();
});

test("what is deleted depends on what is at hand: hints in Match, points with the points tool, else shapes", async () => {
  desk().set({ view: "match", hint: "h1", shapes: ["body"] });
  actions.removeChosen();
  expect(await sentOne()).toEqual({ type: "remove_hints", key: "k1", hints: ["h1"] });
  desk().set({ view: "draw", tool: "arrange" });
  actions.removeChosen();
  await until(() => expect(sent[1]).toEqual({ type: "remove_shapes", key: "k1", shapes: ["body"] }));
  await until(() => expect(desk().shapes).toEqual([]));
});

test("a new part gets the first free number", async () => {
  desk().set({ shapes: ["body"] });
  actions.group();
  expect(sent).toEqual([]);
  shapes[0] = { ...(shapes[0] as (typeof shapes)[0]), part: "part 1/left" };
  vi.spyOn(api, "open").mockResolvedValue(
    view(scene([layer("tadpole", [key("k1", 1, "d3")])]), { d3: { shapes } }),
  );
  await desk().open("pond");
  desk().set({ shapes: ["eye", "mouth"] });
  actions.group();
  expect(await sentOne()).toMatchObject({ type: "group_shapes", shapes: ["eye", "mouth"], name: "part 2" });
});

test("choosing on goes shape by shape through a part that was entered, else part by part", () => {
  actions.chooseBy(1);
  expect(desk().shapes).toEqual(["body"]);
  actions.chooseBy(1);
  expect(desk().shapes).toEqual(["eye", "mouth"]);
  actions.chooseBy(1);
  expect(desk().shapes).toEqual(["body"]);
  desk().set({ part: "head", shapes: ["eye"] });
  actions.chooseBy(1);
  expect(desk().shapes).toEqual(["mouth"]);
});

test("Escape leaves points, then the part that was entered, then what is chosen", () => {
  desk().set({ nodes: ["n"], part: "head/left", shapes: ["eye"] });
  actions.leave();
  expect([desk().nodes, desk().part]).toEqual([[], "head/left"]);
  actions.leave();
  expect([desk().part, desk().shapes]).toEqual(["head", []]);
  desk().set({ part: "", shapes: ["eye"], hint: "h" });
  actions.leave();
  expect([desk().shapes, desk().hint]).toEqual([[], null]);
});

test("a nudge moves chosen points with their handles, or else the chosen shapes", async () => {
  const [point] = drawings.d2.shapes[0]?.contours[0]?.nodes ?? [];
  if (!point) throw new Error("no point");
  actions.goTo(13);
  desk().set({ tool: "points", shapes: ["body"], nodes: [point.id] });
  actions.nudge(2, -1);
  const place = [point.at[0] + 2, point.at[1] - 1];
  expect(await sentOne()).toEqual({
    type: "move_nodes",
    key: "k2",
    moves: [{ node: point.id, at: place, before: place, after: place }],
  });
  desk().set({ tool: "arrange" });
  actions.nudge(0, 10);
  await until(() => expect(sent[1]).toMatchObject({ type: "transform_shapes", matrix: [1, 0, 0, 1, 0, 10] }));
});

test("a copied style is given on whole", async () => {
  desk().set({ shapes: ["body"] });
  actions.copyStyle();
  desk().set({ shapes: ["mouth"] });
  actions.pasteStyle();
  const { fill, stroke, opacity } = shapes[0] as (typeof shapes)[0];
  expect(await sentOne()).toEqual({ type: "restyle", key: "k1", shapes: ["mouth"], fill, stroke, opacity });
  useTools.getState().set({ style: null });
});

test("a snag is shown at its middle frame with its place marked and its pair chosen; strangers have no pair", () => {
  const snag = {
    kind: "fold",
    first: "body",
    second: "body",
    frames: [3, 4, 5],
    place: [9, 9],
  } as unknown as SnagView;
  actions.lookAt(snag);
  expect([desk().frame, desk().mark]).toEqual([4, { frame: 4, place: [9, 9] }]);
  expect(desk().pair).toEqual({ first: "body", second: "body" });
  actions.lookAt({ ...snag, kind: "stranger" });
  expect(desk().pair).toBeNull();
  actions.goTo(6);
  expect(desk().mark).toBeNull();
});
