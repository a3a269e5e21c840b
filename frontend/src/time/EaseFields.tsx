import { Box, Typography } from "@mui/material";
import type { Ease } from "../api/types";
import { NumberField } from "../desk/NumberField";
import { Slide } from "../desk/Slide";

type Props = {
  ease: Ease;
  /** What each number is called. */
  names: Partial<Record<keyof Ease, string>>;
  onMove: (ease: Ease) => void;
  onCommit: (ease: Ease) => void;
};

const LEAST = { out: -1, into: -1, anticipation: 0, overshoot: 0 };
const MOST = { out: 1, into: 1, anticipation: 0.5, overshoot: 0.5 };

export const EVEN: Ease = { out: 0, into: 0, anticipation: 0, overshoot: 0 };

export const sameEase = (one: Ease, other: Ease) =>
  (Object.keys(EVEN) as (keyof Ease)[]).every((name) => one[name] === other[name]);

/** The numbers of an ease, each with a slide. */
export function EaseFields({ ease, names, onMove, onCommit }: Props) {
  return (Object.entries(names) as [keyof Ease, string][]).map(([name, label]) => (
    <Box key={name} sx={{ pt: 0.75 }}>
      <Typography sx={{ fontSize: 12 }}>{label}</Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <Slide
          aria-label={label}
          value={ease[name]}
          min={LEAST[name]}
          max={MOST[name]}
          step={LEAST[name] ? 0.05 : 0.01}
          marks={[{ value: 0 }]}
          onMove={(value) => onMove({ ...ease, [name]: value })}
          onCommit={(value) => onCommit({ ...ease, [name]: value })}
        />
        <NumberField
          label=""
          value={ease[name]}
          min={LEAST[name]}
          max={MOST[name]}
          width={70}
          onChange={(value) => onCommit({ ...ease, [name]: value })}
        />
      </Box>
    </Box>
  ));
}
