import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import type { SnagView } from "../src/api/types";
import { NumberField } from "../src/desk/NumberField";
import { Rename } from "../src/desk/Rename";
import { Slide } from "../src/desk/Slide";
import { SnagList } from "../src/desk/SnagList";
import { EaseCurve } from "../src/time/EaseCurve";

afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const user = userEvent.setup();

test("a typed number counts with Enter or when the field is left, within its limits, and once", async () => {
  const taken = vi.fn();
  render(<NumberField label="Width" value={12} min={1} max={100} onChange={taken} />);
  const field = screen.getByLabelText("Width");
  await user.clear(field);
  await user.type(field, "40,5{Enter}");
  expect(taken.mock.calls).toEqual([[40.5]]);
  await user.tab();
  expect(taken, "left before the value follows: still once").toHaveBeenCalledTimes(1);
  await user.clear(field);
  await user.type(field, "900");
  await user.tab();
  expect(taken.mock.calls).toEqual([[40.5], [100]]);
  expect(field).toHaveProperty("value", "100");
});

test("what is no number is taken back, and a number that is there already is no change", async () => {
  const taken = vi.fn();
  render(<NumberField label="Width" value={12.3456} onChange={taken} />);
  const field = screen.getByLabelText("Width");
  for (const text of ["wide", " ", "12.35"]) {
    await user.clear(field);
    await user.type(field, `${text}{Enter}`);
    expect(field).toHaveProperty("value", "12.35");
  }
  expect(taken).not.toHaveBeenCalled();
});

test("a number that changes elsewhere is shown, and one that differs among what is chosen can't be typed", () => {
  const { rerender } = render(<NumberField label="Width" value={5} onChange={vi.fn()} />);
  rerender(<NumberField label="Width" value={8} onChange={vi.fn()} />);
  expect(screen.getByLabelText("Width")).toHaveProperty("value", "8");
  rerender(<NumberField label="Width" value={null} onChange={vi.fn()} />);
  expect(screen.getByLabelText("Width")).toHaveProperty("disabled", true);
});

test("a name becomes a field by two clicks or Enter; Escape leaves it, nothing and the same name change nothing", async () => {
  const renamed = vi.fn();
  render(<Rename name="fin" label="shape" onRename={renamed} />);
  await user.dblClick(screen.getByText("fin"));
  await user.keyboard("tail{Escape}");
  screen.getByText("fin").focus();
  for (const text of ["fin", "   "]) {
    await user.keyboard("{Enter}");
    await user.clear(screen.getByRole("textbox"));
    await user.keyboard(`${text}{Enter}`);
    screen.getByText("fin").focus();
  }
  expect(renamed).not.toHaveBeenCalled();
  await user.keyboard("{Enter}");
  await user.clear(screen.getByRole("textbox"));
  await user.keyboard("  tail fin ");
  await user.tab();
  expect(renamed.mock.calls).toEqual([["tail fin"]]);
});

/** A slider of a value that is kept a while after it was set, as by a server. */
function Kept<T extends number | number[]>({ start, set }: { start: T; set: (value: T) => void }) {
  const [value, setValue] = useState(start);
  const commit = async (next: T) => {
    set(next);
    await new Promise((done) => setTimeout(done, 50));
    setValue(next);
  };
  const names = Array.isArray(start)
    ? { getAriaLabel: (k: number) => ["from", "to"][k] ?? "" }
    : { "aria-label": "from" };
  return (
    <>
      <Slide {...names} value={value} min={0} max={100} onCommit={commit} />
      <output>{String(value)}</output>
    </>
  );
}

const handle = (name: string) => screen.getByLabelText(name) as HTMLInputElement;

test("arrow keys held on a slider are one change, made when they rest", async () => {
  vi.useFakeTimers();
  const set = vi.fn();
  render(<Kept start={20} set={set} />);
  for (const value of ["21", "22", "23"]) fireEvent.change(handle("from"), { target: { value } });
  expect(handle("from").value).toBe("23");
  expect(set).not.toHaveBeenCalled();
  await act(() => vi.advanceTimersByTimeAsync(500));
  expect(set.mock.calls).toEqual([[23]]);
  await act(() => vi.advanceTimersByTimeAsync(100));
  expect(screen.getByRole("status").textContent).toBe("23");
});

test("a slider that is left, or taken away, keeps what was set", async () => {
  vi.useFakeTimers();
  const set = vi.fn();
  const { unmount } = render(<Kept start={20} set={set} />);
  fireEvent.change(handle("from"), { target: { value: "30" } });
  fireEvent.blur(handle("from"));
  expect(set.mock.calls).toEqual([[30]]);
  fireEvent.change(handle("from"), { target: { value: "40" } });
  unmount();
  expect(set.mock.calls).toEqual([[30], [40]]);
});

test("a slider of two handles follows what it is of again, once its pair is kept", async () => {
  vi.useFakeTimers();
  const { rerender } = render(
    <Slide getAriaLabel={(k) => ["from", "to"][k] ?? ""} value={[10, 90]} onCommit={vi.fn()} />,
  );
  fireEvent.change(handle("to"), { target: { value: "80" } });
  expect([handle("from").value, handle("to").value]).toEqual(["10", "80"]);
  await act(() => vi.advanceTimersByTimeAsync(500));
  rerender(<Slide getAriaLabel={(k) => ["from", "to"][k] ?? ""} value={[30, 60]} onCommit={vi.fn()} />);
  expect([handle("from").value, handle("to").value]).toEqual(["30", "60"]);
});

