import { Box, Button, TextField } from "@mui/material";
import { Columns2, Trash2 } from "lucide-react";
import { useState } from "react";
import { Action } from "./Action";
import { Rename } from "./Rename";
import { Hollow, Section } from "./Section";
import { Soft } from "./Soft";
import { useAtHand, usePicked } from "./state";

/** The takes of the span at hand: whole sets of pairs, hints, travel and pace, one of them in use. */
export function TakesSection() {
  const { first, second } = useAtHand();
  const { edit, set, compared } = usePicked("edit", "set", "compared");
  if (!first || !second) return null;
  const { take, others } = first.span;
  const key = first.id;
  const seen = compared?.key === key ? compared.name : null;
  return (
    <Section
      title={`Takes of the span from ${first.frame} to ${second.frame}`}
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
      {others.length === 0 && (
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
  return (
    <TextField
      multiline
      fullWidth
      size="small"
      label="Note for the next animator"
      value={text}
      sx={{ mt: 1 }}
      slotProps={{ htmlInput: { maxLength: 2000, style: { fontSize: 13 } } }}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => event.stopPropagation()}
      onBlur={() => text !== note && void edit({ type: "note_take", key: spanKey, note: text })}
    />
  );
}
