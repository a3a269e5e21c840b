import { useDesk } from "../desk/state";
import type { Lens } from "./viewport";

/** A ring around the place of the snag that is looked at, on its frame. */
export function Mark({ lens }: { lens: Lens }) {
  const mark = useDesk((s) => (s.mark?.frame === s.frame ? s.mark : null));
  if (!mark) return null;
  const px = 1 / lens.scale;
  const [x, y] = mark.place;
  return (
    <g pointerEvents="none" fill="none" data-testid="snag-mark">
      <circle cx={x} cy={y} r={16 * px} stroke="var(--panel)" strokeWidth={5 * px} opacity={0.85} />
      <circle cx={x} cy={y} r={16 * px} stroke="var(--beet)" strokeWidth={2.2 * px} />
    </g>
  );
}
