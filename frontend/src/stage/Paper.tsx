import { Box, Button } from "@mui/material";
import { type ReactNode, type PointerEvent as ReactPointerEvent, useEffect } from "react";
import type { Point } from "../api/types";
import { useDesk, useScene } from "../desk/state";
import type { Box as Extent } from "./pieces";
import { follow, type Lens, toScene, useLens, useSize } from "./viewport";

type Props = {
  name: string;
  children: (lens: Lens) => ReactNode;
  /** Handles and lines over the drawing; they may reach beyond the paper, which the drawing may not. */
  over?: (lens: Lens) => ReactNode;
  cursor?: string;
  /** What fills the pane while nobody has zoomed; the paper if left out. */
  focus?: Extent | null;
  /** The colour of the paper, if it is not the scene's. */
  ground?: string;
  /** How much the table covers what lies beyond the paper. */
  veil?: number;
  onPress?: (point: Point, event: ReactPointerEvent, lens: Lens) => void;
  onHover?: (point: Point, event: ReactPointerEvent, lens: Lens) => void;
  onLeave?: () => void;
  onTwice?: (point: Point, target: Element) => void;
};

/** The scene's paper on the table, with zoom (wheel) and pan (middle button). */
export function Paper({
  name,
  children,
  over,
  cursor,
  focus,
  ground,
  veil = 1,
  onPress,
  onHover,
  onLeave,
  onTwice,
}: Props) {
  const scene = useScene();
  const [ref, size] = useSize<SVGSVGElement>();
  const lens = useLens(size, focus ?? null);
  const set = useDesk((s) => s.set);
  const zoomed = useDesk((s) => s.viewport !== null);

  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const [x, y] = toScene(lens, element, event);
      const scale = Math.min(40, Math.max(0.05, lens.scale * Math.exp(-event.deltaY * 0.0015)));
      const box = element.getBoundingClientRect();
      set({
        viewport: {
          scale,
          x: x + (box.width / 2 - (event.clientX - box.left)) / scale,
          y: y + (box.height / 2 - (event.clientY - box.top)) / scale,
        },
      });
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [lens, ref, set]);

  const pan = (start: ReactPointerEvent) => {
    const from = {
      x: (size.width / 2 - lens.left) / lens.scale,
      y: (size.height / 2 - lens.top) / lens.scale,
    };
    follow(
      (event) =>
        set({
          viewport: {
            scale: lens.scale,
            x: from.x - (event.clientX - start.clientX) / lens.scale,
            y: from.y - (event.clientY - start.clientY) / lens.scale,
          },
        }),
      () => undefined,
    );
  };

  const press = (event: ReactPointerEvent) => {
    if (event.button === 1) pan(event);
    if (event.button === 0 && ref.current) onPress?.(toScene(lens, ref.current, event), event, lens);
  };

  return (
    <Box sx={{ position: "relative", flex: 1, minWidth: 0, minHeight: 0, bgcolor: "background.default" }}>
      <svg
        ref={ref}
        role="application"
        aria-label={name}
        data-testid={name}
        style={{ position: "absolute", inset: 0, width: "100%", height: "100%", touchAction: "none", cursor }}
        onPointerDown={press}
        onPointerMove={(event) => ref.current && onHover?.(toScene(lens, ref.current, event), event, lens)}
        onPointerLeave={onLeave}
        onDoubleClick={(event) =>
          ref.current && onTwice?.(toScene(lens, ref.current, event), event.target as Element)
        }
      >
        {size.width > 0 && (
          <g transform={`translate(${lens.left} ${lens.top}) scale(${lens.scale})`}>
            <rect
              data-paper
              width={scene.width}
              height={scene.height}
              fill={ground ?? scene.paper}
              stroke="var(--line)"
              strokeWidth={1 / lens.scale}
            />
            {children(lens)}
            <path
              d={`M-9e5 -9e5H9e5V9e5H-9e5ZM0 0V${scene.height}H${scene.width}V0Z`}
              fill="var(--table)"
              opacity={veil}
              pointerEvents="none"
            />
            {over?.(lens)}
          </g>
        )}
      </svg>
      <Box sx={{ position: "absolute", right: 8, bottom: 6, display: "flex", gap: 1, alignItems: "center" }}>
        {zoomed && (
          <Button size="small" sx={{ bgcolor: "background.paper" }} onClick={() => set({ viewport: null })}>
            {Math.round(lens.scale * 100)} % · Fit
          </Button>
        )}
      </Box>
    </Box>
  );
}
