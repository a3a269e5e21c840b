import { Box } from "@mui/material";
import { DrawPanel } from "../draw/DrawPanel";
import { DrawStage } from "../draw/DrawStage";
import { layFiles } from "../draw/pictures";
import { ToolColumn } from "../draw/ToolColumn";
import { MatchPanel } from "../match/MatchPanel";
import { MatchStage } from "../match/MatchStage";
import { usePlayback } from "../review/playback";
import { ReviewPanel } from "../review/ReviewPanel";
import { ReviewStage } from "../review/ReviewStage";
import { Strip } from "../strip/Strip";
import { TimePanel } from "../time/TimePanel";
import { TimeStage } from "../time/TimeStage";
import { Timeline } from "../timeline/Timeline";
import { useDeskKeys } from "./hotkeys";
import { KeySheet } from "./KeySheet";
import { StatusLine } from "./StatusLine";
import { SpansProvider } from "./spans";
import { useDesk } from "./state";
import { TopBar } from "./TopBar";

/** The shell around the four views: they share stage, strip and timeline. */
export function Desk() {
  const view = useDesk((s) => s.view);
  useDeskKeys();
  const kept = usePlayback();
  return (
    <SpansProvider>
      <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
        <TopBar />
        <Box sx={{ flex: 1, display: "flex", minHeight: 0 }}>
          {view === "draw" && <ToolColumn />}
          <Box sx={{ flex: 1, display: "flex", flexDirection: "column", minWidth: 0 }}>
            <Box
              component="main"
              sx={{ flex: 1, display: "flex", position: "relative", minHeight: 0 }}
              onDragOver={(event) => event.dataTransfer.types.includes("Files") && event.preventDefault()}
              onDrop={(event) => {
                event.preventDefault();
                if (view === "draw" && event.dataTransfer.files.length)
                  void layFiles([...event.dataTransfer.files]);
              }}
            >
              {view === "draw" && <DrawStage />}
              {view === "match" && <MatchStage />}
              {view === "time" && <TimeStage />}
              {view === "review" && <ReviewStage />}
              <StatusLine />
            </Box>
            <Strip />
          </Box>
          <Box
            component="aside"
            aria-label="Side panel"
            sx={{
              width: 288,
              flexShrink: 0,
              position: "relative",
              bgcolor: "background.paper",
              borderLeft: 1,
              borderColor: "divider",
              overflowY: "auto",
              overflowX: "hidden",
            }}
          >
            {view === "draw" && <DrawPanel />}
            {view === "match" && <MatchPanel />}
            {view === "time" && <TimePanel />}
            {view === "review" && <ReviewPanel kept={kept} />}
          </Box>
        </Box>
        <Timeline />
      </Box>
      <KeySheet />
    </SpansProvider>
  );
}
