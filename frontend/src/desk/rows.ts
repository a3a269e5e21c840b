import type { KeyboardEvent } from "react";

/** The keys of a row in a list: Enter chooses it, the arrows go to the rows beside it. */
export const rowKeys =
  (choose: (event: KeyboardEvent<HTMLElement>) => void) => (event: KeyboardEvent<HTMLElement>) => {
    if (event.target !== event.currentTarget) return;
    if (event.key === "Enter") choose(event);
    const row = event.currentTarget;
    const next = { ArrowDown: row.nextElementSibling, ArrowUp: row.previousElementSibling }[event.key];
    if (!(next instanceof HTMLElement)) return;
    event.preventDefault();
    event.stopPropagation();
    next.focus();
  };
