import { Box, ButtonBase, Divider, Menu, MenuItem, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { EllipsisVertical } from "lucide-react";
import { useState } from "react";
import type { Layer, Operation } from "../api/types";
import { Action } from "../desk/Action";
import { newId } from "../desk/ids";
import { Slide } from "../desk/Slide";
import { Soft } from "../desk/Soft";
import { usePicked, useScene } from "../desk/state";
import { TAGS } from "./tags";

const REPEATS = ["once", "round and round", "there and back"] as const;

/** What else can be done with a layer: order, showing alone, a copy, a tag, fading, deleting. */
export function LayerMenu({ layer }: { layer: Layer }) {
  const [open, setOpen] = useState(false);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { edit, set } = usePicked("edit", "set");
  const layers = useScene().layers;
  const index = layers.findIndex((l) => l.id === layer.id);
  const alone = !layer.hidden && layers.every((other) => other.hidden || other.id === layer.id);
  const choose = (operation: Operation) => {
    setOpen(false);
    void edit(operation);
  };
  /** Make another layer of this one, and take it in hand. */
  const derive = (operation: (id: string) => Operation) => {
    const id = newId();
    setOpen(false);
    void edit(operation(id)).then((done) => done && set({ layer: id }));
  };
  const move = (to: number) => choose({ type: "move_layer", layer: layer.id, index: to });
  return (
    <Box ref={setAnchor}>
      <Action name={`More for layer ${layer.name}`} onClick={() => setOpen(true)}>
        <EllipsisVertical size={16} />
      </Action>
      <Menu open={open} anchorEl={anchor} onClose={() => setOpen(false)}>
        <MenuItem disabled={index === layers.length - 1} onClick={() => move(index + 1)}>
          Bring forward
        </MenuItem>
        <MenuItem disabled={index === 0} onClick={() => move(index - 1)}>
          Send backward
        </MenuItem>
        <MenuItem onClick={() => choose({ type: "show_alone", layer: layer.id })}>
          {alone ? "Show all layers" : "Show alone"}
        </MenuItem>
        <MenuItem onClick={() => choose({ type: "duplicate_layer", layer: layer.id })}>
          Duplicate layer
        </MenuItem>
        {(layer.cycle || layer.keys.length > 0) && (
          <MenuItem
            title="A layer in front of this one plays its keys at another time, in another place: what you change here changes there, too."
            onClick={() => derive((id) => ({ type: "add_cycle", layer: layer.id, id }))}
          >
            Play again on a new layer
          </MenuItem>
        )}
        <MenuItem
          title="Every frame becomes a drawing of its own, on a layer in front of this one, which is hidden and stays as it is."
          onClick={() => derive((id) => ({ type: "keep_drawings", layer: layer.id, id }))}
        >
          Turn into drawings
        </MenuItem>
        {layer.keys.length > 1 && (
          <Box sx={{ px: 2, py: 1 }}>
            <Soft sx={{ fontSize: 12 }}>Play</Soft>
            <ToggleButtonGroup
              size="small"
              exclusive
              orientation="vertical"
              fullWidth
              value={layer.repeat}
              aria-label="What follows the last key"
              onChange={(_, repeat) => repeat && choose({ type: "set_layer", layer: layer.id, repeat })}
            >
              {REPEATS.map((repeat) => (
                <ToggleButton key={repeat} value={repeat} sx={{ py: 0.25 }}>
                  {repeat}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
          </Box>
        )}
        <Box role="group" aria-label="Layer tag" sx={{ display: "flex", gap: 0.75, px: 2, py: 1 }}>
          {TAGS.map(([tag, color]) => (
            <ButtonBase
              key={tag}
              title={tag === "none" ? "No tag" : `Tag: ${tag}`}
              aria-label={tag === "none" ? "No tag" : `Tag: ${tag}`}
              aria-pressed={layer.tag === tag}
              onClick={() => choose({ type: "set_layer", layer: layer.id, tag })}
              sx={{
                width: 22,
                height: 22,
                borderRadius: 1,
                bgcolor: color,
                border: "2px solid",
                borderColor: layer.tag === tag ? "text.primary" : "divider",
              }}
            />
          ))}
        </Box>
        <Box sx={{ px: 2, py: 1, width: 200 }} onKeyDown={(event) => event.stopPropagation()}>
          <Soft sx={{ fontSize: 12 }}>Fade: {Math.round(layer.opacity * 100)} %</Soft>
          <Slide
            aria-label="Layer opacity"
            value={layer.opacity}
            min={0}
            max={1}
            step={0.05}
            onCommit={(opacity) => edit({ type: "set_layer", layer: layer.id, opacity })}
          />
        </Box>
        <Divider />
        <MenuItem
          sx={{ color: "error.main" }}
          onClick={() => choose({ type: "remove_layer", layer: layer.id })}
        >
          Delete layer
        </MenuItem>
      </Menu>
    </Box>
  );
}
