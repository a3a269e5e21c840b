import type { Shape } from "../api/types";
import { useAtHand, useDesk } from "../desk/state";
import { boxOf } from "../stage/pieces";
import type { Lens } from "../stage/viewport";
import { Label } from "./SketchLayer";
import { useSketch } from "./sketch";

/** While shapes are moved or scaled: the box they have in the neighbouring key, with its measures. */
export function SizeMatch({ chosen, lens }: { chosen: Shape[]; lens: Lens }) {
  const at = useAtHand();
  const moving = useSketch((s) => s.drag !== null && "matrix" in s.drag);
  const drawings = useDesk((s) => s.drawings);
  if (!moving || !at.layer || !at.editing) return null;
  const index = at.layer.keys.findIndex((k) => k.id === at.editing?.id);
  const earlier = at.layer.keys[index - 1];
  const neighbour = earlier ?? at.layer.keys[index + 1];
  const shapes = (neighbour && drawings[neighbour.drawing]?.shapes) ?? [];
  const ids = new Set(chosen.map((s) => s.id));
  const same = shapes.filter((s) => ids.has(s.id));
  const box = boxOf(same.length ? same : shapes);
  if (!box || !neighbour) return null;
  const px = 1 / lens.scale;
  const tint = earlier ? "var(--plum)" : "var(--lagoon)";
  return (
    <g pointerEvents="none" data-testid="size-match">
      <rect
        {...box}
        fill="none"
        stroke={tint}
        strokeWidth={1.5 * px}
        strokeDasharray={`${6 * px} ${4 * px}`}
      />
      <Label at={[box.x, box.y - 7 * px]} px={px}>
        {`at ${neighbour.frame}: ${Math.round(box.width)} × ${Math.round(box.height)}`}
      </Label>
    </g>
  );
}
