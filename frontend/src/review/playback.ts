import { useEffect, useState } from "react";
import { useDesk } from "../desk/state";

/** Frames in the order they are shown, for one round: there and back shows neither end drawing twice. */
export function roundOf(from: number, to: number, thereAndBack: boolean): number[] {
  const there = Array.from({ length: to - from + 1 }, (_, k) => from + k);
  return thereAndBack ? [...there, ...there.slice(1, -1).toReversed()] : there;
}

/** Plays at the true rate: the clock says which frame is due. Returns the share of due frames that were shown. */
export function usePlayback(): number | null {
  const playing = useDesk((s) => s.playing);
  const [kept, setKept] = useState<number | null>(null);
  useEffect(() => {
    if (!playing) return;
    let [handle, began, shown, last] = [0, performance.now(), 0, -1];
    let pace = "";
    const tick = (now: number) => {
      const { doc, loop, thereAndBack, speed, set } = useDesk.getState();
      if (!doc) return;
      const [from, to] = loop ?? [1, doc.scene.length];
      const round = roundOf(from, Math.min(to, doc.scene.length), thereAndBack);
      const own = `${from} ${to} ${thereAndBack} ${speed} ${doc.scene.rate}`;
      if (own !== pace) [pace, began, shown, last] = [own, now, 0, -1];
      const due = Math.floor(((now - began) / 1000) * doc.scene.rate * speed);
      if (due !== last) {
        shown++;
        last = due;
        set({ frame: round[due % round.length] ?? from });
        if (due >= doc.scene.rate) setKept(Math.min(1, shown / (due + 1)));
      }
      handle = requestAnimationFrame(tick);
    };
    handle = requestAnimationFrame(tick);
    return () => {
      cancelAnimationFrame(handle);
      setKept(null);
    };
  }, [playing]);
  return kept;
}
