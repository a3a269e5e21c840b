import { Box, ButtonBase, Typography } from "@mui/material";
import { Pin } from "lucide-react";
import { memo, useEffect, useRef } from "react";
import type { SpanView } from "../api/types";
import { Action } from "../desk/Action";
import { actions } from "../desk/actions";
import { useSpans } from "../desk/spans";
import { atHand, useDesk } from "../desk/state";
import { type Box as Extent, piecesOfDrawing, piecesOfSpan } from "../stage/pieces";
import { Picture } from "../stage/Thumb";
import { playedAt } from "../timeline/exposure";

const extents = new WeakMap<SpanView, Extent | null>();

/** What all frames of a span take up together, by the nodes of the keys and of what goes farthest beyond them. */
function extentOf(span: SpanView): Extent | null {
  const known = extents.get(span);
  if (known !== undefined) return known;
  let [left, top, right, bottom] = [1e9, 1e9, -1e9, -1e9];
  const { places } = span;
  const ends = [
    0,
    places.length - 1,
    places.indexOf(Math.min(...places)),
    places.indexOf(Math.max(...places)),
  ];
  for (const track of span.tracks)
    for (const row of ends.map((number) => track.points[number]))
      for (let k = 2; row && k < row.length; k += 6) {
        left = Math.min(left, row[k] as number);
        right = Math.max(right, row[k] as number);
        top = Math.min(top, row[k + 1] as number);
        bottom = Math.max(bottom, row[k + 1] as number);
      }
  const extent = left > right ? null : { x: left, y: top, width: right - left, height: bottom - top };
  extents.set(span, extent);
  return extent;
}

type PictureProps = {
  spanKey: string;
  number: number;
  width: number;
  height: number;
  /** What it is painted on. */
  ground: string;
  /** The drawing, on a key's card. */
  drawing: string | null;
};

/** What a card shows: a key as it is drawn, but while it is drawn on. It is painted anew while its card stays. */
function CardPicture({ spanKey, number, width, height, ground, drawing }: PictureProps) {
  const span = useSpans()[spanKey];
  const drawnOn = useDesk((s) => s.view === "draw" && s.preview?.key === spanKey);
  const drawn = useDesk((s) => (drawing && !drawnOn ? s.drawings[drawing] : undefined));
  if (!span) return null;
  const pieces = drawn ? piecesOfDrawing(drawn) : piecesOfSpan(span, number);
  return <Picture width={width - 4} height={height} pieces={pieces} box={extentOf(span)} paper={ground} />;
}

type CardProps = PictureProps & {
  frame: number;
  /** The first frame that shows another drawing. */
  until: number;
  place: number;
  /** What a key is called. */
  name: string | null;
  /** How bad the worst snag in this frame is, 0 to 1. */
  worst: number;
};

/** A key or an in-between on the strip: a click goes to it, the pointer over it shows it on the stage. */
export const Card = memo(function Card(props: CardProps) {
  const { frame, until, place, name, worst, width, drawing } = props;
  const ends = drawing !== null;
  const current = useDesk((s) => {
    const { layer, exposure } = atHand(s);
    const played = playedAt(layer, exposure, s.frame);
    return frame <= played && played < until;
  });
  const view = useDesk((s) => s.view); // the strip is not as wide in all of them
  const set = useDesk((s) => s.set);
  const ref = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another view may have cut it off
  useEffect(() => {
    if (current && !useDesk.getState().playing)
      ref.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [current, view]);
  return (
    <Box
      ref={ref}
      sx={{ position: "relative", flexShrink: 0, "&:hover .keep": { opacity: 1 } }}
      data-testid="card"
      data-frame={frame}
    >
      <ButtonBase
        aria-label={ends ? `Key at ${frame}${name ? `, ${name}` : ""}` : `In-between at ${frame}`}
        aria-pressed={current}
        onClick={() => actions.goTo(frame)}
        onMouseEnter={() => set({ ghost: frame })}
        onMouseLeave={() => set({ ghost: null })}
        sx={{
          flexDirection: "column",
          width,
          borderRadius: 1,
          border: 2,
          borderColor: current ? "secondary.main" : ends ? "text.secondary" : "divider",
          bgcolor: "background.paper",
          height: "100%",
        }}
      >
        <CardPicture {...props} />
        <Typography
          noWrap
          title={name ?? undefined}
          sx={{ fontSize: 12, lineHeight: "20px", maxWidth: width - 6, fontWeight: ends ? 700 : 400 }}
        >
          {ends ? (name ? `${frame} · ${name}` : `KEY ${frame}`) : `${frame} · ${place.toFixed(2)}`}
        </Typography>
      </ButtonBase>
      {worst > 0 && (
        <Box
          data-testid="card-foot"
          title={`A snag, ${Math.round(100 * worst)} of 100`}
          sx={{
            position: "absolute",
            left: 4,
            bottom: 4,
            height: 4,
            width: Math.max(6, (width - 8) * worst),
            borderRadius: 1,
            bgcolor: "error.main",
          }}
        />
      )}
      {!ends && (
        <Box
          className="keep"
          sx={{
            position: "absolute",
            right: 3,
            top: 3,
            opacity: 0,
            bgcolor: "background.paper",
            borderRadius: 1,
            "&:focus-within": { opacity: 1 },
          }}
        >
          <Action name={`Keep frame ${frame} as a breakdown`} onClick={() => actions.keepBreakdown(frame)}>
            <Pin size={14} />
          </Action>
        </Box>
      )}
    </Box>
  );
});
