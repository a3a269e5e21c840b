import { Box } from "@mui/material";
import { type KeyboardEvent, type PointerEvent, useState } from "react";
import { follow } from "../stage/viewport";
import { ABOVE, ROW } from "./measure";

const KEPT = "timeline height";
/** The least heights by hand and at first, in pixels. */
const [LEAST, FIRST] = [132, 196];

/** How high the timeline is: as it was left, or so that its layers are seen where the window has room for them. */
export function useHeight(layers: number) {
  const [kept, keep] = useState(() => Number(localStorage.getItem(KEPT)));
  const change = (next: number) => {
    localStorage.setItem(KEPT, String(next));
    keep(next);
  };
  const needed = Math.max(FIRST, ABOVE + (layers + 0.5) * ROW);
  return {
    height: kept ? `clamp(${LEAST}px, ${kept}px, 70vh)` : `clamp(${FIRST}px, 24.5vh, ${needed}px)`,
    change,
  };
}

const heightNow = (event: { currentTarget: EventTarget }) =>
  (event.currentTarget as HTMLElement).parentElement?.offsetHeight ?? FIRST;

/** The upper edge of the timeline, to be dragged; a double click makes it as high as it was at first. */
export function Sash({ change }: { change: (next: number) => void }) {
  const drag = (press: PointerEvent) => {
    press.preventDefault();
    const before = heightNow(press);
    follow(
      (move) => change(Math.max(LEAST, before + press.clientY - move.clientY)),
      () => undefined,
      () => change(before),
    );
  };
  const key = (event: KeyboardEvent) => {
    const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (way) change(Math.max(LEAST, heightNow(event) + way * ROW));
  };
  return (
    <Box
      role="separator"
      aria-orientation="horizontal"
      aria-label="Height of the timeline"
      tabIndex={0}
      onPointerDown={drag}
      onDoubleClick={() => change(0)}
      onKeyDown={key}
      sx={{
        position: "absolute",
        inset: "-1px 0 auto 0",
        height: 5,
        zIndex: 4,
        cursor: "ns-resize",
        touchAction: "none",
        "&:hover, &:focus-visible": { bgcolor: "divider", outline: "none" },
      }}
    />
  );
}
