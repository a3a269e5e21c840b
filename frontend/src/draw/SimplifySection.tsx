import { Box, Button, Slider } from "@mui/material";
import { useEffect, useState } from "react";
import type { Operation, Shape } from "../api/types";
import { Section } from "../desk/Section";
import { Soft } from "../desk/Soft";
import { useDesk } from "../desk/state";
import { forgetTrials, sketch, tryDrawing } from "./sketch";

type Seen = { nodes: readonly number[]; deviation: number };

/** Fewer points: the stage shows what would be left while the slider moves. */
export function SimplifySection({ chosen, editing }: { chosen: Shape[]; editing: string }) {
  const edit = useDesk((s) => s.edit);
  const [tolerance, setTolerance] = useState(1);
  const [seen, setSeen] = useState<Seen | null>(null);
  const ids = chosen.map((s) => s.id).join();
  const count = chosen.reduce((sum, s) => sum + s.contours.reduce((n, c) => n + c.nodes.length, 0), 0);
  const operation = (value: number): Operation => ({
    type: "simplify",
    key: editing,
    shapes: chosen.map((s) => s.id),
    tolerance: value,
  });
  const clear = () => {
    setSeen(null);
    forgetTrials();
    sketch({ drag: null });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was looked at was of other shapes
  useEffect(() => clear, [ids, editing]);
  const look = (value: number) => {
    setTolerance(value);
    tryDrawing(operation(value), editing, (trial) => {
      if (!trial) return;
      setSeen({
        nodes: [count, count - trial.nodes[0] + trial.nodes[1]],
        deviation: trial.deviation,
      });
      sketch({ drag: { shapes: new Map(trial.shapes.map((s) => [s.id, s])) } });
    });
  };
  const take = async () => {
    await edit(operation(tolerance));
    clear();
  };
  return (
    <Section title="Simplify" aside={<Soft sx={{ fontSize: 12 }}>{count} points</Soft>}>
      <Slider
        aria-label="Simplify within"
        value={tolerance}
        min={0.25}
        max={20}
        step={0.25}
        onChange={(_, value) => look(value as number)}
      />
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Soft sx={{ fontSize: 12, flex: 1 }} data-testid="simplify-words">
          {seen
            ? `${seen.nodes[0]} → ${seen.nodes[1]} points, off by ${seen.deviation.toFixed(1)} at most`
            : `Move the slider to see it: within ${tolerance} units`}
        </Soft>
        {seen && (
          <Button size="small" onClick={clear}>
            Leave it
          </Button>
        )}
        <Button size="small" variant="outlined" disabled={!seen} onClick={() => void take()}>
          Simplify
        </Button>
      </Box>
    </Section>
  );
}
