import { useQueries } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo, useRef } from "react";
import { api } from "../api/client";
import type { Key, Layer, SpanView } from "../api/types";
import { useAtHand, useDesk, useScene } from "./state";

type Spans = Record<string, SpanView>;

const SpansContext = createContext<Spans>({});

/** The in-betweens of all spans that are shown, by their first key; a preview takes the place of what it tries out. */
export const useSpans = () => useContext(SpansContext);

type Wanted = { first: Key; second: Key };

function spansOf(layer: Layer): Wanted[] {
  return layer.keys.flatMap((first, k) => {
    const second = layer.keys[k + 1];
    return second ? [{ first, second }] : [];
  });
}

export function SpansProvider({ children }: { children: ReactNode }) {
  const scene = useScene();
  const at = useAtHand();
  const preview = useDesk((s) => s.preview);
  const wanted = scene.layers
    .flatMap(spansOf)
    .filter(({ first }) => first.span.inbetween || first.id === at.first?.id);
  const answers = useQueries({
    queries: wanted.map(({ first, second }) => ({
      queryKey: [
        "span",
        scene.id,
        first.id,
        first.drawing,
        second.drawing,
        second.frame - first.frame,
        first.frame,
        first.span.take,
      ],
      queryFn: () => api.span(scene.id, first.id),
      staleTime: Number.POSITIVE_INFINITY,
    })),
    combine: (results) => results.map((r) => r.data),
  });
  const keys = wanted.map((w) => w.first.id).join();
  // what was last seen of a span, a preview too, stands until the server's next answer: nothing flickers
  const last = useRef<Spans>({});
  const spans = useMemo(() => {
    const found: Spans = {};
    keys.split(",").forEach((key, k) => {
      const data = answers[k] ?? last.current[key];
      if (data) found[key] = data;
    });
    if (preview) found[preview.key] = preview.span;
    last.current = found;
    return found;
  }, [answers, keys, preview]);
  return <SpansContext.Provider value={spans}>{children}</SpansContext.Provider>;
}
