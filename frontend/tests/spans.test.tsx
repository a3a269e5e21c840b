import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { Found, SpanView } from "../src/api/types";
import { SpansProvider, useFound, useSpans } from "../src/desk/spans";
import { useDesk } from "../src/desk/state";
import { box, key, layer, scene, until, view } from "./forms";

const pond = scene([layer("tadpole", [key("k1", 1, "d1", true), key("k2", 13, "d2")])]);
const drawings = { d1: { shapes: [box("body", 0, 0)] }, d2: { shapes: [box("body", 50, 0)] } };
const desk = () => useDesk.getState();

const found = (whole: number) => ({ snags: [], balance: { whole } }) as unknown as Found;
const span = (nodes: number, seen: Found | null) =>
  ({ key: "k1", nodes, found: seen }) as unknown as SpanView;

function Shown() {
  const span = useSpans().k1;
  const seen = useFound().k1;
  return (
    <p>{span ? `${span.nodes} nodes, ${seen ? seen.balance.whole : "not looked at"}` : "nothing yet"}</p>
  );
}

const show = () =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SpansProvider>
        <Shown />
      </SpansProvider>
    </QueryClientProvider>,
  );

const shown = () => screen.getByText(/nodes|nothing/).textContent;

beforeEach(async () => {
  vi.spyOn(api, "open").mockResolvedValue(view(pond, drawings));
  await desk().open("pond");
});

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

test("while something is dragged the last findings stand; at rest there are new ones; taken back, all is as it was", async () => {
  vi.spyOn(api, "span").mockResolvedValue(span(10, found(1)));
  show();
  expect(shown()).toBe("nothing yet");
  await until(() => expect(shown()).toBe("10 nodes, 1"));
  act(() => desk().set({ preview: { key: "k1", span: span(11, null) } }));
  expect(shown()).toBe("11 nodes, 1");
  act(() => desk().set({ preview: { key: "k1", span: span(11, found(2)) } }));
  expect(shown()).toBe("11 nodes, 2");
  act(() => desk().set({ preview: { key: "k1", span: span(12, null) } }));
  expect(shown()).toBe("12 nodes, 2");
  act(() => desk().endTrying());
  expect(shown()).toBe("10 nodes, 1");
});

test("what is looked at does not wait for the in-betweens of other layers", async () => {
  const reeds = layer("reeds", [key("r1", 1, "d1", true), key("r2", 13, "d2")]);
  vi.mocked(api.open).mockResolvedValue(view(scene([reeds, ...pond.layers]), drawings));
  await desk().open("pond");
  act(() => desk().set({ layer: "tadpole" }));
  const asked: string[] = [];
  let answer = (_: SpanView) => {};
  vi.spyOn(api, "span").mockImplementation((_, key) => {
    asked.push(key);
    return new Promise((done) => (answer = done));
  });
  show();
  await until(() => expect(asked).toEqual(["k1"]));
  act(() => answer(span(10, found(1))));
  await until(() => expect(asked).toEqual(["k1", "r1"]));
});
