import { Box } from "@mui/material";
import type { Drawing, Shape } from "../api/types";
import { Rename } from "../desk/Rename";
import { Hollow, Section } from "../desk/Section";
import { useDesk } from "../desk/state";
import { Thumb } from "../stage/Thumb";

/** The shapes of a key, front to back. */
export function ShapeList({ drawing, editing }: { drawing: Drawing; editing: string }) {
  const { shapes, set, edit } = useDesk();
  const nodes = drawing.shapes.flatMap((s) => s.contours).reduce((sum, c) => sum + c.nodes.length, 0);
  const choose = (shape: Shape, add: boolean) =>
    set({
      shapes: add
        ? shapes.includes(shape.id)
          ? shapes.filter((s) => s !== shape.id)
          : [...shapes, shape.id]
        : [shape.id],
      nodes: [],
    });
  return (
    <Section
      title={`Shapes · ${drawing.shapes.length}`}
      aside={<Box sx={{ fontSize: 12, color: "text.secondary" }}>{nodes} points</Box>}
    >
      {drawing.shapes.length === 0 && (
        <Hollow>Nothing is drawn yet. Take a tool from the left, or bring in an SVG from the shelf.</Hollow>
      )}
      {drawing.shapes.toReversed().map((shape) => {
        const on = shapes.includes(shape.id);
        return (
          <Box
            key={shape.id}
            role="option"
            aria-selected={on}
            onClick={(event) => choose(shape, event.shiftKey || event.ctrlKey)}
            sx={{
              display: "flex",
              alignItems: "center",
              gap: 1,
              px: 0.5,
              height: 28,
              borderRadius: 1,
              bgcolor: on ? "action.selected" : undefined,
              "&:hover": { bgcolor: "action.hover" },
            }}
          >
            <Thumb shapes={[shape]} width={30} height={22} />
            <Rename
              name={shape.name}
              label="shape"
              onRename={(name) => void edit({ type: "rename_shape", key: editing, shape: shape.id, name })}
            />
          </Box>
        );
      })}
    </Section>
  );
}
