import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import type { Operation } from "../src/api/types";
import { KEYS, useDeskKeys } from "../src/desk/hotkeys";
import { useDesk } from "../src/desk/state";
import { useSketch } from "../src/draw/sketch";
import { useTools } from "../src/draw/tools";
import { box, key, layer, node, scene, until, view } from "./forms";

const drawings = {
  d1: { shapes: [box("body", 0, 0, 40, 40), box("eye", 5, 5, 4, 4)] },
  d2: { shapes: [box("body", 90, 0)] },
};
const desk = () => useDesk.getState();
const user = userEvent.setup();
let sent: Operation[] = [];

function Room() {
  useDeskKeys();
  return (
    <>
      <input aria-label="name" />
      <div role="option" tabIndex={0} aria-selected={false} aria-label="row" />
      <input type="range" aria-label="opacity" />
      <input type="checkbox" aria-label="fill" />
      <div role="combobox" tabIndex={0} aria-expanded={false} aria-controls="paints" aria-label="paint" />
      <div className="MuiModal-root">
        <button type="button">in a dialog</button>
      </div>
    </>
  );
}

beforeEach(async () => {
  sent = [];
  const pond = scene([layer("tadpole", [key("k1", 1, "d1", true), key("k2", 13, "d2")])]);
  vi.spyOn(api, "open").mockResolvedValue({ ...view(pond, drawings), undo: "Move", redo: "Turn" });
  vi.spyOn(api, "edit").mockImplementation(async (_, __, operation) => {
    sent.push(operation);
    return view(pond, {});
  });
  await desk().open("pond");
  desk().set({ view: "draw", tool: "arrange", playing: false, onion: false, shapes: [], nodes: [] });
  render(<Room />);
});

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const sentOne = async () => {
  await until(() => expect(sent).toHaveLength(1));
  return sent.pop();
};

test("letters take tools up, F again takes the next form", async () => {
  const tools: string[] = [];
  for (const letter of ["s", "d", "z", "t", "g", "f", "{Shift>}d{/Shift}", "{Shift>}g{/Shift}", "a"]) {
    await user.keyboard(letter);
    tools.push(desk().tool);
  }
  expect(tools).toEqual([
    "points",
    "freehand",
    "path",
    "letters",
    "pour",
    "form",
    "width",
    "pick",
    "arrange",
  ]);
  const form = useTools.getState().form;
  await user.keyboard("f");
  expect(useTools.getState().form).toBe(form);
  await user.keyboard("f");
  expect(useTools.getState().form).not.toBe(form);
});

test("figures take the views, space plays, B shows the onion skin, ? the sheet of keys", async () => {
  const views: string[] = [];
  for (const figure of ["2", "3", "4", "1"]) {
    await user.keyboard(figure);
    views.push(desk().view);
  }
  expect(views).toEqual(["match", "time", "review", "draw"]);
  await user.keyboard(" b?");
  expect([desk().playing, desk().onion, desk().keySheet]).toEqual([true, true, true]);
  await user.keyboard(" ");
  expect(desk().playing).toBe(false);
  desk().set({ keySheet: false });
});

test("Q and W go by frames, with Shift by keys", async () => {
  await user.keyboard("ww");
  expect(desk().frame).toBe(3);
  await user.keyboard("q{Shift>}w{/Shift}");
  expect(desk().frame).toBe(13);
  await user.keyboard("{Shift>}q{/Shift}");
  expect(desk().frame).toBe(1);
});

test("E and V count while they are held, and end when the window is left", async () => {
  await user.keyboard("{e>}");
  expect(desk().flip).toBe(true);
  await user.keyboard("{/e}{v>}");
  expect([desk().flip, desk().bare]).toEqual([false, true]);
  window.dispatchEvent(new Event("blur"));
  expect(desk().bare).toBe(false);
});

test("what is typed into a field is no command", async () => {
  await user.click(screen.getByLabelText("name"));
  await user.keyboard("d2 b{Delete}e");
  expect([desk().tool, desk().view, desk().playing, desk().onion, desk().flip]).toEqual([
    "arrange",
    "draw",
    false,
    false,
    false,
  ]);
  expect(sent).toEqual([]);
});

