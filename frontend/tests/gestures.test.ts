import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { DrawingTrial, Operation, Point, Shape, SpanView } from "../src/api/types";
import { useDesk } from "../src/desk/state";
import { arrange, enter } from "../src/draw/gestures/arrange";
import { pick, pullWidth } from "../src/draw/gestures/change";
import { chooseAround } from "../src/draw/gestures/choose";
import type { Hand } from "../src/draw/gestures/hand";
import { drawForm, drawLine, finishPath, placeLetters, placePoint } from "../src/draw/gestures/make";
import { clearSketch, useSketch } from "../src/draw/sketch";
import { useTools } from "../src/draw/tools";
import { box, key, layer, paint, scene, shape, stroke, until, view } from "./forms";

/** The stage at twice the size of the scene: 100 pixels are 50 units. */
const LENS = { scale: 2, left: 0, top: 0 };

const shapes = [
  box("body", 10, 10, 80, 80),
  box("lid", 20, 20, 10, 10, { part: "head/eye" }),
  box("iris", 22, 22, 4, 4, { part: "head/eye" }),
  shape(
    "mouth",
    [
      [30, 60],
      [60, 60],
    ],
    { fill: null, stroke: stroke({ paint: paint("#aa3344") }) },
  ),
];
const pond = scene([layer("tadpole", [key("k1", 1, "d1")]), layer("water", [key("w", 1, "d2")])]);
const drawings = { d1: { shapes }, d2: { shapes: [box("wave", 0, 200)] } };
const desk = () => useDesk.getState();
let sent: Operation[] = [];
let stage: Element;

beforeEach(async () => {
  sent = [];
  vi.spyOn(api, "open").mockResolvedValue(view(pond, drawings));
  vi.spyOn(api, "trial").mockRejectedValue(new Error("not asked"));
  vi.spyOn(api, "preview").mockRejectedValue(new Error("not asked"));
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(pond, {});
  });
  const paths = (of: Shape[]) => of.map(({ id }) => `<path data-shape="${id}"/>`).join("");
  document.body.innerHTML = `<svg>
    <g data-layer-shown="water">${paths(drawings.d2.shapes)}</g><g data-at-hand="">${paths(shapes)}</g></svg>`;
  stage = document.querySelector("svg") as Element;
  await desk().open("pond");
  desk().set({ layer: "tadpole", shapes: [], nodes: [], part: "", notice: null });
  useTools.getState().set({ form: "ellipse", points: 5, inner: 0.5, lasso: false });
});

afterEach(() => {
  clearSketch();
  vi.restoreAllMocks();
});

type Held = { shiftKey?: boolean; ctrlKey?: boolean; altKey?: boolean };

/** A press at a place of the scene, on a shape or on bare paper. */
function press([x, y]: Point, on?: string, held: Held = {}): Hand {
  const target = on ? (document.querySelector(`[data-shape=${on}]`) as Element) : stage;
  const event = {
    target,
    clientX: x * 2,
    clientY: y * 2,
    pointerType: "mouse",
    shiftKey: false,
    altKey: false,
    ...held,
  };
  return {
    key: "k1",
    span: null,
    drawing: drawings.d1,
    scene: pond,
    point: [x, y],
    event: event as never,
    svg: stage,
    lens: LENS,
  };
}

const send = (kind: string, [x, y]: Point, held: Held = {}) =>
  window.dispatchEvent(
    Object.assign(new MouseEvent(kind, { clientX: x * 2, clientY: y * 2, ...held }), {
      pointerType: "mouse",
    }),
  );
const move = (to: Point, held?: Held) => send("pointermove", to, held);
const release = (at: Point = [0, 0]) => send("pointerup", at);

const sentOne = async () => {
  await until(() => expect(sent).toHaveLength(1));
  return sent.pop();
};

