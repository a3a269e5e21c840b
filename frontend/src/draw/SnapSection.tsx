import { Box, Button, ToggleButton, ToggleButtonGroup } from "@mui/material";
import type { Guide } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Section } from "../desk/Section";
import { Soft } from "../desk/Soft";
import { useDesk, useScene } from "../desk/state";
import { SNAPS, type Snap, useTools } from "./tools";

/** What drawing snaps to. Holding Alt suspends it all. */
export function SnapSection() {
  const { guides, width, height } = useScene();
  const edit = useDesk((s) => s.edit);
  const { snaps, grid, set } = useTools();
  const on = SNAPS.filter((kind) => snaps[kind]);
  const choose = (_: unknown, chosen: Snap[]) =>
    set({ snaps: Object.fromEntries(SNAPS.map((k) => [k, chosen.includes(k)])) as Record<Snap, boolean> });
  const add = (way: Guide["way"]) => {
    set({ snaps: { ...snaps, guides: true } });
    const at = Math.round((way === "upright" ? width : height) / 2);
    void edit({ type: "set_scene", guides: [...guides, { way, at }] });
  };
  return (
    <Section title="Snapping" aside={<Soft sx={{ fontSize: 12 }}>Alt held: none</Soft>}>
      <ToggleButtonGroup
        size="small"
        value={on}
        onChange={choose}
        aria-label="What to snap to"
        sx={{ flexWrap: "wrap", pt: 0.5 }}
      >
        {SNAPS.map((kind) => (
          <ToggleButton key={kind} value={kind} sx={{ py: 0, px: 0.6, fontSize: 12, textTransform: "none" }}>
            {kind}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box sx={{ display: "flex", gap: 0.75, alignItems: "center", pt: 1 }}>
        <NumberField
          label="Grid"
          width={58}
          value={grid}
          min={2}
          max={500}
          onChange={(n) => set({ grid: n })}
        />
        <Button size="small" variant="outlined" onClick={() => add("upright")}>
          Upright guide
        </Button>
        <Button size="small" variant="outlined" onClick={() => add("level")}>
          Level guide
        </Button>
      </Box>
      {snaps.guides && (
        <Soft sx={{ fontSize: 12, pt: 0.5 }}>
          Pull guides out of the paper's edges; dragged off the paper, one is gone.
        </Soft>
      )}
    </Section>
  );
}
