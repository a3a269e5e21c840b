import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
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

export function useDeskKeys() {
  const set = useDesk((s) => s.set);
  const desk = () => useDesk.getState();
  const steady = { preventDefault: true };
  useHotkeys("space", () => set({ playing: !desk().playing }), steady);
  useHotkeys("q", () => actions.frameBy(-1));
  useHotkeys("w", () => actions.frameBy(1));
  useHotkeys("shift+q", () => actions.keyBy(-1));
  useHotkeys("shift+w", () => actions.keyBy(1));
  useHotkeys("1,2,3,4", (_, key) => set({ view: VIEWS[Number(key.keys?.[0]) - 1] ?? "draw" }));
  useHotkeys("a", () => set({ tool: "arrange", nodes: [] }));
  useHotkeys("s", () => set({ tool: "points" }));
  useHotkeys("d", () => set({ tool: "freehand", nodes: [] }));
  useHotkeys("z", () => set({ tool: "path", nodes: [] }));
  useHotkeys("t", () => set({ tool: "letters", nodes: [] }));
  useHotkeys("g", () => set({ tool: "pour", nodes: [] }));
  useHotkeys("shift+d", () => set({ tool: "width", nodes: [] }));
  useHotkeys("shift+g", () => set({ tool: "pick", nodes: [] }));
  useHotkeys("f", () => {
    const { form, set: setTools } = useTools.getState();
    if (desk().tool === "form") setTools({ form: FORMS[(FORMS.indexOf(form) + 1) % FORMS.length] as Form });
    set({ tool: "form", nodes: [] });
  });
  useHotkeys("pagedown", () => actions.chooseBy(1), steady);
  useHotkeys("pageup", () => actions.chooseBy(-1), steady);
  useHotkeys("mod+g", actions.group, steady);
  useHotkeys("mod+shift+g", actions.ungroup, steady);
  useHotkeys("shift+c", actions.copyStyle);
  useHotkeys("shift+v", actions.pasteStyle);
  useHotkeys("enter", () => {
    const key = atHand(desk()).editing?.id;
    if (useSketch.getState().path && key) finishPath(key);
  });
  useHotkeys("x", () => actions.newKey("shown"));
  useHotkeys("shift+x", () => actions.newKey("empty"));
  useHotkeys("c", () => actions.keepBreakdown());
  useHotkeys("r", actions.toggleInbetween);
  useHotkeys("b", () => set({ onion: !desk().onion }));
  useHotkeys("mod+z", () => void desk().step("undo"), steady);
  useHotkeys("mod+shift+z", () => void desk().step("redo"), steady);
  useHotkeys("mod+c", () => void actions.copy());
  useHotkeys("mod+x", actions.cut);
  useHotkeys("mod+v", actions.paste);
  useHotkeys("mod+d", actions.duplicateShapes, steady);
  useHotkeys("mod+a", actions.selectAll, steady);
  useHotkeys("delete,backspace", () => (useSketch.getState().path ? unplacePoint() : actions.removeChosen()));
  useHotkeys("escape", () => {
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
    useHotkeys(
      [name, `shift+${name}`],
      (event) => actions.nudge(dx * (event.shiftKey ? 10 : 1), dy * (event.shiftKey ? 10 : 1)),
      steady,
    );
  }
  useEffect(() => {
    const held = (on: boolean) => (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest("input, textarea");
      if (typing || event.ctrlKey || event.metaKey || (event.shiftKey && event.key !== "?")) return;
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
