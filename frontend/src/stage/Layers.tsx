import { useMemo } from "react";
import type { Layer } from "../api/types";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk, useScene } from "../desk/state";
import { Pieces } from "./Pieces";
import { piecesOfDrawing, piecesOfSpan, piecesShown } from "./pieces";

type Props = {
  frame: number;
  /** Left out: the caller draws this layer itself. */
  except?: string | null;
  /** Which side of `except` to draw: what lies behind it, or before it. */
  side?: "behind" | "before";
};

/** What the scene shows at a frame. */
export function Layers({ frame, except, side }: Props) {
  const scene = useScene();
  const index = scene.layers.findIndex((l) => l.id === except);
  const shown = scene.layers.filter(
    (layer, k) =>
      !layer.hidden &&
      layer.id !== except &&
      (!side || index < 0 || (side === "behind" ? k < index : k > index)),
  );
  if (side === "before" && index < 0) return null;
  return shown.map((layer) => <LayerShown key={layer.id} layer={layer} frame={frame} />);
}

function LayerShown({ layer, frame }: { layer: Layer; frame: number }) {
  const spans = useSpans();
  const drawings = useDesk((s) => s.drawings);
  const exposure = useDesk((s) => s.doc?.sheet[layer.id]?.[frame - 1]);
  const pieces = useMemo(
    () => piecesShown(layer, exposure, drawings, spans),
    [layer, exposure, drawings, spans],
  );
  return (
    <g opacity={layer.opacity} pointerEvents="none">
      <Pieces pieces={pieces} />
    </g>
  );
}

/** The frame that is looked at: the needle's, or the other key of the span while it is flipped to. */
export function useShownFrame(): number {
  const frame = useDesk((s) => s.frame);
  const flip = useDesk((s) => s.flip);
  const at = useAtHand();
  if (flip && at.first && at.second) return frame === at.second.frame ? at.first.frame : at.second.frame;
  return frame;
}

/** The neighbouring keys of the layer at hand as outlines: the earlier in plum, the later in lagoon. */
export function OnionSkin() {
  const on = useDesk((s) => s.onion && !s.bare);
  const drawings = useDesk((s) => s.drawings);
  const frame = useDesk((s) => s.frame);
  const layer = useAtHand().layer;
  if (!on || !layer) return null;
  const earlier = layer.keys.findLast((k) => k.frame < frame);
  const later = layer.keys.find((k) => k.frame > frame);
  return (
    <g pointerEvents="none" opacity={0.75} data-testid="onion-skin">
      {earlier && (
        <Pieces pieces={piecesOfDrawing(drawings[earlier.drawing] ?? { shapes: [] })} tint="var(--plum)" />
      )}
      {later && (
        <Pieces pieces={piecesOfDrawing(drawings[later.drawing] ?? { shapes: [] })} tint="var(--lagoon)" />
      )}
    </g>
  );
}

/** The in-between a card is hovered for, over the stage. */
export function Ghost() {
  const ghost = useDesk((s) => s.ghost);
  const spans = useSpans();
  const { first } = useAtHand();
  const span = first && spans[first.id];
  if (ghost === null || !span) return null;
  return (
    <g pointerEvents="none" opacity={0.9}>
      <Pieces pieces={piecesOfSpan(span, ghost - (span.frames[0] ?? 0))} tint="var(--crust)" />
    </g>
  );
}