test("until a value is kept, a slider shows it and not the one before", async () => {
  vi.useFakeTimers();
  render(<Kept start={20} set={vi.fn()} />);
  fireEvent.change(handle("from"), { target: { value: "70" } });
  await act(() => vi.advanceTimersByTimeAsync(420));
  expect([handle("from").value, screen.getByRole("status").textContent]).toEqual(["70", "20"]);
  await act(() => vi.advanceTimersByTimeAsync(100));
  expect([handle("from").value, screen.getByRole("status").textContent]).toEqual(["70", "70"]);
});

const knob = (end: string) => document.querySelector(`[data-knob=${end}]`) as Element;
const move = (y: number) =>
  act(() => void window.dispatchEvent(new MouseEvent("pointermove", { clientY: y })));

test("a knob of the ease curve tilts its own end, from abrupt to slow, and is kept when it is let go", () => {
  const [dragged, done] = [vi.fn(), vi.fn()];
  const ease = { out: 0, into: 0.5, anticipation: 0, overshoot: 0 };
  const curve = {
    ease,
    places: [0, 0.5, 1],
    drawn: [0, 1, 2],
    curve: [0, 0.5, 1],
    charted: false,
    onTick: vi.fn(),
  };
  render(<EaseCurve {...curve} onDrag={dragged} onDone={done} />);
  const even = knob("out").getAttribute("cy");
  vi.spyOn(SVGElement.prototype, "getBoundingClientRect").mockReturnValue({ bottom: 232 } as DOMRect);
  fireEvent.pointerDown(knob("out"));
  move(210);
  expect(dragged).toHaveBeenLastCalledWith({ ...ease, out: 1 });
  expect(Number(knob("out").getAttribute("cy"))).toBeGreaterThan(Number(even));
  move(-500);
  expect(dragged).toHaveBeenLastCalledWith({ ...ease, out: -1 });
  expect(done).not.toHaveBeenCalled();
  act(() => void window.dispatchEvent(new MouseEvent("pointerup")));
  expect(done.mock.calls).toEqual([[{ ...ease, out: -1 }]]);
  expect(knob("out").getAttribute("cy"), "it follows the scene again").toBe(even);
});

test("a curve that goes beyond a key is wholly in its frame, and has no knob at that end", () => {
  const curve = [0, 0.9, 1.3, 1.1, 1];
  const ease = { out: 0, into: 0, anticipation: 0, overshoot: 0.3 };
  render(
    <EaseCurve
      ease={ease}
      places={curve}
      drawn={[]}
      curve={curve}
      onDrag={vi.fn()}
      onDone={vi.fn()}
      charted={false}
      onTick={vi.fn()}
    />,
  );
  const frame = document.querySelector("rect") as Element;
  const line = document.querySelector("polyline")?.getAttribute("points")?.split(" ") ?? [];
  const heights = line.map((point) => Number(point.split(",")[1]));
  expect(Math.min(...heights)).toBeCloseTo(Number(frame.getAttribute("y")));
  expect([knob("out"), knob("into")].map(Boolean)).toEqual([true, false]);
});

test("an in-between is pulled to its place by itself; on a chart the curve has no knobs", () => {
  const ticked = vi.fn();
  const ease = { out: 0, into: 0, anticipation: 0, overshoot: 0 };
  const curve = { ease, places: [0, 0.5, 1], drawn: [0, 1, 2], curve: [0, 0.5, 1], charted: true };
  render(<EaseCurve {...curve} onDrag={vi.fn()} onDone={vi.fn()} onTick={ticked} />);
  expect(document.querySelectorAll("[data-knob]")).toHaveLength(0);
  const dots = document.querySelectorAll("[data-tick]");
  expect([...dots].map((dot) => dot.getAttribute("data-tick"))).toEqual(["1"]);
  vi.spyOn(SVGElement.prototype, "getBoundingClientRect").mockReturnValue({ bottom: 188 } as DOMRect);
  fireEvent.pointerDown(dots[0] as Element);
  move(166);
  expect(ticked).toHaveBeenLastCalledWith(1, 0, false);
  move(-900);
  act(() => void window.dispatchEvent(new MouseEvent("pointerup")));
  expect(ticked).toHaveBeenLastCalledWith(1, 1.5, true);
  fireEvent.keyDown(dots[0] as Element, { key: "ArrowDown" });
  expect(ticked).toHaveBeenLastCalledWith(1, 0.49, true);
});

test("snags say where they are, how bad, and what helps; a click looks at one", async () => {
  const looked = vi.fn();
  const snag = (frames: number[], severity: number) =>
    ({ frames, severity, text: `Fold at ${frames[0]}.`, remedy: "Tie it." }) as SnagView;
  const snags = [{ snag: snag([3], 0.4) }, { snag: snag([5, 6, 7], 1), where: "tadpole" }];
  render(<SnagList snags={snags} onLook={looked} />);
  expect(screen.getByText(/^frame 3\. Tie it\./)).toBeTruthy();
  expect(screen.getByText(/^tadpole, frames 5 to 7\./)).toBeTruthy();
  expect(screen.getByLabelText("Severity 40 of 100")).toBeTruthy();
  await user.click(screen.getByText("Fold at 5."));
  expect(looked.mock.calls).toEqual([[1]]);
});
