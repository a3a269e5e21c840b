import { Box, Button } from "@mui/material";
import type { Drawing, Operation, Shape } from "../api/types";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { usePicked } from "../desk/state";

type Props = { chosen: Shape[]; drawing: Drawing; editing: string };

/** What can be done with points and with the structure of an outline. */
export function PointSection({ chosen, drawing, editing: key }: Props) {
  const { nodes, edit, set } = usePicked("nodes", "edit", "set");
  const run = (operation: Operation) => void edit(operation);
  const shapes = chosen.map((s) => s.id);
  const contours = chosen.flatMap((s) => s.contours);
  const ends = drawing.shapes
    .flatMap((s) => s.contours)
    .filter((c) => !c.closed)
    .flatMap((c) => [c.nodes[0]?.id, c.nodes.at(-1)?.id]);
  const bothEnds = nodes.length === 2 && nodes.every((n) => ends.includes(n));
  const open = contours.some((c) => !c.closed);
  const closed = contours.some((c) => c.closed);
  const some = nodes.length > 0;
  const widths = chosen.some((s) => s.contours.some((c) => c.nodes.some((n) => n.weight !== 1)));

  const button = (name: string, on: boolean, act: () => void) => (
    <Button variant="outlined" size="small" disabled={!on} onClick={act}>
      {name}
    </Button>
  );
  const row = { display: "flex", flexWrap: "wrap", gap: 0.5, pt: 0.75 };
  return (
    <Section
      title={
        some ? `${nodes.length} ${nodes.length > 1 ? "points" : "point"} chosen` : "Points of the outline"
      }
    >
      {!chosen.length && (
        <Hollow>Click a shape, then drag its points. Double-click its outline to add one.</Hollow>
      )}
      <Box sx={row}>
        {button("Corner", some, () => actions.nodeKind("corner"))}
        {button("Smooth", some, () => actions.nodeKind("smooth"))}
        {button("Symmetric", some, () => actions.nodeKind("symmetric"))}
        {button("Straighten", some, () => run({ type: "straighten_points", key, nodes }))}
        {button("Line up ↕", nodes.length > 1, () =>
          run({ type: "align_points", key, nodes, to: "upright" }),
        )}
        {button("Line up ↔", nodes.length > 1, () => run({ type: "align_points", key, nodes, to: "level" }))}
        {button("Remove", some, actions.removeChosen)}
        {button("Merge", nodes.length > 1 || (!some && chosen.length > 0), () =>
          run({ type: "merge_points", key, shapes, nodes, within: some ? 1e6 : 0.5 }),
        )}
      </Box>
      <Box sx={row}>
        {button("Split here", some, () => run({ type: "split_line", key, nodes }))}
        {button("Join ends", bothEnds, () =>
          run({ type: "join_ends", key, nodes: nodes as [string, string] }),
        )}
        {button("Close", open && chosen.length > 0, () =>
          run({ type: "close_lines", key, shapes, closed: true }),
        )}
        {button("Open", closed, () => run({ type: "close_lines", key, shapes, closed: false }))}
        {button("Turn direction", chosen.length > 0, () => run({ type: "turn_direction", key, shapes }))}
        {button("Begin here", nodes.length === 1 && closed, () =>
          run({ type: "move_seam", key, node: nodes[0] as string }),
        )}
        {widths && button("Even width", true, () => run({ type: "even_width", key, shapes }))}
      </Box>
      {chosen.length > 0 && !some && (
        <Hollow>
          The small arrow shows where a closed outline begins.{" "}
          <Box
            component="span"
            role="button"
            tabIndex={0}
            sx={{ textDecoration: "underline", cursor: "pointer" }}
            onClick={() => set({ nodes: contours.flatMap((c) => c.nodes.map((n) => n.id)) })}
            onKeyDown={(event) =>
              event.key === "Enter" && set({ nodes: contours.flatMap((c) => c.nodes.map((n) => n.id)) })
            }
          >
            Choose all points
          </Box>
        </Hollow>
      )}
    </Section>
  );
}
