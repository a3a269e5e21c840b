import {
  Box,
  Button,
  ButtonBase,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, roughUrl } from "../api/client";
import { Soft } from "../desk/Soft";
import { layFiles, layRough } from "./pictures";

/** Lay a rough or a picture under the drawing: a shipped one, or a file. */
export function PictureDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const roughs = useQuery({ queryKey: ["roughs"], queryFn: api.roughs, enabled: open });
  const field = useRef<HTMLInputElement>(null);
  const done = (work: Promise<void>) => {
    onClose();
    void work;
  };
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Lay a picture under the drawing</DialogTitle>
      <DialogContent>
        <Soft sx={{ pb: 1.5 }}>
          It lies behind everything, faint, to draw over, and is never part of the film. A file can also be
          dropped on the stage: PNG, JPEG, WebP or SVG.
        </Soft>
        <Typography sx={{ fontWeight: 700, pb: 1 }}>On the scanner</Typography>
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
          {roughs.data?.map((name) => (
            <ButtonBase
              key={name}
              aria-label={`Rough: ${name}`}
              onClick={() => done(layRough(name))}
              sx={{
                border: 1,
                borderColor: "divider",
                borderRadius: 1,
                overflow: "hidden",
                display: "block",
                textAlign: "left",
              }}
            >
              <img src={roughUrl(name)} alt="" style={{ width: "100%", display: "block" }} />
              <Box sx={{ px: 1, py: 0.5, fontSize: 13 }}>{name}</Box>
            </ButtonBase>
          ))}
        </Box>
        <input
          ref={field}
          type="file"
          multiple
          accept="image/png,image/jpeg,image/webp,image/svg+xml"
          aria-label="Picture file"
          hidden
          onChange={(event) => {
            if (event.target.files?.length) done(layFiles([...event.target.files]));
            event.target.value = "";
          }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" onClick={() => field.current?.click()}>
          Choose a file
        </Button>
      </DialogActions>
    </Dialog>
  );
}
