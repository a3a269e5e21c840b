import type { PairView, SpanView } from "../api/types";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk } from "../desk/state";
import { Ghost, Layers, OnionSkin, useShownFrame } from "../stage/Layers";
import { Mark } from "../stage/Mark";
import { Paper } from "../stage/Paper";
import type { Lens } from "../stage/viewport";
import { PathHandles } from "./PathHandles";

/** One stage with the trails on which the shapes of the span at hand travel. */
export function TimeStage() {
  const { first } = useAtHand();
  const spans = useSpans();
  const bare = useDesk((s) => s.bare);
  const frame = useShownFrame();
  const span = first && spans[first.id];
  const pair = useDesk((s) => s.pair);
  const set = useDesk((s) => s.set);
  const chosen = span?.pairs.find((p) => pair && p.first === pair.first && p.second === pair.second);
  return (
    <Paper
      name="stage"
      onPress={() => set({ pair: null })}
      over={(lens) => (
        <>
          <OnionSkin />
          <Ghost />
          {!bare && span && first.span.inbetween && <Trails span={span} lens={lens} chosen={chosen} />}
          {!bare && first && chosen && <PathHandles spanKey={first.id} pair={chosen} lens={lens} />}
          <Mark lens={lens} />
        </>
      )}
    >
      {() => <Layers frame={frame} />}
    </Paper>
  );
}

/** The mean of a row's nodes, with its frame; nothing for an empty row. */
function middle(row: number[], frame: number): [number, number, number][] {
  if (!row.length) return [];
  let [x, y] = [0, 0];
  for (let k = 2; k < row.length; k += 6) {
    x += row[k] as number;
    y += row[k + 1] as number;
  }
  return [[(x * 6) / row.length, (y * 6) / row.length, frame]];
}

type TrailsProps = { span: SpanView; lens: Lens; chosen: PairView | undefined };

function Trails({ span, lens, chosen }: TrailsProps) {
  const px = 1 / lens.scale;
  const set = useDesk((s) => s.set);
  return span.tracks.map((track, index) => {
    const pair = span.pairs[index];
    const on = chosen === undefined || pair === chosen;
    const points = track.points.flatMap((row, number) => middle(row, span.frames[number] ?? 0));
    const line = points.map(([x, y]) => `${x},${y}`).join(" ");
    return (
      <g
        key={`${track.first} ${track.second}`}
        opacity={on ? 1 : 0.3}
        cursor="pointer"
        data-trail={track.first ?? track.second}
        onPointerDown={(event) => {
          event.stopPropagation();
          if (pair) set({ pair: { first: pair.first, second: pair.second } });
        }}
      >
        <polyline points={line} fill="none" stroke="transparent" strokeWidth={14 * px} />
        <polyline
          points={line}
          fill="none"
          stroke="var(--panel)"
          strokeWidth={3.2 * px}
          opacity={0.7}
          strokeLinejoin="round"
        />
        <polyline
          points={line}
          fill="none"
          stroke="var(--crust)"
          strokeWidth={(on && chosen ? 2.2 : 1.4) * px}
        />
        {points.map(([x, y, frame], k) => (
          <circle
            key={frame}
            cx={x}
            cy={y}
            r={(k === 0 || k === points.length - 1 ? 3.6 : 2.2) * px}
            fill="var(--crust)"
            stroke="var(--panel)"
            strokeWidth={0.8 * px}
          />
        ))}
      </g>
    );
  });
}
