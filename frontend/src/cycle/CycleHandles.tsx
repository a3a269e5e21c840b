import type { Cycle, Layer, Point } from "../api/types";
import { useDesk, useScene } from "../desk/state";
import { PlacingBox } from "../stage/PlacingBox";
import { boxOf } from "../stage/pieces";
import type { Lens } from "../stage/viewport";
import { placeText, sourceOf } from "./place";

const LEAST = 24; // scene units: a box that is smaller can't be taken hold of

type Props = { layer: Layer; cycle: Cycle; lens: Lens };

/** A cycle at hand, to be placed: the box is that of the first drawing it plays. */
export function CycleHandles({ layer, cycle, lens }: Props) {
  const edit = useDesk((s) => s.edit);
  const first = sourceOf(useScene(), layer).keys[0];
  const box = boxOf(useDesk((s) => (first && s.drawings[first.drawing]?.shapes) ?? NONE));
  const [px, py] = cycle.pivot;
  const [mx, my] = cycle.move;
  const asCycle = ({ at, ...changes }: { at?: Point; scale?: number; turn?: number }) => ({
    ...changes,
    ...(at && { move: [at[0] - px, at[1] - py] as Point }),
  });
  return (
    <PlacingBox
      name="cycle-box"
      placed={{ at: [px + mx, py + my], scale: cycle.scale, turn: cycle.turn }}
      size={[Math.max(LEAST, box?.width ?? 0), Math.max(LEAST, box?.height ?? 0)]}
      lens={lens}
      show={(placed) =>
        document
          .querySelector(`[data-cycle="${layer.id}"]`)
          ?.setAttribute("transform", placeText({ ...cycle, ...asCycle(placed) }))
      }
      keep={(changes) => edit({ type: "set_cycle", layer: layer.id, ...asCycle(changes) } as never)}
    />
  );
}

const NONE: never[] = [];
