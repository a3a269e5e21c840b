import type { Key, Operation, Shape, SnagView } from "../api/types";
import { unitOf } from "../draw/parts";
import { useTools } from "../draw/tools";
import { clipboard } from "./clipboard";
import { newId } from "./ids";
import { atHand, useDesk } from "./state";

const desk = () => useDesk.getState();
const at = () => atHand(useDesk.getState());
const say = (text: string) => desk().set({ notice: { kind: "info", text } });
const edit = (operation: Operation) => desk().edit(operation);

function goTo(frame: number) {
  const length = desk().doc?.scene.length ?? 1;
  desk().set({ frame: Math.min(length, Math.max(1, frame)), nodes: [], mark: null });
}

function chosenShapes(): Shape[] {
  const { editing } = at();
  const { shapes, drawings } = desk();
  return (editing && drawings[editing.drawing]?.shapes.filter((s) => shapes.includes(s.id))) || [];
}

function addShapes(shapes: Shape[]) {
  const { editing } = at();
  if (editing && shapes.length) void edit({ type: "add_shapes", key: editing.id, shapes: shapes as never });
}

/** Remove points; where hints stand on them, say so first: they stay, but no longer follow a point. */
function removeNodes(key: string, nodes: string[]) {
  const keys = at().layer?.keys ?? [];
  const index = keys.findIndex((k) => k.id === key);
  const here = keys[index]?.span.take.hints.filter((h) => nodes.includes(h.first.node ?? "")) ?? [];
  const before = keys[index - 1]?.span.take.hints.filter((h) => nodes.includes(h.second.node ?? "")) ?? [];
  const names = [...here, ...before].map((h) => `“${h.name}”`);
  const run = () =>
    void edit({ type: "remove_nodes", key, nodes }).then(() => desk().set({ nodes: [], notice: null }));
  if (!names.length) return run();
  const many = names.length > 1;
  desk().set({
    notice: {
      kind: "info",
      text: `The ${many ? "hints" : "hint"} ${names.join(" and ")} ${many ? "stand" : "stands"} here. Without the point, ${many ? "they stay" : "it stays"} at this place on the outline.`,
      action: { name: "Remove the point", run },
    },
  });
}

/** Make or delete a key; other takes of the span that is parted or joined can't be kept, which is said. */
async function editKey(operation: Operation, span: Key | undefined): Promise<boolean> {
  const others = span?.span.others.map((take) => `“${take.name}”`) ?? [];
  const done = await edit(operation);
  if (done && others.length)
    say(
      `${others.join(" and ")}, kept beside the take in use, went with the old span. Undo brings that back.`,
    );
  return done;
}

/** The key that begins the in-betweens at a frame, if it is within a span. */
function spanAround(frame: number): Key | undefined {
  const { layer } = at();
  const exposure = layer && desk().doc?.sheet[layer.id]?.[frame - 1];
  return exposure?.number ? layer?.keys.find((key) => key.id === exposure.key) : undefined;
}

