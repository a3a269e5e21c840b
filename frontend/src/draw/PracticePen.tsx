import { Box, Button } from "@mui/material";
import { Soft } from "../desk/Soft";
import { useDesk } from "../desk/state";
import { RECORDINGS, replay } from "./pen/replay";

/** A pen for those who have none: it replays recorded strokes onto the stage, pressure and all. */
export function PracticePen() {
  const set = useDesk((s) => s.set);
  const play = async (name: string) => {
    set({ tool: "freehand" });
    await replay(name);
  };
  return (
    <Box sx={{ pt: 0.5 }}>
      <Soft sx={{ fontSize: 12, pb: 0.5 }}>Practice pen: replays recorded strokes of a tablet pen</Soft>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
        {RECORDINGS.map((name) => (
          <Button key={name} variant="outlined" size="small" onClick={() => void play(name)}>
            {name}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
