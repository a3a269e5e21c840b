import { Box, Button, TextField } from "@mui/material";
import { Columns2, FileDown, NotebookPen, Trash2 } from "lucide-react";
import { useState } from "react";
import { sheetUrl } from "../api/client";
import { Action } from "./Action";
import { Rename } from "./Rename";
import { Hollow, Section } from "./Section";
import { Soft } from "./Soft";
import { useAtHand, usePicked, useScene } from "./state";

/** The takes of the span at hand: whole sets of pairs, hints, travel and pace, one of them in use. */
export function TakesSection() {
  const { first, second } = useAtHand();
  const { edit, set, compared, view } = usePicked("edit", "set", "compared", "view");
  const scene = useScene();
  if (!first || !second) return null;
  const { take, others } = first.span;
  const key = first.id;
  const seen = compared?.key === key ? compared.name : null;
  return (
    <Section
      title={`Takes from ${first.frame} to ${second.frame}`}
      aside={
        <Button
          color="inherit"
          title="Go on with a copy; what is set now is kept as it is."
          onClick={() => void edit({ type: "new_take", key })}
        >
          New take
        </Button>
      }
    >
      {[take, ...others].map((each) => (
        <Box
          key={each.name}
          data-testid="take"
          sx={{ display: "flex", alignItems: "center", gap: 0.5, minHeight: 30 }}
        >
          <Rename
            name={each.name}
            label="take"
            weight={each === take ? 700 : 400}
            onRename={(to) => void edit({ type: "rename_take", key, name: each.name, to })}
          />
          {each === take ? (
            <Soft sx={{ fontSize: 12 }}>in use</Soft>
          ) : (
            <>
              <Button
                size="small"
                aria-label={`Use ${each.name}`}
                onClick={() => void edit({ type: "use_take", key, name: each.name })}
              >
                Use
              </Button>
              <Action
                name={seen === each.name ? "See one take" : `See ${each.name} beside it`}
                pressed={seen === each.name}
                onClick={() =>
                  set(
                    seen === each.name
                      ? { compared: null }
                      : { compared: { key, name: each.name }, view: "review" },
                  )
                }
              >
                <Columns2 size={16} />
              </Action>
              <Action
                name={`Delete ${each.name}`}
                onClick={() => void edit({ type: "remove_take", key, name: each.name })}
              >
                <Trash2 size={16} />
              </Action>
            </>
          )}
        </Box>
      ))}
      <Note key={`${key} ${take.name} ${take.note}`} spanKey={key} note={take.note} />
      <Button
        component="a"
        href={sheetUrl(scene.id, key)}
        download
        startIcon={<FileDown size={16} />}
        title="An SVG sheet to print or hand on: both keys, hints, ways, chart, all drawings, and what becomes what."
        sx={{ mt: 0.5 }}
      >
        Picture of the plan
      </Button>
      {view === "review" && others.length === 0 && (
        <Hollow>
          Before you try something else, make a new take: this one is kept, and can be seen beside it.
        </Hollow>
      )}
    </Section>
  );
}

/** Why the take in use moves so; it is kept when the field is left. */
function Note({ spanKey, note }: { spanKey: string; note: string }) {
  const { edit } = usePicked("edit");
  const [text, setText] = useState(note);
  const [open, setOpen] = useState(note !== "");
  if (!open)
    return (
      <Button startIcon={<NotebookPen size={16} />} onClick={() => setOpen(true)} sx={{ mt: 0.5, mr: 1 }}>
        Write a note
      </Button>
    );
  return (
    <TextField
      multiline
      fullWidth
      size="small"
      label="Note for the next animator"
      autoFocus={note === ""}
      value={text}
      sx={{ mt: 1 }}
      slotProps={{ htmlInput: { maxLength: 2000, style: { fontSize: 13 } } }}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => event.stopPropagation()}
      onBlur={() => text !== note && void edit({ type: "note_take", key: spanKey, note: text })}
    />
  );
}
