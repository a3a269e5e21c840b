import { Box } from "@mui/material";
import type { Key, Layer } from "../api/types";
import { sourceOf } from "../cycle/place";
import { keyName, playedAt } from "../timeline/exposure";
import { useAtHand, useDesk, useScene } from "./state";

/** Which frames an edit of a key changes, beyond the one that is looked at. */
function reach(layer: Layer, editing: Key, length: number): string {
  const index = layer.keys.findIndex((k) => k.id === editing.id);
  const [before, after] = [layer.keys[index - 1], layer.keys[index + 1]];
  const first = before?.span.inbetween ? before.frame + 1 : editing.frame;
  const last = (after?.frame ?? length + 1) - 1;
  return first === last ? `frame ${first} only` : `frames ${first} to ${last}`;
}

/** Always visible, in words: what is being edited, and what deleting what is chosen would change. */
export function StatusLine() {
  const { layer, exposure, editing } = useAtHand();
  const frame = useDesk((s) => s.frame);
  const flip = useDesk((s) => s.flip);
  const shapes = useDesk((s) => {
    if (s.view !== "draw") return 0;
    const drawn = editing && s.drawings[editing.drawing];
    return drawn ? drawn.shapes.filter((shape) => s.shapes.includes(shape.id)).length : s.shapes.length;
  });
  const empty = useDesk(
    (s) => s.view === "draw" && !!editing && s.drawings[editing.drawing]?.shapes.length === 0,
  );
  const part = useDesk((s) => s.part);
  const scene = useScene();
  let text = "No layer is at hand. Add one on the timeline.";
  if (layer) {
    const played = playedAt(layer, exposure, frame);
    const on = ` on ${layer.name}${layer.locked ? " (locked)" : ""}${layer.hidden ? " (hidden)" : ""}`;
    if (layer.picture) text = `A picture${on}: to draw over, never part of the film.`;
    else if (layer.cycle) text = `A cycle${on}: it plays the keys of ${sourceOf(scene, layer).name}.`;
    else if (!exposure) text = `Nothing at ${frame}${on} yet. X makes a key here.`;
    else if (played !== frame)
      text = `Frame ${played}${on}, played again at ${frame}${editing ? ": an edit changes it there, too" : ""}. X makes a key here`;
    else if (!editing)
      text = `In-between at ${frame}${on}: a picture, not yet a drawing. C keeps it to draw on it.`;
    else if (editing.frame === frame) text = `${keyName(editing)} at ${frame}${on}`;
    else
      text = `${keyName(editing)} at ${editing.frame}${on}, held to ${frame}: an edit changes the whole hold. X makes a key here`;
    if (empty) text += ". Nothing is drawn yet: D draws, F makes forms; or drop a rough here to draw over.";
    if (editing && part) text += `, inside “${part.replaceAll("/", " › ")}”`;
    if (editing && shapes > 0)
      text += `. ${shapes === 1 ? "One shape" : `${shapes} shapes`} chosen: Delete changes ${reach(layer, editing, scene.length)}.`;
    else if (!editing && exposure && shapes > 0)
      text += " Nothing can be deleted from it; that is done on the keys.";
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