test("keys work on after a row was chosen, a slider drawn or a switch thrown, but for the keys that these use", async () => {
  for (const [label, own] of [
    ["row", []],
    ["opacity", ["ArrowUp", "PageDown", "End"]],
    ["fill", [" "]],
    ["paint", ["ArrowDown", " "]],
  ] as const) {
    act(() => desk().set({ view: "draw", frame: 1, playing: false, shapes: ["eye"] }));
    screen.getByLabelText(label).focus();
    await user.keyboard("2w");
    for (const key of own)
      fireEvent.keyDown(screen.getByLabelText(label), { key, code: key === " " ? "Space" : key });
    expect([desk().view, desk().frame, desk().playing, desk().shapes], label).toEqual([
      "match",
      2,
      false,
      ["eye"],
    ]);
    await user.keyboard("1q");
    expect([desk().view, desk().frame], label).toEqual(["draw", 1]);
  }
  expect(sent).toEqual([]);
});

test("what is pressed in a dialog or a menu is not for the desk behind it", async () => {
  screen.getByText("in a dialog").focus();
  await user.keyboard("2wx{Delete}");
  expect([desk().view, desk().frame]).toEqual(["draw", 1]);
  expect(sent).toEqual([]);
});

test("keys are made, kept and in-betweened where the frame is", async () => {
  desk().set({ frame: 7 });
  await user.keyboard("c");
  expect(await sentOne()).toEqual({ type: "new_key", layer: "tadpole", frame: 7, source: "shown" });
  await user.keyboard("{Shift>}x{/Shift}");
  expect(await sentOne()).toEqual({ type: "new_key", layer: "tadpole", frame: 7, source: "empty" });
  await user.keyboard("r");
  expect(await sentOne()).toEqual({ type: "set_inbetween", key: "k1", inbetween: false });
});

test("everything is chosen, nudged one or ten, grouped and deleted", async () => {
  await user.keyboard("{Control>}a{/Control}");
  expect(desk().shapes).toEqual(["body", "eye"]);
  await user.keyboard("{ArrowRight}");
  expect(await sentOne()).toMatchObject({ type: "transform_shapes", matrix: [1, 0, 0, 1, 1, 0] });
  await user.keyboard("{Shift>}{ArrowUp}{/Shift}");
  expect(await sentOne()).toMatchObject({ matrix: [1, 0, 0, 1, 0, -10] });
  await user.keyboard("{Control>}g{/Control}");
  expect(await sentOne()).toMatchObject({ type: "group_shapes", name: "part 1" });
  await user.keyboard("{Delete}");
  expect(await sentOne()).toMatchObject({ type: "remove_shapes", shapes: ["body", "eye"] });
});

test("undo and redo are asked of the server", async () => {
  const [undo, redo] = [vi.spyOn(api, "undo"), vi.spyOn(api, "redo")];
  for (const step of [undo, redo])
    step.mockResolvedValue({ ...view(scene([]), {}), undo: "Move", redo: "Turn" });
  await user.keyboard("{Control>}z{/Control}");
  await until(() => expect(undo).toHaveBeenCalledTimes(1));
  await user.keyboard("{Control>}{Shift>}z{/Shift}{/Control}");
  await until(() => expect(redo).toHaveBeenCalledTimes(1));
});

test("while points are placed, Delete takes back the last one, Escape all, Enter ends the line", async () => {
  const place = () => {
    desk().set({ tool: "path" });
    useSketch.setState({ path: { nodes: [node([0, 0]), node([9, 0]), node([9, 9])], hover: null } });
  };
  place();
  await user.keyboard("{Delete}");
  expect(useSketch.getState().path?.nodes).toHaveLength(2);
  await user.keyboard("{Escape}");
  expect(useSketch.getState().path).toBeNull();
  place();
  await user.keyboard("{Enter}");
  expect(await sentOne()).toMatchObject({ type: "add_path", key: "k1", closed: false });
});

test("no two lines of the sheet of keys say the same", () => {
  const names = KEYS.map(([name]) => name);
  expect(new Set(names).size).toBe(names.length);
});
