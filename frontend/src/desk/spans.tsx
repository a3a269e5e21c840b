import { useQueries } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo, useRef } from "react";
import { api } from "../api/client";
import type { Found, Key, Layer, SpanView } from "../api/types";
import { useAtHand, useDesk, useScene } from "./state";

type Spans = Record<string, SpanView>;
type Shown = { spans: Spans; found: Record<string, Found> };

const SpansContext = createContext<Shown>({ spans: {}, found: {} });

/** The in-betweens of all spans that are shown, by their first key; a preview takes the place of what it tries out. */
export const useSpans = () => useContext(SpansContext).spans;

/** What was found in them when they were last looked at: while something is dragged, that is a moment ago. */
export const useFound = () => useContext(SpansContext).found;

type Wanted = { first: Key; second: Key };

function spansOf(layer: Layer): Wanted[] {
  return layer.keys.flatMap((first, k) => {
    const second = layer.keys[k + 1];
    return second ? [{ first, second }] : [];
  });
}

/** How to ask for a span: what its in-betweens hang on is in the key. */
const asked = (scene: string, { first, second }: Wanted) => ({
  queryKey: [
    "span",
    scene,
    first.id,
    first.drawing,
    second.drawing,
    second.frame - first.frame,
    first.frame,
    first.span.take,
  ],
  queryFn: () => api.span(scene, first.id),
  staleTime: Number.POSITIVE_INFINITY,
});

export function SpansProvider({ children }: { children: ReactNode }) {
  const scene = useScene();
  const at = useAtHand();
  const preview = useDesk((s) => s.preview);
  const wanted = scene.layers
    .flatMap(spansOf)
    .filter(({ first }) => first.span.inbetween || first.id === at.first?.id);
  // what is looked at does not wait for all the others
  const own = wanted.filter(({ first }) => first.id === at.first?.id);
  const [awaited] = useQueries({ queries: own.map((each) => asked(scene.id, each)) });
  const answers = useQueries({
    queries: wanted.map((each) => ({
      ...asked(scene.id, each),
      enabled: own.includes(each) || !awaited?.isLoading,
    })),
    combine: (results) => results.map((r) => r.data),
  });
  const keys = wanted.map((w) => w.first.id).join();
  // what was last seen of a span, a preview too, stands until the server's next answer: nothing flickers
  const last = useRef<Shown>({ spans: {}, found: {} });
  const shown = useMemo(() => {
    const spans: Spans = {};
    keys.split(",").forEach((key, k) => {
      const data = answers[k] ?? last.current.spans[key];
      if (data) spans[key] = data;
    });
    if (preview) spans[preview.key] = preview.span;
    const found: Shown["found"] = {};
    for (const [key, span] of Object.entries(spans)) {
      const seen = span.found ?? last.current.found[key];
      if (seen) found[key] = seen;
    }
    last.current = { spans, found };
    return last.current;
  }, [answers, keys, preview]);
  return <SpansContext.Provider value={shown}>{children}</SpansContext.Provider>;
}

/** The spans, one of them as another take would have it. */
export function WithSpan({ span, children }: { span: SpanView; children: ReactNode }) {
  const shown = useContext(SpansContext);
  const own = useMemo(() => ({ ...shown, spans: { ...shown.spans, [span.key]: span } }), [shown, span]);
  return <SpansContext.Provider value={own}>{children}</SpansContext.Provider>;
}
