import { Box } from "@mui/material";
import { ChevronDown, ChevronRight } from "lucide-react";
import { memo } from "react";
import type { Shape } from "../api/types";
import { Rename } from "../desk/Rename";
import { rowKeys } from "../desk/rows";
import { useDesk } from "../desk/state";
import { Sample } from "../stage/Thumb";

export const ROW_HEIGHT = 28;

export type RowHand = {
  choose: (ids: string[], add: boolean) => void;
  /** Put shapes right over another, or to the very back. */
  drop: (ids: string[], target: string | null) => void;
  over: (row: string | null) => void;
  fold: (part: string) => void;
  rename: (part: string | null, shape: string, name: string) => void;
};

type Props = {
  id: string;
  /** Where in the list, in pixels. */
  top: number;
  /** The shape, or all those of a part. */
  shapes: Shape[];
  part: string | null;
  depth: number;
  on: boolean;
  over: boolean;
  folded: boolean;
  hand: RowHand;
};

/** A shape or a part in the list. */
export const ShapeRow = memo(
  function ShapeRow({ id, top, shapes, part, depth, on, over, folded, hand }: Props) {
    const ids = shapes.map((s) => s.id);
    const front = shapes.at(-1) as Shape;
    const name = part === null ? front.name : (part.split("/").at(-1) as string);

    return (
      <Box
        role="option"
        tabIndex={0}
        aria-selected={on}
        aria-label={part === null ? name : `Part ${name}`}
        data-testid={part === null ? "shape-row" : "part-row"}
        draggable
        onDragStart={(event) => {
          const moved = on ? useDesk.getState().shapes : ids;
          event.dataTransfer.setData("text/x-shapes", moved.join());
        }}
        onDragOver={(event) => {
          event.preventDefault();
          hand.over(id);
        }}
        onDrop={(event) => {
          event.preventDefault();
          hand.drop(event.dataTransfer.getData("text/x-shapes").split(","), front.id);
        }}
        onDragEnd={() => hand.over(null)}
        onClick={(event) => hand.choose(ids, event.shiftKey || event.ctrlKey)}
        onKeyDown={rowKeys((event) => hand.choose(ids, event.shiftKey || event.ctrlKey))}
        style={{ top, paddingLeft: 4 + depth * 14 }}
        sx={{
          position: "absolute",
          left: 0,
          right: 0,
          display: "flex",
          alignItems: "center",
          gap: 1,
          pr: 0.5,
          height: ROW_HEIGHT,
          borderRadius: 1,
          bgcolor: on ? "action.selected" : undefined,
          borderTop: 2,
          borderTopColor: over ? "secondary.main" : "transparent",
          "&:hover": { bgcolor: "action.hover" },
        }}
      >
        {part !== null && (
          <Box
            component="button"
            type="button"
            aria-label={folded ? `Unfold ${name}` : `Fold ${name}`}
            onClick={(event) => {
              event.stopPropagation();
              hand.fold(part);
            }}
            sx={{
              border: 0,
              bgcolor: "transparent",
              color: "inherit",
              p: 0,
              display: "flex",
              cursor: "pointer",
            }}
          >
            {folded ? <ChevronRight size={15} /> : <ChevronDown size={15} />}
          </Box>
        )}
        <Sample shapes={shapes} width={30} height={22} />
        <Rename
          name={name}
          label={part === null ? "shape" : "part"}
          weight={part === null ? 400 : 700}
          onRename={(to) => hand.rename(part, front.id, to)}
        />
      </Box>
    );
  },
  (a, b) =>
    a.id === b.id &&
    a.top === b.top &&
    a.part === b.part &&
    a.depth === b.depth &&
    a.on === b.on &&
    a.over === b.over &&
    a.folded === b.folded &&
    a.hand === b.hand &&
    a.shapes.length === b.shapes.length &&
    a.shapes.every((shape, k) => shape === b.shapes[k]),
);
