import { act, cleanup, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { Key, Layer, Operation, PairView, ProposalView, SpanView } from "../src/api/types";
import { useDesk } from "../src/desk/state";
import { KeySection } from "../src/draw/KeySection";
import { useTools } from "../src/draw/tools";
import { Balance } from "../src/match/Balance";
import { PairRow } from "../src/match/PairRow";
import { Proposals } from "../src/match/Proposals";
import { StaggerSection } from "../src/time/StaggerSection";
import { TravelSection } from "../src/time/TravelSection";
import { OnionBar } from "../src/timeline/OnionBar";
import { box, key, layer, scene, until, view } from "./forms";

const [first, second] = [key("k1", 1, "d1", true), key("k2", 13, "d2")];
const drawings = {
  d1: { shapes: [box("body", 0, 0), box("fin", 9, 9)] },
  d2: { shapes: [box("body", 50, 0)] },
};
const desk = () => useDesk.getState();
const user = userEvent.setup();
let sent: Operation[] = [];

const pair = (changes: Partial<PairView> = {}): PairView => ({
  first: "body",
  second: "body",
  firsts: ["body"],
  seconds: ["body"],
  kind: "pair",
  by_hand: false,
  confidence: 0.9,
  reason: "alike in form and paint",
  way: "solid",
  way_reason: "it turns by 40 degrees",
  first_centre: [0, 0],
  second_centre: [50, 0],
  travel: {
    first: "body",
    second: "body",
    blend: null,
    turns: 0,
    path: null,
    start: 0,
    end: 1,
    ease: first.span.take.ease,
  },
  middles: [
    [0, 0],
    [50, 0],
  ],
  ...changes,
});

const span = (whole: number, changes: Partial<SpanView> = {}): SpanView =>
  ({
    key: "k1",
    pairs: [pair()],
    take: first.span.take,
    found: { snags: [], balance: { twist: whole / 2, area: 0, crossings: 0, sliding: whole / 2, whole } },
    ...changes,
  }) as SpanView;

const weighed = (shown: SpanView, found = shown.found) =>
  found ? <Balance span={shown} now={found.balance} /> : null;

beforeEach(async () => {
  sent = [];
  const pond = scene([layer("tadpole", [first, second])]);
  vi.spyOn(api, "open").mockResolvedValue({ ...view(pond, drawings), undo: "Add a hint" });
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(pond, {});
  });
  await desk().open("pond");
  desk().set({ pair: null, proposals: null, notice: null, onion: false });
});

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const tied = { ...first.span.take, blend: "arc" as const };

test("after a change of its settings a span says whether it is better, in words, and takes it back", async () => {
  const undo = vi.spyOn(api, "undo").mockResolvedValue(view(scene([]), {}));
  const { rerender } = render(weighed(span(0.4)));
  expect(screen.queryByTestId("balance")).toBeNull();
  rerender(weighed(span(0.2, { take: tied, found: null }), span(0.4).found));
  expect(screen.queryByTestId("balance")).toBeNull();
  rerender(weighed(span(0.2, { take: tied })));
  expect(screen.getByTestId("balance").textContent).toContain(
    "Less twist, less sliding: better than before (0.40 → 0.20)",
  );
  await user.click(screen.getByText("Take it back"));
  expect(undo).toHaveBeenCalledTimes(1);
});

test("while a change is tried it is weighed against what is kept, and can't be taken back yet", () => {
  const { rerender } = render(weighed(span(0.2)));
  act(() => desk().set({ preview: { key: "k1", span: span(0.5) } }));
  rerender(weighed(span(0.5, { take: tied })));
  expect(screen.getByTestId("balance").textContent).toContain("worse than before (0.20 → 0.50)");
  act(() => desk().set({ preview: { key: "k1", span: span(0.203) } }));
  rerender(weighed(span(0.203, { take: tied })));
  expect(screen.getByTestId("balance").textContent).toContain("worse than before (0.200 → 0.203)");
  expect(screen.queryByText("Take it back")).toBeNull();
  act(() => desk().set({ preview: null }));
});

test("a hint that changes nothing is said to, and the new name of one is no change", () => {
  const hint = {
    id: "h",
    name: "chin",
    first: { shape: "body", at: [0, 0] },
    second: { shape: "body", at: [50, 0] },
  };
  const take = (name: string) => ({ ...first.span.take, hints: [{ ...hint, name }] }) as SpanView["take"];
  const { rerender } = render(weighed(span(0.2, { take: take("chin") })));
  rerender(weighed(span(0.2, { take: take("jaw") })));
  expect(screen.queryByTestId("balance")).toBeNull();
  rerender(weighed(span(0.2, { take: first.span.take })));
  expect(screen.getByTestId("balance").textContent).toBe("about as beforeTake it back");
});

test("another span, or the same settings on another drawing, is no change to be weighed", () => {
  const { rerender } = render(weighed(span(0.2)));
  rerender(weighed(span(0.6)));
  expect(screen.getByTestId("balance").textContent).not.toContain("better");
  rerender(weighed(span(0.9, { key: "k2", take: tied })));
  expect(screen.queryByTestId("balance")).toBeNull();
});

