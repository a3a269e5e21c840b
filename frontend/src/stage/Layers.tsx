import { useMemo } from "react";
import type { Layer } from "../api/types";
import { placeText, sourceOf } from "../cycle/place";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk, useScene } from "../desk/state";
import { useTools } from "../draw/tools";
import { isSame } from "../timeline/exposure";
import { PictureShown } from "./PictureShown";
import { Pieces } from "./Pieces";
import { piecesOfSpan, piecesShown } from "./pieces";

type Props = {
  frame: number;
  /** Left out: the caller draws this layer itself. */
  except?: string | null;
  /** Which side of `except` to draw: what lies behind it, or before it. */
  side?: "behind" | "before";
  /** Only this layer. */
  only?: string;
  /** A click on its shapes can be told from one on the bare paper. */
  touchable?: boolean;
};

/** What the scene shows at a frame. */
export function Layers({ frame, except, side, only, touchable }: Props) {
  const scene = useScene();
  const index = scene.layers.findIndex((l) => l.id === except);
  const shown = scene.layers.filter(
    (layer, k) =>
      !layer.hidden &&
      (!only || layer.id === only) &&
      layer.id !== except &&
      (!side || index < 0 || (side === "behind" ? k < index : k > index)),
  );
  if (side === "before" && index < 0) return null;
  return shown.map((layer) =>
    layer.picture ? (
      <Reference key={layer.id} layer={layer} frame={frame} />
    ) : (
      <LayerShown key={layer.id} layer={layer} frame={frame} touchable={touchable ?? false} />
    ),
  );
}

/** A picture is to draw over: only the Draw view shows it, and not while the scene is seen as it will be. */
function Reference({ layer, frame }: { layer: Layer; frame: number }) {
  const shown = useDesk((s) => s.view === "draw" && !s.bare);
  const { layers } = useScene();
  if (!shown || !layer.picture) return null;
  const over = layers.slice(0, layers.indexOf(layer)).some((l) => !l.picture);
  return <PictureShown layer={layer} picture={layer.picture} frame={frame} over={over} />;
}

function LayerShown({ layer, frame, touchable }: { layer: Layer; frame: number; touchable: boolean }) {
  const spans = useSpans();
  const drawings = useDesk((s) => s.drawings);
  const source = sourceOf(useScene(), layer);
  const exposure = useDesk((s) => s.doc?.sheet[layer.id]?.[frame - 1]);
  const pieces = useMemo(
    () => piecesShown(source, exposure, drawings, spans),
    [source, exposure, drawings, spans],
  );
  return (
    <g
      opacity={layer.opacity}
      pointerEvents={touchable && !layer.cycle ? "visiblePainted" : "none"}
      data-layer-shown={layer.id}
    >
      {layer.cycle ? (
        <g data-cycle={layer.id} transform={placeText(layer.cycle)}>
          <Pieces pieces={pieces} />
        </g>
      ) : (
        <Pieces pieces={pieces} />
      )}
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

/** The look of the layer at hand at other frames: the earlier in plum, the later in lagoon, fainter the farther. */
export function OnionSkin() {
  const on = useDesk((s) => s.onion && !s.bare);
  const skin = useTools((s) => s.skin);
  const frame = useDesk((s) => s.frame);
  const layer = useAtHand().layer;
  const sheet = useDesk((s) => s.doc?.sheet[layer?.id ?? ""]);
  if (!on || !layer || layer.cycle) return null;
  const length = layer.keys.at(-1)?.frame ?? 0;
  const every = skin.between ? Array.from({ length }, (_, k) => k + 1) : layer.keys.map((key) => key.frame);
  // of what is held for some frames once, and not what is shown anyway
  const frames = every.filter(
    (n) => !isSame(sheet?.[n - 1], sheet?.[n - 2]) && !isSame(sheet?.[n - 1], sheet?.[frame - 1]),
  );
  const earlier = frames
    .filter((n) => n < frame)
    .toReversed()
    .slice(0, skin.earlier);
  const later = frames.filter((n) => n > frame).slice(0, skin.later);
  return (
    <g pointerEvents="none" data-testid="onion-skin">
      {[
        { row: earlier, tint: "var(--plum)" },
        { row: later, tint: "var(--lagoon)" },
      ].flatMap(({ row, tint }) =>
        row.map((n, k) => (
          <Skin
            key={n}
            layer={layer}
            frame={n}
            tint={tint}
            filled={skin.filled}
            opacity={0.85 * skin.fade ** k}
          />
        )),
      )}
    </g>
  );
}

type SkinProps = { layer: Layer; frame: number; tint: string; filled: boolean; opacity: number };

function Skin({ layer, frame, tint, filled, opacity }: SkinProps) {
  const spans = useSpans();
  const drawings = useDesk((s) => s.drawings);
  const exposure = useDesk((s) => s.doc?.sheet[layer.id]?.[frame - 1]);
  const pieces = useMemo(
    () => piecesShown(layer, exposure, drawings, spans),
    [layer, exposure, drawings, spans],
  );
  return (
    <g opacity={opacity} data-skin={frame}>
      <Pieces pieces={pieces} tint={tint} filled={filled} />
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
