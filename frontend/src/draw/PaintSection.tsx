import { Box } from "@mui/material";
import { ClipboardPaste, Pipette, Stamp } from "lucide-react";
import type { Fill, Operation, Paint, Shape, Stroke } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { NumberField } from "../desk/NumberField";
import { Section } from "../desk/Section";
import { Slide } from "../desk/Slide";
import { Soft } from "../desk/Soft";
import { usePicked } from "../desk/state";
import { LineSection } from "./LineSection";
import { PaintRow } from "./PaintRow";
import type { Change } from "./style";
import { useTools } from "./tools";

const same = <T,>(values: T[]): T | undefined =>
  values.every((v) => JSON.stringify(v) === JSON.stringify(values[0])) ? values[0] : undefined;

/** Paint of the chosen shapes; with none chosen, of what is drawn next. */
export function PaintSection({ chosen, editing }: { chosen: Shape[]; editing: string | null }) {
  const { edit, set: setDesk, tool } = usePicked("edit", "set", "tool");
  const { brush, spare, style, set } = useTools();
  const some = chosen.length > 0 && editing !== null;
  const [model] = chosen;
  const fill = some ? same(chosen.map((s) => s.fill?.paint ?? null)) : brush.fill;
  const line = some ? same(chosen.map((s) => s.stroke?.paint ?? null)) : brush.line;
  const stroke: Stroke | null = some ? (chosen.find((s) => s.stroke)?.stroke ?? null) : brush.stroke;
  const width = some ? same(chosen.map((s) => s.stroke?.width)) : brush.stroke.width;
  const opacity = some ? (same(chosen.map((s) => s.opacity)) ?? 1) : 1;

  const change = (changes: Change) => {
    const { fill: newFill, line: newLine, opacity: _, rule: __, ...look } = changes;
    set({
      brush: {
        fill: newFill === undefined ? brush.fill : (newFill as Paint | null),
        line: newLine === undefined ? brush.line : (newLine as Paint | null),
        stroke: { ...brush.stroke, ...(look as Partial<Stroke>) },
      },
      spare: {
        fill: (newFill as Paint | null | undefined) ?? model?.fill?.paint ?? spare.fill,
        line: (newLine as Paint | null | undefined) ?? model?.stroke?.paint ?? spare.line,
      },
    });
    if (some)
      return edit({
        type: "repaint",
        key: editing,
        shapes: chosen.map((s) => s.id),
        ...changes,
      } as Operation);
  };

  const title = some
    ? `Paint of ${chosen.length === 1 ? `“${model?.name}”` : `${chosen.length} shapes`}`
    : "Paint for what you draw";
  return (
    <Section
      title={title}
      aside={
        <Box sx={{ display: "flex", mr: -0.75 }}>
          <Action
            name="Pick a colour from the stage"
            keys="Shift+G"
            pressed={tool === "pick"}
            onClick={() => setDesk({ tool: "pick" })}
          >
            <Pipette size={16} />
          </Action>
          <Action
            name="Copy the style"
            keys="Shift+C"
            disabled={chosen.length !== 1}
            onClick={actions.copyStyle}
          >
            <Stamp size={16} />
          </Action>
          <Action
            name="Paste the style"
            keys="Shift+V"
            disabled={!some || !style}
            onClick={actions.pasteStyle}
          >
            <ClipboardPaste size={16} />
          </Action>
        </Box>
      }
    >
      <PaintRow
        part="fill"
        label="Fill"
        paint={fill}
        spare={spare.fill}
        shape={some ? model : undefined}
        onChange={change}
      />
      <PaintRow
        part="line"
        label="Line"
        paint={line}
        spare={spare.line}
        shape={some ? model : undefined}
        onChange={change}
      />
      {line !== null && (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", pt: 1 }}>
          <NumberField
            label="Width"
            value={width ?? null}
            min={0.1}
            max={400}
            onChange={(wide) => change({ width: wide })}
          />
          {some && (
            <Box sx={{ flex: 1 }}>
              <Soft sx={{ fontSize: 12 }}>Opacity {Math.round(opacity * 100)} %</Soft>
              <Slide
                aria-label="Opacity"
                value={opacity}
                min={0}
                max={1}
                step={0.01}
                onCommit={(value) => change({ opacity: value })}
              />
            </Box>
          )}
        </Box>
      )}
      {line !== null && stroke && <LineSection stroke={stroke} onChange={change} />}
      {some && model && model.contours.length > 1 && model.fill && (
        <HoleRule rule={model.fill.rule} onChange={change} />
      )}
    </Section>
  );
}

function HoleRule({ rule, onChange }: { rule: Fill["rule"]; onChange: (change: Change) => void }) {
  const even = rule === "evenodd";
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, pt: 0.5 }}>
      <Soft sx={{ fontSize: 12, flex: 1 }}>
        {even
          ? "What lies inside another outline is a hole."
          : "Holes are what is drawn the other way round."}
      </Soft>
      <Box
        component="button"
        type="button"
        onClick={() => onChange({ rule: even ? "nonzero" : "evenodd" })}
        sx={{
          border: 1,
          borderColor: "divider",
          borderRadius: 1,
          bgcolor: "transparent",
          color: "inherit",
          font: "inherit",
          fontSize: 12,
          px: 1,
          py: 0.25,
          cursor: "pointer",
        }}
      >
        Change
      </Box>
    </Box>
  );
}
