import { Box, ButtonBase } from "@mui/material";
import { ChevronDown, ChevronUp, LayoutGrid } from "lucide-react";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { Soft } from "../desk/Soft";
import { useFound, useSpans } from "../desk/spans";
import { useAtHand, usePicked } from "../desk/state";
import { useGround } from "../stage/ground";
import { useSize } from "../stage/viewport";
import { drawnIn } from "../timeline/exposure";
import { Card } from "./Card";

const [NARROW, WIDE, GAP, FOLD] = [62, 84, 6, 36];
const [HIGH, LOW] = [72, 46];

/** How wide so many cards would have to be for all to be in sight in one row. */
const fitting = (count: number, strip: number) => Math.floor((strip - FOLD - 2) / count) - GAP;

/** The span at hand as a row of cards: first key, in-betweens, second key. */
export function Strip() {
  const { layer, first, second } = useAtHand();
  const spans = useSpans();
  const found = useFound();
  const { strip, set } = usePicked("strip", "set");
  const span = first && spans[first.id];
  const ground = useGround(layer);
  const drawn = first && second ? drawnIn(first, second) : [];
  const [ref, { width }] = useSize<HTMLDivElement>();
  const fits = fitting(drawn.length, width);
  const all = strip === "all" && fits < NARROW;
  return (
    <Box
      ref={ref}
      sx={{
        bgcolor: "background.paper",
        borderTop: 1,
        borderColor: "divider",
        display: "flex",
        height: strip === "folded" ? 30 : all ? "auto" : 116,
        maxHeight: "42vh",
        flexShrink: 0,
      }}
      data-testid="strip"
    >
      <Box
        sx={{ width: FOLD, flexShrink: 0, display: "flex", flexDirection: "column", alignItems: "center" }}
      >
        <Action
          name={strip === "folded" ? "Show the strip" : "Fold the strip away"}
          onClick={() => set({ strip: strip === "folded" ? "row" : "folded" })}
        >
          {strip === "folded" ? <ChevronUp size={16} /> : <ChevronDown size={16} />}
        </Action>
        {first?.span.inbetween && strip !== "folded" && fits < NARROW && (
          <Action
            name="See all cards at once"
            pressed={all}
            onClick={() => set({ strip: all ? "row" : "all" })}
          >
            <LayoutGrid size={16} />
          </Action>
        )}
      </Box>
      {first && second?.frame === first.frame + 1 ? (
        <Soft sx={{ alignSelf: "center" }}>
          No frame lies between {first.frame} and {second.frame}.
        </Soft>
      ) : !span || !first || !second ? (
        <Soft sx={{ alignSelf: "center" }}>
          {layer?.picture
            ? "A picture has no in-betweens. Choose a drawn layer on the timeline to see its own here."
            : layer?.cycle
              ? "This layer plays another one's keys: their in-betweens are on that layer."
              : first
                ? "Working it out…"
                : "A second key on this layer makes a span: its in-betweens appear here. Go to a later frame and press X."}
        </Soft>
      ) : !first.span.inbetween ? (
        <Box sx={{ alignSelf: "center", display: "flex", gap: 1.5, alignItems: "center" }}>
          <Soft>
            From {first.frame} to {second.frame} the first key is held.
          </Soft>
          <ButtonBase
            sx={{ font: "inherit", color: "primary.main", fontWeight: 600, p: 0.5 }}
            onClick={actions.toggleInbetween}
          >
            In-between this span (R)
          </ButtonBase>
        </Box>
      ) : (
        strip !== "folded" && (
          <Box
            sx={{
              display: "flex",
              flexWrap: all ? "wrap" : "nowrap",
              gap: `${GAP}px`,
              overflow: "auto",
              py: 0.75,
              pr: 1,
              alignItems: "stretch",
            }}
          >
            {drawn.map((number, k) => (
              <Card
                key={number}
                spanKey={first.id}
                frame={first.frame + number}
                until={first.frame + (drawn[k + 1] ?? number + 1)}
                number={number}
                width={Math.max(NARROW, Math.min(WIDE, fits))}
                height={all ? LOW : HIGH}
                ground={ground}
                place={span.places[number] ?? 0}
                name={(number === 0 ? first.name : k === drawn.length - 1 ? second.name : null) ?? null}
                worst={Math.max(
                  0,
                  ...(found[first.id]?.snags ?? [])
                    .filter((s) => s.frames.includes(first.frame + number))
                    .map((s) => s.severity),
                )}
                drawing={number === 0 ? first.drawing : k === drawn.length - 1 ? second.drawing : null}
              />
            ))}
          </Box>
        )
      )}
    </Box>
  );
}
