import { Box, ButtonBase, Popover, TextField, Tooltip } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { HexColorPicker } from "react-colorful";
import { useScene } from "../desk/state";

type Props = {
  label: string;
  /** Undefined where the chosen shapes differ. */
  color: string | undefined;
  /** The colour of the palette it follows. */
  swatch?: string | null | undefined;
  width?: number;
  onChange: (color: string, swatch: string | null) => void;
};

/** A colour, picked freely or from the scene's palette. Dragging in the picker is one change, made when the hand rests. */
export function ColorField({ label, color, swatch, width = 64, onChange }: Props) {
  const palette = useScene().palette;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [draft, setDraft] = useState(color ?? "#808080");
  const timer = useRef<number | undefined>(undefined);
  useEffect(() => setDraft(color ?? "#808080"), [color]);
  const pick = (value: string) => {
    setDraft(value);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => onChange(value.toLowerCase(), null), 250);
  };
  const named = palette.find((s) => s.id === swatch);
  return (
    <>
      <Tooltip title={named ? `Follows “${named.name}” on the palette` : color ? color : "Mixed"}>
        <ButtonBase
          aria-label={`${label} colour`}
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{
            width,
            height: 24,
            borderRadius: 1,
            border: 1,
            borderColor: "divider",
            background: color ? draft : "repeating-linear-gradient(45deg, #ccc 0 5px, #eee 5px 10px)",
            position: "relative",
          }}
        >
          {named && (
            <Box
              sx={{
                position: "absolute",
                right: -3,
                bottom: -3,
                width: 9,
                height: 9,
                borderRadius: "50%",
                bgcolor: "secondary.main",
                border: 1.5,
                borderColor: "background.paper",
              }}
            />
          )}
        </ButtonBase>
      </Tooltip>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Box sx={{ p: 1.5, display: "flex", flexDirection: "column", gap: 1, width: 224 }}>
          <HexColorPicker color={draft} onChange={pick} />
          <TextField
            label="Hex"
            value={draft}
            onChange={(event) => {
              setDraft(event.target.value);
              if (/^#[0-9a-f]{6}$/i.test(event.target.value)) pick(event.target.value);
            }}
          />
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
            {palette.map((s) => (
              <Tooltip key={s.id} title={s.name}>
                <ButtonBase
                  aria-label={`Follow ${s.name}`}
                  onClick={() => {
                    onChange(s.color, s.id);
                    setAnchor(null);
                  }}
                  sx={{
                    width: 20,
                    height: 20,
                    borderRadius: 0.5,
                    bgcolor: s.color,
                    border: s.id === swatch ? 2 : 1,
                    borderColor: s.id === swatch ? "secondary.main" : "divider",
                  }}
                />
              </Tooltip>
            ))}
          </Box>
        </Box>
      </Popover>
    </>
  );
}
