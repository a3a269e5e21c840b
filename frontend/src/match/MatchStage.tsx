import { Box, Typography } from "@mui/material";
import { type PointerEvent as ReactPointerEvent, useMemo, useRef, useState } from "react";
import type { HintView, Operation, PairView, Point, SpanView } from "../api/types";
import { Soft } from "../desk/Soft";
import { useFound, useSpans } from "../desk/spans";
import { useAtHand, useDesk, usePicked } from "../desk/state";
import { useGround } from "../stage/ground";
import { Mark } from "../stage/Mark";
import { Paper } from "../stage/Paper";
import { Pieces } from "../stage/Pieces";
import { boxOf, type Box as Extent, piecesOfDrawing, piecesOfSpan } from "../stage/pieces";
import { follow, type Lens, toScene, useSize } from "../stage/viewport";
import { keyName } from "../timeline/exposure";
import { Balance } from "./Balance";
import { Glyph } from "./glyphs";
import { ProposalGhosts } from "./Proposals";
import { Threads } from "./Threads";

export type Side = "first" | "second";

const fresh = () => crypto.randomUUID().replaceAll("-", "").slice(0, 12);

/** The two keys beside each other, tied by threads: pairs from centre to centre, hints from point to point. */
export function MatchStage() {
  const { layer, first, second } = useAtHand();
  const ground = useGround(layer);
  const spans = useSpans();
  const [ref, size] = useSize<HTMLDivElement>();
  const lenses = useRef<{ first?: Lens; second?: Lens }>({});
  const [, redraw] = useState(0);
  const span = first && spans[first.id];
  const found = useFound()[first?.id ?? ""];
  const bare = useDesk((s) => s.bare);

  const drawings = useDesk((s) => s.drawings);
  const proposed = useDesk((s) => s.proposals?.key === first?.id);
  const focus = useMemo(
    () => boxOf([first, second].flatMap((key) => (key && drawings[key.drawing]?.shapes) || [])),
    [first, second, drawings],
  );

  if (!first || !second)
    return (
      <Box sx={{ flex: 1, display: "grid", placeItems: "center", bgcolor: "background.default" }}>
        <Soft>Two keys are needed to match them. Add a second key on this layer in Draw.</Soft>
      </Box>
    );
  const keep = (side: Side) => (lens: Lens) => {
    const old = lenses.current[side];
    if (!old || old.left !== lens.left || old.top !== lens.top || old.scale !== lens.scale) {
      lenses.current[side] = lens;
      queueMicrotask(() => redraw((n) => n + 1));
    }
  };
  return (
    <Box ref={ref} sx={{ flex: 1, display: "flex", minWidth: 0, minHeight: 0, position: "relative" }}>
      <Pane
        side="first"
        title={`${keyName(first)} at ${first.frame}`}
        drawing={first.drawing}
        spanKey={first.id}
        span={span}
        focus={focus}
        ground={ground}
        onLens={keep("first")}
      />
      <Box sx={{ width: 6, bgcolor: "divider" }} />
      <Pane
        side="second"
        title={`${keyName(second)} at ${second.frame}`}
        drawing={second.drawing}
        spanKey={first.id}
        span={span}
        focus={focus}
        ground={ground}
        onLens={keep("second")}
      />
      {span && !bare && !proposed && <Threads span={span} size={size} lenses={lenses.current} />}
      {span && found && <Balance span={span} now={found.balance} />}
    </Box>
  );
}

/** The in-between on which a snag is looked at, over a key, with the place marked. */
function Marked({ span, lens }: { span: SpanView | null | undefined; lens: Lens }) {
  const mark = useDesk((s) => s.mark);
  const number = mark && span ? mark.frame - (span.frames[0] ?? 0) : -1;
  if (!mark || !span || number < 0) return null;
  return (
    <g pointerEvents="none">
      <Pieces pieces={piecesOfSpan(span, number)} tint="var(--crust)" />
      <Mark lens={lens} />
    </g>
  );
}

type PaneProps = {
  side: Side;
  title: string;
  drawing: string;
  spanKey: string;
  span: SpanView | null | undefined;
  focus: Extent | null;
  ground: string;
  onLens: (lens: Lens) => void;
};

