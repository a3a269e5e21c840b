import { Box } from "@mui/material";
import { ChevronDown, ChevronRight, Group, Ungroup } from "lucide-react";
import { type DragEvent, type KeyboardEvent, useState } from "react";
import type { Drawing, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Rename } from "../desk/Rename";
import { Hollow, Section } from "../desk/Section";
import { useDesk } from "../desk/state";
import { Thumb } from "../stage/Thumb";

type Row = { part: string; depth: number; shapes: Shape[] } | { shape: Shape; depth: number };

/** Shapes front to back, those of a part under its name where they lie next to each other. */
function rowsOf(shapes: Shape[], folded: string[]): Row[] {
  const rows: Row[] = [];
  let open: string[] = [];
  for (const shape of shapes.toReversed()) {
    const levels = shape.part?.split("/") ?? [];
    let common = 0;
    while (common < levels.length && open[common] === levels[common]) common++;
    for (let k = common; k < levels.length; k++) {
      const part = levels.slice(0, k + 1).join("/");
      const inside = shapes.filter((s) => s.part === part || s.part?.startsWith(`${part}/`));
      rows.push({ part, depth: k, shapes: inside });
    }
    open = levels;
    rows.push({ shape, depth: levels.length });
  }
  const hidden = (part: string | null) => folded.some((f) => part === f || part?.startsWith(`${f}/`));
  return rows.filter((row) =>
    "shape" in row ? !hidden(row.shape.part) : !folded.some((f) => row.part.startsWith(`${f}/`)),
  );
}

/** The shapes and parts of a key, front to back. Drag a row to change the stacking order. */
export function ShapeList({ drawing, editing }: { drawing: Drawing; editing: string }) {
  const { shapes, set, edit } = useDesk();
  const [folded, setFolded] = useState<string[]>([]);
  const [over, setOver] = useState<string | null>(null);
  const nodes = drawing.shapes.flatMap((s) => s.contours).reduce((sum, c) => sum + c.nodes.length, 0);
  const chosen = drawing.shapes.filter((s) => shapes.includes(s.id));

  const choose = (ids: string[], add: boolean) => {
    const had = ids.every((id) => shapes.includes(id));
    const next = add
      ? had
        ? shapes.filter((s) => !ids.includes(s))
        : [...new Set([...shapes, ...ids])]
      : ids;
    set({ shapes: next, nodes: [], part: "" });
  };

  const drop = (target: Shape) => (event: DragEvent) => {
    event.preventDefault();
    setOver(null);
    const ids = event.dataTransfer.getData("text/x-shapes").split(",").filter(Boolean);
    if (ids.length && !ids.includes(target.id))
      void edit({ type: "place_in_stack", key: editing, shapes: ids, over: target.id });
  };
  const toBack = (event: DragEvent) => {
    event.preventDefault();
    setOver(null);
    const ids = event.dataTransfer.getData("text/x-shapes").split(",").filter(Boolean);
    if (ids.length) void edit({ type: "place_in_stack", key: editing, shapes: ids, over: null });
  };
  const onKey = (ids: string[]) => (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    if (event.key === "Enter") choose(ids, event.shiftKey || event.ctrlKey);
    const row = event.currentTarget as HTMLElement;
    const next =
      event.key === "ArrowDown"
        ? row.nextElementSibling
        : event.key === "ArrowUp"
          ? row.previousElementSibling
          : null;
    if (!(next instanceof HTMLElement)) return;
    event.preventDefault();
    event.stopPropagation();
    next.focus();
  };

  return (
    <Section
      title={`Shapes · ${drawing.shapes.length}`}
      aside={
        <Box sx={{ display: "flex", alignItems: "center", mr: -0.75 }}>
          <Box sx={{ fontSize: 12, color: "text.secondary", mr: 0.5 }}>{nodes} points</Box>
          <Action name="Group into a part" keys="Ctrl+G" disabled={chosen.length < 2} onClick={actions.group}>
            <Group size={16} />
          </Action>
          <Action
            name="Ungroup"
            keys="Ctrl+Shift+G"
            disabled={!chosen.some((s) => s.part)}
            onClick={actions.ungroup}
          >
            <Ungroup size={16} />
          </Action>
        </Box>
      }
    >
      {drawing.shapes.length === 0 && (
        <Hollow>Nothing is drawn yet. Take a tool from the left, or bring in an SVG as this key.</Hollow>
      )}
      <Box role="listbox" aria-label="Shapes" aria-multiselectable>
        {rowsOf(drawing.shapes, folded).map((row) => {
          const ids = "shape" in row ? [row.shape.id] : row.shapes.map((s) => s.id);
          const front = "shape" in row ? row.shape : (row.shapes.at(-1) as Shape);
          const on = ids.every((id) => shapes.includes(id));
          const name = "shape" in row ? row.shape.name : (row.part.split("/").at(-1) as string);
          const key = "shape" in row ? row.shape.id : `part ${row.part} ${front.id}`;
          const fold = "part" in row && folded.includes(row.part);
          return (
            <Box
              key={key}
              role="option"
              tabIndex={0}
              aria-selected={on}
              data-testid={"part" in row ? "part-row" : "shape-row"}
              draggable
              onDragStart={(event) =>
                event.dataTransfer.setData("text/x-shapes", (on ? shapes : ids).join(","))
              }
              onDragOver={(event) => {
                event.preventDefault();
                setOver(key);
              }}
              onDrop={drop(front)}
              onDragEnd={() => setOver(null)}
              onClick={(event) => choose(ids, event.shiftKey || event.ctrlKey)}
              onKeyDown={onKey(ids)}
              sx={{
                display: "flex",
                alignItems: "center",
                gap: 1,
                px: 0.5,
                pl: 0.5 + row.depth * 1.75,
                height: 28,
                borderRadius: 1,
                bgcolor: on ? "action.selected" : undefined,
                borderTop: 2,
                borderTopColor: over === key ? "secondary.main" : "transparent",
                "&:hover": { bgcolor: "action.hover" },
              }}
            >
              {"part" in row && (
                <Box
                  component="button"
                  type="button"
                  aria-label={fold ? `Unfold ${name}` : `Fold ${name}`}
                  onClick={(event) => {
                    event.stopPropagation();
                    setFolded(fold ? folded.filter((f) => f !== row.part) : [...folded, row.part]);
                  }}
                  sx={{
                    border: 0,
                    bgcolor: "transparent",
                    color: "inherit",
                    p: 0,
                    display: "flex",
                    cursor: "pointer",
                  }}
                >
                  {fold ? <ChevronRight size={15} /> : <ChevronDown size={15} />}
                </Box>
              )}
              <Thumb shapes={"shape" in row ? [row.shape] : row.shapes} width={30} height={22} />
              <Rename
                name={name}
                label={"part" in row ? "part" : "shape"}
                weight={"part" in row ? 700 : 400}
                onRename={(to) =>
                  void edit(
                    "part" in row
                      ? { type: "rename_part", key: editing, part: row.part, name: to }
                      : { type: "rename_shape", key: editing, shape: row.shape.id, name: to },
                  )
                }
              />
            </Box>
          );
        })}
        {drawing.shapes.length > 1 && (
          <Box
            onDragOver={(event) => {
              event.preventDefault();
              setOver("back");
            }}
            onDrop={toBack}
            sx={{
              height: 10,
              borderTop: 2,
              borderTopColor: over === "back" ? "secondary.main" : "transparent",
            }}
          />
        )}
      </Box>
    </Section>
  );
}
