import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import { api, Problem, Unreachable } from "../api/client";
import type {
  Drawing,
  DrawingPart,
  Exposure,
  Key,
  Layer,
  Operation,
  Point,
  ProposalView,
  Scene,
  SceneView,
  SpanView,
} from "../api/types";
import type { ThemeName } from "../theme/theme";
import { Newest } from "./newest";
import { takenOver } from "./takeover";

export type View = "draw" | "match" | "time" | "review";
export type Tool =
  | "arrange"
  | "points"
  | "freehand"
  | "path"
  | "form"
  | "letters"
  | "pour"
  | "width"
  | "pick";
/** A sentence for the user, and what can be done about it at once. */
export type Notice = { kind: "error" | "info"; text: string; action?: { name: string; run: () => void } };
export type Viewport = { x: number; y: number; scale: number };

type Doc = {
  scene: Scene;
  revision: number;
  undo: string | null;
  redo: string | null;
  sheet: Record<string, (Exposure | null)[]>;
};

export type DeskState = {
  doc: Doc | null;
  drawings: Record<string, Drawing>;
  saving: boolean;
  trouble: string | null;
  notice: Notice | null;
  view: View;
  tool: Tool;
  frame: number;
  layer: string | null;
  shapes: string[];
  nodes: string[];
  /** The part that is gone into, by its whole path: what a click chooses lies right inside it. */
  part: string;
  pair: { first: string | null; second: string | null } | null;
  hint: string | null;
  /** The snag that is looked at. */
  mark: { frame: number; place: Point } | null;
  /** Hints that were asked for, for the span that begins at this key. */
  proposals: { key: string; offers: ProposalView[] } | null;
  viewport: Viewport | null;
  onion: boolean;
  bare: boolean;
  flip: boolean;
  playing: boolean;
  thereAndBack: boolean;
  speed: number;
  loop: [number, number] | null;
  strip: "folded" | "row" | "all";
  ghost: number | null;
  preview: { key: string; span: SpanView } | null;
  /** The take of a span that is seen beside the one in use. */
  compared: { key: string; name: string } | null;
  theme: ThemeName;
  keySheet: boolean;
  set: (changes: Partial<DeskState>) => void;
  open: (id: string) => Promise<void>;
  close: () => void;
  edit: (operation: Operation) => Promise<boolean>;
  step: (which: "undo" | "redo") => Promise<void>;
  tryOut: (operation: Operation, key: string) => void;
  /** What is tried out is not wanted: show things as they are. */
  endTrying: () => void;
};

/** Edits go to the server one after the other, each on the revision that the one before it made. */
let queue: Promise<unknown> = Promise.resolve();

const previews = new Newest();

