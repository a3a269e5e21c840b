import { Box, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useEffect, useState } from "react";
import type { Stroke } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Slide } from "../desk/Slide";
import { Soft } from "../desk/Soft";
import type { Change } from "./style";

const CAPS = ["butt", "round", "square"] as const;
const JOINS = ["miter", "round", "bevel"] as const;

/** How a line ends, bends and is dashed. */
export function LineSection({ stroke, onChange }: { stroke: Stroke; onChange: (change: Change) => unknown }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "44px 1fr", rowGap: 0.75, alignItems: "center", pt: 1 }}>
      <Soft sx={{ fontSize: 12 }}>Ends</Soft>
      <Choice
        label="Ends of the line"
        values={CAPS}
        value={stroke.cap}
        onChange={(cap) => onChange({ cap })}
      />
      <Soft sx={{ fontSize: 12 }}>Bends</Soft>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Choice
          label="Bends of the line"
          values={JOINS}
          value={stroke.join}
          onChange={(join) => onChange({ join })}
        />
        {stroke.join === "miter" && (
          <NumberField
            label="Limit"
            width={58}
            value={stroke.miter_limit}
            min={1}
            max={100}
            onChange={(miter_limit) => onChange({ miter_limit })}
          />
        )}
      </Box>
      <Soft sx={{ fontSize: 12 }}>Dashes</Soft>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Dashes dashes={stroke.dashes} onChange={(dashes) => onChange({ dashes })} />
        {stroke.dashes.length > 0 && (
          <NumberField
            label="Shift"
            width={62}
            value={stroke.dash_offset}
            onChange={(dash_offset) => onChange({ dash_offset })}
          />
        )}
      </Box>
      <Soft sx={{ fontSize: 12 }}>Drawn</Soft>
      <Drawn reveal={stroke.reveal} onChange={(reveal) => onChange({ reveal })} />
    </Box>
  );
}

const percent = (share: number) => `${Math.round(100 * share)} %`;

/** From where to where along its length the line is there: two keys with unlike ends draw or wipe it. */
function Drawn({
  reveal,
  onChange,
}: {
  reveal: Stroke["reveal"];
  onChange: (reveal: Stroke["reveal"]) => unknown;
}) {
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", pl: 1 }}>
      <Slide
        value={[...reveal]}
        min={0}
        max={1}
        step={0.01}
        disableSwap
        getAriaLabel={(index) => (index ? "Drawn to" : "Drawn from")}
        getAriaValueText={percent}
        onCommit={(ends) => onChange(ends.map((share) => Math.round(100 * share) / 100) as Stroke["reveal"])}
      />
      <Soft sx={{ fontSize: 12, whiteSpace: "nowrap" }}>
        {reveal[0] === 0 && reveal[1] === 1
          ? "whole"
          : `${Math.round(100 * reveal[0])}–${percent(reveal[1])}`}
      </Soft>
    </Box>
  );
}

type ChoiceProps<T> = { label: string; values: readonly T[]; value: T; onChange: (value: T) => void };

function Choice<T extends string>({ label, values, value, onChange }: ChoiceProps<T>) {
  return (
    <ToggleButtonGroup
      size="small"
      exclusive
      value={value}
      aria-label={label}
      onChange={(_, chosen) => chosen && onChange(chosen)}
    >
      {values.map((each) => (
        <ToggleButton key={each} value={each} sx={{ py: 0, px: 1, fontSize: 12, textTransform: "none" }}>
          {each}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

/** Lengths of dash, gap, dash, ... as typed: "6 4". */
function Dashes({ dashes, onChange }: { dashes: number[]; onChange: (dashes: number[]) => void }) {
  const [text, setText] = useState(dashes.join(" "));
  useEffect(() => setText(dashes.join(" ")), [dashes]);
  const take = () => {
    const typed = text
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(Number);
    const good = typed.length <= 16 && typed.every((n) => Number.isFinite(n) && n >= 0);
    if (!good) return setText(dashes.join(" "));
    if (typed.join() !== dashes.join()) onChange(typed);
  };
  return (
    <TextField
      value={text}
      placeholder="none; or as 6 4"
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === "Enter" && take()}
      slotProps={{ htmlInput: { "aria-label": "Dashes", style: { padding: "4px 8px", fontSize: 12 } } }}
    />
  );
}
