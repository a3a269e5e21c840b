import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useState } from "react";
import { NumberField } from "./NumberField";
import { useDesk, useScene } from "./state";

export type SceneNumbers = { width: number; height: number; rate: number; length: number };

export function SceneNumberFields({
  numbers,
  onChange,
}: {
  numbers: SceneNumbers;
  onChange: (numbers: SceneNumbers) => void;
}) {
  const put = (field: keyof SceneNumbers) => (value: number) => onChange({ ...numbers, [field]: value });
  return (
    <Box sx={{ display: "flex", gap: 1.5, pt: 2 }}>
      <NumberField
        label="Width"
        value={numbers.width}
        min={1}
        max={20000}
        onChange={put("width")}
        width={92}
      />
      <NumberField
        label="Height"
        value={numbers.height}
        min={1}
        max={20000}
        onChange={put("height")}
        width={92}
      />
      <NumberField
        label="Rate (fps)"
        value={numbers.rate}
        min={1}
        max={120}
        onChange={put("rate")}
        width={92}
      />
      <NumberField
        label="Frames"
        value={numbers.length}
        min={1}
        max={100000}
        onChange={(v) => put("length")(Math.round(v))}
        width={92}
      />
    </Box>
  );
}

export function SceneDialog({ onClose }: { onClose: () => void }) {
  const scene = useScene();
  const edit = useDesk((s) => s.edit);
  const [name, setName] = useState(scene.name);
  const { width, height, rate, length } = scene;
  const [numbers, setNumbers] = useState<SceneNumbers>({ width, height, rate, length });
  const change = async () => {
    if (name.trim() && name.trim() !== scene.name) await edit({ type: "set_scene", name: name.trim() });
    if (Object.entries(numbers).some(([k, v]) => scene[k as keyof SceneNumbers] !== v))
      await edit({ type: "set_scene", ...numbers });
    onClose();
  };
  return (
    <Dialog open onClose={onClose}>
      <DialogTitle>This scene</DialogTitle>
      <DialogContent>
        <TextField
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          fullWidth
          sx={{ mt: 1 }}
          autoFocus
        />
        <SceneNumberFields numbers={numbers} onChange={setNumbers} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Leave it
        </Button>
        <Button onClick={change} variant="contained">
          Change the scene
        </Button>
      </DialogActions>
    </Dialog>
  );
}
