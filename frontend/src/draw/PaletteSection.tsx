import { Box, ButtonBase, Tooltip } from "@mui/material";
import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Operation } from "../api/types";
import { Action } from "../desk/Action";
import { Rename } from "../desk/Rename";
import { Hollow, Section } from "../desk/Section";
import { useAtHand, usePicked, useScene } from "../desk/state";
import { ColorField } from "./ColorField";
import { evenPaint } from "./style";
import { useTools } from "./tools";

/** The scene's colours: change one, and all that follow it change. A click paints with one, Shift on the line. */
export function PaletteSection() {
  const { palette } = useScene();
  const { edit, shapes } = usePicked("edit", "shapes");
  const key = useAtHand().editing?.id;
  const { brush, spare, set } = useTools();
  const [open, setOpen] = useState<string | null>(null);
  const opened = palette.find((s) => s.id === open);

  const use = (id: string, color: string, line: boolean) => {
    const paint = { ...evenPaint(color), swatch: id };
    const part = line ? "line" : "fill";
    set({ brush: { ...brush, [part]: paint }, spare: { ...spare, [part]: paint } });
    if (key && shapes.length) void edit({ type: "repaint", key, shapes, [part]: paint } as Operation);
  };
  const add = () => {
    const color = (brush.fill ?? spare.fill).color;
    void edit({ type: "add_swatch", name: `colour ${palette.length + 1}`, color } as Operation);
  };
  return (
    <Section
      title="Palette"
      aside={
        <Action name="Add the fill's colour to the palette" onClick={add}>
          <Plus size={16} />
        </Action>
      }
    >
      {!palette.length && (
        <Hollow>Named colours of the whole scene. Change one, and everything that follows it changes.</Hollow>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, pt: 0.5 }}>
        {palette.map((s) => (
          <Tooltip key={s.id} title={`${s.name}: click to fill, Shift for the line`}>
            <ButtonBase
              aria-label={`Paint with ${s.name}`}
              onClick={(event) => {
                setOpen(s.id);
                use(s.id, s.color, event.shiftKey);
              }}
              sx={{
                width: 24,
                height: 24,
                borderRadius: 0.75,
                bgcolor: s.color,
                border: s.id === open ? 2 : 1,
                borderColor: s.id === open ? "secondary.main" : "divider",
              }}
            />
          </Tooltip>
        ))}
      </Box>
      {opened && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, pt: 0.75 }}>
          <ColorField
            label={`Palette: ${opened.name}`}
            width={36}
            color={opened.color}
            onChange={(color) => void edit({ type: "change_swatch", swatch: opened.id, color })}
          />
          <Rename
            name={opened.name}
            label="colour"
            onRename={(name) => void edit({ type: "change_swatch", swatch: opened.id, name })}
          />
          <Action
            name={`Take ${opened.name} off the palette`}
            onClick={() => {
              setOpen(null);
              void edit({ type: "remove_swatch", swatch: opened.id });
            }}
          >
            <Trash2 size={15} />
          </Action>
        </Box>
      )}
    </Section>
  );
}
