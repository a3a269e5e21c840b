import { useEffect, useRef, useState } from "react";
import type { Point } from "../api/types";
import { useDesk, useScene } from "../desk/state";
import type { Box } from "./pieces";

export type Size = { width: number; height: number };

/** The size of an element, kept up to date. */
export function useSize<E extends Element>() {
  const ref = useRef<E>(null);
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, size] as const;
}

export type Lens = {
  scale: number;
  left: number;
  top: number;
};

/** Where the scene lies in a pane: by the shared zoom, or so that the focus (or else the paper) fills it. */
export function useLens(size: Size, focus: Box | null): Lens {
  const scene = useScene();
  const viewport = useDesk((s) => s.viewport);
  const box = focus ?? { x: 0, y: 0, width: scene.width, height: scene.height };
  const fit = Math.min(
    (size.width - 48) / Math.max(box.width, 1),
    (size.height - 48) / Math.max(box.height, 1),
  );
  const scale = Math.max(viewport?.scale ?? fit, 0.01);
  const centre = viewport ?? { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  return { scale, left: size.width / 2 - centre.x * scale, top: size.height / 2 - centre.y * scale };
}

export function toScene(lens: Lens, element: Element, event: { clientX: number; clientY: number }): Point {
  const box = element.getBoundingClientRect();
  return [
    (event.clientX - box.left - lens.left) / lens.scale,
    (event.clientY - box.top - lens.top) / lens.scale,
  ];
}

const clearings = [() => useDesk.getState().endTrying()];

/** Say what else clears away what a drag has shown, when it is taken back. */
export const onTakenBack = (clear: () => void) => void clearings.push(clear);

/** Follow the pointer from a press to its release. Escape takes it back, as does losing a pen or a finger. */
export function follow(
  move: (event: PointerEvent) => void,
  end: (event: PointerEvent) => void,
  takenBack: () => void = () => undefined,
) {
  const stop = () => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", done);
    window.removeEventListener("pointercancel", back);
    window.removeEventListener("keydown", key, true);
  };
  const done = (event: PointerEvent) => {
    stop();
    end(event);
  };
  const back = () => {
    stop();
    for (const clear of clearings) clear();
    takenBack();
  };
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.stopPropagation(); // it means nothing else now
    back();
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", done);
  window.addEventListener("pointercancel", back);
  window.addEventListener("keydown", key, true);
}
