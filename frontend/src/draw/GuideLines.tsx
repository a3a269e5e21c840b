import type { PointerEvent as ReactPointerEvent } from "react";
import { useState } from "react";
import type { Guide } from "../api/types";
import { useDesk, useScene } from "../desk/state";
import { follow, type Lens, toScene } from "../stage/viewport";
import { useTools } from "./tools";

/** Guides over the stage: drag one to move it, off the paper to take it away. And the grid, while it is snapped to. */
export function GuideLines({ lens }: { lens: Lens }) {
  const scene = useScene();
  const edit = useDesk((s) => s.edit);
  const { snaps, grid } = useTools();
  const [moved, setMoved] = useState<{ index: number; at: number } | null>(null);
  const px = 1 / lens.scale;

  const press = (guide: Guide, index: number) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    let at = guide.at;
    follow(
      (move) => {
        at = Math.round(toScene(lens, svg, move)[guide.way === "upright" ? 0 : 1]);
        setMoved({ index, at });
      },
      async () => {
        const off = at < 0 || at > (guide.way === "upright" ? scene.width : scene.height);
        const guides = scene.guides.flatMap((g, k) => (k !== index ? [g] : off ? [] : [{ ...g, at }]));
        if (at !== guide.at) await edit({ type: "set_scene", guides });
        setMoved(null);
      },
    );
  };

  return (
    <g>
      {snaps.grid && grid * lens.scale > 5 && <Grid step={grid} px={px} />}
      {snaps.guides &&
        scene.guides.map((guide, index) => {
          const at = moved?.index === index ? moved.at : guide.at;
          const ends =
            guide.way === "upright"
              ? { x1: at, x2: at, y1: 0, y2: scene.height }
              : { x1: 0, x2: scene.width, y1: at, y2: at };
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a guide is known by its place among the guides
            <g key={index} onPointerDown={press(guide, index)} data-testid="guide">
              <line
                {...ends}
                stroke="transparent"
                strokeWidth={8 * px}
                cursor={guide.way === "upright" ? "ew-resize" : "ns-resize"}
              />
              <line {...ends} stroke="var(--lagoon)" strokeWidth={px} pointerEvents="none" />
            </g>
          );
        })}
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
