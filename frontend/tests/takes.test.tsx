import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { Operation, SpanView } from "../src/api/types";
import { useDesk } from "../src/desk/state";
import { TakesSection } from "../src/desk/TakesSection";
import { ReviewStage } from "../src/review/ReviewStage";
import { key, layer, scene, until, view } from "./forms";

const desk = () => useDesk.getState();
const user = userEvent.setup();
let sent: Operation[] = [];

const own = key("k1", 1, "d1", true);
const calm = { ...own.span.take, name: "calm" };
const first = { ...own, span: { ...own.span, others: [calm] } };
const pond = scene([layer("reeds", [first, key("k2", 5, "d2")])]);
const drawings = { d1: { shapes: [] }, d2: { shapes: [] } };

beforeEach(async () => {
  sent = [];
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
    },
  );
  vi.spyOn(api, "open").mockResolvedValue(view(pond, drawings));
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(pond, {});
  });
  await desk().open("pond");
  desk().set({ layer: "reeds", frame: 1, view: "match", compared: null });
});

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

test("the take in use is told from the others, which can be used, seen beside it, named and deleted", async () => {
  render(<TakesSection />);
  expect(screen.getAllByTestId("take").map((row) => row.textContent)).toEqual(["take 1in use", "calmUse"]);
  await user.click(screen.getByText("New take"));
  await user.click(screen.getByRole("button", { name: "Use calm" }));
  await user.click(screen.getByRole("button", { name: "Delete calm" }));
  await user.dblClick(screen.getByText("calm"));
  await user.keyboard("slow{Enter}");
  await until(() =>
    expect(sent).toEqual([
      { type: "new_take", key: "k1" },
      { type: "use_take", key: "k1", name: "calm" },
      { type: "remove_take", key: "k1", name: "calm" },
      { type: "rename_take", key: "k1", name: "calm", to: "slow" },
    ]),
  );
  await user.click(screen.getByText("Write a note"));
  await user.type(screen.getByLabelText("Note for the next animator"), "the fin lags");
  await user.tab();
  await until(() => expect(sent[4]).toEqual({ type: "note_take", key: "k1", note: "the fin lags" }));
  await user.click(screen.getByRole("button", { name: "See calm beside it" }));
  expect([desk().compared, desk().view]).toEqual([{ key: "k1", name: "calm" }, "review"]);
  await user.click(screen.getByRole("button", { name: "See one take" }));
  expect(desk().compared).toBeNull();
});

test("two takes are seen beside each other, each with its measure, while the span at hand has both", async () => {
  const other = {
    key: "k1",
    take: calm,
    found: { snags: [], balance: { whole: 0.125 } },
  } as unknown as SpanView;
  const asked = vi.spyOn(api, "preview").mockResolvedValue(other);
  desk().set({ compared: { key: "k1", name: "calm" } });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ReviewStage />
    </QueryClientProvider>,
  );
  await until(() => expect(screen.getByTestId("other-take")).toBeTruthy());
  expect(asked).toHaveBeenCalledWith("pond", 1, { type: "use_take", key: "k1", name: "calm" }, "k1", true);
  expect(screen.getByText("calm").parentElement?.textContent).toBe("calm · distortion 0.13");
  desk().set({ compared: { key: "another", name: "calm" } });
  await until(() => expect(screen.queryByTestId("other-take")).toBeNull());
  expect(screen.getByTestId("stage")).toBeTruthy();
});
