import { Box, Button, Typography } from "@mui/material";
import { Unlink } from "lucide-react";
import { memo, useMemo } from "react";
import type { Key, PairView, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { rowKeys } from "../desk/rows";
import { useDesk } from "../desk/state";
import { Sample } from "../stage/Thumb";

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
  if (pair.kind === "recut") {
    const [one, two] = [pair.firsts.length, pair.seconds.length];
    return `one line, cut ${one + two > 2 ? `${one} and ${two}` : "differently"}, ${surely}`;
  }
  return `${surely}, ${pair.way}`;
}

/** A shape's name, and the innermost part it is in: both eyes have a pupil. */
const called = ({ name, part }: Shape) => (part ? `${name}, ${part.split("/").at(-1)}` : name);

function useShapes(drawing: string, ids: string[]) {
  const shapes = useDesk((s) => s.drawings[drawing]?.shapes);
  return useMemo(() => ids.flatMap((id) => shapes?.find((s) => s.id === id) ?? []), [shapes, ids]);
}

type RowProps = {
  pair: PairView;
  from: Key;
  to: Key;
  on: boolean;
  /** Where in the list: its number, and how far down in pixels. */
  index: number;
  top: number;
  /** Told of the row, which is higher where it is chosen. */
  measure: (row: HTMLElement | null) => void;
};

/** A pair with both its pictures, how sure it is, and how it goes. */
export const PairRow = memo(function PairRow({ pair, from, to, on, index, top, measure }: RowProps) {
  const first = useShapes(from.drawing, pair.firsts);
  const second = useShapes(to.drawing, pair.seconds);
  const { set, edit } = useDesk.getState();
  const key = from.id;
  const [word, color] = sure(pair.confidence);
  const state =
    pair.by_hand && pair.kind === "pair" && first.length && second.length
      ? "paired by hand"
      : words(pair, word);
  const choose = () => set({ pair: { first: pair.first, second: pair.second }, hint: null });
  const names = [...new Set([...first, ...second].map(called))].join(" → ");
  return (
    <Box
      ref={measure}
      role="option"
      tabIndex={0}
      aria-selected={on}
      data-index={index}
      data-testid="pair-row"
      onClick={choose}
      onKeyDown={rowKeys(choose)}
      title={`${pair.reason}. Travel: ${pair.way_reason}.`}
      style={{ top }}
      sx={{
        position: "absolute",
        left: 0,
        right: 0,
        px: 0.5,
        py: 0.25,
        borderRadius: 1,
        bgcolor: on ? "action.selected" : undefined,
        "&:hover": { bgcolor: "action.hover" },
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, minHeight: 30 }}>
        <Sample shapes={first} width={28} height={24} />
        <Sample shapes={second} width={28} height={24} />
        <Box sx={{ minWidth: 0, flex: 1 }}>
          <Typography noWrap={!on} sx={{ fontSize: 13, lineHeight: "16px" }}>
            {names}
          </Typography>
          <Typography
            noWrap={!on}
            sx={{ fontSize: 12, lineHeight: "14px", color: pair.by_hand ? "secondary.main" : color }}
          >
            {state}
          </Typography>
        </Box>
        {on && pair.by_hand && (
          <Button
            color="inherit"
            onClick={() => void edit({ type: "free_pair", key, first: pair.first, second: pair.second })}
            sx={{ minWidth: 0 }}
          >
            Free
          </Button>
        )}
        {on && pair.first && pair.second && (
          <Action
            name="Part: let the first vanish and the second appear"
            onClick={() =>
              void edit({ type: "pair_shapes", key, first: pair.first, second: null, also: false })
            }
          >
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
});
