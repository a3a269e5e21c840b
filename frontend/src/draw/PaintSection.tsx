import { Box, Slider } from "@mui/material";
import type { Shape } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Section } from "../desk/Section";
import { Soft } from "../desk/Soft";
import { useDesk } from "../desk/state";
import { ColorField } from "./ColorField";
import { evenFill, evenStroke, recolored } from "./style";

const same = <T,>(values: T[]): T | undefined =>
  values.every((v) => v === values[0]) ? values[0] : undefined;

/** Paint of the chosen shapes; with none chosen, of what is drawn next. */
export function PaintSection({ chosen, editing }: { chosen: Shape[]; editing: string | null }) {
  const { brush, set, edit } = useDesk();
  const some = chosen.length > 0 && editing !== null;
  const fill = some ? same(chosen.map((s) => s.fill?.paint.color ?? null)) : brush.fill;
  const stroke = some ? same(chosen.map((s) => s.stroke?.paint.color ?? null)) : brush.stroke;
  const width = some ? (same(chosen.map((s) => s.stroke?.width ?? 0)) ?? null) : brush.width;
  const opacity = some ? (same(chosen.map((s) => s.opacity)) ?? 1) : 1;
  const base = { type: "restyle" as const, key: editing ?? "", shapes: chosen.map((s) => s.id) };
  const [model] = chosen;

  const setFill = (color: string | null) => {
    set({ brush: { ...brush, fill: color } });
    if (!some) return;
    const paint = color === null ? null : model?.fill ? recolored(model.fill, color) : evenFill(color);
    void edit({ ...base, fill: paint } as never);
  };
  const setStroke = (color: string | null, wide: number) => {
    set({ brush: { ...brush, stroke: color, width: wide } });
    if (!some) return;
    const old = model?.stroke ?? evenStroke(color ?? "#000000", 3);
    const line = color === null ? null : { ...recolored(old, color), width: wide || 3 };
    void edit({ ...base, stroke: line } as never);
  };

  return (
    <Section
      title={
        some
          ? `Paint of ${chosen.length === 1 ? `“${model?.name}”` : `${chosen.length} shapes`}`
          : "Paint for what you draw"
      }
    >
      <ColorField label="Fill" color={fill} fallback={brush.fill ?? "#77ab54"} onChange={setFill} />
      <ColorField
        label="Line"
        color={stroke}
        fallback={brush.stroke ?? "#24351f"}
        onChange={(color) => setStroke(color, width ?? 3)}
      />
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", pt: 1 }}>
        <NumberField
          label="Width"
          value={width}
          min={0}
          max={200}
          onChange={(wide) => setStroke(stroke ?? brush.stroke ?? "#24351f", wide)}
        />
        {some && (
          <Box sx={{ flex: 1 }}>
            <Soft sx={{ fontSize: 12 }}>Opacity {Math.round(opacity * 100)} %</Soft>
            <Slider
              aria-label="Opacity"
              key={opacity}
              defaultValue={opacity}
              min={0}
              max={1}
              step={0.01}
              onChangeCommitted={(_, value) => void edit({ ...base, opacity: value as number } as never)}
            />
          </Box>
        )}
      </Box>
    </Section>
  );
}
