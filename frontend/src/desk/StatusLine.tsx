import { Box } from "@mui/material";
import { useAtHand, useDesk } from "./state";

/** Always visible, in words: what is being edited. */
export function StatusLine() {
  const { layer, exposure, editing } = useAtHand();
  const frame = useDesk((s) => s.frame);
  const flip = useDesk((s) => s.flip);
  let text = "No layer is at hand. Add one on the timeline.";
  if (layer) {
    const on = ` on ${layer.name}${layer.locked ? " (locked)" : ""}${layer.hidden ? " (hidden)" : ""}`;
    if (!exposure) text = `Nothing at ${frame}${on} yet. X makes a key here.`;
    else if (!editing)
      text = `In-between at ${frame}${on}: a picture, not yet a drawing. C keeps it to draw on it.`;
    else if (editing.frame === frame) text = `${editing.breakdown ? "Breakdown" : "Key"} at ${frame}${on}`;
    else
      text = `Key at ${editing.frame}${on}, held to ${frame}: an edit changes the whole hold. X makes a key here.`;
  }
  if (flip) text = `Flipped to the other key of the span. ${text}`;
  return (
    <Box
      role="status"
      data-testid="status-line"
      sx={{
        position: "absolute",
        left: 8,
        bottom: 6,
        maxWidth: "75%",
        px: 1,
        py: 0.25,
        bgcolor: "background.paper",
        border: 1,
        borderColor: "divider",
        borderRadius: 1,
        fontSize: 12,
        pointerEvents: "none",
      }}
    >
      {text}
    </Box>
  );
}
