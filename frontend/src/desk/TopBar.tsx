import {
  Box,
  Button,
  CircularProgress,
  Menu,
  MenuItem,
  ToggleButton,
  ToggleButtonGroup,
  Tooltip,
  Typography,
} from "@mui/material";
import { ChevronDown, Keyboard, Lamp, Redo2, Sun, Undo2 } from "lucide-react";
import { useState } from "react";
import { bundleUrl } from "../api/client";
import { Action } from "./Action";
import { ExportDialog } from "./ExportDialog";
import { SceneDialog } from "./SceneDialog";
import { usePicked, useScene, type View } from "./state";

const VIEWS: [View, string, string][] = [
  ["draw", "Draw", "What do the keys look like?"],
  ["match", "Match", "What becomes what?"],
  ["time", "Time", "When, and along which path?"],
  ["review", "Review", "Does it work?"],
];

export function TopBar() {
  const scene = useScene();
  const { view, set, doc, step, theme } = usePicked("view", "set", "doc", "step", "theme");
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [dialog, setDialog] = useState<"scene" | "export" | null>(null);
  const turnTheme = () => {
    const next = theme === "day" ? "lamp" : "day";
    localStorage.setItem("theme", next);
    set({ theme: next });
  };
  return (
    <Box
      component="header"
      sx={{
        height: 48,
        flexShrink: 0,
        display: "grid",
        gridTemplateColumns: "1fr auto 1fr",
        alignItems: "center",
        bgcolor: "background.paper",
        borderBottom: 1,
        borderColor: "divider",
        px: 1.5,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0 }}>
        <Typography
          component="a"
          href="#"
          sx={{ fontWeight: 700, fontSize: 18, color: "secondary.main", textDecoration: "none" }}
          title="To the shelf"
        >
          Knead
        </Typography>
        <Button
          color="inherit"
          endIcon={<ChevronDown size={16} />}
          onClick={(event) => setMenu(event.currentTarget)}
          sx={{ minWidth: 0, fontSize: 14 }}
        >
          <Typography noWrap sx={{ fontWeight: 600 }} data-testid="scene-name">
            {scene.name}
          </Typography>
        </Button>
        <Menu open={!!menu} anchorEl={menu} onClose={() => setMenu(null)}>
          <MenuItem component="a" href="#">
            To the shelf
          </MenuItem>
          <MenuItem
            onClick={() => {
              setMenu(null);
              setDialog("scene");
            }}
          >
            Name, size, rate, length…
          </MenuItem>
          <MenuItem component="a" href={bundleUrl(scene.id)} download onClick={() => setMenu(null)}>
            Save the scene as a file
          </MenuItem>
        </Menu>
      </Box>
      <ToggleButtonGroup
        size="small"
        exclusive
        value={view}
        onChange={(_, value) => value && set({ view: value })}
        aria-label="View"
      >
        {VIEWS.map(([name, label, question], k) => (
          <ToggleButton key={name} value={name} title={`${question} (${k + 1})`} sx={{ px: 2, py: 0.5 }}>
            {label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "flex-end", gap: 0.25, minWidth: 0 }}>
        <SavedWord />
        <Action
          name={doc?.undo ? `Undo: ${doc.undo}` : "Nothing to undo"}
          keys="Ctrl+Z"
          disabled={!doc?.undo}
          onClick={() => void step("undo")}
        >
          <Undo2 size={20} />
        </Action>
        <Action
          name={doc?.redo ? `Redo: ${doc.redo}` : "Nothing to redo"}
          keys="Ctrl+Shift+Z"
          disabled={!doc?.redo}
          onClick={() => void step("redo")}
        >
          <Redo2 size={20} />
        </Action>
        <Action name={theme === "day" ? "Lamp: dim the room" : "Day: light the room"} onClick={turnTheme}>
          {theme === "day" ? <Lamp size={20} /> : <Sun size={20} />}
        </Action>
        <Action name="Keys" keys="?" onClick={() => set({ keySheet: true })}>
          <Keyboard size={20} />
        </Action>
        <Button variant="contained" onClick={() => setDialog("export")} sx={{ ml: 1 }}>
          Export
        </Button>
      </Box>
      {dialog === "scene" && <SceneDialog onClose={() => setDialog(null)} />}
      {dialog === "export" && <ExportDialog onClose={() => setDialog(null)} />}
    </Box>
  );
}

function SavedWord() {
  const { saving, trouble } = usePicked("saving", "trouble");
  if (trouble)
    return (
      <Typography
        role="alert"
        sx={{ color: "error.main", fontSize: 12, lineHeight: 1.2, mr: 1, maxWidth: 260 }}
      >
        {trouble}
      </Typography>
    );
  return (
    <Tooltip title="Every step is saved as it is made; there is no save button.">
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 0.75,
          mr: 1,
          color: "text.secondary",
          fontSize: 12,
        }}
        data-testid="saved"
      >
        {saving ? <CircularProgress size={11} aria-label="saving" /> : "saved"}
      </Box>
    </Tooltip>
  );
}
