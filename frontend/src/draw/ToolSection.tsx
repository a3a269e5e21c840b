import { Box, Slider, Switch, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import type { ReactNode } from "react";
import { COMPACT, NumberField } from "../desk/NumberField";
import { Hollow, Section } from "../desk/Section";
import { Soft } from "../desk/Soft";
import { type Tool, useDesk } from "../desk/state";
import { FreehandSettings } from "./FreehandSettings";
import { useTools } from "./tools";

const WORDS: Record<Tool, string> = {
  arrange: "Arrange",
  points: "Points",
  freehand: "Freehand",
  path: "Placed points",
  form: "Form",
  letters: "Letters",
  pour: "Pour",
  width: "Width along a line",
  pick: "Pick a colour",
};

/** The settings of the tool at hand, and how it is used. */
export function ToolSection() {
  const tool = useDesk((s) => s.tool);
  const contents: Partial<Record<Tool, ReactNode>> = {
    arrange: <Choosing what="shapes" />,
    points: <Choosing what="points" />,
    freehand: <FreehandSettings />,
    path: (
      <Hollow>
        Click for a corner, drag for a smooth point. Click the first point to close; Enter or a double click
        ends the line, Backspace takes the last point back.
      </Hollow>
    ),
    form: <FormSettings />,
    letters: <LetterSettings />,
    pour: <PourSettings />,
    width: (
      <Hollow>
        Press on a line and pull away from it: it gets as wide there as you pull. Points are added as needed.
      </Hollow>
    ),
    pick: (
      <Hollow>
        Click a shape on any layer. Chosen shapes get its colours, and so does what you draw next.
      </Hollow>
    ),
  };
  return <Section title={WORDS[tool]}>{contents[tool]}</Section>;
}

function Choosing({ what }: { what: "shapes" | "points" }) {
  const { lasso, set } = useTools();
  const part = useDesk((s) => s.part);
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, pt: 0.5 }}>
        <Soft sx={{ fontSize: 12 }}>Choose by</Soft>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={lasso ? "lasso" : "box"}
          aria-label={`How ${what} are chosen`}
          onChange={(_, value) => value && set({ lasso: value === "lasso" })}
        >
          <ToggleButton value="box" sx={{ py: 0.125, textTransform: "none" }}>
            Box
          </ToggleButton>
          <ToggleButton value="lasso" sx={{ py: 0.125, textTransform: "none" }}>
            Lasso
          </ToggleButton>
        </ToggleButtonGroup>
      </Box>
      {part && (
        <Soft sx={{ fontSize: 12, pt: 0.75 }}>Inside “{part.replaceAll("/", " › ")}”. Escape leaves it.</Soft>
      )}
    </>
  );
}

function FormSettings() {
  const { form, points, inner, set } = useTools();
  return (
    <>
      <Hollow>Drag it out. Shift keeps it even, Ctrl draws it from its middle, Alt does not snap.</Hollow>
      {(form === "polygon" || form === "star") && (
        <Box sx={{ display: "flex", gap: 1.5, pt: 1, alignItems: "center" }}>
          <NumberField
            label={form === "star" ? "Tips" : "Corners"}
            value={points}
            min={3}
            max={64}
            onChange={(n) => set({ points: Math.round(n) })}
          />
          {form === "star" && (
            <Box sx={{ flex: 1 }}>
              <Soft sx={{ fontSize: 12 }}>Dents at {Math.round(inner * 100)} %</Soft>
              <Slider
                aria-label="Inner radius"
                value={inner}
                min={0.05}
                max={0.98}
                step={0.01}
                onChange={(_, value) => set({ inner: value as number })}
              />
            </Box>
          )}
        </Box>
      )}
    </>
  );
}

function LetterSettings() {
  const { letters, set } = useTools();
  return (
    <>
      <Hollow>Type, then click where the baseline begins. Each letter becomes a shape of its own.</Hollow>
      <Box sx={{ display: "flex", gap: 1, pt: 1 }}>
        <TextField
          label="Text"
          value={letters.text}
          onChange={(event) => set({ letters: { ...letters, text: event.target.value.slice(0, 200) } })}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { style: COMPACT } }}
        />
        <NumberField
          label="Size"
          value={letters.size}
          min={4}
          max={4000}
          onChange={(size) => set({ letters: { ...letters, size } })}
        />
      </Box>
    </>
  );
}

function PourSettings() {
  const { gap, set } = useTools();
  return (
    <>
      <Hollow>
        Click into an area that lines enclose. The fill goes under them and follows them when they are edited.
      </Hollow>
      <Soft sx={{ fontSize: 12, pt: 0.75 }}>
        {gap > 0 ? `Gaps up to ${gap} units are closed; dashes show where` : "Only areas without a gap"}
      </Soft>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <Switch
          size="small"
          checked={gap > 0}
          slotProps={{ input: { "aria-label": "Close gaps" } }}
          onChange={(_, on) => set({ gap: on ? 6 : 0 })}
        />
        <Slider
          aria-label="Gap"
          value={gap}
          min={0}
          max={60}
          step={1}
          onChange={(_, value) => set({ gap: value as number })}
        />
      </Box>
    </>
  );
}
