import { Alert, Box, Button, Typography } from "@mui/material";
import { Trash2, Unlink } from "lucide-react";
import type { PairView, Shape } from "../api/types";
import { Action } from "../desk/Action";
import { Rename } from "../desk/Rename";
import { Hollow, Section } from "../desk/Section";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk } from "../desk/state";
import { Thumb } from "../stage/Thumb";

const sure = (confidence: number) =>
  confidence >= 0.75
    ? ["sure", "success.main"]
    : confidence >= 0.45
      ? ["fairly sure", "text.secondary"]
      : ["unsure", "warning.main"];

export function MatchPanel() {
  const { first, second } = useAtHand();
  const { drawings, pair, hint, set, edit } = useDesk();
  const spans = useSpans();
  const span = first && spans[first.id];
  if (!first || !second || !span)
    return (
      <Section title="Pairs">
        <Hollow>Two keys on one layer make a span; their pairs are listed here.</Hollow>
      </Section>
    );
  const shape = (drawing: string, id: string | null) => drawings[drawing]?.shapes.find((s) => s.id === id);
  const key = first.id;
  return (
    <>
      <Section
        title={`Hints · ${span.hints.length}`}
        aside={
          span.hints.length > 0 && (
            <Button color="inherit" onClick={() => void edit({ type: "remove_hints", key, hints: null })}>
              Remove all
            </Button>
          )
        }
      >
        {span.hints.length === 0 && (
          <Hollow>
            None are needed yet. To tie a point: click a shape, then press on its outline. Its other end is
            tied to where it goes today; drag either end.
          </Hollow>
        )}
        {span.hints.map((each) => (
          <Box key={each.id}>
            <Box
              onClick={() => set({ hint: each.id })}
              data-testid="hint-row"
              sx={{
                display: "flex",
                alignItems: "center",
                px: 0.5,
                minHeight: 28,
                borderRadius: 1,
                bgcolor: hint === each.id ? "action.selected" : undefined,
              }}
            >
              <Rename
                name={each.name}
                label="hint"
                onRename={(name) => void edit({ type: "rename_hint", key, hint: each.id, name })}
              />
              <Action
                name={`Remove hint ${each.name}`}
                onClick={() => void edit({ type: "remove_hints", key, hints: [each.id] })}
              >
                <Trash2 size={15} />
              </Action>
            </Box>
            {each.trouble && (
              <Alert severity="error" variant="outlined" sx={{ py: 0, px: 1, my: 0.5, fontSize: 12 }}>
                {each.trouble}
              </Alert>
            )}
          </Box>
        ))}
      </Section>
      <Section title={`Pairs · ${span.pairs.length}`}>
        {span.pairs.map((each) => (
          <PairRow
            key={`${each.first} ${each.second}`}
            pair={each}
            first={shape(first.drawing, each.first)}
            second={shape(second.drawing, each.second)}
            on={pair !== null && pair.first === each.first && pair.second === each.second}
            onChoose={() => set({ pair: { first: each.first, second: each.second }, hint: null })}
            onPart={() => void edit({ type: "pair_shapes", key, first: each.first, second: null })}
            onFree={() => void edit({ type: "free_pair", key, first: each.first, second: each.second })}
          />
        ))}
        <Hollow>To pair by hand, drag a thread's end onto another shape.</Hollow>
      </Section>
    </>
  );
}

type RowProps = {
  pair: PairView;
  first: Shape | undefined;
  second: Shape | undefined;
  on: boolean;
  onChoose: () => void;
  onPart: () => void;
  onFree: () => void;
};

function PairRow({ pair, first, second, on, onChoose, onPart, onFree }: RowProps) {
  const [word, color] = sure(pair.confidence);
  const state = !pair.second
    ? "vanishes"
    : !pair.first
      ? "appears"
      : pair.by_hand
        ? "paired by hand"
        : `${word}, ${pair.way}`;
  const names =
    first && second && first.name !== second.name
      ? `${first.name} → ${second.name}`
      : (first ?? second)?.name;
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
        <Thumb shapes={first ? [first] : []} width={28} height={24} />
        <Thumb shapes={second ? [second] : []} width={28} height={24} />
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
          <Button color="inherit" onClick={onFree}>
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
