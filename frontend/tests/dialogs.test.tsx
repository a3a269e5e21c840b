import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { ExportView, Operation, SceneCard } from "../src/api/types";
import { ExportDialog } from "../src/desk/ExportDialog";
import { SceneDialog } from "../src/desk/SceneDialog";
import { useDesk } from "../src/desk/state";
import { NewSceneDialog } from "../src/scenes/NewSceneDialog";
import { Shelf } from "../src/scenes/Shelf";
import { scene, until, view } from "./forms";

const desk = () => useDesk.getState();
const user = userEvent.setup();
let sent: Operation[] = [];

beforeEach(async () => {
  sent = [];
  vi.spyOn(api, "open").mockResolvedValue(view(scene([]), {}));
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(scene([]), {});
  });
  await desk().open("pond");
  desk().set({ loop: null, thereAndBack: false });
});

afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const job = (changes: Partial<ExportView> = {}): ExportView => ({
  id: "job",
  state: "running",
  progress: 0.25,
  message: "",
  file_name: "pond.svg",
  ...changes,
});

const type = async (label: string, text: string) => {
  await user.clear(screen.getByLabelText(label));
  await user.type(screen.getByLabelText(label), `${text}{Enter}`);
};

test("an export is ordered as it is set, frames in their order and within the scene", async () => {
  desk().set({ loop: [5, 12], thereAndBack: true });
  const order = vi.spyOn(api, "orderExport").mockResolvedValue(job());
  render(<ExportDialog onClose={vi.fn()} />);
  await type("Width (px)", "480");
  expect(screen.getByText("× 270")).toBeTruthy();
  await type("From", "20");
  expect(screen.getByLabelText("To")).toHaveProperty("value", "20");
  await type("To", "99");
  await user.click(screen.getByLabelText("With the paper"));
  await user.click(screen.getByRole("button", { name: "Export" }));
  expect(order).toHaveBeenCalledWith("pond", {
    format: "animated-svg",
    width: 480,
    first: 20,
    last: 24,
    paper: false,
    there_and_back: true,
  });
});

/** An export that was ordered, watched with the test's own clock. */
async function ordered() {
  vi.spyOn(api, "orderExport").mockResolvedValue(job({ state: "waiting", progress: 0 }));
  const watch = vi.spyOn(api, "watchExport").mockResolvedValue(job());
  vi.useFakeTimers();
  render(<ExportDialog onClose={vi.fn()} />);
  await act(async () => void fireEvent.click(screen.getByRole("button", { name: "Export" })));
  const look = () => act(() => vi.advanceTimersByTimeAsync(300));
  return { watch, look };
}

test("an export is watched until it is done, and its file can be saved", async () => {
  const { watch, look } = await ordered();
  await look();
  expect(screen.getByLabelText("Export progress").getAttribute("aria-valuenow")).toBe("25");
  watch.mockResolvedValue(job({ state: "done", progress: 1 }));
  await look();
  expect(screen.getByTestId("export-done").textContent).toBe("pond.svg is ready.");
  expect(screen.getByText("Save the file").getAttribute("href")).toBe("/api/exports/job/file");
  await look();
  expect(watch).toHaveBeenCalledTimes(2);
});

test("an export goes on while the server can't be reached, and is found again", async () => {
  const { watch, look } = await ordered();
  watch.mockRejectedValue(new Error("The server can't be reached."));
  await look();
  expect(screen.getByText("The server can't be reached.")).toBeTruthy();
  watch.mockResolvedValue(job({ state: "done" }));
  await look();
  expect(screen.queryByText("The server can't be reached.")).toBeNull();
  expect(screen.getByTestId("export-done")).toBeTruthy();
});

test("an export that failed says why, one that was cancelled that nothing was written; both can be tried again", async () => {
  const { watch, look } = await ordered();
  watch.mockResolvedValue(job({ state: "failed", message: "There is not enough memory for this size." }));
  await look();
  expect(screen.getByText("There is not enough memory for this size.")).toBeTruthy();
  await act(async () => void fireEvent.click(screen.getByRole("button", { name: "Export" })));
  vi.spyOn(api, "cancelExport").mockResolvedValue(job({ state: "cancelled" }));
  await act(async () => void fireEvent.click(screen.getByText("Cancel the export")));
  expect(screen.getByText("Cancelled. Nothing was written.")).toBeTruthy();
  expect(screen.getByRole("button", { name: "Export" })).toBeTruthy();
});

