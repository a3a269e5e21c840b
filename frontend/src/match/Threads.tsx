import type { Point, SpanView } from "../api/types";
import { useDesk } from "../desk/state";
import type { Lens, Size } from "../stage/viewport";

const GAP = 6;

/** Threads across both panes: the chosen pair's, and those of all hints. */
export function Threads({
  span,
  size,
  lenses,
}: {
  span: SpanView;
  size: Size;
  lenses: { first?: Lens; second?: Lens };
}) {
  const pair = useDesk((s) => s.pair);
  const hint = useDesk((s) => s.hint);
  const offers = useDesk((s) => (s.proposals?.key === span.key ? s.proposals.offers : null));
  const { first, second } = lenses;
  if (!first || !second) return null;
  const offset = (size.width - GAP) / 2 + GAP;
  const left = ([x, y]: Point) => [first.left + x * first.scale, first.top + y * first.scale] as const;
  const right = ([x, y]: Point) =>
    [offset + second.left + x * second.scale, second.top + y * second.scale] as const;
  const thread = (a: Point, b: Point) => {
    const [[x0, y0], [x1, y1]] = [left(a), right(b)];
    const bend = Math.min(80, (x1 - x0) / 3);
    return `M${x0} ${y0}C${x0 + bend} ${y0} ${x1 - bend} ${y1} ${x1} ${y1}`;
  };
  return (
    <svg
      width={size.width}
      height={size.height}
      style={{ position: "absolute", inset: 0, pointerEvents: "none" }}
      aria-hidden="true"
    >
      {span.pairs.map((each) => {
        if (each.first === null || each.second === null) return null;
        const on = pair?.first === each.first && pair?.second === each.second;
        if (pair && !on) return null;
        return (
          <Thread
            key={`${each.first} ${each.second}`}
            d={thread(each.first_centre, each.second_centre)}
            stroke={each.by_hand ? "var(--crust)" : each.confidence < 0.45 ? "var(--honey)" : "var(--ink)"}
            width={on ? 1.6 : 0.8}
            opacity={on ? 0.95 : 0.45}
          />
        );
      })}
      {offers?.map(({ hint: each }) => (
        <Thread
          key={each.id}
          d={thread(each.first.at, each.second.at)}
          stroke="var(--sage)"
          width={1.4}
          opacity={0.9}
          dashed
        />
      ))}
      {span.hints.map((each) => (
        <Thread
          key={each.id}
          d={thread(each.first, each.second)}
          stroke={each.trouble ? "var(--beet)" : hint === each.id ? "var(--crust)" : "var(--rye)"}
          width={hint === each.id ? 2 : 1.5}
          opacity={1}
          dashed={each.trouble !== null}
        />
      ))}
    </svg>
  );
}

type ThreadProps = { d: string; stroke: string; width: number; opacity: number; dashed?: boolean };

/** A line with a pale edge, so that it can be seen on dark and on light drawings. */
function Thread({ d, stroke, width, opacity, dashed }: ThreadProps) {
  const dash = dashed ? "6 5" : undefined;
  return (
    <g fill="none" opacity={opacity}>
      <path d={d} stroke="var(--panel)" strokeWidth={width + 2.5} opacity={0.75} />
      <path d={d} stroke={stroke} strokeWidth={width} strokeDasharray={dash} />
    </g>
  );
}
