import { useRef, useState } from "react";
import type { Ease } from "../api/types";
import { follow } from "../stage/viewport";

const [WIDTH, HEIGHT] = [232, 188];
const PAD = 22;
const REACH = 0.36;

type End = "out" | "into";

type Props = {
  ease: Ease;
  /** Of all frames of the span. */
  places: number[];
  /** Those of them that show a drawing of their own. */
  drawn: number[];
  /** The place at even times, as the core has it. */
  curve: number[];
  /** Whether the places were set by hand, each by itself. */
  charted: boolean;
  onDrag: (ease: Ease) => void;
  onDone: (ease: Ease) => void;
  /** A frame's drawing is to stand at a place. */
  onTick: (number: number, place: number, done: boolean) => void;
};

/** A place that an in-between may be set to. */
const within = (place: number) => Math.round(Math.min(1.5, Math.max(-0.5, place)) * 100) / 100;
const x = (t: number) => PAD + t * (WIDTH - 2 * PAD);

/**
 * The ease curve: time runs to the right, the place between the keys rises. Either knob tilts its end of the curve,
 * unless that anticipates or overshoots there, and so begins or ends the other way.
 */
export function EaseCurve({ ease, places, drawn, curve, charted, onDrag, onDone, onTick }: Props) {
  const ref = useRef<SVGSVGElement>(null);
  const [draft, setDraft] = useState<Ease | null>(null);
  const now = draft ?? ease;
  const [leave, arrive] = [1 - now.out, 1 - now.into];
  const [low, high] = [Math.min(0, ...curve), Math.max(1, ...curve)];
  const rise = (HEIGHT - 2 * PAD) / (high - low);
  const y = (p: number) => HEIGHT - PAD - (p - low) * rise;
  const placeOf = (move: PointerEvent, box: DOMRect) => low + (box.bottom - PAD - move.clientY) / rise;

  const drag = (end: End) => (event: React.PointerEvent) => {
    event.preventDefault();
    let next = now;
    follow(
      (move) => {
        const box = ref.current?.getBoundingClientRect();
        if (!box) return;
        const place = placeOf(move, box);
        const speed = (end === "out" ? place : 1 - place) / REACH;
        next = { ...now, [end]: Math.round(Math.min(1, Math.max(-1, 1 - speed)) * 100) / 100 };
        setDraft(next);
        onDrag(next);
      },
      () => {
        setDraft(null);
        onDone(next);
      },
      () => setDraft(null),
    );
  };
  const pull = (number: number) => (event: React.PointerEvent) => {
    event.preventDefault();
    let next: number | null = null;
    follow(
      (move) => {
        const box = ref.current?.getBoundingClientRect();
        if (!box) return;
        next = within(placeOf(move, box));
        onTick(number, next, false);
      },
      () => next !== null && onTick(number, next, true),
    );
  };
  const nudge = (event: React.KeyboardEvent, number: number, place: number) => {
    const step = { ArrowUp: 0.01, ArrowDown: -0.01 }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation(); // on the stage, arrows mean something else
    onTick(number, within(place + step), true);
  };
  const knobs: { end: End; from: [number, number]; to: [number, number] }[] = [];
  if (!now.anticipation && !charted) knobs.push({ end: "out", from: [0, 0], to: [REACH, leave * REACH] });
  if (!now.overshoot && !charted)
    knobs.push({ end: "into", from: [1, 1], to: [1 - REACH, 1 - arrive * REACH] });
  return (
    <svg
      ref={ref}
      width={WIDTH}
      height={HEIGHT}
      data-testid="ease-curve"
      role="img"
      aria-label="Ease curve"
      style={{ display: "block", touchAction: "none" }}
    >
      <rect
        x={PAD}
        y={PAD}
        width={WIDTH - 2 * PAD}
        height={HEIGHT - 2 * PAD}
        fill="var(--table)"
        stroke="var(--line)"
        rx={4}
      />
      <line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke="var(--line)" strokeDasharray="3 4" />
      {(low < 0 || high > 1) &&
        [0, 1].map((key) => (
          <line key={key} x1={x(0)} x2={x(1)} y1={y(key)} y2={y(key)} stroke="var(--line)" />
        ))}
      <polyline
        points={curve.map((place, k) => `${x(k / (curve.length - 1))},${y(place)}`).join(" ")}
        fill="none"
        stroke="var(--crust)"
        strokeWidth={2}
      />
      {drawn.map((number) => {
        const [t, place] = [number / (drawn.at(-1) ?? 1), places[number]];
        if (place === undefined) return null;
        return (
          <g key={t}>
            <line x1={WIDTH - PAD} x2={WIDTH - PAD + 7} y1={y(place)} y2={y(place)} stroke="var(--ink)" />
            <circle cx={x(t)} cy={y(place)} r={2.6} fill="var(--ink)" />
            {t > 0 && t < 1 && (
              <circle
                data-tick={number}
                cx={x(t)}
                cy={y(place)}
                r={7}
                fill="transparent"
                cursor="ns-resize"
                tabIndex={0}
                role="slider"
                aria-label={`In-between ${number}`}
                aria-valuenow={place}
                onPointerDown={pull(number)}
                onKeyDown={(event) => nudge(event, number, place)}
              >
                <title>Drag it up or down to set this in-between by itself</title>
              </circle>
            )}
          </g>
        );
      })}
      {knobs.map(({ end, from, to }) => (
        <g key={end}>
          <line x1={x(from[0])} y1={y(from[1])} x2={x(to[0])} y2={y(to[1])} stroke="var(--rye)" />
          <circle
            data-knob={end}
            cx={x(to[0])}
            cy={y(to[1])}
            r={7}
            fill="var(--panel)"
            stroke="var(--rye)"
            strokeWidth={2}
            cursor="ns-resize"
            onPointerDown={drag(end)}
          />
        </g>
      ))}
      <text x={WIDTH / 2} y={HEIGHT - 5} fontSize={11} textAnchor="middle" fill="var(--soft)">
        time
      </text>
      <text
        x={11}
        y={HEIGHT / 2}
        fontSize={11}
        textAnchor="middle"
        fill="var(--soft)"
        transform={`rotate(-90 11 ${HEIGHT / 2})`}
      >
        place between the keys
      </text>
    </svg>
  );
}
