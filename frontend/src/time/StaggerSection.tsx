import { MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Key, Operation, SpanView } from "../api/types";
import { Hollow, Section } from "../desk/Section";
import { Slide } from "../desk/Slide";
import { usePicked } from "../desk/state";

type Order = Extract<Operation, { type: "stagger" }>["order"];

const ORDERS: Order[] = [
  "from the left",
  "from the right",
  "from the top",
  "from below",
  "from the back",
  "from the front",
];

/** Pieces that start one after the other, so that they do not move in step. */
export function StaggerSection({ first, second, span }: { first: Key; second: Key; span: SpanView }) {
  const { edit, tryOut } = usePicked("edit", "tryOut");
  const [order, setOrder] = useState<Order>("from the left");
  if (span.pairs.length < 2) return null;
  const length = second.frame - first.frame;
  const later = Math.round(Math.max(...span.pairs.map((pair) => pair.travel.start)) * length);
  const operation = (frames: number, way: Order): Operation => ({
    type: "stagger",
    key: first.id,
    order: way,
    by: Math.min(0.9, frames / length),
  });
  return (
    <Section title="Stagger">
      <TextField
        select
        fullWidth
        size="small"
        label="Pieces start"
        value={order}
        sx={{ mt: 1 }}
        onChange={(event) => {
          const way = event.target.value as Order;
          setOrder(way);
          if (later) void edit(operation(later, way));
        }}
      >
        {ORDERS.map((way) => (
          <MenuItem key={way} value={way}>
            {way}
          </MenuItem>
        ))}
      </TextField>
      <Typography sx={{ fontSize: 12, pt: 1 }}>
        {later
          ? `The last starts ${later} frame${later === 1 ? "" : "s"} after the first`
          : "All start at once"}
      </Typography>
      <Slide
        aria-label="How many frames after the first the last piece starts"
        value={later}
        min={0}
        max={Math.max(1, Math.floor(length * 0.9))}
        step={1}
        onMove={(frames) => tryOut(operation(frames, order), first.id)}
        onCommit={(frames) => edit(operation(frames, order))}
      />
      <Hollow>Pieces of one part go together. One pair alone is timed above, under Travel.</Hollow>
    </Section>
  );
}
