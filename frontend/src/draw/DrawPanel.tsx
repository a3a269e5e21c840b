import { Box, Button } from "@mui/material";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { useAtHand, useDesk } from "../desk/state";
import { drawingRefusal } from "./DrawStage";
import { PaintSection } from "./PaintSection";
import { PlaceSection } from "./PlaceSection";
import { ShapeList } from "./ShapeList";

export function DrawPanel() {
  const at = useAtHand();
  const { frame, shapes, nodes, tool, onion, set, drawings } = useDesk();
  const refusal = drawingRefusal(at, frame);
  const drawing = at.editing && drawings[at.editing.drawing];
  const chosen = drawing?.shapes.filter((s) => shapes.includes(s.id)) ?? [];
  return (
    <>
      <Section title="Key">
        {refusal && <Hollow>{refusal}</Hollow>}
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, pt: 0.5 }}>
          <Button variant="outlined" onClick={() => actions.newKey("shown")} disabled={!at.layer}>
            New key here
          </Button>
          <Button variant="outlined" onClick={() => actions.newKey("empty")} disabled={!at.layer}>
            Empty key
          </Button>
          <Button variant="outlined" onClick={actions.duplicateKey} disabled={!at.editing}>
            Duplicate to the end
          </Button>
          <Button
            variant="outlined"
            color="error"
            onClick={actions.removeKey}
            disabled={!at.editing || at.editing.frame !== frame}
          >
            Delete key
          </Button>
          <Button variant={onion ? "contained" : "outlined"} onClick={() => set({ onion: !onion })}>
            Onion skin {onion ? "on" : "off"}
          </Button>
        </Box>
      </Section>
      {tool === "points" && at.editing && (
        <Section title="Points">
          {nodes.length === 0 && (
            <Hollow>Click a shape, then drag its points. Double-click its outline to add one.</Hollow>
          )}
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, pt: 0.5 }}>
            <Button variant="outlined" disabled={!nodes.length} onClick={() => actions.nodeKind("smooth")}>
              Smooth
            </Button>
            <Button variant="outlined" disabled={!nodes.length} onClick={() => actions.nodeKind("corner")}>
              Corner
            </Button>
            <Button variant="outlined" disabled={!nodes.length} onClick={actions.removeChosen}>
              Remove {nodes.length > 1 ? `${nodes.length} points` : "point"}
            </Button>
          </Box>
        </Section>
      )}
      <PaintSection chosen={chosen} editing={at.editing?.id ?? null} />
      {at.editing && chosen.length > 0 && <PlaceSection chosen={chosen} editing={at.editing.id} />}
      {at.editing && drawing && <ShapeList drawing={drawing} editing={at.editing.id} />}
    </>
  );
}
