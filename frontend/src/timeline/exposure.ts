import type { Exposure, Key } from "../api/types";

/** Which frames of a span, counted from its first key, show a drawing of their own; the second key's is the last. */
export function drawnIn(first: Key, second: Key): number[] {
  const count = second.frame - first.frame;
  const each = first.span.take.exposure;
  return [...Array.from({ length: Math.ceil(count / each) }, (_, k) => k * each), count];
}

export const isSame = (one: Exposure | null | undefined, other: Exposure | null | undefined) =>
  one?.key === other?.key && one?.number === other?.number;