/** What buttons and keys do. */
export const actions = {
  goTo,
  /** Go to the frame of a snag and mark its place; its pair is chosen. */
  lookAt: (snag: SnagView, layer?: string) => {
    if (layer) desk().set({ layer, playing: false });
    goTo(snag.frames[Math.floor(snag.frames.length / 2)] ?? desk().frame);
    desk().set({
      mark: { frame: desk().frame, place: snag.place },
      pair: snag.kind === "stranger" ? null : { first: snag.first, second: snag.second },
    });
  },
  frameBy: (step: number) => {
    const { frame, doc } = desk();
    const length = doc?.scene.length ?? 1;
    goTo(((frame - 1 + step + length) % length) + 1);
  },
  keyBy: (step: 1 | -1) => {
    const { frame } = desk();
    const keys = at().layer?.keys ?? [];
    const target = step > 0 ? keys.find((k) => k.frame > frame) : keys.findLast((k) => k.frame < frame);
    if (target) goTo(target.frame);
  },
  newKey: (source: "shown" | "empty") => {
    const { layer, frame } = { ...at(), frame: desk().frame };
    const parted = source === "shown" ? spanAround(frame) : undefined;
    if (layer) void editKey({ type: "new_key", layer: layer.id, frame, source }, parted);
  },
  keepBreakdown: (frame = desk().frame) => {
    const { layer } = at();
    const span = spanAround(frame);
    if (!layer || !span) return say("A breakdown is kept from an in-between; this frame shows a key.");
    void editKey({ type: "new_key", layer: layer.id, frame, source: "shown" }, span).then(
      (done) => done && goTo(frame),
    );
  },
  duplicateKey: () => {
    const { editing, layer } = at();
    if (!editing || !layer) return;
    const last = layer.keys.at(-1)?.frame ?? 0;
    const frame = last + 12;
    void edit({ type: "duplicate_key", key: editing.id, frame }).then((done) => done && goTo(frame));
  },
  removeKey: () => {
    const { editing, layer } = at();
    if (!editing || !layer || editing.frame !== desk().frame) return;
    void editKey({ type: "remove_key", key: editing.id }, layer.keys[layer.keys.indexOf(editing) - 1]);
  },
  toggleInbetween: () => {
    const { first } = at();
    if (!first) return say("A span needs two keys. Add a second key further on, then in-between it.");
    void edit({ type: "set_inbetween", key: first.id, inbetween: !first.span.inbetween });
  },
  nodeKind: (kind: "corner" | "smooth" | "symmetric") => {
    const { editing } = at();
    const { nodes } = desk();
    if (editing && nodes.length) void edit({ type: "set_node_kind", key: editing.id, nodes, kind });
  },
  removeChosen: () => {
    const { editing } = at();
    const { nodes, shapes, view, hint, tool } = desk();
    const { first } = at();
    if (view === "match") {
      if (hint && first) void edit({ type: "remove_hints", key: first.id, hints: [hint] });
    } else if (editing && tool === "points" && nodes.length) {
      removeNodes(editing.id, nodes);
    } else if (editing && shapes.length) {
      void edit({ type: "remove_shapes", key: editing.id, shapes }).then(() => desk().set({ shapes: [] }));
    }
  },
  group: () => {
    const { editing } = at();
    const { shapes, drawings } = desk();
    if (!editing || shapes.length < 2) return;
    const parts = new Set(drawings[editing.drawing]?.shapes.map((s) => s.part));
    let n = 1;
    while ([...parts].some((part) => part?.split("/").includes(`part ${n}`))) n++;
    void edit({ type: "group_shapes", key: editing.id, shapes, name: `part ${n}` });
  },
  ungroup: () => {
    const { editing } = at();
    const { shapes, set } = desk();
    if (!editing || !shapes.length) return;
    set({ part: "" });
    void edit({ type: "ungroup_shapes", key: editing.id, shapes });
  },
  /** Choose the next shape in the stack, or with the points tool the next point of the chosen shapes. */
  chooseBy: (step: 1 | -1) => {
    const { editing } = at();
    const { shapes, nodes, tool, part, drawings, set } = desk();
    const all = (editing && drawings[editing.drawing]?.shapes) || [];
    if (tool === "points" && shapes.length) {
      const row = all.filter((s) => shapes.includes(s.id)).flatMap((s) => s.contours.flatMap((c) => c.nodes));
      const from = row.findIndex((n) => n.id === nodes.at(-1));
      const next = row[(from + step + row.length) % row.length];
      if (next) set({ nodes: [next.id] });
      return;
    }
    const from = all.findIndex((s) => s.id === shapes.at(step > 0 ? -1 : 0));
    const next = all[(from + step + all.length) % all.length];
    if (next) set({ shapes: unitOf(next, all, part), nodes: [] });
  },
  /** Leave one thing after the other: what is chosen, the part that was gone into. */
  leave: () => {
    const { nodes, shapes, part, hint, set } = desk();
    if (nodes.length) set({ nodes: [] });
    else if (part) set({ part: part.split("/").slice(0, -1).join("/"), shapes: [] });
    else if (shapes.length || hint) set({ shapes: [], hint: null });
  },
  copyStyle: () => {
    const { editing } = at();
    const { shapes, drawings } = desk();
    const model = editing && drawings[editing.drawing]?.shapes.find((s) => s.id === shapes[0]);
    if (model)
      useTools.getState().set({ style: { fill: model.fill, stroke: model.stroke, opacity: model.opacity } });
  },
  pasteStyle: () => {
    const { editing } = at();
    const { shapes } = desk();
    const { style } = useTools.getState();
    if (editing && shapes.length && style)
      void edit({ type: "restyle", key: editing.id, shapes, ...style } as Operation);
  },
  restack: (to: "front" | "back" | "forward" | "backward") => {
    const { editing } = at();
    const { shapes } = desk();
    if (editing && shapes.length) void edit({ type: "restack", key: editing.id, shapes, to });
  },
  nudge: (dx: number, dy: number) => {
    const { editing } = at();
    const { shapes, nodes, tool, drawings } = desk();
    if (!editing) return;
    if (tool === "points" && nodes.length) {
      const moved = (drawings[editing.drawing]?.shapes ?? [])
        .flatMap((s) => s.contours.flatMap((c) => c.nodes))
        .filter((n) => nodes.includes(n.id));
      const by = ([x, y]: [number, number]): [number, number] => [x + dx, y + dy];
      const moves = moved.map((n) => ({
        node: n.id,
        at: by(n.at),
        before: by(n.before),
        after: by(n.after),
      }));
      if (moves.length) void edit({ type: "move_nodes", key: editing.id, moves });
    } else if (shapes.length) {
      void edit({ type: "transform_shapes", key: editing.id, shapes, matrix: [1, 0, 0, 1, dx, dy] });
    }
  },
  copy: () => {
    const shapes = chosenShapes();
    if (shapes.length) clipboard.put(shapes);
    return shapes.length > 0;
  },
  cut: () => {
    if (actions.copy()) actions.removeChosen();
  },
  paste: () => {
    const copied = clipboard.get();
    if (!copied.length) return say("Nothing is copied yet.");
    if (!at().editing)
      return say(
        `Frame ${desk().frame} has no drawing to paste into. Go to a key, or press X for a new one.`,
      );
    addShapes(copied);
  },
  duplicateShapes: () => addShapes(chosenShapes()),
  selectAll: () => {
    const { editing } = at();
    const { drawings, set } = desk();
    if (editing) set({ shapes: drawings[editing.drawing]?.shapes.map((s) => s.id) ?? [] });
  },
  addLayer: () => {
    const { layer } = at();
    const id = newId();
    const count = desk().doc?.scene.layers.length ?? 0;
    void edit({ type: "add_layer", id, name: `layer ${count + 1}`, over: layer?.id ?? null }).then((done) => {
      if (done) desk().set({ layer: id });
    });
  },
};
