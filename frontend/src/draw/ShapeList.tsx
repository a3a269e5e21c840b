import { Box } from "@mui/material";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Group, Ungroup } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Drawing, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { useDesk } from "../desk/state";
import { ROW_HEIGHT, type RowHand, ShapeRow } from "./ShapeRow";

type Row = { key: string; part: string | null; depth: number; shapes: Shape[] };

/** Longer lists are scrolled; only the rows in sight and so many beside them are there at all. */
const ROWS_SHOWN = 14;
const ROWS_BESIDE = 10;

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
      rows.push({ key: `part ${part} ${shape.id}`, part, depth: k, shapes: inside });
    }
    open = levels;
    rows.push({ key: shape.id, part: null, depth: levels.length, shapes: [shape] });
  }
  const hidden = (path: string | null | undefined, itself: boolean) =>
    folded.some((f) => path?.startsWith(`${f}/`) || (itself && path === f));
  return rows.filter((row) => !hidden(row.part ?? row.shapes[0]?.part, row.part === null));
}

/** The shapes and parts of a key, front to back. Drag a row to change the stacking order. */
export function ShapeList({ drawing, editing }: { drawing: Drawing; editing: string }) {
  const shapes = useDesk((s) => s.shapes);
  const { edit } = useDesk.getState();
  const [folded, setFolded] = useState<string[]>([]);
  const [over, setOver] = useState<string | null>(null);
  const nodes = drawing.shapes.reduce(
    (sum, s) => sum + s.contours.reduce((n, c) => n + c.nodes.length, 0),
    0,
  );
  const chosen = useMemo(() => new Set(shapes), [shapes]);
  const some = drawing.shapes.filter((s) => chosen.has(s.id));
  const rows = useMemo(() => rowsOf(drawing.shapes, folded), [drawing, folded]);
  const pane = useRef<HTMLDivElement>(null);
  const view = useVirtualizer({
    count: rows.length,
    getScrollElement: () => pane.current,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (k) => rows[k]?.key ?? k,
    overscan: ROWS_BESIDE,
    initialRect: { width: 0, height: ROWS_SHOWN * ROW_HEIGHT },
  });
  const first = rows.findIndex((row) => row.shapes.every((s) => chosen.has(s.id)));
  useEffect(() => {
    if (first >= 0) view.scrollToIndex(first);
  }, [first, view]);

  /** What rows do; the same as long as it is about the same key, so that rows that did not change stay as they are. */
  const hand = useMemo<RowHand>(
    () => ({
      choose: (ids, add) => {
        const { shapes: had, set } = useDesk.getState();
        const all = ids.every((id) => had.includes(id));
        const next = all ? had.filter((s) => !ids.includes(s)) : [...new Set([...had, ...ids])];
        set({ shapes: add ? next : ids, nodes: [], part: "" });
      },
      drop: (ids, target) => {
        setOver(null);
        if (ids.length && (!target || !ids.includes(target)))
          void edit({ type: "place_in_stack", key: editing, shapes: ids, over: target });
      },
      over: setOver,
      fold: (part) =>
        setFolded((old) => (old.includes(part) ? old.filter((f) => f !== part) : [...old, part])),
      rename: (part, shape, name) =>
        void edit(
          part
            ? { type: "rename_part", key: editing, part, name }
            : { type: "rename_shape", key: editing, shape, name },
        ),
    }),
    [editing, edit],
  );

  return (
    <Section
      title={`Shapes · ${drawing.shapes.length}`}
      aside={
        <Box sx={{ display: "flex", alignItems: "center", mr: -0.75 }}>
          <Box sx={{ fontSize: 12, color: "text.secondary", mr: 0.5 }}>{nodes} points</Box>
          <Action name="Group into a part" keys="Ctrl+G" disabled={some.length < 2} onClick={actions.group}>
            <Group size={16} />
          </Action>
          <Action
            name="Ungroup"
            keys="Ctrl+Shift+G"
            disabled={!some.some((s) => s.part)}
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
      <Box
        ref={pane}
        role="listbox"
        aria-label="Shapes"
        aria-multiselectable
        sx={{ maxHeight: ROWS_SHOWN * ROW_HEIGHT, overflowY: "auto", mr: -1, pr: 1 }}
      >
        <Box sx={{ position: "relative" }} style={{ height: view.getTotalSize() }}>
          {view.getVirtualItems().map(({ key, index, start }) => {
            const row = rows[index] as Row;
            return (
              <ShapeRow
                key={key}
                id={row.key}
                top={start}
                shapes={row.shapes}
                part={row.part}
                depth={row.depth}
                on={row.shapes.every((s) => chosen.has(s.id))}
                over={over === key}
                folded={row.part !== null && folded.includes(row.part)}
                hand={hand}
              />
            );
          })}
        </Box>
        {drawing.shapes.length > 1 && (
          <Box
            onDragOver={(event) => {
              event.preventDefault();
              setOver("back");
            }}
            onDrop={(event) => {
              event.preventDefault();
              hand.drop(event.dataTransfer.getData("text/x-shapes").split(","), null);
            }}
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
