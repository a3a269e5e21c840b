import { Slider, type SliderProps } from "@mui/material";
import { useEffect, useRef, useState } from "react";

const REST = 400; // ms without a key after which a value set by keys counts: holding an arrow is one step to undo

type Props<T> = Omit<SliderProps, "value" | "defaultValue" | "onChange" | "onChangeCommitted"> & {
  value: T;
  onMove?: (value: T) => void;
  onCommit: (value: T) => unknown;
};

/** A slider of what the scene says. From the first move until its value is kept, it shows its own. */
export function Slide<T extends number | number[]>({ value, onMove, onCommit, ...rest }: Props<T>) {
  const [moved, setMoved] = useState<T | null>(null);
  const waiting = useRef<{ timer: number; keep: () => void } | null>(null);

  const keep = async (next: T) => {
    await onCommit(next);
    setMoved((latest) => (latest === next ? null : latest));
  };
  const flush = () => {
    const due = waiting.current;
    waiting.current = null;
    if (due) {
      clearTimeout(due.timer);
      due.keep();
    }
  };
  const flushed = useRef(flush);
  flushed.current = flush;
  useEffect(() => () => flushed.current(), []);

  return (
    <Slider
      {...rest}
      value={moved ?? value}
      onBlur={flush}
      onChange={(_, next) => {
        setMoved(next as T);
        onMove?.(next as T);
      }}
      onChangeCommitted={(event, next) => {
        setMoved(next as T); // of two handles, the very same pair: by it is known whether it is still the latest
        if (waiting.current) clearTimeout(waiting.current.timer);
        waiting.current = { timer: window.setTimeout(flush, REST), keep: () => void keep(next as T) };
        if (!("nativeEvent" in event)) flush(); // the pointer was let go
      }}
    />
  );
}
