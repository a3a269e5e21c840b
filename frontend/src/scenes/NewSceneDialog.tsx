import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import { SceneNumberFields, type SceneNumbers } from "../desk/SceneDialog";

export function NewSceneDialog({
  onClose,
  onProblem,
}: {
  onClose: () => void;
  onProblem: (e: Error) => void;
}) {
  const [name, setName] = useState("Untitled");
  const [numbers, setNumbers] = useState<SceneNumbers>({ width: 960, height: 540, rate: 12, length: 24 });
  const make = () =>
    api.newScene({ name: name.trim() || "Untitled", ...numbers }).then(
      (card) => {
        location.hash = card.id;
      },
      (e: Error) => {
        onClose();
        onProblem(e);
      },
    );
  return (
    <Dialog open onClose={onClose}>
      <DialogTitle>A new scene</DialogTitle>
      <DialogContent>
        <TextField
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onFocus={(event) => event.target.select()}
          fullWidth
          sx={{ mt: 1 }}
          autoFocus
        />
        <SceneNumberFields numbers={numbers} onChange={setNumbers} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Not now
        </Button>
        <Button onClick={make} variant="contained">
          Make the scene
        </Button>
      </DialogActions>
    </Dialog>
  );
}
