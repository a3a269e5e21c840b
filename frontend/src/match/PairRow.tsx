import { Box, Button, Typography } from "@mui/material";
import { Unlink } from "lucide-react";
import type { PairView, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { Thumb } from "../stage/Thumb";

const sure = (confidence: number) =>
  confidence >= 0.75
    ? (["sure", "success.main"] as const)
    : confidence >= 0.45
      ? (["fairly sure", "text.secondary"] as const)
      : (["unsure", "warning.main"] as const);

function words(pair: PairView, surely: string): string {
  if (!pair.second) return "vanishes";
  if (!pair.first) return "appears";
  if (pair.kind === "divides") return `a piece of what divides, ${surely}`;
  if (pair.kind === "joins") return `joins with others, ${surely}`;
  if (pair.kind === "recut")
    return `one line, cut ${pair.firsts.length} and ${pair.seconds.length}, ${surely}`;
  return `${surely}, ${pair.way}`;
}

type RowProps = {
  pair: PairView;
  first: Shape[];
  second: Shape[];
  on: boolean;
  onChoose: () => void;
  onPart: () => void;
  onFree: () => void;
};

/** A pair with both its pictures, how sure it is, and how it goes. */
export function PairRow({ pair, first, second, on, onChoose, onPart, onFree }: RowProps) {
  const [word, color] = sure(pair.confidence);
  const state =
    pair.by_hand && pair.kind === "pair" && first.length && second.length
      ? "paired by hand"
      : words(pair, word);
  const names = [...new Set([...first, ...second].map((s) => s.name))].join(" → ");
  return (
    <Box
      role="option"
      aria-selected={on}
      data-testid="pair-row"
      onClick={onChoose}
      title={`${pair.reason}. Travel: ${pair.way_reason}.`}
      sx={{
        px: 0.5,
        py: 0.25,
        borderRadius: 1,
        bgcolor: on ? "action.selected" : undefined,
        "&:hover": { bgcolor: "action.hover" },
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, minHeight: 30 }}>
        <Thumb shapes={first} width={28} height={24} />
        <Thumb shapes={second} width={28} height={24} />
        <Box sx={{ minWidth: 0, flex: 1 }}>
          <Typography noWrap sx={{ fontSize: 13, lineHeight: "16px" }}>
            {names}
          </Typography>
          <Typography
            noWrap
            sx={{ fontSize: 12, lineHeight: "14px", color: pair.by_hand ? "secondary.main" : color }}
          >
            {state}
          </Typography>
        </Box>
        {on && pair.by_hand && (
          <Button color="inherit" onClick={onFree} sx={{ minWidth: 0 }}>
            Free
          </Button>
        )}
        {on && pair.first && pair.second && (
          <Action name="Part: let the first vanish and the second appear" onClick={onPart}>
            <Unlink size={15} />
          </Action>
        )}
      </Box>
      {on && (
        <Typography sx={{ fontSize: 12, color: "text.secondary", pb: 0.5 }}>
          {pair.reason}.{" "}
          {pair.first && pair.second
            ? `Travels ${pair.way}: ${pair.way_reason}.`
            : `${pair.way_reason[0]?.toUpperCase()}${pair.way_reason.slice(1)}.`}
        </Typography>
      )}
    </Box>
  );
}
