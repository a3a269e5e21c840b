import { getContrastRatio } from "@mui/material/styles";
import type { Drawing, Fill, Layer, Shape } from "../api/types";
import { useDesk } from "../desk/state";
import { boxOf } from "./pieces";

/** White and black both stand out from it. */
export const PATCH = "#D3C8B6";
const PLAIN = 1.7; // a contrast from which on a shape is plain to see
const MOSTLY = 0.5; // the share of a layer, by the room its shapes take, that must be

type Paint = Fill["paint"];
type Room = { paper: string; plain: number; whole: number };

const colorOf = ({ color, gradient }: Paint) => gradient?.stops[0]?.color ?? color;

const seen = new WeakMap<Shape, Room>();

/** How much room a shape takes, if it is plain to see on the paper, and in any case. */
function roomOf(shape: Shape, paper: string): Room {
  const known = seen.get(shape);
  if (known?.paper === paper) return known;
  const box = boxOf([shape]);
  const whole = box ? Math.hypot(box.width, box.height) : 0;
  const paint = (shape.fill ?? shape.stroke)?.paint;
  const plain = paint && getContrastRatio(colorOf(paint), paper) >= PLAIN ? whole : 0;
  const room = { paper, plain, whole };
  seen.set(shape, room);
  return room;
}

/** What a layer is shown on by itself: the scene's paper, or a patch where it hardly stands out from that. */
export function groundOf(layer: Layer, drawings: Record<string, Drawing>, paper: string): string {
  let [plain, whole] = [0, 0];
  for (const key of layer.keys)
    for (const shape of drawings[key.drawing]?.shapes ?? []) {
      const room = roomOf(shape, paper);
      plain += room.plain;
      whole += room.whole;
    }
  return plain < MOSTLY * whole ? PATCH : paper;
}

export const useGround = (layer: Layer | null): string =>
  useDesk(({ doc, drawings }) => {
    const paper = doc?.scene.paper ?? "#ffffff";
    return layer ? groundOf(layer, drawings, paper) : paper;
  });