function Pane({ side, title, drawing, spanKey, span, focus, ground, onLens }: PaneProps) {
  const shapes = useDesk((s) => s.drawings[drawing]?.shapes);
  const { pair, hint, bare, set, edit, tryOut } = usePicked("pair", "hint", "bare", "set", "edit", "tryOut");
  if (!shapes) return null;
  const pieces = piecesOfDrawing({ shapes });
  const other: Side = side === "first" ? "second" : "first";
  const pairOf = (shape: string) => span?.pairs.find((p) => p[`${side}s`].includes(shape)) ?? null;
  const own = span?.pairs.find((p) => pair && p.first === pair.first && p.second === pair.second);
  const chosen = own?.[`${side}s`] ?? [];

  const snap = (lens: Lens, event: { altKey: boolean }) => (event.altKey ? 0 : 12 / lens.scale);
  const shapeAt = (event: { clientX: number; clientY: number }) =>
    document
      .elementsFromPoint(event.clientX, event.clientY)
      .map((e) => e.closest<SVGElement>(`[data-side=${side}] [data-shape]`)?.dataset.shape)
      .find(Boolean);

  const press = (point: Point, event: ReactPointerEvent, lens: Lens) => {
    const shape = (event.target as Element).closest<SVGElement>("[data-shape]")?.dataset.shape;
    if (!shape) return set({ pair: null, hint: null });
    if (event.ctrlKey && pair?.[other] && !pair[side]) return pairByHand(shape);
    const found = pairOf(shape);
    if (!chosen.includes(shape) || !found)
      return set({ pair: found && { first: found.first, second: found.second }, hint: null });
    // the pair is chosen already: a press on it begins a hint, tied to where the point goes today
    const id = fresh();
    const svg = event.currentTarget;
    const spot = (at: Point) => ({ shape, at });
    const make = (at: Point, e: { altKey: boolean }): Operation => ({
      type: "add_hint",
      key: spanKey,
      id,
      first: side === "first" ? spot(at) : null,
      second: side === "second" ? spot(at) : null,
      snap: snap(lens, e),
    });
    let operation = make(point, event);
    tryOut(operation, spanKey);
    follow(
      (move) => {
        operation = make(toScene(lens, svg, move), move);
        tryOut(operation, spanKey);
      },
      () => void edit(operation).then((done) => done && set({ hint: id })),
    );
  };

  const pairByHand = (shape: string) => {
    const both = { first: pair?.first ?? null, second: pair?.second ?? null, [side]: shape };
    void edit({
      type: "pair_shapes",
      key: spanKey,
      first: both.first,
      second: both.second,
      also: false,
    }).then(() => set({ pair: both }));
  };

  const dragHint = (each: HintView, lens: Lens) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    const svg = (event.currentTarget as SVGElement).ownerSVGElement as SVGSVGElement;
    const owner = side === "first" ? each.first_shape : each.second_shape;
    const found = pairOf(owner);
    const tied = span?.pairs.some(
      (p) => p.firsts.includes(each.first_shape) && p.seconds.includes(each.second_shape),
    );
    const anywhere = !tied && found?.[other] !== null; // where a shape without a partner grows
    set({ hint: each.id, pair: found && { first: found.first, second: found.second } });
    let operation: Operation | null = null;
    follow(
      (move) => {
        const to = { shape: (anywhere && shapeAt(move)) || owner, at: toScene(lens, svg, move) };
        operation = { type: "move_hint", key: spanKey, hint: each.id, end: side, to, snap: snap(lens, move) };
        tryOut(operation, spanKey);
      },
      () => operation && void edit(operation),
    );
  };

  const dragThread = (each: PairView) => (event: ReactPointerEvent) => {
    event.stopPropagation();
    set({ pair: { first: each.first, second: each.second } });
    follow(
      () => undefined,
      (end) => {
        const shape = shapeAt(end);
        if (!shape || shape === each[side]) return;
        const both = { first: each.first, second: each.second, [side]: shape };
        const also = end.shiftKey;
        void edit({ type: "pair_shapes", key: spanKey, first: both.first, second: both.second, also }).then(
          (done) => done && set({ pair: both }),
        );
      },
    );
  };

  return (
    <Box sx={{ flex: 1, minWidth: 0, display: "flex", position: "relative" }} data-side={side}>
      <Paper
        name={`match-${side}`}
        focus={focus}
        ground={ground}
        onPress={press}
        over={(lens) => {
          const px = 1 / lens.scale;
          return (
            <>
              {!bare &&
                span?.pairs.map((each, k) => {
                  if (each[side] === null) return null;
                  const on = each === own;
                  if (own && !on) return null;
                  const [x, y] = each[`${side}_centre`];
                  return (
                    <g
                      key={`${each.first} ${each.second}`}
                      opacity={on ? 1 : 0.75}
                      cursor="grab"
                      onPointerDown={dragThread(each)}
                      data-thread={each[side] ?? ""}
                    >
                      <circle cx={x} cy={y} r={9 * px} fill="transparent" />
                      <Glyph
                        index={k}
                        x={x}
                        y={y}
                        size={(on ? 1 : 0.7) * px}
                        color={each.by_hand ? "var(--crust)" : "var(--ink)"}
                      />
                    </g>
                  );
                })}
              {!bare &&
                span?.hints.map((each, k) => {
                  const [x, y] = each[side];
                  const color = each.trouble
                    ? "var(--beet)"
                    : hint === each.id
                      ? "var(--crust)"
                      : "var(--rye)";
                  return (
                    <g key={each.id} cursor="grab" onPointerDown={dragHint(each, lens)} data-hint={each.id}>
                      <circle cx={x} cy={y} r={11 * px} fill="transparent" />
                      <Glyph
                        index={k + 3}
                        x={x}
                        y={y}
                        size={px * (hint === each.id ? 1.15 : 0.95)}
                        color={color}
                      />
                    </g>
                  );
                })}
              {!bare && <ProposalGhosts spanKey={spanKey} side={side} lens={lens} />}
              <Marked span={span} lens={lens} />
            </>
          );
        }}
      >
        {(lens) => {
          onLens(lens);
          const px = 1 / lens.scale;
          return (
            <>
              {pieces.map((piece) => (
                <g
                  key={piece.id}
                  opacity={chosen.length && !chosen.includes(piece.id) ? 0.3 : 1}
                  pointerEvents="all"
                  cursor={chosen.includes(piece.id) ? "crosshair" : "pointer"}
                >
                  <Pieces pieces={[piece]} />
                  {chosen.includes(piece.id) && !bare && (
                    <g fill="none" pointerEvents="none">
                      <path d={piece.d} stroke="var(--panel)" strokeWidth={3 * px} />
                      <path
                        d={piece.d}
                        stroke="var(--rye)"
                        strokeWidth={2 * px}
                        strokeDasharray={`${5 * px} ${3 * px}`}
                      />
                    </g>
                  )}
                </g>
              ))}
            </>
          );
        }}
      </Paper>
      <Typography
        sx={{
          position: "absolute",
          left: 10,
          top: 6,
          fontWeight: 700,
          fontSize: 12,
          bgcolor: "background.paper",
          px: 1,
          py: 0.25,
          borderRadius: 1,
          pointerEvents: "none",
        }}
      >
        {title}
      </Typography>
    </Box>
  );
}
