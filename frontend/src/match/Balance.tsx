import { Box, Button, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Found, SpanView } from "../api/types";
import { useDesk } from "../desk/state";

type Figures = Found["balance"];

const PARTS = [
  ["twist", "twist"],
  ["area", "area lost"],
  ["crossings", "crossings"],
  ["sliding", "sliding"],
] as const;

const SEEN = 0.002; // by less than this neither is better

/** What a change did, in words: only what changed enough to be seen. */
function inWords(before: Figures, now: Figures): string {
  const found = PARTS.flatMap(([part, word]) => {
    const change = now[part] - before[part];
    return Math.abs(change) < 0.004 ? [] : [`${change < 0 ? "less" : "more"} ${word}`];
  });
  return found.join(", ");
}

/** What the last change of the span's settings did to its in-betweens; one click takes it back. */
export function Balance({ span, now }: { span: SpanView; now: Figures }) {
  const trying = useDesk((s) => s.preview?.key === span.key);
  const undo = useDesk((s) => s.doc?.undo ?? null);
  const step = useDesk((s) => s.step);
  const hints = span.take.hints.map((hint) => [hint.first, hint.second]); // their names change no in-between
  const settings = JSON.stringify([span.take.pairs, hints, span.take.travels, span.take.blend]);
  const [state, setState] = useState({ key: span.key, settings, kept: now, before: now, changed: false });
  const last = useRef(state);
  useEffect(() => {
    const old = last.current;
    if (old.key !== span.key)
      last.current = { key: span.key, settings, kept: now, before: now, changed: false };
    else if (!trying && span.found && old.settings !== settings)
      last.current = { key: span.key, settings, kept: now, before: old.kept, changed: true };
    setState(last.current);
  }, [span, now, trying, settings]);
  const before = trying ? last.current.kept : state.before;
  const change = now.whole - before.whole;
  const same = Math.abs(change) < SEEN;
  if (state.key !== span.key || (same && !trying && !state.changed)) return null;
  const words = inWords(before, now);
  const [verdict, color] = same
    ? ["about as before", "text.secondary"]
    : change < 0
      ? ["better than before", "success.main"]
      : ["worse than before", "error.main"];
  const digits = before.whole.toFixed(2) === now.whole.toFixed(2) ? 3 : 2; // what is better must look better
  return (
    <Box
      role="status"
      data-testid="balance"
      sx={{
        position: "absolute",
        bottom: 38, // over the status line
        left: "50%",
        transform: "translateX(-50%)",
        display: "flex",
        gap: 1.5,
        alignItems: "center",
        px: 1.5,
        py: 0.25,
        minHeight: 32,
        borderRadius: 1,
        bgcolor: "background.paper",
        border: 1,
        borderColor: color,
        whiteSpace: "nowrap",
      }}
    >
      <Typography sx={{ fontSize: 13, "&::first-letter": { textTransform: "uppercase" } }}>
        {words && `${words[0]?.toUpperCase()}${words.slice(1)}: `}
        <Box component="span" sx={{ fontWeight: 700, color }}>
          {verdict}
        </Box>
        {!same && ` (${before.whole.toFixed(digits)} → ${now.whole.toFixed(digits)})`}
      </Typography>
      {!trying && undo && (
        <Button size="small" color="inherit" onClick={() => void step("undo")}>
          Take it back
        </Button>
      )}
    </Box>
  );
}
