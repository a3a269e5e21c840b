import { Box, Button } from "@mui/material";
import type { Cycle, Layer, Operation } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Hollow, Section } from "../desk/Section";
import { usePicked, useScene } from "../desk/state";
import { sourceOf } from "./place";

/** A layer that plays another one's keys again: from when, how fast, and where. */
export function CycleSection({ layer, cycle }: { layer: Layer; cycle: Cycle }) {
  const { edit, set } = usePicked("edit", "set");
  const source = sourceOf(useScene(), layer);
  const change = (changes: object) =>
    void edit({ type: "set_cycle", layer: layer.id, ...changes } as Operation);
  const [x, y] = cycle.move;
  return (
    <Section title={`“${layer.name}” plays “${source.name}”`}>
      <Hollow>
        What you change on “{source.name}” changes here, too. In Draw, drag it on the stage; the box's corners
        scale it, the round knob turns it.
      </Hollow>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 1, rowGap: 1.5, pt: 1.25 }}>
        <NumberField
          label="Starts at"
          value={cycle.start}
          onChange={(start) => change({ start: Math.round(start) })}
        />
        <NumberField
          label="Stretch ×"
          value={cycle.stretch}
          min={0.05}
          max={20}
          onChange={(stretch) => change({ stretch })}
        />
        <NumberField
          label="Size %"
          value={cycle.scale * 100}
          min={1}
          max={10_000}
          onChange={(size) => change({ scale: size / 100 })}
        />
        <NumberField
          label="Turn °"
          value={cycle.turn}
          min={-360}
          max={360}
          onChange={(turn) => change({ turn })}
        />
        <NumberField label="Right by" value={x} onChange={(to) => change({ move: [to, y] })} />
        <NumberField label="Down by" value={y} onChange={(to) => change({ move: [x, to] })} />
      </Box>
      <Box sx={{ display: "flex", gap: 0.75, pt: 1.25 }}>
        <Button size="small" variant="outlined" onClick={() => set({ layer: source.id })}>
          Go to “{source.name}”
        </Button>
        <Button
          size="small"
          variant="outlined"
          title="It gets keys of its own, and is changed no more by what is done there."
          onClick={() => void edit({ type: "cut_loose", layer: layer.id })}
        >
          Cut loose
        </Button>
      </Box>
    </Section>
  );
}
