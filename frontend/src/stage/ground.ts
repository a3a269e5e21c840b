import { getContrastRatio } from "@mui/material/styles";
import type { Drawing, Fill, Layer, Shape } from "../api/types";
import { useDesk } from "../desk/state";
import { boxOf } from "./pieces";

/** White and black both stand out from it. */
export const PATCH = "#D3C8B6";
const PLAIN = 1.7; // a contrast from which on a shape is plain to see
const MOSTLY = 0.5; // the share of a layer, by the room its shapes take, that must be

type Paint = Fill["paint"];

const colorOf = ({ color, gradient }: Paint) => gradient?.stops[0]?.color ?? color;

function isPlain({ fill, stroke }: Shape, ground: string) {
  const paint = (fill ?? stroke)?.paint;
  return !!paint && getContrastRatio(colorOf(paint), ground) >= PLAIN;
}

const seen = new WeakMap<Drawing, { paper: string; plain: number; whole: number }>();

/** How much room the shapes of a drawing take, and how much those that are plain to see on the paper. */
function roomOf(drawing: Drawing, paper: string) {
  const known = seen.get(drawing);
  if (known?.paper === paper) return known;
  const room = { paper, plain: 0, whole: 0 };
  for (const shape of drawing.shapes) {
    const box = boxOf([shape]);
    const size = box ? Math.hypot(box.width, box.height) : 0;
    room.whole += size;
    if (isPlain(shape, paper)) room.plain += size;
  }
  seen.set(drawing, room);
  return room;
}

/** What a layer is shown on by itself: the scene's paper, or a patch where it hardly stands out from that. */
export function groundOf(layer: Layer, drawings: Record<string, Drawing>, paper: string): string {
  let [plain, whole] = [0, 0];
  for (const key of layer.keys) {
    const drawing = drawings[key.drawing];
    const room = drawing && roomOf(drawing, paper);
    plain += room?.plain ?? 0;
    whole += room?.whole ?? 0;
  }
  return plain < MOSTLY * whole ? PATCH : paper;
}

export const useGround = (layer: Layer | null): string =>
  useDesk(({ doc, drawings }) => {
    const paper = doc?.scene.paper ?? "#ffffff";
    return layer ? groundOf(layer, drawings, paper) : paper;
  });
