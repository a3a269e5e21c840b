import type { SpanView } from "../api/types";
import { useSpans } from "../desk/spans";
import { useAtHand, useDesk } from "../desk/state";
import { Ghost, Layers, OnionSkin, useShownFrame } from "../stage/Layers";
import { Paper } from "../stage/Paper";
import type { Lens } from "../stage/viewport";

/** One stage with the trails on which the shapes of the span at hand travel. */
export function TimeStage() {
  const { first } = useAtHand();
  const spans = useSpans();
  const bare = useDesk((s) => s.bare);
  const frame = useShownFrame();
  const span = first && spans[first.id];
  return (
    <Paper
      name="stage"
      over={(lens) => (
        <>
          <OnionSkin />
          <Ghost />
          {!bare && span && first.span.inbetween && <Trails span={span} lens={lens} />}
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

function Trails({ span, lens }: { span: SpanView; lens: Lens }) {
  const px = 1 / lens.scale;
  return span.tracks.map((track) => {
    const points = track.points.flatMap((row, number) => middle(row, span.frames[number] ?? 0));
    return (
      <g key={track.first ?? track.second} pointerEvents="none">
        <polyline
          points={points.map(([x, y]) => `${x},${y}`).join(" ")}
          fill="none"
          stroke="var(--panel)"
          strokeWidth={3.2 * px}
          opacity={0.7}
          strokeLinejoin="round"
        />
        <polyline
          points={points.map(([x, y]) => `${x},${y}`).join(" ")}
          fill="none"
          stroke="var(--crust)"
          strokeWidth={1.4 * px}
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
