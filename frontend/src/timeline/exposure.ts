import type { Exposure, Key, Layer } from "../api/types";

/** Which frames of a span, counted from its first key, show a drawing of their own; the second key's is the last. */
export function drawnIn(first: Key, second: Key): number[] {
  const count = second.frame - first.frame;
  const each = first.span.take.exposure;
  return [...Array.from({ length: Math.ceil(count / each) }, (_, k) => k * each), count];
}

/** What a key is, and what it is called. */
export const keyName = (key: Key) =>
  `${key.breakdown ? "Breakdown" : "Key"}${key.name ? ` “${key.name}”` : ""}`;

export const isSame = (one: Exposure | null | undefined, other: Exposure | null | undefined) =>
  one?.key === other?.key && one?.number === other?.number;

/** The frame among a layer's keys that is shown at a frame: another one where the layer is played again. */
export function playedAt(layer: Layer | null, exposure: Exposure | null | undefined, frame: number): number {
  const last = layer?.keys.at(-1)?.frame ?? frame;
  if (!layer || !exposure || layer.repeat === "once" || frame <= last) return frame;
  return (layer.keys.find((key) => key.id === exposure.key)?.frame ?? frame) + exposure.number;
}
