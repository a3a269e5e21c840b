import { Alert, Box, Button, Typography } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FilePlus2, FolderInput } from "lucide-react";
import { useRef, useState } from "react";
import { api } from "../api/client";
import type { SceneCard } from "../api/types";
import { Soft } from "../desk/Soft";
import { useDesk } from "../desk/state";
import { NewSceneDialog } from "./NewSceneDialog";
import { SceneTile } from "./SceneTile";

/** All scenes as cards. */
export function Shelf() {
  const client = useQueryClient();
  const { data: scenes, error } = useQuery({
    queryKey: ["scenes"],
    queryFn: api.scenes,
    refetchOnMount: "always",
  });
  const set = useDesk((s) => s.set);
  const [making, setMaking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const refresh = () => client.invalidateQueries({ queryKey: ["scenes"] });
  const tell = (e: Error) => set({ notice: { kind: "error", text: e.message } });

  const bringIn = async (files: File[]) => {
    if (!files.length) return;
    try {
      const { scene, lost } = await api.bringIn(files);
      if (lost.length)
        set({ notice: { kind: "info", text: `Left out of '${scene.name}': ${lost.join("; ")}.` } });
      location.hash = scene.id;
    } catch (e) {
      tell(e as Error);
    }
  };
  const remove = async (scene: SceneCard) => {
    try {
      await api.remove(scene.id);
    } catch (e) {
      return tell(e as Error);
    }
    await refresh();
    const restore = () => void api.restore(scene.id).then(refresh, tell);
    set({
      notice: { kind: "info", text: `'${scene.name}' is deleted.`, action: { name: "Undo", run: restore } },
    });
  };
  return (
    <Box
      sx={{ height: "100%", overflow: "auto" }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void bringIn([...event.dataTransfer.files]);
      }}
    >
      <Box sx={{ maxWidth: 1120, mx: "auto", px: 4, py: 4 }}>
        <Box sx={{ display: "flex", alignItems: "flex-end", gap: 1.5, mb: 3 }}>
          <Box sx={{ flex: 1 }}>
            <Typography
              component="h1"
              sx={{ fontSize: 30, fontWeight: 700, color: "secondary.main", lineHeight: 1.1 }}
            >
              Knead
            </Typography>
            <Soft>A few drawn keys in, a drawn morph out.</Soft>
          </Box>
          <Button
            variant="outlined"
            startIcon={<FolderInput size={18} />}
            onClick={() => file.current?.click()}
          >
            Bring in SVG keys or a scene file
          </Button>
          <Button variant="contained" startIcon={<FilePlus2 size={18} />} onClick={() => setMaking(true)}>
            New scene
          </Button>
          <input
            ref={file}
            type="file"
            multiple
            hidden
            accept=".svg,.json"
            data-testid="bring-in"
            onChange={(event) => {
              void bringIn([...(event.target.files ?? [])]);
              event.target.value = "";
            }}
          />
        </Box>
        {error && (
          <Alert severity="error">
            {(error as Error).message} Start Knead again with its start command, then reload this page.
          </Alert>
        )}
        {scenes?.length === 0 && (
          <Soft sx={{ py: 6, textAlign: "center" }}>
            The shelf is empty. Make a new scene, or drop two SVG drawings here: they become the keys of a
            morph.
          </Soft>
        )}
        <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(300px, 1fr))", gap: 3 }}>
          {scenes?.map((scene) => (
            <SceneTile
              key={scene.id}
              scene={scene}
              onCopy={() => void api.copy(scene.id).then(refresh, tell)}
              onRemove={() => void remove(scene)}
            />
          ))}
        </Box>
      </Box>
      {making && <NewSceneDialog onClose={() => setMaking(false)} onProblem={tell} />}
    </Box>
  );
}
