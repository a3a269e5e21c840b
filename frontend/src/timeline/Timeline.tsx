import { Box } from "@mui/material";
import { ImagePlus, Plus } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Soft } from "../desk/Soft";
import { useDesk, useScene } from "../desk/state";
import { PictureDialog } from "../draw/PictureDialog";
import { follow, useSize } from "../stage/viewport";
import { LayerRow } from "./LayerRow";
import { HEAD, type Measure, measureOf } from "./measure";
import { PlayBar } from "./PlayBar";
import { Sash, useHeight } from "./Sash";

/** Layers and their keys over frames. */
export function Timeline() {
  const scene = useScene();
  const frame = useDesk((s) => s.frame);
  const [pane, { width }] = useSize<HTMLDivElement>();
  const measure = useMemo(() => measureOf(scene.length, width), [scene.length, width]);
  const needle = HEAD + measure.xOf(frame);
  useEffect(() => {
    const shown = pane.current;
    if (shown && (needle < shown.scrollLeft + HEAD || needle > shown.scrollLeft + shown.clientWidth))
      shown.scrollLeft = needle - HEAD - measure.cell;
  }, [pane, needle, measure]);
  const [pictures, setPictures] = useState(false);
  const sash = useHeight(scene.layers.length);
  return (
    <Box
      sx={{
        height: sash.height,
        position: "relative",
        flexShrink: 0,
        bgcolor: "background.paper",
        borderTop: 1,
        borderColor: "divider",
        display: "flex",
        flexDirection: "column",
      }}
      data-testid="timeline"
    >
      <Sash change={sash.change} />
      <PlayBar />
      <PictureDialog open={pictures} onClose={() => setPictures(false)} />
      <Box ref={pane} sx={{ flex: 1, overflow: "auto", position: "relative" }}>
        <Box sx={{ width: HEAD + measure.width, position: "relative", minHeight: "100%" }}>
          <Box
            sx={{
              display: "flex",
              position: "sticky",
              top: 0,
              zIndex: 3,
              bgcolor: "background.paper",
              borderBottom: 1,
              borderColor: "divider",
            }}
          >
            <Box
              sx={{
                width: HEAD,
                position: "sticky",
                left: 0,
                bgcolor: "background.paper",
                zIndex: 2,
                display: "flex",
                alignItems: "center",
                justifyContent: "space-between",
                pl: 1.5,
                pr: 0.5,
                borderRight: 1,
                borderColor: "divider",
              }}
            >
              <Soft sx={{ fontSize: 12 }}>Layers, front to back</Soft>
              <Box sx={{ display: "flex" }}>
                <Action name="Lay a picture under the drawing" onClick={() => setPictures(true)}>
                  <ImagePlus size={16} />
                </Action>
                <Action name="Add a layer" onClick={actions.addLayer}>
                  <Plus size={16} />
                </Action>
              </Box>
            </Box>
            <Ruler length={scene.length} measure={measure} />
          </Box>
          {scene.layers.length === 0 && <Soft sx={{ p: 1.5 }}>No layers yet: add one with the plus.</Soft>}
          {scene.layers.toReversed().map((layer) => (
            <LayerRow key={layer.id} layer={layer} measure={measure} />
          ))}
          <Box
            sx={{
              position: "absolute",
              top: 0,
              bottom: 0,
              left: needle - 1,
              width: 2,
              bgcolor: "secondary.main",
              zIndex: 3,
              pointerEvents: "none",
            }}
            data-testid="needle"
          />
        </Box>
      </Box>
    </Box>
  );
}

function Ruler({ length, measure }: { length: number; measure: Measure }) {
  const { cell, width, step, xOf, frameOf } = measure;
  const ref = useRef<SVGSVGElement>(null);
  const loop = useDesk((s) => s.loop);
  const set = useDesk((s) => s.set);
  const frameAt = (event: { clientX: number }) => {
    const left = ref.current?.getBoundingClientRect().left ?? 0;
    return Math.min(length, Math.max(1, frameOf(event.clientX - left)));
  };
  const scrub = (event: React.PointerEvent) => {
    set({ playing: false });
    actions.goTo(frameAt(event));
    follow(
      (move) => actions.goTo(frameAt(move)),
      () => undefined,
    );
  };
  const range = (event: React.PointerEvent) => {
    event.stopPropagation();
    const start = frameAt(event);
    let moved = false;
    follow(
      (move) => {
        const end = frameAt(move);
        moved ||= end !== start;
        if (moved) set({ loop: [Math.min(start, end), Math.max(start, end)] });
      },
      () => !moved && set({ loop: null }),
      () => set({ loop }),
    );
  };
  const [from, to] = loop ?? [1, length];
  return (
    <svg
      ref={ref}
      width={width}
      height={30}
      style={{ display: "block", touchAction: "none" }}
      onPointerDown={scrub}
      role="img"
      aria-label="Frame"
      data-testid="ruler"
    >
      {Array.from({ length }, (_, k) => k + 1).map((n) => {
        const major = n === 1 || n % step === 0;
        return (
          <g key={n}>
            <line x1={xOf(n)} x2={xOf(n)} y1={major ? 13 : 16} y2={19} stroke="var(--soft)" strokeWidth={1} />
            {major && (
              <text x={xOf(n)} y={11} fontSize={11} textAnchor="middle" fill="var(--soft)">
                {n}
              </text>
            )}
          </g>
        );
      })}
      <g onPointerDown={range} style={{ cursor: "ew-resize" }} data-testid="loop-bar">
        <title>Drag to set the loop range, click to loop the whole scene</title>
        <rect y={20} x={xOf(0.5)} width={length * cell} height={10} fill="var(--line)" opacity={0.45} />
        <rect
          x={xOf(from - 0.5)}
          y={22}
          width={(to - from + 1) * cell}
          height={6}
          rx={3}
          fill={loop ? "var(--crust)" : "var(--soft)"}
          opacity={loop ? 1 : 0.5}
        />
      </g>
    </svg>
  );
}
