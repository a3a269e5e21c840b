import { Alert, Box } from "@mui/material";
import { Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { HintView } from "../api/types";
import { Action } from "../desk/Action";
import { Rename } from "../desk/Rename";
import { useDesk } from "../desk/state";

/** A hint, and why it can't be honoured, if so. The one that is chosen is in sight. */
export function HintRow({ hint, spanKey, on }: { hint: HintView; spanKey: string; on: boolean }) {
  const row = useRef<HTMLDivElement>(null);
  const { set, edit } = useDesk.getState();
  useEffect(() => {
    if (on) row.current?.scrollIntoView({ block: "nearest" });
  }, [on]);
  return (
    <Box ref={row}>
      <Box
        onClick={() => set({ hint: hint.id })}
        data-testid="hint-row"
        sx={{
          display: "flex",
          alignItems: "center",
          px: 0.5,
          minHeight: 28,
          borderRadius: 1,
          bgcolor: on ? "action.selected" : undefined,
        }}
      >
        <Rename
          name={hint.name}
          label="hint"
          onRename={(name) => void edit({ type: "rename_hint", key: spanKey, hint: hint.id, name })}
        />
        <Action
          name={`Remove hint ${hint.name}`}
          onClick={() => void edit({ type: "remove_hints", key: spanKey, hints: [hint.id] })}
        >
          <Trash2 size={15} />
        </Action>
      </Box>
      {hint.trouble && (
        <Alert severity="error" variant="outlined" sx={{ py: 0, px: 1, my: 0.5, fontSize: 12 }}>
          {hint.trouble}
        </Alert>
      )}
    </Box>
  );
}
