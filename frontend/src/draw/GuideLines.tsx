import type { PointerEvent as ReactPointerEvent } from "react";
import { useState } from "react";
import type { Guide } from "../api/types";
import { useDesk, useScene } from "../desk/state";
import { follow, type Lens, toScene } from "../stage/viewport";
import { useTools } from "./tools";

const EDGE = 14; // pixels
const WAYS: Guide["way"][] = ["upright", "level"];

/**
 * Guides over the stage: pull one out of the measures along the paper's edges, drag it to move it, off the paper to
 * take it away. And the grid, while it is snapped to.
 */
export function GuideLines({ lens }: { lens: Lens }) {
  const scene = useScene();
  const edit = useDesk((s) => s.edit);
  const { snaps, grid } = useTools();
  const [moved, setMoved] = useState<{ index: number; guide: Guide } | null>(null);
  const px = 1 / lens.scale;
  const within = ({ way, at }: Guide) => at >= 0 && at <= (way === "upright" ? scene.width : scene.height);

  /** Drag a guide; one that stands after all others is a new one. */
  const press = (guide: Guide, index: number) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    let now = guide;
    follow(
      (move) => {
        now = { ...guide, at: Math.round(toScene(lens, svg, move)[guide.way === "upright" ? 0 : 1]) };
        setMoved({ index, guide: now });
      },
      async () => {
        const guides = scene.guides.toSpliced(index, 1, ...(within(now) ? [now] : []));
        if (now.at !== guide.at) await edit({ type: "set_scene", guides });
        setMoved(null);
      },
      () => setMoved(null),
    );
  };

  const shown = moved ? scene.guides.toSpliced(moved.index, 1, moved.guide) : scene.guides;
  return (
    <g>
      {snaps.grid && grid * lens.scale > 5 && <Grid step={grid} px={px} />}
      {snaps.guides &&
        WAYS.map((way) => (
          <Edge key={way} way={way} px={px} onPress={press({ way, at: -1 }, scene.guides.length)} />
        ))}
      {snaps.guides &&
        shown.map((guide, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a guide is known by its place among the guides
          <g key={index} onPointerDown={press(guide, index)} data-testid="guide">
            <Line guide={guide} stroke="transparent" width={8 * px} />
            <Line guide={guide} stroke="var(--lagoon)" width={px} />
          </g>
        ))}
    </g>
  );
}

const cursorOf = (way: Guide["way"]) => (way === "upright" ? "ew-resize" : "ns-resize");

function Line({ guide: { way, at }, stroke, width }: { guide: Guide; stroke: string; width: number }) {
  const scene = useScene();
  const ends =
    way === "upright"
      ? { x1: at, x2: at, y1: 0, y2: scene.height }
      : { x1: 0, x2: scene.width, y1: at, y2: at };
  return <line {...ends} stroke={stroke} strokeWidth={width} cursor={cursorOf(way)} />;
}

type EdgeProps = { way: Guide["way"]; px: number; onPress: (event: ReactPointerEvent) => void };

/** A measure along an edge of the paper, out of which guides are pulled: upright ones from the left. */
function Edge({ way, px, onPress }: EdgeProps) {
  const { width, height } = useScene();
  const upright = way === "upright";
  const length = upright ? height : width;
  const step = [10, 20, 50, 100, 200, 500].find((s) => s / px >= 24) ?? 1000;
  const ticks = Array.from({ length: Math.floor(length / step) + 1 }, (_, k) => k * step);
  const tick = (at: number, k: number) => {
    const reach = (k % 5 ? 4 : 9) * px;
    return upright ? `M0 ${at}H${-reach}` : `M${at} 0V${-reach}`;
  };
  const band = upright
    ? { x: -EDGE * px, y: 0, width: EDGE * px, height }
    : { x: 0, y: -EDGE * px, width, height: EDGE * px };
  return (
    <g onPointerDown={onPress} cursor={cursorOf(way)} data-testid={`edge-${way}`}>
      <title>Pull a guide out of here</title>
      <rect {...band} fill="var(--soft)" fillOpacity={0.12} />
      <path d={ticks.map(tick).join("")} stroke="var(--soft)" strokeWidth={px} />
    </g>
  );
}

function Grid({ step, px }: { step: number; px: number }) {
  const { width, height } = useScene();
  const xs = Array.from({ length: Math.floor(width / step) }, (_, k) => (k + 1) * step);
  const ys = Array.from({ length: Math.floor(height / step) }, (_, k) => (k + 1) * step);
  const d = [...xs.map((x) => `M${x} 0V${height}`), ...ys.map((y) => `M0 ${y}H${width}`)].join("");
  return <path d={d} stroke="var(--soft)" strokeOpacity={0.25} strokeWidth={px} pointerEvents="none" />;
}
