import { Box, IconButton, Tooltip } from "@mui/material";
import { Circle, MousePointer2, PenLine, Spline, Square } from "lucide-react";
import type { ReactNode } from "react";
import { type Tool, useDesk } from "../desk/state";

type Entry = { tool: Tool; form?: "box" | "ellipse"; name: string; key: string; icon: ReactNode };

const TOOLS: Entry[] = [
  { tool: "arrange", name: "Arrange", key: "A", icon: <MousePointer2 size={20} /> },
  { tool: "points", name: "Points", key: "S", icon: <Spline size={20} /> },
  { tool: "freehand", name: "Freehand", key: "D", icon: <PenLine size={20} /> },
  { tool: "form", form: "ellipse", name: "Ellipse", key: "F", icon: <Circle size={20} /> },
  { tool: "form", form: "box", name: "Box", key: "F again", icon: <Square size={20} /> },
];

export function ToolColumn() {
  const { tool, form, set } = useDesk();
  return (
    <Box
      sx={{
        width: 48,
        bgcolor: "background.paper",
        borderRight: 1,
        borderColor: "divider",
        display: "flex",
        flexDirection: "column",
        alignItems: "center",
        pt: 1,
        gap: 0.5,
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
              sx={{ borderRadius: 1, bgcolor: on ? "action.selected" : undefined }}
              onClick={() =>
                set({ tool: entry.tool, ...(entry.form ? { form: entry.form } : {}), nodes: [] })
              }
            >
              {entry.icon}
            </IconButton>
          </Tooltip>
        );
      })}
    </Box>
  );
}