test.each([
  [{}, { x: 100, y: 100, width: 40, height: 20 }],
  [{ shiftKey: true }, { x: 100, y: 100, width: 40, height: 40 }],
  [{ ctrlKey: true }, { x: 60, y: 80, width: 80, height: 40 }],
  [
    { shiftKey: true, ctrlKey: true },
    { x: 60, y: 60, width: 80, height: 80 },
  ],
])(
  "a form goes from corner to corner, even with Shift, about its middle with Ctrl: %j",
  async (held, place) => {
    drawForm(press([100, 100]));
    move([140, 120], held);
    expect(useSketch.getState().box?.form).toBe("ellipse");
    release();
    expect(await sentOne()).toMatchObject({ type: "add_form", key: "k1", form: "ellipse", ...place });
  },
);

const pressEscape = () =>
  window.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", bubbles: true, cancelable: true }));

test("Escape takes back what is dragged: nothing of it is shown, tried or done, and the release counts no more", async () => {
  const asked = vi.spyOn(api, "preview").mockReturnValue(new Promise(() => {}));
  const heard = vi.fn();
  document.addEventListener("keydown", heard);
  desk().set({ shapes: ["body"], preview: { key: "k1", span: {} as SpanView } });
  arrange({ ...press([50, 50], "body"), span: "k1" });
  move([70, 50]);
  expect(useSketch.getState().drag).not.toBeNull();
  expect(asked).toHaveBeenCalledTimes(1);
  pressEscape();
  expect(useSketch.getState().drag).toBeNull();
  expect([desk().preview, desk().shapes]).toEqual([null, ["body"]]);
  expect(heard).not.toHaveBeenCalled(); // it does not also leave the selection
  move([90, 50]);
  release();
  pressEscape();
  expect(useSketch.getState().drag).toBeNull();
  expect(sent).toEqual([]);
  document.removeEventListener("keydown", heard);
});

test("a pen that is lost takes back what it was drawing", () => {
  drawForm(press([100, 100]));
  move([140, 120]);
  send("pointercancel", [140, 120]);
  expect(useSketch.getState().box).toBeNull();
  release();
  expect(sent).toEqual([]);
});

test("Escape while a point is placed takes back that point only", () => {
  placePoint(press([10, 10]));
  release();
  placePoint(press([40, 10]));
  release();
  placePoint(press([40, 40]));
  move([50, 50]);
  expect(useSketch.getState().path?.nodes).toHaveLength(3);
  pressEscape();
  expect(useSketch.getState().path?.nodes.map((n) => n.at)).toEqual([
    [10, 10],
    [40, 10],
  ]);
});

test("a press that hardly moves makes no form", async () => {
  drawForm(press([100, 100]));
  move([100.5, 100.5]);
  release();
  expect(sent).toEqual([]);
  expect(useSketch.getState().box).toBeNull();
});

test("a freehand line is all the hand did, within a tolerance of the screen, and can be fitted anew", async () => {
  useTools.getState().set({ tolerance: 3 });
  drawLine(press([10, 10]));
  for (const place of [
    [20, 12],
    [30, 18],
    [40, 30],
  ] as Point[])
    move(place);
  expect(useSketch.getState().line?.samples).toHaveLength(4);
  release();
  const operation = await sentOne();
  expect(operation).toMatchObject({ type: "add_freehand", tolerance: 1.5, closed: false });
  expect((operation as { samples: object[] }).samples).toEqual([
    { x: 10, y: 10, pressure: 0.5 },
    { x: 20, y: 12, pressure: 0.5 },
    { x: 30, y: 18, pressure: 0.5 },
    { x: 40, y: 30, pressure: 0.5 },
  ]);
  await until(() => expect(useTools.getState().lastLine?.samples).toHaveLength(4));
});

test("a line that comes back to where it began is a form with a fill, unless Alt is held", async () => {
  const round = (alt: boolean) => {
    drawLine(press([10, 10]));
    for (const place of [
      [90, 10],
      [90, 70],
      [12, 11],
    ] as Point[])
      move(place, { altKey: alt });
    const shown = useSketch.getState().line?.closed;
    release();
    return shown;
  };
  expect(round(false)).toBe(true);
  expect(await sentOne()).toMatchObject({ type: "add_freehand", closed: true, fill: { rule: "nonzero" } });
  expect(round(true)).toBe(false);
  expect(await sentOne()).toMatchObject({ type: "add_freehand", closed: false, fill: null });
});

