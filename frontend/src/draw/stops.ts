import { create } from "zustand";

type State = { part: "fill" | "line"; index: number; set: (changes: Partial<Omit<State, "set">>) => void };

/** Which gradient is edited, and which of its stops. */
export const useStop = create<State>((set) => ({ part: "fill", index: 0, set }));
