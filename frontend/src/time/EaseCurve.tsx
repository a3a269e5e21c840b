import { useRef, useState } from "react";
import { follow } from "../stage/viewport";

export type Ease = { out: number; into: number };

const SIZE = 232;
const PAD = 22;
const REACH = 0.36;

type Props = {
  ease: Ease;
  /** Of all frames of the span. */
  places: number[];
  /** Those of them that show a drawing of their own. */
  drawn: number[];
  onDrag: (ease: Ease) => void;
  onDone: (ease: Ease) => void;
};

const x = (t: number) => PAD + t * (SIZE - 2 * PAD);
const y = (p: number) => SIZE - PAD - p * (SIZE - 2 * PAD);

/** The ease curve: time runs to the right, the place between the keys rises. Either knob tilts its end of the curve. */
export function EaseCurve({ ease, places, drawn, onDrag, onDone }: Props) {
  const ref = useRef<SVGSVGElement>(null);
  const [draft, setDraft] = useState<Ease | null>(null);
  const now = draft ?? ease;
  // the curve is drawn as the cubic Bézier with the speeds of both ends as its handles
  const [leave, arrive] = [1 - now.out, 1 - now.into];
  const curve = `M${x(0)} ${y(0)}C${x(1 / 3)} ${y(leave / 3)} ${x(2 / 3)} ${y(1 - arrive / 3)} ${x(1)} ${y(1)}`;

  const drag = (end: keyof Ease) => (event: React.PointerEvent) => {
    event.preventDefault();
    let next = now;
    follow(
      (move) => {
        const box = ref.current?.getBoundingClientRect();
        if (!box) return;
        const rise = (box.bottom - PAD - move.clientY) / (SIZE - 2 * PAD);
        const speed = (end === "out" ? rise : 1 - rise) / REACH;
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
  const knobs = { out: [x(REACH), y(leave * REACH)], into: [x(1 - REACH), y(1 - arrive * REACH)] } as const;
  return (
    <svg
      ref={ref}
      width={SIZE}
      height={SIZE}
      data-testid="ease-curve"
      role="img"
      aria-label="Ease curve"
      style={{ display: "block", touchAction: "none" }}
    >
      <rect
        x={PAD}
        y={PAD}
        width={SIZE - 2 * PAD}
        height={SIZE - 2 * PAD}
        fill="var(--table)"
        stroke="var(--line)"
        rx={4}
      />
      <line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke="var(--line)" strokeDasharray="3 4" />
      {drawn.map((number) => {
        const [t, place] = [number / (drawn.at(-1) ?? 1), places[number]];
        return place === undefined ? null : (
          <g key={t}>
            <line x1={SIZE - PAD} x2={SIZE - PAD + 7} y1={y(place)} y2={y(place)} stroke="var(--ink)" />
            <circle cx={x(t)} cy={y(place)} r={2.6} fill="var(--ink)" />
          </g>
        );
      })}
      <path d={curve} fill="none" stroke="var(--crust)" strokeWidth={2} />
      <line x1={x(0)} y1={y(0)} x2={knobs.out[0]} y2={knobs.out[1]} stroke="var(--rye)" />
      <line x1={x(1)} y1={y(1)} x2={knobs.into[0]} y2={knobs.into[1]} stroke="var(--rye)" />
      <circle
        data-knob="out"
        cx={knobs.out[0]}
        cy={knobs.out[1]}
        r={7}
        fill="var(--panel)"
        stroke="var(--rye)"
        strokeWidth={2}
        cursor="ns-resize"
        onPointerDown={drag("out")}
      />
      <circle
        data-knob="into"
        cx={knobs.into[0]}
        cy={knobs.into[1]}
        r={7}
        fill="var(--panel)"
        stroke="var(--rye)"
        strokeWidth={2}
        cursor="ns-resize"
        onPointerDown={drag("into")}
      />
      <text x={SIZE / 2} y={SIZE - 5} fontSize={11} textAnchor="middle" fill="var(--soft)">
        time
      </text>
      <text
        x={11}
        y={SIZE / 2}
        fontSize={11}
        textAnchor="middle"
        fill="var(--soft)"
        transform={`rotate(-90 11 ${SIZE / 2})`}
      >
        place between the keys
      </text>
    </svg>
  );
}
