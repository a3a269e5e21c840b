import { TextField } from "@mui/material";
import { useEffect, useRef, useState } from "react";

type Props = {
  label: string;
  value: number | null;
  onChange: (value: number) => void;
  min?: number;
  max?: number;
  width?: number;
};

/** What makes a text field as low as a row of buttons. */
export const COMPACT = { padding: "5px 8px" };

const shown = (value: number | null) => (value === null ? "" : String(Math.round(value * 100) / 100));

/** A number that counts once it is typed: Enter or leaving the field. */
export function NumberField({ label, value, onChange, min = -1e6, max = 1e6, width = 76 }: Props) {
  const [text, setText] = useState(shown(value));
  const told = useRef<string | null>(null); // what was taken, until the value follows or something else is typed
  useEffect(() => {
    told.current = null;
    setText(shown(value));
  }, [value]);
  const take = () => {
    const typed = Number(text.replace(",", "."));
    if (text.trim() === "" || !Number.isFinite(typed)) return setText(shown(value));
    const kept = Math.min(max, Math.max(min, typed));
    setText(shown(kept));
    if (shown(kept) === (told.current ?? shown(value))) return;
    told.current = shown(kept);
    onChange(kept);
  };
  return (
    <TextField
      label={label}
      value={text}
      disabled={value === null}
      onChange={(event) => {
        told.current = null;
        setText(event.target.value);
      }}
      onBlur={take}
      onKeyDown={(event) => event.key === "Enter" && take()}
      sx={{ width }}
      slotProps={{ htmlInput: { inputMode: "decimal", style: COMPACT } }}
    />
  );
}