test("a form as small as an eye is shut as well, and a small hook is not", () => {
  const shut = (...stops: Point[]) => {
    drawLine(press([100, 100]));
    for (const stop of stops) move(stop);
    const shown = useSketch.getState().line?.closed;
    release();
    return shown;
  };
  expect(shut([107, 100], [107, 107], [100, 107], [100, 101])).toBe(true); // seven units are 14 pixels
  expect(shut([107, 100], [107, 107], [104, 104])).toBe(false);
  expect(shut([100.2, 100.2])).toBe(false);
});

test("points are placed by clicks and drags, and the form closes on the first", async () => {
  const click = (at: Point) => {
    placePoint(press(at));
    release(at);
  };
  click([100, 100]);
  placePoint(press([200, 100]));
  move([210, 120]);
  release();
  click([150, 200]);
  const placed = useSketch.getState().path?.nodes ?? [];
  expect(placed.map((n) => n.kind)).toEqual(["corner", "symmetric", "corner"]);
  expect([placed[1]?.before, placed[1]?.after]).toEqual([
    [190, 80],
    [210, 120],
  ]);
  click([102, 101]);
  const made = await sentOne();
  expect(made).toMatchObject({ type: "add_path", closed: true });
  expect((made as { nodes: { at: Point }[] }).nodes.map((n) => n.at)).toEqual([
    [100, 100],
    [200, 100],
    [150, 200],
  ]);
  expect(useSketch.getState().path).toBeNull();
});

test("an open line through placed points has a line even where lines are off; one point makes nothing", async () => {
  const { brush } = useTools.getState();
  useTools.getState().set({ brush: { ...brush, line: null } });
  placePoint(press([100, 100]));
  release();
  finishPath("k1");
  expect(sent).toEqual([]);
  for (const at of [
    [100, 100],
    [150, 100],
  ] as Point[]) {
    placePoint(press(at));
    release(at);
  }
  finishPath("k1");
  expect(await sentOne()).toMatchObject({
    type: "add_path",
    closed: false,
    fill: null,
    stroke: { cap: "round" },
  });
  useTools.getState().set({ brush });
});

test("letters need a text first", async () => {
  useTools.getState().set({ letters: { text: " ", size: 50 } });
  placeLetters(press([10, 10]));
  expect(desk().notice?.text).toContain("Type the letters in the panel first.");
  useTools.getState().set({ letters: { text: "Pond", size: 50 } });
  placeLetters(press([10, 10]));
  expect(await sentOne()).toMatchObject({ type: "add_letters", text: "Pond", size: 50, x: 10, y: 10 });
});

test("a press on a shape chooses it and a drag moves it, straight with Shift", async () => {
  arrange(press([50, 80], "body"));
  expect(desk().shapes).toEqual(["body"]);
  move([80, 85]);
  expect(useSketch.getState().drag).toEqual({ matrix: [1, 0, 0, 1, 30, 5] });
  move([80, 85], { shiftKey: true });
  release();
  expect(await sentOne()).toEqual({
    type: "transform_shapes",
    key: "k1",
    shapes: ["body"],
    matrix: [1, 0, 0, 1, 30, 0],
  });
});

test("however many shapes a key has, a shape that is moved snaps by its own points", () => {
  const many = Array.from({ length: 500 }, (_, k) =>
    box(`b${k}`, 200 + 40 * (k % 25), 300 * Math.floor(k / 25)),
  );
  const crown = Array.from({ length: 20 }, (_, k): Point => [50 + 2 * k, k === 7 ? 40 : 60 + (k % 2)]);
  useTools.getState().set({
    snaps: { points: true, outlines: true, centres: false, guides: false, grid: false },
  });
  arrange({ ...press([50, 60], "body"), drawing: { shapes: [...many, shape("body", crown)] } });
  move([50 + 338, 60 + 261]);
  expect(useSketch.getState().catches, "its tip").toEqual([{ kind: "points", at: [400, 300] }]);
  pressEscape();
});