function row(changes: Partial<PairView>, on = false) {
  render(
    <PairRow pair={pair(changes)} from={first} to={second} on={on} index={0} top={0} measure={() => {}} />,
  );
  return screen.getByTestId("pair-row").textContent ?? "";
}

test.each([
  [{ confidence: 0.9 }, "sure, solid"],
  [{ confidence: 0.5 }, "fairly sure, solid"],
  [{ confidence: 0.2 }, "unsure, solid"],
  [{ by_hand: true }, "paired by hand"],
  [{ second: null, seconds: [] }, "vanishes"],
  [{ first: null, firsts: [] }, "appears"],
  [{ kind: "divides" as const, confidence: 0.5 }, "a piece of what divides, fairly sure"],
  [{ kind: "joins" as const }, "joins with others, sure"],
  [{ kind: "recut" as const, firsts: ["a", "b"], seconds: ["c"] }, "one line, cut 2 and 1, sure"],
  [{ kind: "recut" as const, firsts: ["a"], seconds: ["c"] }, "one line, cut differently, sure"],
])("a pair says how sure it is and what becomes of it: %j", (changes, words) => {
  expect(row(changes)).toContain(words);
});

test("a chosen pair tells its reasons; by hand it can be freed, and what is a pair can be parted", async () => {
  expect(row({ by_hand: true, reason: "fixed by hand" }, true)).toContain(
    "fixed by hand. Travels solid: it turns by 40 degrees.",
  );
  await user.click(screen.getByText("Free"));
  await user.click(screen.getByRole("button", { name: /^Part: let the first vanish/ }));
  await until(() => expect(sent.map((o) => o.type)).toEqual(["free_pair", "pair_shapes"]));
  cleanup();
  row({ second: null, seconds: [] }, true);
  expect(screen.queryByText("Free")).toBeNull();
  expect(screen.queryByRole("button", { name: /^Part/ })).toBeNull();
});

const offer = (id: string, gain: number): ProposalView => ({
  hint: {
    id,
    name: id,
    first: { shape: "body", at: [0, 0], node: null },
    second: { shape: "body", at: [50, 0], node: null },
  },
  gain,
});

test("proposed hints come with what they gain, and are tied one by one or all", async () => {
  vi.spyOn(api, "proposals").mockResolvedValue([offer("nose", 0.42), offer("tip", 0.1), offer("heel", 0.05)]);
  render(<Proposals spanKey="k1" />);
  await user.click(screen.getByText("Propose hints"));
  const rows = await screen.findAllByTestId("proposal");
  expect(rows.map((r) => r.textContent)).toEqual([
    "nose42 % less distortionTie",
    "tip10 % less distortionTie",
    "heel5 % less distortionTie",
  ]);
  await user.click(within(rows[1] as HTMLElement).getByText("Tie"));
  await until(() => expect(screen.getAllByTestId("proposal")).toHaveLength(2));
  expect(desk().hint).toBe("tip");
  await user.click(screen.getByText("Tie all"));
  await until(() => expect(sent.map((o) => "id" in o && o.id)).toEqual(["tip", "nose", "heel"]));
  await until(() => expect(screen.getByText("Propose hints")).toBeTruthy());
});

test("where no hint would help, or none can be sought, it says so", async () => {
  const ask = vi.spyOn(api, "proposals").mockResolvedValue([]);
  render(<Proposals spanKey="k1" />);
  await user.click(screen.getByText("Propose hints"));
  await until(() => screen.getByText(/No hint was found/));
  ask.mockRejectedValue(new Error("The server can't be reached."));
  await user.click(screen.getByText("Propose hints"));
  await until(() => expect(desk().notice?.text).toBe("The server can't be reached."));
});

const travel = (changes: Partial<PairView> = {}, next = second, rest: Key[] = [], repeat = "once") => {
  const found = pair(changes);
  const pairs = [found, pair({ first: "fin", second: null, way: "direct" })];
  const own = { ...layer("tadpole", [first, next, ...rest]), repeat } as Layer;
  return render(<TravelSection layer={own} first={first} second={next} span={span(0.2, { pairs })} />);
};

test("where the way goes on beyond a key it can flow through that, of one pair or of all", async () => {
  const { unmount } = travel();
  expect(screen.queryByText(/Flow through/)).toBeNull();
  unmount();
  const on = { ...second, span: first.span };
  const third = key("k3", 20, "d1");
  const whole = travel({}, on, [third]);
  expect(screen.queryByText("Flow through key 1")).toBeNull();
  await user.click(screen.getByText("Flow through key 13"));
  whole.unmount();
  desk().set({ pair: { first: "body", second: "body" } });
  const round = travel({}, on, [third], "round and round");
  await user.click(screen.getByText("Flow through key 1"));
  round.unmount();
  desk().set({ pair: { first: "fin", second: null } });
  travel({}, on, [third]);
  expect(screen.queryByText(/Flow through/)).toBeNull();
  await until(() =>
    expect(sent).toEqual([
      { type: "flow_through", key: "k2", shape: null },
      { type: "flow_through", key: "k1", shape: "body" },
    ]),
  );
});

