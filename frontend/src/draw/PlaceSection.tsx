import { Box } from "@mui/material";
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalDistributeCenter,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalDistributeCenter,
  ArrowDownToLine,
  ArrowUpToLine,
  ChevronDown,
  ChevronUp,
  FlipHorizontal2,
  FlipVertical2,
  RotateCw,
  SquareSplitHorizontal,
  Trash2,
} from "lucide-react";
import { useLayoutEffect, useState } from "react";
import type { Point, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { NumberField } from "../desk/NumberField";
import { Section } from "../desk/Section";
import { useDesk } from "../desk/state";
import type { Box as Extent } from "../stage/pieces";
import { drawnBox } from "./gestures/choose";
import { useTools } from "./tools";

/** Place, size, turn, flips and stacking of the chosen shapes, in numbers. */
export function PlaceSection({ chosen, editing }: { chosen: Shape[]; editing: string }) {
  const edit = useDesk((s) => s.edit);
  const [box, setBox] = useState<Extent | null>(null);
  const ids = chosen.map((s) => s.id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew when the shapes change
  useLayoutEffect(() => {
    const stage = document.querySelector<SVGGElement>("[data-testid=stage] > g");
    setBox(drawnBox(stage, ids));
  }, [chosen]);
  const pivot = useTools((s) => s.pivot);
  const middle: Point = pivot ?? (box ? [box.x + box.width / 2, box.y + box.height / 2] : [0, 0]);
  const corner: Point = pivot ?? (box ? [box.x, box.y] : [0, 0]);
  const pose = (about: Point, changes: { scale?: Point; turn?: number; move?: Point }) =>
    void edit({
      type: "pose_shapes",
      key: editing,
      shapes: ids,
      pivot: about,
      scale: [1, 1],
      turn: 0,
      move: [0, 0],
      ...changes,
    });
  return (
    <Section title="Place">
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 1, rowGap: 1.5, pt: 1.25 }}>
        <NumberField
          label="X"
          value={box?.x ?? null}
          onChange={(x) => box && pose(middle, { move: [x - box.x, 0] })}
        />
        <NumberField
          label="Y"
          value={box?.y ?? null}
          onChange={(y) => box && pose(middle, { move: [0, y - box.y] })}
        />
        <NumberField label="Turn by °" value={0} onChange={(turn) => pose(middle, { turn })} />
        <NumberField
          label="Width"
          value={box?.width ?? null}
          min={0.1}
          onChange={(w) => box?.width && pose(corner, { scale: [w / box.width, 1] })}
        />
        <NumberField
          label="Height"
          value={box?.height ?? null}
          min={0.1}
          onChange={(h) => box?.height && pose(corner, { scale: [1, h / box.height] })}
        />
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", pt: 1 }}>
        <Action name="Flip left and right" onClick={() => pose(middle, { scale: [-1, 1] })}>
          <FlipHorizontal2 size={18} />
        </Action>
        <Action name="Flip top and bottom" onClick={() => pose(middle, { scale: [1, -1] })}>
          <FlipVertical2 size={18} />
        </Action>
        <Action name="Turn a quarter" onClick={() => pose(middle, { turn: 90 })}>
          <RotateCw size={18} />
        </Action>
        <Action name="Bring forward" onClick={() => actions.restack("forward")}>
          <ChevronUp size={18} />
        </Action>
        <Action name="Send backward" onClick={() => actions.restack("backward")}>
          <ChevronDown size={18} />
        </Action>
        <Action name="Bring to front" onClick={() => actions.restack("front")}>
          <ArrowUpToLine size={18} />
        </Action>
        <Action name="Send to back" onClick={() => actions.restack("back")}>
          <ArrowDownToLine size={18} />
        </Action>
        <Action
          name={pivot ? "Mirrored copy, at the pivot" : "Mirrored copy"}
          onClick={() =>
            void edit({ type: "mirror_shapes", key: editing, shapes: ids, x: pivot ? pivot[0] : null })
          }
        >
          <SquareSplitHorizontal size={18} />
        </Action>
        <Action name="Delete shapes" keys="Delete" onClick={actions.removeChosen}>
          <Trash2 size={18} />
        </Action>
      </Box>
      {ids.length > 1 && <Order editing={editing} shapes={ids} />}
    </Section>
  );
}

const ALIGN = [
  ["left", AlignStartVertical],
  ["centre", AlignCenterVertical],
  ["right", AlignEndVertical],
  ["top", AlignStartHorizontal],
  ["middle", AlignCenterHorizontal],
  ["bottom", AlignEndHorizontal],
] as const;

const SPREAD = [
  ["across", AlignHorizontalDistributeCenter],
  ["down", AlignVerticalDistributeCenter],
] as const;

/** Several shapes in line with each other, or with even gaps between them. */
function Order({ editing, shapes }: { editing: string; shapes: string[] }) {
  const edit = useDesk((s) => s.edit);
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap" }}>
      {ALIGN.map(([to, Icon]) => (
        <Action
          key={to}
          name={`Align ${to}`}
          onClick={() => void edit({ type: "align_shapes", key: editing, shapes, to })}
        >
          <Icon size={18} />
        </Action>
      ))}
      {shapes.length > 2 &&
        SPREAD.map(([along, Icon]) => (
          <Action
            key={along}
            name={`Spread evenly ${along}`}
            onClick={() => void edit({ type: "spread_shapes", key: editing, shapes, along })}
          >
            <Icon size={18} />
          </Action>
        ))}
    </Box>
  );
}
