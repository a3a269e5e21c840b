import { type PointerEvent as ReactPointerEvent, useEffect, useMemo, useRef } from "react";
import type { Operation, Point, Shape } from "../api/types";
import { CycleHandles } from "../cycle/CycleHandles";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk, usePicked, useScene } from "../desk/state";
import { Ghost, Layers, OnionSkin, useShownFrame } from "../stage/Layers";
import { Mark } from "../stage/Mark";
import { Paper } from "../stage/Paper";
import { piecesShown } from "../stage/pieces";
import type { Lens } from "../stage/viewport";
import { ArrangeHandles } from "./ArrangeHandles";
import { GradientHandles } from "./GradientHandles";
import { GuideLines } from "./GuideLines";
import { arrange, enter } from "./gestures/arrange";
import { pick, pour, pourAt, pullWidth } from "./gestures/change";
import { chooseAround } from "./gestures/choose";
import { commit, type Hand, shapeUnder, tryOnSpan } from "./gestures/hand";
import { drawForm, drawLine, finishPath, placeLetters, placePoint } from "./gestures/make";
import { NodeHandles } from "./NodeHandles";
import { PictureHandles } from "./PictureHandles";
import { SizeMatch } from "./SizeMatch";
import { SketchLayer } from "./SketchLayer";
import { StagePieces } from "./StagePieces";
import { clearSketch, forgetTrials, sketch, tryDrawing, useSketch } from "./sketch";

const NONE: Shape[] = [];
const CROSS = new Set(["freehand", "form", "path", "letters", "pour", "width", "pick"]);

/** Why nothing can be drawn at this frame, if so. */
export function drawingRefusal(at: ReturnType<typeof useAtHand>, frame: number): string | null {
  if (!at.layer) return "There is no layer yet. Add one on the timeline.";
  if (at.layer.locked) return `Layer '${at.layer.name}' is locked. Unlock it on the timeline to draw on it.`;
  if (at.layer.hidden) return `Layer '${at.layer.name}' is hidden. Show it on the timeline to draw on it.`;
  if (at.layer.picture)
    return `Layer '${at.layer.name}' holds a picture. Take another layer on the timeline to draw on.`;
  if (at.layer.cycle)
    return `Layer '${at.layer.name}' plays another layer's keys. Draw on that one, or cut this loose in the panel.`;
  if (!at.exposure) return `There is no key at ${frame} yet. Press X for a new one.`;
  if (!at.editing)
    return `Frame ${frame} shows an in-between: a picture, not yet a drawing. Press C to keep it as a breakdown.`;
  return null;
}

/** What a press does with each tool. */
const GESTURES: Record<string, (hand: Hand) => void> = {
  form: drawForm,
  freehand: drawLine,
  path: placePoint,
  letters: placeLetters,
  pour,
  width: pullWidth,
  pick,
  arrange,
  points: (hand) => {
    const id = shapeUnder(hand.event.target);
    if (!id) return chooseAround(hand, "points");
    const { shapes, set } = useDesk.getState();
    if (!shapes.includes(id)) set({ shapes: hand.event.shiftKey ? [...shapes, id] : [id], nodes: [] });
    else chooseAround(hand, "points");
  },
};

export function DrawStage() {
  const at = useAtHand();
  const scene = useScene();
  const { tool, shapes, frame, bare, drawings, set, edit } = usePicked(
    "tool",
    "shapes",
    "frame",
    "bare",
    "drawings",
    "set",
    "edit",
  );
  const spans = useSpans();
  const shownFrame = useShownFrame();
  const group = useRef<SVGGElement>(null);
  const exposure = useDesk((s) => (at.layer ? s.doc?.sheet[at.layer.id]?.[shownFrame - 1] : null));
  const drawing = at.editing && drawings[at.editing.drawing];
  const key = at.editing?.id;
  const refusal = drawingRefusal(at, frame);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was begun with a tool or on a key ends with it
  useEffect(() => clearSketch, [tool, key]);

  const pieces = useMemo(() => {
    if (!at.layer || at.layer.hidden || at.layer.cycle) return [];
    return piecesShown(at.layer, exposure, drawings, spans);
  }, [at.layer, exposure, drawings, spans]);

  const press = (point: Point, event: ReactPointerEvent, lens: Lens) => {
    if (refusal || !key || !drawing) {
      set({ notice: { kind: "info", text: refusal ?? "" }, shapes: [] });
      return;
    }
    const svg = event.currentTarget;
    GESTURES[tool]?.({
      key,
      span: at.first?.id ?? null,
      drawing,
      scene,
      point,
      event,
      svg,
      lens,
    });
  };

  const hover = (point: Point) => {
    const { path } = useSketch.getState();
    if (path) sketch({ path: { ...path, hover: point } });
    if (tool === "pour" && key && !refusal) tryDrawing(pourAt(key, point), key, (trial) => sketch({ trial }));
  };

  const twice = (point: Point, target: Element) => {
    const shape = shapeUnder(target);
    if (tool === "path" && key) return finishPath(key);
    if (!shape || !key || !drawing) return;
    if (tool === "points") void edit({ type: "add_node", key, shape, at: point });
    if (tool === "arrange") enter({ drawing }, shape);
  };

  const operate = { try: (o: Operation) => tryOnSpan({ span: at.first?.id ?? null }, o), done: commit };
  const chosen = useMemo(() => drawing?.shapes.filter((s) => shapes.includes(s.id)) ?? [], [drawing, shapes]);
  const placed = at.layer?.picture ?? at.layer?.cycle;
  const ready = !bare && !refusal && key && drawing;

  return (
    <Paper
      name="stage"
      veil={0.9}
      cursor={CROSS.has(tool) ? "crosshair" : "default"}
      onPress={press}
      onHover={hover}
      onLeave={forgetTrials}
      onTwice={twice}
      over={(lens) => (
        <>
          <OnionSkin />
          <Ghost />
          <Mark lens={lens} />
          {!bare && <GuideLines lens={lens} />}
          {!bare && at.layer?.picture && !at.layer.locked && !at.layer.hidden && (
            <PictureHandles layer={at.layer} picture={at.layer.picture} lens={lens} />
          )}
          {!bare && at.layer?.cycle && !at.layer.locked && !at.layer.hidden && (
            <CycleHandles layer={at.layer} cycle={at.layer.cycle} lens={lens} />
          )}
          {ready && <SizeMatch chosen={chosen} lens={lens} />}
          {ready && tool === "arrange" && chosen.length > 0 && (
            <ArrangeHandles shapes={chosen} keyId={key} group={group} lens={lens} operate={operate} />
          )}
          {ready && tool === "points" && (
            <NodeHandles shapes={chosen} drawing={drawing} lens={lens} keyId={key} operate={operate} />
          )}
          {ready && chosen.length === 1 && (tool === "arrange" || tool === "points") && (
            <GradientHandles shape={chosen[0]} keyId={key} lens={lens} operate={operate} />
          )}
          <SketchLayer lens={lens} />
        </>
      )}
    >
      {() => (
        <>
          <Layers frame={shownFrame} except={at.layer?.id ?? null} side="behind" touchable />
          <g
            ref={group}
            data-at-hand
            opacity={placed ? 1 : at.layer?.opacity}
            pointerEvents={refusal ? "none" : "all"}
          >
            {placed && at.layer && <Layers frame={shownFrame} only={at.layer.id} />}
            <StagePieces pieces={pieces} shapes={drawing?.shapes ?? NONE} chosen={shapes} />
          </g>
          <Layers frame={shownFrame} except={at.layer?.id ?? null} side="before" touchable />
        </>
      )}
    </Paper>
  );
}