test("a span says how its pairs travel, and is set to go another way", async () => {
  travel();
  expect(screen.getByText(/^Auto keeps 1 of 2 pairs solid\./)).toBeTruthy();
  await user.click(screen.getByText("Arc"));
  expect(sent).toEqual([{ type: "set_blend", key: "k1", blend: "arc" }]);
});

test("a pair that is chosen goes its own way, with rounds and a path of its own, and back", async () => {
  desk().set({ pair: { first: "body", second: "body" } });
  const { unmount } = travel();
  expect(screen.getByText("solid")).toBeTruthy();
  await user.click(screen.getByText("Direct"));
  await user.clear(screen.getByLabelText("Rounds more"));
  await user.type(screen.getByLabelText("Rounds more"), "12{Enter}");
  await user.click(screen.getByText("Draw a path"));
  const own = { type: "set_travel", key: "k1", first: "body", second: "body" };
  const [ax, ay] = [50 / 3, -50 * 0.35];
  await until(() => expect(sent).toHaveLength(3));
  expect(sent.slice(0, 2)).toEqual([
    { ...own, blend: "direct" },
    { ...own, turns: 8 },
  ]);
  const { path } = sent[2] as { path: [number, number][] };
  expect(path.flat().map((v) => Math.round(v * 100))).toEqual(
    [ax, ay, -ax, ay].map((v) => Math.round(v * 100)),
  );
  unmount();
  travel({
    travel: {
      ...pair().travel,
      path: [
        [1, 2],
        [3, 4],
      ],
      blend: "direct",
    },
  });
  await user.click(screen.getByText("Remove the path"));
  await user.click(screen.getByText("As span"));
  await until(() =>
    expect(sent.slice(3)).toEqual([
      { ...own, path: null },
      { ...own, blend: null },
    ]),
  );
});

test("what vanishes has a time and a path of its own, but can't travel otherwise", async () => {
  desk().set({ pair: { first: "fin", second: null } });
  travel();
  expect(screen.getByText("Vanishes from frame 1 to 13")).toBeTruthy();
  expect(screen.queryByText("As span")).toBeNull();
  await user.click(screen.getByText("Draw a path"));
  await until(() =>
    expect(sent).toMatchObject([{ type: "set_travel", first: "fin", second: null, path: expect.any(Array) }]),
  );
});

test("pieces start one after the other, and one of them eases in its own way", async () => {
  const pairs = [pair(), pair({ first: "fin", second: "fin", travel: { ...pair().travel, start: 0.25 } })];
  const { unmount } = render(<StaggerSection first={first} second={second} span={span(0.2, { pairs })} />);
  expect(screen.getByText("The last starts 3 frames after the first")).toBeTruthy();
  await user.click(screen.getByLabelText("Pieces start"));
  await user.click(screen.getByText("from the top"));
  const own = { type: "stagger", key: "k1" };
  await until(() => expect(sent).toEqual([{ ...own, order: "from the top", by: 0.25 }]));
  unmount();
  desk().set({ pair: { first: "body", second: "body" } });
  travel();
  const field = screen.getByLabelText("Its own overshoot").closest("div")?.querySelector("input[type=text]");
  await user.clear(field as Element);
  await user.type(field as Element, "0.2{Enter}");
  await until(() =>
    expect(sent[1]).toMatchObject({ type: "set_travel", first: "body", ease: { overshoot: 0.2, out: 0 } }),
  );
});

test("the onion skin says how many it shows, and shows itself when it is set", async () => {
  render(<OnionBar />);
  await user.click(screen.getByText("Onion skin off"));
  expect(screen.getByText("Onion skin 1 · 1")).toBeTruthy();
  await user.click(screen.getByText("Onion skin 1 · 1"));
  await user.click(screen.getByRole("button", { name: "Onion skin settings" }));
  await user.clear(screen.getByLabelText("Earlier"));
  await user.type(screen.getByLabelText("Earlier"), "3{Enter}");
  await user.click(screen.getByLabelText("In-betweens too"));
  expect([desk().onion, useTools.getState().skin.earlier, useTools.getState().skin.between]).toEqual([
    true,
    3,
    true,
  ]);
  expect(
    JSON.parse(localStorage.getItem("knead draw settings") ?? "{}").skin.earlier,
    "it outlasts the session",
  ).toBe(3);
});

test("a drawing is named where keys are made, and loses its name again", async () => {
  desk().set({ layer: "tadpole", frame: 1 });
  render(<KeySection />);
  const field = screen.getByLabelText("Name of the drawing at 1");
  await user.type(field, "crouches{Enter}");
  await until(() => expect(sent).toEqual([{ type: "name_key", key: "k1", name: "crouches" }]));
  const named = scene([layer("tadpole", [{ ...first, name: "crouches" }, second])]);
  act(() => desk().set({ doc: view(named, drawings) }));
  await user.clear(screen.getByDisplayValue("crouches"));
  await user.tab();
  await until(() => expect(sent[1]).toEqual({ type: "name_key", key: "k1", name: null }));
});