test("a part is chosen as a whole, entered by two clicks, and Shift adds and takes away", () => {
  const click = (on: string, held?: Held) => {
    arrange(press([25, 25], on, held));
    release();
  };
  click("iris");
  expect(desk().shapes).toEqual(["lid", "iris"]);
  click("body", { shiftKey: true });
  expect(desk().shapes).toEqual(["lid", "iris", "body"]);
  click("lid", { shiftKey: true });
  expect(desk().shapes).toEqual(["body"]);
  enter(press([25, 25]), "iris");
  expect([desk().part, desk().shapes]).toEqual(["head", ["lid", "iris"]]);
  enter(press([25, 25]), "iris");
  click("iris");
  expect([desk().part, desk().shapes]).toEqual(["head/eye", ["iris"]]);
  click("body");
  expect(desk().part, "what lies outside leaves the part").toBe("");
});

test("a box chooses what is wholly in it, a lasso too, with Shift besides what was chosen", () => {
  chooseAround(press([15, 15]), "shapes");
  move([40, 40]);
  release();
  expect(desk().shapes).toEqual(["lid", "iris"]);
  chooseAround(press([28, 58], undefined, { shiftKey: true }), "shapes");
  move([65, 65]);
  release();
  expect(desk().shapes).toEqual(["lid", "iris", "mouth"]);
  useTools.getState().set({ lasso: true });
  chooseAround(press([0, 0]), "shapes");
  for (const at of [
    [100, 0],
    [100, 100],
    [0, 100],
  ] as Point[])
    move(at);
  release();
  expect(desk().shapes).toEqual(["body", "lid", "iris", "mouth"]);
});

test("a box chooses points of the chosen shapes, or else of all", () => {
  desk().set({ shapes: ["body"] });
  chooseAround(press([5, 5]), "points");
  move([15, 95]);
  release();
  const [a, , , d] = shapes[0]?.contours[0]?.nodes ?? [];
  expect(desk().nodes).toEqual([a?.id, d?.id]);
  desk().set({ shapes: [], nodes: [] });
  chooseAround(press([28, 58]), "points");
  move([65, 65]);
  release();
  expect([desk().shapes, desk().nodes.length]).toEqual([["mouth"], 2]);
});

test("a click on another layer says so and offers to go there; on bare paper it chooses nothing", () => {
  desk().set({ shapes: ["body"] });
  chooseAround(press([5, 205], "wave"), "shapes");
  release();
  expect(desk().shapes).toEqual([]);
  expect(desk().notice?.text).toBe("That is on layer “water”. Layer “tadpole” is at hand.");
  desk().notice?.action?.run();
  expect(desk().layer).toBe("water");
});

test("colours are picked from any layer, for what is drawn next and for what is chosen", async () => {
  desk().set({ shapes: ["body"] });
  pick(press([40, 60], "mouth"));
  expect(useTools.getState().brush).toMatchObject({ fill: null, line: { color: "#aa3344" } });
  expect(await sentOne()).toEqual({
    type: "repaint",
    key: "k1",
    shapes: ["body"],
    fill: null,
    line: shapes[3]?.stroke?.paint,
  });
  desk().set({ shapes: [] });
  pick(press([5, 205], "wave"));
  expect(useTools.getState().brush.fill?.color).toBe("#77ab54");
  pick(press([300, 300]));
  expect(desk().notice?.text).toBe("Click a shape to take its colours.");
  expect(sent).toEqual([]);
});

test("a line is pulled wider where it is pressed, seen as the server would make it", async () => {
  pullWidth(press([300, 300]));
  expect(desk().notice?.text).toContain("Press on a line and pull away");
  const wider = { ...(shapes[3] as Shape), name: "wider" };
  vi.mocked(api.trial).mockResolvedValue({
    shapes: [wider],
    nodes: [2, 3],
    deviation: 0,
    gaps: [],
  } as DrawingTrial);
  pullWidth(press([45, 61], "mouth"));
  move([45, 75]);
  await until(() => expect(useSketch.getState().drag).toEqual({ shapes: new Map([["mouth", wider]]) }));
  release();
  const pulled = (await sentOne()) as { at: Point; width: number };
  expect(pulled).toMatchObject({ type: "pull_width", shape: "mouth", near: 3 });
  expect(pulled.at).toEqual([45, 60]);
  expect(pulled.width).toBe(30);
});