test("only what is changed of a scene is sent", async () => {
  const close = vi.fn();
  const { unmount } = render(<SceneDialog onClose={close} />);
  await user.click(screen.getByText("Change the scene"));
  expect([sent, close.mock.calls.length]).toEqual([[], 1]);
  unmount();
  render(<SceneDialog onClose={close} />);
  await user.clear(screen.getByLabelText("Name"));
  await user.type(screen.getByLabelText("Name"), " Dusk ");
  await type("Frames", "36.4");
  await user.click(screen.getByText("Change the scene"));
  await until(() => expect(close).toHaveBeenCalledTimes(2));
  expect(sent).toEqual([
    { type: "set_scene", name: "Dusk" },
    { type: "set_scene", width: 960, height: 540, rate: 12, length: 36 },
  ]);
});

const card = (id: string, name: string): SceneCard => ({
  id,
  name,
  width: 960,
  height: 540,
  rate: 12,
  length: 24,
  revision: 3,
});

test("a new scene is opened once it is made; a scene without a name is called so", async () => {
  const make = vi.spyOn(api, "newScene").mockResolvedValue(card("fresh", "Untitled"));
  render(<NewSceneDialog onClose={vi.fn()} onProblem={vi.fn()} />);
  await user.clear(screen.getByLabelText("Name"));
  await type("Rate (fps)", "500");
  await user.click(screen.getByText("Make the scene"));
  expect(make).toHaveBeenCalledWith({ name: "Untitled", width: 960, height: 540, rate: 120, length: 24 });
  await until(() => expect(location.hash).toBe("#fresh"));
  location.hash = "";
});

async function shelf(...cards: SceneCard[]) {
  vi.spyOn(api, "scenes").mockResolvedValue(cards);
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={client}>
      <Shelf />
    </QueryClientProvider>,
  );
  await until(() => screen.getByText(cards[0]?.name ?? /^The shelf is empty/));
}

const drop = (...names: string[]) =>
  fireEvent.drop(screen.getByRole("heading"), {
    dataTransfer: { files: names.map((name) => new File(["x"], name)) },
  });

test("a deleted scene can be had back; one that could not be deleted is not said to be", async () => {
  await shelf(card("a", "Pond"), card("b", "Reeds"));
  const [remove, restore] = [vi.spyOn(api, "remove"), vi.spyOn(api, "restore")];
  remove.mockRejectedValueOnce(new Error("The server can't be reached.")).mockResolvedValue();
  restore.mockResolvedValue();
  await user.click(screen.getByRole("button", { name: "Delete Reeds" }));
  await until(() => expect(desk().notice?.text).toBe("The server can't be reached."));
  await user.click(screen.getByRole("button", { name: "Delete Reeds" }));
  await until(() => expect(desk().notice?.text).toBe("'Reeds' is deleted."));
  desk().notice?.action?.run();
  expect(restore).toHaveBeenCalledWith("b");
});

test("dropped files are brought in together and opened, and what was left out of them is told", async () => {
  await shelf();
  const bring = vi
    .spyOn(api, "bringIn")
    .mockResolvedValue({ scene: card("c", "frog"), lost: ["frog.svg: filters: 1"] });
  drop("frog.svg", "toad.svg");
  await until(() => expect(location.hash).toBe("#c"));
  expect(desk().notice?.text).toBe("Left out of 'frog': frog.svg: filters: 1.");
  expect(bring.mock.calls[0]?.[0].map((file) => file.name)).toEqual(["frog.svg", "toad.svg"]);
  bring.mockRejectedValue(new Error("toad.svg is not an SVG."));
  drop("toad.svg");
  await until(() => expect(desk().notice?.text).toBe("toad.svg is not an SVG."));
  bring.mockClear();
  drop();
  expect(bring).not.toHaveBeenCalled();
});
