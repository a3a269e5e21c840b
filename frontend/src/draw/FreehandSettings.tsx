import { Box, Slider } from "@mui/material";
import { useRef } from "react";
import type { Operation } from "../api/types";
import { Hollow } from "../desk/Section";
import { Soft } from "../desk/Soft";
import { useAtHand, usePicked } from "../desk/state";
import { PracticePen } from "./PracticePen";
import { forgetTrials, sketch, tryDrawing } from "./sketch";
import { penStroke, useTools } from "./tools";

/** How closely a line follows the hand. The last line can still be fitted anew: its points are counted as one drags. */
export function FreehandSettings() {
  const { tolerance, lastLine, set } = useTools();
  const { drawings, edit } = usePicked("drawings", "edit");
  const editing = useAtHand().editing;
  const shapes = (editing && drawings[editing.drawing]?.shapes) ?? [];
  const line =
    lastLine && editing?.id === lastLine.key && shapes.some((s) => s.id === lastLine.shape) ? lastLine : null;
  const moved = useRef(false);

  const operation = (value: number): Operation | null =>
    line && {
      type: "add_freehand",
      key: line.key,
      shape: line.shape,
      samples: line.samples,
      tolerance: value,
      stroke: penStroke(),
      fill: null,
      closed: line.closed,
    };
  const look = (value: number) => {
    set({ tolerance: value });
    const again = operation(value);
    if (!again || !line) return;
    moved.current = true;
    tryDrawing(again, line.key, (trial) => {
      const shape = trial?.shapes.find((s) => s.id === line.shape);
      if (!shape) return;
      set({ lastLine: { ...line, nodes: trial?.nodes[1] ?? line.nodes } });
      sketch({ drag: { shapes: new Map([[shape.id, shape]]) } });
    });
  };
  const take = async (value: number) => {
    const again = operation(value);
    if (!again || !moved.current) return;
    moved.current = false;
    forgetTrials();
    await edit(again);
    sketch({ drag: null });
  };

  return (
    <>
      <Hollow>
        {line
          ? "Move the slider to fit the last line anew."
          : "Draw on the stage; a pen's pressure makes the width. End where you began to shut the line."}
      </Hollow>
      <Box sx={{ display: "flex", justifyContent: "space-between" }}>
        <Soft sx={{ fontSize: 12 }}>Within {tolerance} units of the hand</Soft>
        {line && (
          <Soft sx={{ fontSize: 12, fontWeight: 700 }} data-testid="line-nodes">
            {line.nodes} points
          </Soft>
        )}
      </Box>
      <Slider
        aria-label="Tolerance"
        value={tolerance}
        min={0.5}
        max={20}
        step={0.5}
        onChange={(_, value) => look(value as number)}
        onChangeCommitted={(_, value) => void take(value as number)}
      />
      <PracticePen />
    </>
  );
}
