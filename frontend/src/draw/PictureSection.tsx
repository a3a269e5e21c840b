import { Box, Button, MenuItem, TextField } from "@mui/material";
import type { Layer, Operation, Picture } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Hollow, Section } from "../desk/Section";
import { Slide } from "../desk/Slide";
import { Soft } from "../desk/Soft";
import { usePicked, useScene } from "../desk/state";

/** A picture that is drawn over: where it lies, when it is there, how faint it is. */
export function PictureSection({ layer, picture }: { layer: Layer; picture: Picture }) {
  const scene = useScene();
  const { edit, frame } = usePicked("edit", "frame");
  const others = scene.layers.filter((l) => l.id !== layer.id && (l.picture || l.keys.length));
  const place = (changes: object) =>
    void edit({ type: "place_picture", layer: layer.id, ...changes } as Operation);
  const [x, y] = picture.at as [number, number];
  return (
    <Section title={`Picture on “${layer.name}”`}>
      <Hollow>
        {layer.locked
          ? "The layer is locked. Unlock it on the timeline to move the picture."
          : "Drag it on the stage; its corners scale it, the round knob turns it (Shift: in steps). Brought forward with the layer's menu, only its dark lines show over the drawing."}
      </Hollow>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 1, rowGap: 1.5, pt: 1.25 }}>
        <NumberField label="X" value={x} onChange={(to) => place({ at: [to, y] })} />
        <NumberField label="Y" value={y} onChange={(to) => place({ at: [x, to] })} />
        <NumberField label="Turn °" value={picture.turn} onChange={(turn) => place({ turn })} />
        <NumberField
          label="Size %"
          value={picture.scale * 100}
          min={1}
          onChange={(size) => place({ scale: size / 100 })}
        />
        <NumberField
          label="From frame"
          value={picture.first}
          min={1}
          max={scene.length}
          onChange={(first) => place({ first: Math.round(first) })}
        />
        <NumberField
          label="To frame"
          value={picture.last ?? scene.length}
          min={1}
          max={100_000}
          onChange={(last) => place({ last: Math.round(last) >= scene.length ? 0 : Math.round(last) })}
        />
      </Box>
      <Soft sx={{ fontSize: 12, pt: 1.25 }}>Strength {Math.round(layer.opacity * 100)} %</Soft>
      <Slide
        aria-label="Strength"
        value={layer.opacity}
        min={0.05}
        max={1}
        step={0.05}
        onCommit={(opacity) => edit({ type: "set_layer", layer: layer.id, opacity } as Operation)}
      />
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", pt: 0.5 }}>
        <TextField
          select
          label="Match size and place with"
          value=""
          sx={{ flex: 1 }}
          disabled={layer.locked || !others.length}
          onChange={(event) =>
            void edit({ type: "match_picture", layer: layer.id, to: event.target.value, frame })
          }
        >
          {others.map((other) => (
            <MenuItem key={other.id} value={other.id} sx={{ fontSize: 13 }}>
              {other.name}
              {other.picture ? " (picture)" : ""}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      <Box sx={{ display: "flex", gap: 0.75, pt: 1 }}>
        <Button
          size="small"
          variant="outlined"
          onClick={() => place({ first: frame, last: frame })}
          disabled={layer.locked}
        >
          Only at frame {frame}
        </Button>
        <Button
          size="small"
          variant="outlined"
          onClick={() =>
            void edit({ type: "set_layer", layer: layer.id, locked: !layer.locked } as Operation)
          }
        >
          {layer.locked ? "Unlock" : "Lock"}
        </Button>
      </Box>
    </Section>
  );
}
