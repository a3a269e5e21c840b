import { useEffect } from "react";
import { type HotkeyCallback, type Options, useHotkeys } from "react-hotkeys-hook";
import { finishPath, unplacePoint } from "../draw/gestures/make";
import { clearSketch, useSketch } from "../draw/sketch";
import { FORMS, type Form, useTools } from "../draw/tools";
import { actions } from "./actions";
import { atHand, useDesk, type View } from "./state";

export const KEYS: [string, string][] = [
  ["Space", "Play, stop"],
  ["Q / W", "Frame back / on (with Shift: key back / on)"],
  ["E held", "Flip: the other key of the span"],
  ["1 2 3 4", "Draw, Match, Time, Review"],
  ["A S D Z", "Arrange, points, freehand, placed points"],
  ["F T G", "Forms (again: the next form), letters, pour"],
  ["Shift+D, Shift+G", "Width along a line, pick a colour"],
  ["Page up / down", "Choose the next shape or point, or the one before"],
  ["Ctrl+G / Ctrl+Shift+G", "Group into a part / ungroup"],
  ["Shift+C / Shift+V", "Copy / paste the style"],
  ["X / Shift+X", "New key here from what is shown / empty key here"],
  ["C", "Keep the in-between here as a breakdown"],
  ["R", "In-between the span at hand, or hold it"],
  ["V held", "See the scene as it will be"],
  ["B", "Onion skin on, off"],
  ["Ctrl+Z / Ctrl+Shift+Z", "Undo / redo"],
  ["Ctrl+C, X, V, D, A", "Copy, cut, paste, duplicate, select all"],
  ["Delete", "Delete what is selected"],
  ["Arrows", "Nudge (Shift: ten times)"],
  ["Alt held", "No snapping"],
  ["Wheel / middle button", "Zoom / move the paper"],
  ["Escape", "Take back what is being dragged; else leave a part, or choose nothing"],
  ["?", "This sheet"],
];

const VIEWS: View[] = ["draw", "match", "time", "review"];

const TYPED_IN = "textarea, select, input:not([type=range], [type=checkbox], [type=radio])";

/** What has a use for some keys itself, and for which. */
const USES: [string, RegExp][] = [
  ["[role=slider], [type=range]", /^(Arrow|Page|Home|End)/],
  ["[role=separator]", /^Arrow/],
  ["[role=combobox]", /^(Arrow|Home|End|Enter| )/],
  ["[type=checkbox], [type=radio]", /^ $/],
];

/** Whether a key press is not for the desk: it is typed, or what has the focus, or a dialog, has a use for it. */
function isTaken(event: KeyboardEvent): boolean {
  const at = event.target instanceof Element ? event.target : null;
  if (at?.closest(`${TYPED_IN}, .MuiModal-root`)) return true;
  return USES.some(([what, keys]) => keys.test(event.key) && at?.closest(what));
}

/** A key of the desk, wherever the focus is: a row that was chosen, a slider that was drawn, must not silence it. */
const useKey = (keys: string | string[], act: HotkeyCallback, options?: Options) =>
  useHotkeys(keys, act, { enableOnFormTags: true, ignoreEventWhen: isTaken, ...options });

export function useDeskKeys() {
  const set = useDesk((s) => s.set);
  const desk = () => useDesk.getState();
  const steady = { preventDefault: true };
  useKey("space", () => set({ playing: !desk().playing }), steady);
  useKey("q", () => actions.frameBy(-1));
  useKey("w", () => actions.frameBy(1));
  useKey("shift+q", () => actions.keyBy(-1));
  useKey("shift+w", () => actions.keyBy(1));
  useKey("1,2,3,4", (_, key) => set({ view: VIEWS[Number(key.keys?.[0]) - 1] ?? "draw" }));
  useKey("a", () => set({ tool: "arrange", nodes: [] }));
  useKey("s", () => set({ tool: "points" }));
  useKey("d", () => set({ tool: "freehand", nodes: [] }));
  useKey("z", () => set({ tool: "path", nodes: [] }));
  useKey("t", () => set({ tool: "letters", nodes: [] }));
  useKey("g", () => set({ tool: "pour", nodes: [] }));
  useKey("shift+d", () => set({ tool: "width", nodes: [] }));
  useKey("shift+g", () => set({ tool: "pick", nodes: [] }));
  useKey("f", () => {
    const { form, set: setTools } = useTools.getState();
    if (desk().tool === "form") setTools({ form: FORMS[(FORMS.indexOf(form) + 1) % FORMS.length] as Form });
    set({ tool: "form", nodes: [] });
  });
  useKey("pagedown", () => actions.chooseBy(1), steady);
  useKey("pageup", () => actions.chooseBy(-1), steady);
  useKey("mod+g", actions.group, steady);
  useKey("mod+shift+g", actions.ungroup, steady);
  useKey("shift+c", actions.copyStyle);
  useKey("shift+v", actions.pasteStyle);
  useKey("enter", () => {
    const key = atHand(desk()).editing?.id;
    if (useSketch.getState().path && key) finishPath(key);
  });
  useKey("x", () => actions.newKey("shown"));
  useKey("shift+x", () => actions.newKey("empty"));
  useKey("c", () => actions.keepBreakdown());
  useKey("r", actions.toggleInbetween);
  useKey("b", () => set({ onion: !desk().onion }));
  useKey("mod+z", () => void desk().step("undo"), steady);
  useKey("mod+shift+z", () => void desk().step("redo"), steady);
  useKey("mod+c", () => void actions.copy());
  useKey("mod+x", actions.cut);
  useKey("mod+v", actions.paste);
  useKey("mod+d", actions.duplicateShapes, steady);
  useKey("mod+a", actions.selectAll, steady);
  useKey("delete,backspace", () => (useSketch.getState().path ? unplacePoint() : actions.removeChosen()));
  useKey("escape", () => {
    if (useSketch.getState().path) clearSketch();
    else actions.leave();
  });
  for (const [name, dx, dy] of [
    ["left", -1, 0],
    ["right", 1, 0],
    ["up", 0, -1],
    ["down", 0, 1],
  ] as const) {
    // biome-ignore lint/correctness/useHookAtTopLevel: always the same four, in one order
    useKey(
      [name, `shift+${name}`],
      (event) => actions.nudge(dx * (event.shiftKey ? 10 : 1), dy * (event.shiftKey ? 10 : 1)),
      steady,
    );
  }
  useEffect(() => {
    const held = (on: boolean) => (event: KeyboardEvent) => {
      if (isTaken(event) || event.ctrlKey || event.metaKey || (event.shiftKey && event.key !== "?")) return;
      if (event.key === "?" && on) set({ keySheet: true });
      if (event.key === "e" || event.key === "E") set({ flip: on });
      if (event.key === "v" || event.key === "V") set({ bare: on });
    };
    const [down, up] = [held(true), held(false)];
    const blur = () => set({ flip: false, bare: false });
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", blur);
    };
  }, [set]);
}
