import { InputBase, Typography, type TypographyProps } from "@mui/material";
import { useState } from "react";

type Props = {
  name: string;
  label: string;
  onRename: (name: string) => void;
  sx?: TypographyProps["sx"];
  weight?: number;
};

/** A name that becomes a field on double-click (or Enter, when it has the focus). */
export function Rename({ name, label, onRename, weight = 400 }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  if (draft === null)
    return (
      <Typography
        noWrap
        tabIndex={0}
        aria-label={`${label}: ${name}`}
        title={`${name} (double-click to rename)`}
        sx={{ fontSize: 13, fontWeight: weight, minWidth: 0, flex: 1 }}
        onDoubleClick={() => setDraft(name)}
        onKeyDown={(event) => event.key === "Enter" && setDraft(name)}
      >
        {name}
      </Typography>
    );
  const done = () => {
    if (draft.trim() && draft.trim() !== name) onRename(draft.trim());
    setDraft(null);
  };
  return (
    <InputBase
      autoFocus
      value={draft}
      sx={{ fontSize: 13, flex: 1, bgcolor: "background.default", px: 0.5, borderRadius: 1 }}
      inputProps={{ "aria-label": label, style: { padding: 0 } }}
      onChange={(event) => setDraft(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={done}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") done();
        if (event.key === "Escape") setDraft(null);
      }}
    />
  );
}
