import type { Gradient, Paint, Shape } from "../api/types";
import { boxOf } from "../stage/pieces";

type Stop = Gradient["stops"][number];

const parts = (color: string) => [1, 3, 5].map((k) => Number.parseInt(color.slice(k, k + 2), 16));

/** The stop that lies between its neighbours at a share: it changes nothing until it is changed itself. */
export function mixed(stops: Stop[], share: number): Stop {
  const after = stops.find((s) => s.at >= share) ?? stops.at(-1);
  const before = stops.findLast((s) => s.at <= share) ?? stops[0];
  if (!after || !before) return { at: share, color: "#808080", opacity: 1, swatch: null };
  const t = after.at > before.at ? (share - before.at) / (after.at - before.at) : 0;
  const [a, b] = [parts(before.color), parts(after.color)];
  const color = a.map((v, k) => Math.round(v + t * ((b[k] ?? v) - v)));
  const hex = color.map((v) => v.toString(16).padStart(2, "0")).join("");
  return {
    at: share,
    color: `#${hex}`,
    opacity: before.opacity + t * (after.opacity - before.opacity),
    swatch: null,
  };
}

/** A paint as one of a kind; a new gradient goes over the shape, from its colour to a clear or lighter one. */
export function asKind(paint: Paint, kind: "even" | Gradient["kind"], shape: Shape | undefined): Paint {
  if (kind === "even")
    return { ...paint, gradient: null, color: paint.gradient?.stops[0]?.color ?? paint.color };
  const box = (shape && boxOf([shape])) ?? { x: 0, y: 0, width: 100, height: 100 };
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  const stops = paint.gradient?.stops ?? [
    { at: 0, color: paint.color, opacity: 1, swatch: paint.swatch },
    { at: 1, color: lighter(paint.color), opacity: 1, swatch: null },
  ];
  const gradient: Gradient =
    kind === "linear"
      ? { kind, start: [cx, box.y], end: [cx, box.y + box.height], squash: 1, focus: null, stops }
      : {
          kind,
          start: [cx, cy],
          end: [cx + Math.max(box.width, box.height) / 2, cy],
          squash: 1,
          focus: null,
          stops,
        };
  return { ...paint, swatch: null, gradient };
}

const lighter = (color: string) =>
  `#${parts(color)
    .map((v) =>
      Math.round(v + (255 - v) * 0.6)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
