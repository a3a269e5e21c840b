import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { ProposalView } from "../api/types";
import { Hollow } from "../desk/Section";
import { useDesk, useScene } from "../desk/state";
import type { Lens } from "../stage/viewport";
import { Glyph } from "./glyphs";

const percent = (gain: number) => `${Math.round(100 * gain)} % less distortion`;

async function accept(key: string, offers: ProposalView[]) {
  const { edit, set } = useDesk.getState();
  for (const { hint } of offers) {
    const done = await edit({
      type: "add_hint",
      key,
      id: hint.id as string,
      first: { shape: hint.first.shape, at: hint.first.at },
      second: { shape: hint.second.shape, at: hint.second.at },
      snap: 0.01,
    });
    if (!done) return;
    const left = useDesk.getState().proposals?.offers.filter((o) => o.hint.id !== hint.id) ?? [];
    set({ proposals: left.length ? { key, offers: left } : null, hint: hint.id as string });
  }
}

/** Asks for hints that would help; each can be accepted, or all of them. */
export function Proposals({ spanKey }: { spanKey: string }) {
  const scene = useScene();
  const proposals = useDesk((s) => (s.proposals?.key === spanKey ? s.proposals : null));
  const set = useDesk((s) => s.set);
  const [state, setState] = useState<"idle" | "asking" | "none">("idle");
  const ask = () => {
    setState("asking");
    api.proposals(scene.id, spanKey).then(
      (offers) => {
        set({ proposals: offers.length ? { key: spanKey, offers } : null });
        setState(offers.length ? "idle" : "none");
      },
      (error: Error) => {
        set({ notice: { kind: "error", text: error.message } });
        setState("idle");
      },
    );
  };
  if (!proposals)
    return (
      <>
        <Button onClick={ask} disabled={state === "asking"} sx={{ mt: 0.5 }}>
          {state === "asking" ? "Looking for hints…" : "Propose hints"}
        </Button>
        {state === "none" && <Hollow>No hint was found that would make this span much better.</Hollow>}
      </>
    );
  return (
    <Box sx={{ pt: 0.5 }}>
      {proposals.offers.map((offer) => (
        <Box
          key={offer.hint.id}
          data-testid="proposal"
          sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.25 }}
        >
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography noWrap sx={{ fontSize: 13 }}>
              {offer.hint.name}
            </Typography>
            <Typography sx={{ fontSize: 12, color: "success.main" }}>{percent(offer.gain)}</Typography>
          </Box>
          <Button onClick={() => void accept(spanKey, [offer])}>Tie</Button>
        </Box>
      ))}
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button onClick={() => void accept(spanKey, proposals.offers)}>Tie all</Button>
        <Button color="inherit" onClick={() => set({ proposals: null })}>
          Dismiss
        </Button>
      </Box>
    </Box>
  );
}

/** Proposed hints as ghosts on one of the keys, with what each would gain. */
export function ProposalGhosts({
  spanKey,
  side,
  lens,
}: {
  spanKey: string;
  side: "first" | "second";
  lens: Lens;
}) {
  const proposals = useDesk((s) => (s.proposals?.key === spanKey ? s.proposals : null));
  const px = 1 / lens.scale;
  return proposals?.offers.map((offer, k) => {
    const [x, y] = offer.hint[side].at;
    return (
      <g key={offer.hint.id} opacity={0.85} pointerEvents="none">
        <circle
          cx={x}
          cy={y}
          r={12 * px}
          fill="none"
          stroke="var(--sage)"
          strokeWidth={1.5 * px}
          strokeDasharray={`${4 * px} ${3 * px}`}
        />
        <Glyph index={k + 7} x={x} y={y} size={0.85 * px} color="var(--sage)" />
        {side === "first" && (
          <>
            <rect
              x={x + 14 * px}
              y={y - 10 * px}
              width={48 * px}
              height={20 * px}
              rx={6 * px}
              fill="var(--panel)"
              stroke="var(--sage)"
              strokeWidth={px}
            />
            <text
              x={x + 38 * px}
              y={y + 4.5 * px}
              textAnchor="middle"
              fontSize={12 * px}
              fontWeight={700}
              fill="var(--sage)"
            >
              −{Math.round(100 * offer.gain)} %
            </text>
          </>
        )}
      </g>
    );
  });
}
