import type { Shape } from "../api/types";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk } from "../desk/state";
import { Label } from "../stage/Label";
import { boxOf } from "../stage/pieces";
import type { Lens } from "../stage/viewport";
import { useSketch } from "./sketch";

/** While shapes are moved or scaled: the box they have in the neighbouring key, with its measures. */
export function SizeMatch({ chosen, lens }: { chosen: Shape[]; lens: Lens }) {
  const at = useAtHand();
  const moving = useSketch((s) => s.drag !== null && "matrix" in s.drag);
  const drawings = useDesk((s) => s.drawings);
  const spans = useSpans();
  if (!moving || !at.layer || !at.editing) return null;
  const index = at.layer.keys.findIndex((k) => k.id === at.editing?.id);
  const earlier = at.layer.keys[index - 1];
  const neighbour = earlier ?? at.layer.keys[index + 1];
  const shapes = (neighbour && drawings[neighbour.drawing]?.shapes) ?? [];
  if (!neighbour) return null;
  const own = new Set(chosen.map((s) => s.id));
  const partners = new Set<string | null>(own);
  // what the chosen shapes become, or were, by the span between the two keys
  for (const pair of spans[earlier ? earlier.id : at.editing.id]?.pairs ?? []) {
    const [here, there] = earlier ? [pair.seconds, pair.firsts] : [pair.firsts, pair.seconds];
    if (here.some((id) => own.has(id))) for (const id of there) partners.add(id);
  }
  const whole = chosen.length === drawings[at.editing.drawing]?.shapes.length;
  const box = boxOf(whole ? shapes : shapes.filter((s) => partners.has(s.id)));
  if (!box) return null;
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
