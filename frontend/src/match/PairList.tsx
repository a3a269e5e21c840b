import { Box } from "@mui/material";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Key, SpanView } from "../api/types";
import { usePicked } from "../desk/state";
import { PairRow } from "./PairRow";

const ROW_HEIGHT = 34;
const ROWS_BESIDE = 8;
const PANEL_HEIGHT = 600;

/** The pairs of a span. Only the rows that are in sight in the panel are there; that of a chosen pair comes in sight. */
export function PairList({ span, from, to }: { span: SpanView; from: Key; to: Key }) {
  const { pair, hint } = usePicked("pair", "hint");
  const list = useRef<HTMLDivElement>(null);
  const [above, setAbove] = useState(0);
  // what stands over the list in the panel changes
  useLayoutEffect(() => setAbove(list.current?.offsetTop ?? 0));
  const { pairs } = span;
  const view = useVirtualizer({
    count: pairs.length,
    getScrollElement: () => list.current?.closest("aside") ?? null,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (k) => `${pairs[k]?.first} ${pairs[k]?.second}`,
    overscan: ROWS_BESIDE,
    scrollMargin: above,
    initialRect: { width: 0, height: PANEL_HEIGHT },
  });
  const chosen = pair ? pairs.findIndex((p) => p.first === pair.first && p.second === pair.second) : -1;
  // who works on a hint looks at the hints
  const sought = hint === null ? chosen : -1;
  useEffect(() => {
    if (sought >= 0) view.scrollToIndex(sought);
  }, [sought, view]);
  return (
    <Box
      ref={list}
      role="listbox"
      aria-label="Pairs"
      sx={{ position: "relative" }}
      style={{ height: view.getTotalSize() }}
    >
      {view.getVirtualItems().map(({ key, index, start }) => {
        const each = pairs[index];
        return (
          each && (
            <PairRow
              key={key}
              pair={each}
              from={from}
              to={to}
              on={index === chosen}
              index={index}
              top={start - above}
              measure={view.measureElement}
            />
          )
        );
      })}
    </Box>
  );
}
