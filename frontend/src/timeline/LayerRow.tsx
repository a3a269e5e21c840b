import { Box } from "@mui/material";
import { Eye, EyeOff, Lock, LockOpen } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import type { Exposure, Key, Layer, Picture } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Rename } from "../desk/Rename";
import { useDesk } from "../desk/state";
import { useGround } from "../stage/ground";
import { Thumb } from "../stage/Thumb";
import { follow } from "../stage/viewport";
import { drawnIn, keyName } from "./exposure";
import { LayerMenu } from "./LayerMenu";
import { ABOVE, HEAD, type Measure, ROW } from "./measure";
import { tagColor } from "./tags";

const none = { shapes: [] };

/** Whether nothing of a row is seen in the timeline. */
function isHidden(row: HTMLElement): boolean {
  const { top, bottom } = row.getBoundingClientRect();
  const pane = row.closest("[data-testid=timeline]")?.getBoundingClientRect();
  return !!pane && (bottom <= pane.top + ABOVE || top >= pane.bottom);
}

/** The layer whose row is under the pointer. */
const rowUnder = (event: PointerEvent) =>
  document
    .elementsFromPoint(event.clientX, event.clientY)
    .find((e) => e instanceof HTMLElement && e.dataset.row)
    ?.attributes.getNamedItem("data-row")?.value ?? null;

/** A layer's row: keys as small drawings, holds as flat lines, in-betweened spans as rising lines. */
export const LayerRow = memo(function LayerRow({ layer, measure }: { layer: Layer; measure: Measure }) {
  const { cell, width, xOf, frameOf } = measure;
  const current = useDesk((s) => s.layer === layer.id);
  const sheet = useDesk((s) => s.doc?.sheet[layer.id]);
  const length = useDesk((s) => s.doc?.scene.length ?? 1);
  const ground = useGround(layer);
  const { set, edit } = useDesk.getState();
  const [moving, setMoving] = useState<{ key: string; frame: number; over: string | null } | null>(null);
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // one that is pressed is in sight, and must not move under the pointer
    if (current && row.current && isHidden(row.current))
      row.current.scrollIntoView({ block: "center", inline: "nearest" });
  }, [current]);
  const choose = () => {
    if (!current) set({ layer: layer.id, shapes: [], nodes: [], pair: null, hint: null });
  };

  const dragKey = (key: Key) => (event: React.PointerEvent) => {
    choose();
    actions.goTo(key.frame);
    let frame = key.frame;
    let over: string | null = null;
    const index = layer.keys.indexOf(key);
    const low = (layer.keys[index - 1]?.frame ?? 0) + 1;
    const high = (layer.keys[index + 1]?.frame ?? 100_001) - 1;
    follow(
      (move) => {
        frame = Math.min(high, Math.max(low, key.frame + Math.round((move.clientX - event.clientX) / cell)));
        over = rowUnder(move);
        if (over === layer.id) over = null;
        if (over) frame = Math.max(1, key.frame + Math.round((move.clientX - event.clientX) / cell));
        setMoving(frame === key.frame && !over ? null : { key: key.id, frame, over });
      },
      async () => {
        if (over) {
          if (await edit({ type: "move_key_over", key: key.id, layer: over, frame })) {
            set({ layer: over, shapes: [], nodes: [] });
            actions.goTo(frame);
          }
        } else if (frame !== key.frame) {
          await edit({ type: "move_key", key: key.id, frame });
          actions.goTo(frame);
        }
        setMoving(null);
      },
      () => setMoving(null),
    );
  };

  const at = (key: Key) => (moving?.key === key.id ? moving.frame : key.frame);
  return (
    <Box
      ref={row}
      data-testid="layer-row"
      data-layer={layer.name}
      data-row={layer.id}
      aria-current={current}
      onPointerDown={choose}
      sx={{
        display: "flex",
        height: ROW,
        borderBottom: 1,
        borderColor: "divider",
        position: "relative",
        bgcolor: current ? "background.default" : undefined,
      }}
    >
      <Box
        sx={{
          width: HEAD,
          position: "sticky",
          left: 0,
          zIndex: 2,
          display: "flex",
          alignItems: "center",
          pl: 1,
          bgcolor: current ? "background.default" : "background.paper",
          borderRight: 1,
          borderColor: "divider",
          borderLeft: 4,
          borderLeftColor: current ? "secondary.main" : "transparent",
          boxShadow: current ? 1 : 0,
          opacity: layer.hidden ? 0.6 : 1,
        }}
      >
        {layer.tag !== "none" && (
          <Box
            data-testid="tag"
            title={layer.tag}
            sx={{
              width: 7,
              height: 18,
              borderRadius: 0.5,
              mr: 0.75,
              flexShrink: 0,
              bgcolor: tagColor(layer.tag),
            }}
          />
        )}
        <Rename
          name={layer.name}
          label="layer"
          weight={current ? 700 : 400}
          onRename={(name) => void edit({ type: "set_layer", layer: layer.id, name })}
        />
        <Action
          name={layer.hidden ? "Show layer" : "Hide layer"}
          onClick={() => void edit({ type: "set_layer", layer: layer.id, hidden: !layer.hidden })}
        >
          {layer.hidden ? <EyeOff size={16} /> : <Eye size={16} />}
        </Action>
        <Action
          name={layer.locked ? "Unlock layer" : "Lock layer"}
          onClick={() => void edit({ type: "set_layer", layer: layer.id, locked: !layer.locked })}
        >
          {layer.locked ? <Lock size={16} /> : <LockOpen size={16} />}
        </Action>
        <LayerMenu layer={layer} />
      </Box>
      <svg
        width={width}
        height={ROW}
        style={{ display: "block", touchAction: "none" }}
        role="presentation"
        onPointerDown={(event) => {
          const left = event.currentTarget.getBoundingClientRect().left;
          actions.goTo(frameOf(event.clientX - left));
        }}
      >
        {layer.picture && <PictureBar picture={layer.picture} length={length} measure={measure} />}
        {(layer.cycle || layer.repeat !== "once") && (
          <Again
            shown={sheet ?? []}
            from={layer.cycle ? 1 : (layer.keys.at(-1)?.frame ?? 0) + 1}
            measure={measure}
          />
        )}
        {layer.keys.map((key, k) => {
          const next = layer.keys[k + 1];
          const [x0, x1] = [
            xOf(at(key)),
            next ? xOf(at(next)) : xOf(layer.repeat === "once" ? length : at(key)),
          ];
          if (next && key.span.inbetween) {
            const places = sheet?.slice(key.frame - 1, next.frame - 1).map((e) => e?.place ?? 0) ?? [];
            const points = [...places, 1].map((p, n) => [
              x0 + ((x1 - x0) * n) / places.length,
              ROW - 5 - p * (ROW - 10),
            ]);
            return (
              <g key={key.id}>
                <polyline
                  points={points.map((p) => p.join()).join(" ")}
                  fill="none"
                  stroke="var(--soft)"
                  strokeWidth={1.5}
                />
                {drawnIn(key, next)
                  .slice(1, -1)
                  .map((n) => (
                    <circle key={n} cx={points[n]?.[0]} cy={points[n]?.[1]} r={2.2} fill="var(--ink)" />
                  ))}
              </g>
            );
          }
          return (
            <line
              key={key.id}
              x1={x0}
              x2={x1}
              y1={ROW / 2}
              y2={ROW / 2}
              stroke="var(--line)"
              strokeWidth={3}
            />
          );
        })}
      </svg>
      {layer.keys.map((key) => {
        const [w, h] = key.breakdown ? [22, 18] : [30, 26];
        return (
          <Box
            key={key.id}
            data-testid="key"
            data-key={key.id}
            data-frame={key.frame}
            title={`${keyName(key)} at ${key.frame}: drag to move it in time, or to another layer`}
            onPointerDown={dragKey(key)}
            sx={{
              position: "absolute",
              left: HEAD + xOf(at(key)) - w / 2,
              top: (ROW - h) / 2,
              border: 1.5,
              borderColor: current ? "secondary.main" : "text.secondary",
              opacity: moving?.key === key.id && moving.over ? 0.5 : 1,
              borderRadius: 1,
              cursor: "ew-resize",
              touchAction: "none",
            }}
          >
            <KeyThumb drawing={key.drawing} width={w - 3} height={h - 3} ground={ground} />
          </Box>
        );
      })}
    </Box>
  );
});

