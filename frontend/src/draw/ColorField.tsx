import { Box, ButtonBase, Popover, Switch, TextField, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { HexColorPicker } from "react-colorful";
import { Soft } from "../desk/Soft";

type Props = {
  label: string;
  /** None where it is null; undefined where the chosen shapes differ. */
  color: string | null | undefined;
  fallback: string;
  onChange: (color: string | null) => void;
};

/** A colour that can be absent. Dragging in the picker is one change, made when the hand rests. */
export function ColorField({ label, color, fallback, onChange }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [draft, setDraft] = useState(color ?? fallback);
  const timer = useRef<number | undefined>(undefined);
  useEffect(() => setDraft(color ?? fallback), [color, fallback]);
  const pick = (value: string) => {
    setDraft(value);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => onChange(value.toLowerCase()), 250);
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 32 }}>
      <Typography sx={{ width: 44 }}>{label}</Typography>
      <Switch
        size="small"
        checked={color !== null}
        slotProps={{ input: { "aria-label": `${label} on` } }}
        onChange={(_, on) => onChange(on ? draft : null)}
      />
      <ButtonBase
        aria-label={`${label} colour`}
        disabled={color === null}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          width: 64,
          height: 24,
          borderRadius: 1,
          border: 1,
          borderColor: "divider",
          bgcolor: color === null ? "transparent" : draft,
        }}
      />
      <Soft sx={{ fontSize: 12 }}>{color === null ? "none" : color === undefined ? "mixed" : draft}</Soft>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Box sx={{ p: 1.5, display: "flex", flexDirection: "column", gap: 1 }}>
          <HexColorPicker color={draft} onChange={pick} />
          <TextField
            label="Hex"
            value={draft}
            onChange={(event) => {
              setDraft(event.target.value);
              if (/^#[0-9a-f]{6}$/i.test(event.target.value)) pick(event.target.value);
            }}
          />
        </Box>
      </Popover>
    </Box>
  );
}
