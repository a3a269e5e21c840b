import { Box, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { ChevronFirst, ChevronLast, ChevronLeft, ChevronRight, Pause, Play } from "lucide-react";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Soft } from "../desk/Soft";
import { usePicked, useScene } from "../desk/state";
import { OnionBar } from "./OnionBar";

export function PlayBar() {
  const scene = useScene();
  const { playing, frame, set, thereAndBack } = usePicked("playing", "frame", "set", "thereAndBack");
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 0.5,
        px: 1,
        height: 36,
        borderBottom: 1,
        borderColor: "divider",
      }}
    >
      <Action name="Key back" keys="Shift+Q" onClick={() => actions.keyBy(-1)}>
        <ChevronFirst size={18} />
      </Action>
      <Action name="Frame back" keys="Q" onClick={() => actions.frameBy(-1)}>
        <ChevronLeft size={18} />
      </Action>
      <Action
        name={playing ? "Stop" : "Play"}
        keys="Space"
        pressed={playing}
        onClick={() => set({ playing: !playing })}
      >
        {playing ? <Pause size={18} /> : <Play size={18} />}
      </Action>
      <Action name="Frame on" keys="W" onClick={() => actions.frameBy(1)}>
        <ChevronRight size={18} />
      </Action>
      <Action name="Key on" keys="Shift+W" onClick={() => actions.keyBy(1)}>
        <ChevronLast size={18} />
      </Action>
      <Typography sx={{ ml: 1, minWidth: 104, fontWeight: 600 }} data-testid="frame-counter">
        frame {frame} / {scene.length}
      </Typography>
      <Soft sx={{ mr: 1.5 }}>{scene.rate} fps</Soft>
      <ToggleButtonGroup
        size="small"
        exclusive
        value={thereAndBack ? "both" : "loop"}
        onChange={(_, value) => value && set({ thereAndBack: value === "both" })}
        aria-label="How it repeats"
      >
        <ToggleButton value="loop" sx={{ py: 0.25 }}>
          Loop
        </ToggleButton>
        <ToggleButton value="both" sx={{ py: 0.25 }}>
          There and back
        </ToggleButton>
      </ToggleButtonGroup>
      <OnionBar />
    </Box>
  );
}
