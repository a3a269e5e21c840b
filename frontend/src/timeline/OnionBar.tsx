import { Box, Button, Popover, Slider, Switch } from "@mui/material";
import { Layers2, SlidersHorizontal } from "lucide-react";
import { useState } from "react";
import { Action } from "../desk/Action";
import { NumberField } from "../desk/NumberField";
import { Soft } from "../desk/Soft";
import { usePicked } from "../desk/state";
import { type Skin, useTools } from "../draw/tools";

/** Onion skin, on or off, and what of it is seen. */
export function OnionBar() {
  const { onion, set } = usePicked("onion", "set");
  const { skin, set: setTools } = useTools();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const change = (changes: Partial<Skin>) => {
    setTools({ skin: { ...skin, ...changes } });
    set({ onion: true });
  };
  const number = (name: "earlier" | "later", label: string) => (
    <NumberField
      label={label}
      value={skin[name]}
      min={0}
      max={12}
      onChange={(n) => change({ [name]: Math.round(n) })}
    />
  );
  return (
    <Box ref={setAnchor} sx={{ ml: "auto", display: "flex", alignItems: "center" }}>
      <Button
        size="small"
        startIcon={<Layers2 size={16} />}
        color={onion ? "primary" : "inherit"}
        aria-pressed={onion}
        onClick={() => set({ onion: !onion })}
        sx={{ bgcolor: onion ? "action.selected" : undefined, px: 1 }}
      >
        Onion skin {onion ? `${skin.earlier} · ${skin.later}` : "off"}
      </Button>
      <OnionSettings anchor={anchor}>
        <Box sx={{ display: "flex", gap: 1 }}>
          {number("earlier", "Earlier")}
          {number("later", "Later")}
        </Box>
        <Toggle label="In-betweens too" on={skin.between} onChange={(between) => change({ between })} />
        <Toggle
          label="Filled, not only outlines"
          on={skin.filled}
          onChange={(filled) => change({ filled })}
        />
        <Box>
          <Soft sx={{ fontSize: 12 }}>Each farther one at {Math.round(skin.fade * 100)} %</Soft>
          <Slider
            aria-label="Onion skin fade"
            value={skin.fade}
            min={0.1}
            max={1}
            step={0.05}
            onChange={(_, value) => change({ fade: value as number })}
          />
        </Box>
      </OnionSettings>
    </Box>
  );
}

function OnionSettings({ anchor, children }: { anchor: HTMLElement | null; children: React.ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Action name="Onion skin settings" onClick={() => setOpen(true)}>
        <SlidersHorizontal size={16} />
      </Action>
      <Popover
        open={open}
        anchorEl={anchor}
        onClose={() => setOpen(false)}
        anchorOrigin={{ vertical: "top", horizontal: "right" }}
        transformOrigin={{ vertical: "bottom", horizontal: "right" }}
      >
        <Box sx={{ p: 2, width: 232, display: "flex", flexDirection: "column", gap: 1 }}>{children}</Box>
      </Popover>
    </>
  );
}

type ToggleProps = { label: string; on: boolean; onChange: (on: boolean) => void };

const Toggle = ({ label, on, onChange }: ToggleProps) => (
  <Box component="label" sx={{ display: "flex", alignItems: "center", gap: 1, fontSize: 13 }}>
    <Switch
      size="small"
      checked={on}
      onChange={(_, value) => onChange(value)}
      slotProps={{ input: { "aria-label": label } }}
    />
    {label}
  </Box>
);