type AgainProps = { shown: (Exposure | null)[]; from: number; measure: Measure };

/** What is played again from a frame on: the rising lines of the keys, fainter, a stroke where they begin anew. */
function Again({ shown, from, measure }: AgainProps) {
  const rest = shown.map((exposure, k) => ({ exposure, frame: k + 1 })).slice(from - 1);
  const lines: { key: string; points: string[]; frame: number }[] = [];
  for (const { exposure, frame } of rest) {
    if (!exposure) continue;
    if (exposure.key !== lines.at(-1)?.key) lines.push({ key: exposure.key, points: [], frame });
    lines.at(-1)?.points.push(`${measure.xOf(frame)},${ROW - 5 - exposure.place * (ROW - 10)}`);
  }
  return (
    <g data-testid="again" stroke="var(--soft)" strokeOpacity={0.55} fill="none">
      {lines.map(({ key, points, frame }) => (
        <g key={frame}>
          <polyline points={points.join(" ")} strokeWidth={1.5} />
          {key === lines[0]?.key && (
            <line x1={measure.xOf(frame - 0.5)} x2={measure.xOf(frame - 0.5)} y1={7} y2={ROW - 7} />
          )}
        </g>
      ))}
    </g>
  );
}

/** When a picture is there. */
function PictureBar({ picture, length, measure }: { picture: Picture; length: number; measure: Measure }) {
  const [from, to] = [measure.xOf(picture.first - 0.5), measure.xOf((picture.last ?? length) + 0.5)];
  return (
    <g>
      <rect x={from} y={ROW / 2 - 6} width={Math.max(4, to - from)} height={12} rx={3} fill="var(--line)" />
      <text x={from + 8} y={ROW / 2 + 4} fontSize={11} fill="var(--soft)">
        picture
      </text>
    </g>
  );
}

type ThumbProps = { drawing: string; width: number; height: number; ground: string };

function KeyThumb({ drawing, width, height, ground }: ThumbProps) {
  const shapes = useDesk((s) => s.drawings[drawing]?.shapes ?? none.shapes);
  return <Thumb shapes={shapes} width={width} height={height} paper={ground} />;
}