/** Drawings with new ones made of parts: shapes that did not change stay the very same objects. */
function withParts(known: Record<string, Drawing>, parts: Record<string, DrawingPart>) {
  const drawings = { ...known };
  for (const [name, { base, order, shapes }] of Object.entries(parts)) {
    const old = base ? (known[base]?.shapes ?? []) : [];
    const at = new Map([...old, ...shapes].map((shape) => [shape.id, shape]));
    drawings[name] = { shapes: order.flatMap((id) => at.get(id) ?? []) };
  }
  return drawings;
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

export const useDesk = create<DeskState>((set, get) => {
  function show(view: SceneView, more: Partial<DeskState> = {}) {
    const { frame, layer } = get();
    const drawings = withParts(get().drawings, view.drawings);
    const { scene, revision, undo, redo, sheet } = view;
    const layers = scene.layers;
    previews.forget();
    set({
      ...more,
      doc: { scene, revision, undo, redo, sheet },
      drawings,
      preview: null,
      frame: Math.min(frame, scene.length),
      layer: layers.some((l) => l.id === layer) ? layer : (layers.at(-1)?.id ?? null),
    });
  }

  /** Send until the server answers: what can't be reached now is kept and tried again. */
  async function sent(request: (doc: Doc) => Promise<SceneView>): Promise<boolean> {
    for (;;) {
      const doc = get().doc;
      if (!doc) return false;
      try {
        set({ saving: true });
        const view = await request(doc);
        const notice = get().notice?.kind === "error" ? null : get().notice; // what was refused is overcome
        show(view, { saving: false, trouble: null, notice });
        return true;
      } catch (error) {
        if (error instanceof Unreachable || (error instanceof Problem && error.status === 503)) {
          set({ trouble: `Not saved yet: ${error.message} Knead keeps trying; leave this page open.` });
          await pause(1500);
          continue;
        }
        set({
          saving: false,
          trouble: null,
          preview: null,
          notice: { kind: "error", text: (error as Error).message },
        });
        if (error instanceof Problem && (error.status === 409 || error.status === 404)) {
          await api.open(doc.scene.id).then(
            (view) => show(view),
            () => undefined,
          );
        }
        return false;
      }
    }
  }

  const inTurn = (request: (doc: Doc) => Promise<SceneView>) => {
    const turn = queue.then(() => sent(request));
    queue = turn;
    return turn;
  };

  return {
    doc: null,
    drawings: {},
    saving: false,
    trouble: null,
    notice: null,
    view: "draw",
    tool: "arrange",
    frame: 1,
    layer: null,
    shapes: [],
    nodes: [],
    part: "",
    pair: null,
    hint: null,
    mark: null,
    proposals: null,
    viewport: null,
    onion: false,
    bare: false,
    flip: false,
    playing: false,
    thereAndBack: false,
    speed: 1,
    loop: null,
    strip: "row",
    ghost: null,
    preview: null,
    compared: null,
    theme: localStorage.getItem("theme") === "lamp" ? "lamp" : "day",
    keySheet: false,
    set,
    open: async (id) => {
      try {
        const view = await api.open(id);
        set({
          layer: null,
          frame: 1,
          shapes: [],
          nodes: [],
          part: "",
          pair: null,
          hint: null,
          mark: null,
          proposals: null,
          loop: null,
          viewport: null,
        });
        show(view);
        const drawings = get().drawings;
        const drawn = (layer: Layer) =>
          layer.keys.reduce((sum, key) => sum + (drawings[key.drawing]?.shapes.length ?? 0), 0);
        const fullest = view.scene.layers.toSorted((a, b) => drawn(b) - drawn(a))[0];
        if (fullest) set({ layer: fullest.id });
      } catch (error) {
        set({ notice: { kind: "error", text: (error as Error).message } });
        location.hash = "";
      }
    },
    close: () => {
      get().endTrying();
      set({ doc: null, drawings: {}, playing: false });
    },
    edit: (operation) => {
      previews.forget();
      return inTurn((doc) => api.edit(doc.scene.id, doc.revision, operation));
    },
    step: async (which) => {
      if (!get().doc?.[which]) return;
      await inTurn((doc) => api[which](doc.scene.id, doc.revision));
    },
    endTrying: () => {
      previews.forget();
      set({ preview: null });
    },
    tryOut: (operation, key) => {
      const doc = get().doc;
      if (!doc) return;
      const answered = (answer: SpanView | null) => {
        if (!answer) return; // a preview that fails leaves the last one standing
        const last = get().preview;
        const span = last?.key === key ? takenOver(last.span, answer) : answer;
        set({ preview: { key, span } });
      };
      const question = (look: boolean) => () => api.preview(doc.scene.id, doc.revision, operation, key, look);
      previews.ask(question(false), answered);
      previews.askAtRest(question(true), answered);
    },
  };
});

/** Some of the state: whoever asks is not disturbed by changes of the rest. */
export function usePicked<K extends keyof DeskState>(...names: K[]): Pick<DeskState, K> {
  return useDesk(
    useShallow((s) => Object.fromEntries(names.map((name) => [name, s[name]])) as Pick<DeskState, K>),
  );
}

export const useScene = (): Scene => {
  const doc = useDesk((s) => s.doc);
  if (!doc) throw new Error("no scene is open");
  return doc.scene;
};

/** What is at hand: the layer, what it shows at the current frame, and the span the frame is in. */
export type AtHand = {
  layer: Layer | null;
  exposure: Exposure | null;
  first: Key | null;
  second: Key | null;
  /** The key whose drawing is being edited, when the frame shows a key or a hold. */
  editing: Key | null;
};

export function atHand(state: Pick<DeskState, "doc" | "layer" | "frame">): AtHand {
  const layer = state.doc?.scene.layers.find((l) => l.id === state.layer) ?? null;
  const exposure = (layer && state.doc?.sheet[layer.id]?.[state.frame - 1]) || null;
  const index = layer ? layer.keys.findIndex((k) => k.id === exposure?.key) : -1;
  const shown = layer?.keys[index] ?? null;
  let first = shown;
  let second = layer?.keys[index + 1] ?? null;
  if (layer && shown && !second && index > 0) {
    // on the last key, the span that leads to it stays on the table
    first = layer.keys[index - 1] ?? null;
    second = shown;
  }
  return {
    layer,
    exposure,
    first: second ? first : null,
    second,
    editing: exposure && exposure.number === 0 ? shown : null,
  };
}

export function useAtHand(): AtHand {
  const doc = useDesk((s) => s.doc);
  const layer = useDesk((s) => s.layer);
  const frame = useDesk((s) => s.frame);
  return atHand({ doc, layer, frame });
}
