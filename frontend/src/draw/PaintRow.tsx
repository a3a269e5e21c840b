import { Box, MenuItem, Select, Switch, Typography } from "@mui/material";
import { Plus, Trash2 } from "lucide-react";
import type { Gradient, Paint, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { NumberField } from "../desk/NumberField";
import { ColorField } from "./ColorField";
import { asKind, mixed } from "./gradient";
import { useStop } from "./stops";
import type { Change } from "./style";
import { evenPaint } from "./style";

type Props = {
  part: "fill" | "line";
  label: string;
  /** None where it is null; undefined where the chosen shapes differ. */
  paint: Paint | null | undefined;
  spare: Paint;
  shape: Shape | undefined;
  onChange: (change: Change) => void;
};

const KINDS = [
  ["even", "Even"],
  ["linear", "Linear"],
  ["radial", "Radial"],
] as const;

/** A paint that can be absent: one colour, or a gradient with its stops. */
export function PaintRow({ part, label, paint, spare, shape, onChange }: Props) {
  const setStop = useStop((s) => s.set);
  const give = (to: Paint | null) => onChange({ [part]: to } as Change);
  const kind = paint?.gradient?.kind ?? "even";
  return (
    <Box sx={{ py: 0.25 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, minHeight: 32 }}>
        <Typography sx={{ width: 30 }}>{label}</Typography>
        <Switch
          size="small"
          checked={paint !== null}
          slotProps={{ input: { "aria-label": `${label} on` } }}
          onChange={(_, on) => give(on ? spare : null)}
        />
        {paint !== null && kind === "even" && (
          <ColorField
            label={label}
            color={paint?.color}
            swatch={paint?.swatch}
            onChange={(color, swatch) => give({ ...(paint ?? evenPaint(color)), color, swatch })}
          />
        )}
        {paint && (
          <Select
            value={kind}
            size="small"
            aria-label={`${label} kind`}
            sx={{ flex: 1, fontSize: 12, "& .MuiSelect-select": { py: 0.25 } }}
            onChange={(event) => {
              setStop({ part, index: 0 });
              give(asKind(paint, event.target.value as "even" | Gradient["kind"], shape));
            }}
          >
            {KINDS.map(([value, name]) => (
              <MenuItem key={value} value={value} sx={{ fontSize: 13 }}>
                {name}
              </MenuItem>
            ))}
          </Select>
        )}
      </Box>
      {paint?.gradient && (
        <Stops
          part={part}
          gradient={paint.gradient}
          onChange={(gradient) =>
            give({ ...paint, gradient, color: gradient.stops[0]?.color ?? paint.color })
          }
        />
      )}
    </Box>
  );
}

type StopsProps = { part: "fill" | "line"; gradient: Gradient; onChange: (gradient: Gradient) => void };

/** The stops of a gradient in a row, and the chosen one's numbers. They can be dragged on the stage, too. */
function Stops({ part, gradient, onChange }: StopsProps) {
  const chosen = useStop();
  const { stops } = gradient;
  const index = chosen.part === part ? Math.min(chosen.index, stops.length - 1) : 0;
  const stop = stops[index];
  const set = (changes: Partial<(typeof stops)[number]>) =>
    onChange({ ...gradient, stops: stops.map((s, k) => (k === index ? { ...s, ...changes } : s)) });
  const ways = stops.map((s) => `${s.color} ${s.at * 100}%`).join(", ");
  return (
    <Box sx={{ pl: 0.5 }} data-testid={`${part}-stops`}>
      <Box sx={{ position: "relative", height: 26, mx: 0.75 }}>
        <Box
          sx={{
            height: 12,
            borderRadius: 0.75,
            border: 1,
            borderColor: "divider",
            background: `linear-gradient(90deg, ${ways})`,
          }}
        />
        {stops.map((s, k) => (
          <Box
            // biome-ignore lint/suspicious/noArrayIndexKey: a stop is known by its place among the stops
            key={k}
            component="button"
            type="button"
            aria-label={`Stop ${k + 1}`}
            aria-pressed={k === index}
            onClick={() => chosen.set({ part, index: k })}
            sx={{
              position: "absolute",
              left: `calc(${s.at * 100}% - 6px)`,
              top: 9,
              width: 13,
              height: 13,
              p: 0,
              borderRadius: 0.5,
              bgcolor: s.color,
              border: 2,
              borderColor: k === index ? "secondary.main" : "background.paper",
              outline: "1px solid",
              outlineColor: "divider",
              cursor: "pointer",
            }}
          />
        ))}
      </Box>
      {stop && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, pt: 0.75 }}>
          <ColorField
            label="Stop"
            width={36}
            color={stop.color}
            swatch={stop.swatch}
            onChange={(color, swatch) => set({ color, swatch })}
          />
          <NumberField
            label="At %"
            width={62}
            value={stop.at * 100}
            min={(stops[index - 1]?.at ?? 0) * 100}
            max={(stops[index + 1]?.at ?? 1) * 100}
            onChange={(at) => set({ at: at / 100 })}
          />
          <NumberField
            label="Opacity %"
            width={72}
            value={stop.opacity * 100}
            min={0}
            max={100}
            onChange={(opacity) => set({ opacity: opacity / 100 })}
          />
          <Action
            name="Add a stop"
            onClick={() => {
              const next = stops[index + 1]?.at ?? 1;
              const before = index + 1 < stops.length ? stop.at : (stops[index - 1]?.at ?? 0);
              const made = mixed(stops, (before + next) / 2);
              onChange({ ...gradient, stops: [...stops, made].sort((a, b) => a.at - b.at) });
            }}
          >
            <Plus size={15} />
          </Action>
          <Action
            name="Remove the stop"
            disabled={stops.length < 3}
            onClick={() => onChange({ ...gradient, stops: stops.filter((_, k) => k !== index) })}
          >
            <Trash2 size={15} />
          </Action>
        </Box>
      )}
    </Box>
  );
}
