import { Box, Button, TextField } from "@mui/material";
import { useRef, useState } from "react";
import { api } from "../api/client";
import type { Key } from "../api/types";
import { actions } from "../desk/actions";
import { Hollow, Section } from "../desk/Section";
import { useAtHand, usePicked } from "../desk/state";
import { drawingRefusal } from "./DrawStage";

/** Keys: named, made from what is shown, empty, by duplicating, from a file. */
export function KeySection() {
  const at = useAtHand();
  const { frame, set, edit } = usePicked("frame", "set", "edit");
  const refusal = drawingRefusal(at, frame);
  const field = useRef<HTMLInputElement>(null);
  const bring = async (file: File | undefined) => {
    if (!file || !at.layer) return;
    try {
      const { shapes, lost } = await api.readShapes(file);
      const done = await edit({ type: "bring_key", layer: at.layer.id, frame, shapes: shapes as never });
      if (done && lost.length)
        set({ notice: { kind: "info", text: `Brought in, but not kept: ${lost.join("; ")}.` } });
    } catch (error) {
      set({ notice: { kind: "error", text: (error as Error).message } });
    }
  };
  const small = { variant: "outlined", size: "small" } as const;
  return (
    <Section title="Key">
      {refusal && <Hollow>{refusal}</Hollow>}
      {at.editing && <KeyName key={`${at.editing.id} ${at.editing.name}`} of={at.editing} />}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, pt: 0.5 }}>
        <Button {...small} onClick={() => actions.newKey("shown")} disabled={!at.layer}>
          New key here
        </Button>
        <Button {...small} onClick={() => actions.newKey("empty")} disabled={!at.layer}>
          Empty key
        </Button>
        <Button {...small} onClick={actions.duplicateKey} disabled={!at.editing}>
          Duplicate to the end
        </Button>
        <Button {...small} onClick={() => field.current?.click()} disabled={!at.layer}>
          From an SVG
        </Button>
        <Button
          {...small}
          color="error"
          onClick={actions.removeKey}
          disabled={!at.editing || at.editing.frame !== frame}
        >
          Delete key
        </Button>
      </Box>
      <input
        ref={field}
        type="file"
        accept=".svg,image/svg+xml"
        aria-label="SVG file for a key"
        hidden
        onChange={(event) => {
          void bring(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
    </Section>
  );
}

/** What the key at hand is called; it is kept when the field is left. */
function KeyName({ of }: { of: Key }) {
  const { edit } = usePicked("edit");
  const [text, setText] = useState(of.name ?? "");
  const done = () => {
    const name = text.trim() || null;
    if (name !== (of.name ?? null)) void edit({ type: "name_key", key: of.id, name });
  };
  return (
    <TextField
      fullWidth
      size="small"
      label={`Name of the drawing at ${of.frame}`}
      value={text}
      sx={{ my: 0.75 }}
      slotProps={{ htmlInput: { maxLength: 120, style: { fontSize: 13 } } }}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") (event.target as HTMLElement).blur();
      }}
      onBlur={done}
    />
  );
}
