import { Box, IconButton, Tooltip } from "@mui/material";
import {
  Circle,
  Hexagon,
  MousePointer2,
  MoveDiagonal2,
  PaintBucket,
  PenLine,
  Pipette,
  Spline,
  Square,
  Star,
  Type,
  Waypoints,
} from "lucide-react";
import type { ReactNode } from "react";
import { type Tool, usePicked } from "../desk/state";
import { type Form, useTools } from "./tools";

type Entry = { tool: Tool; form?: Form; name: string; key: string; icon: ReactNode };

const TOOLS: Entry[] = [
  { tool: "arrange", name: "Arrange", key: "A", icon: <MousePointer2 size={20} /> },
  { tool: "points", name: "Points", key: "S", icon: <Spline size={20} /> },
  { tool: "freehand", name: "Freehand", key: "D", icon: <PenLine size={20} /> },
  { tool: "path", name: "Placed points", key: "Z", icon: <Waypoints size={20} /> },
  { tool: "form", form: "ellipse", name: "Ellipse", key: "F", icon: <Circle size={20} /> },
  { tool: "form", form: "box", name: "Box", key: "F again", icon: <Square size={20} /> },
  { tool: "form", form: "polygon", name: "Polygon", key: "F again", icon: <Hexagon size={20} /> },
  { tool: "form", form: "star", name: "Star", key: "F again", icon: <Star size={20} /> },
  { tool: "letters", name: "Letters", key: "T", icon: <Type size={20} /> },
  { tool: "pour", name: "Pour", key: "G", icon: <PaintBucket size={20} /> },
  { tool: "width", name: "Width along a line", key: "Shift+D", icon: <MoveDiagonal2 size={20} /> },
  { tool: "pick", name: "Pick a colour", key: "Shift+G", icon: <Pipette size={20} /> },
];

export function ToolColumn() {
  const { tool, set } = usePicked("tool", "set");
  const { form, set: setTools } = useTools();
  return (
    <Box
      role="toolbar"
      aria-label="Tools"
      aria-orientation="vertical"
      sx={{
        width: 48,
        bgcolor: "background.paper",
        borderRight: 1,
        borderColor: "divider",
        display: "flex",
        flexDirection: "column",
        alignItems: "center",
        pt: 0.75,
        gap: 0.25,
        overflowY: "auto",
        scrollbarWidth: "none",
      }}
    >
      {TOOLS.map((entry) => {
        const on = tool === entry.tool && (!entry.form || form === entry.form);
        return (
          <Tooltip key={entry.name} title={`${entry.name} (${entry.key})`} placement="right">
            <IconButton
              aria-label={entry.name}
              aria-pressed={on}
              color={on ? "primary" : "default"}
              sx={{ borderRadius: 1, p: 0.9, bgcolor: on ? "action.selected" : undefined }}
              onClick={() => {
                set({ tool: entry.tool, nodes: [] });
                if (entry.form) setTools({ form: entry.form });
              }}
            >
              {entry.icon}
            </IconButton>
          </Tooltip>
        );
      })}
    </Box>
  );
}
